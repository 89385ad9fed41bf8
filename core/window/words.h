// SPDX-License-Identifier: GPL-3.0-or-later
// What a window says, in sentences.
#pragma once

#include "core/window/search.h"

namespace badger::window
{

/// Its upper end is the ruler's.
bool isOpenAbove(const Window &window);

const char *word(State state); ///< "open", "touches", "holds", "idle"

/// A place of the ruler with its unit: "24 cm".
Say placeOf(const Window &window, double si);

/// "Between 24 and 39 cm Avocet holds under all 8 conditions."
Say headline(const Window &window);
/// "At most 1 % of runs touch, at 95 %: 0 of 349 at 24 cm."
Say claimOf(const Window &window);
/// What a place that holds is called, by the task: "stops clear"; what fails; what is idle.
Say wordOf(const Window &window, const RowAnswer &row, State state);
/// Why no place of a row holds: "not shown: 2 of 672 fail at 45 cm"; empty where one does.
Say wordsWithout(const Window &window, const RowAnswer &row);
/// What would help there: "At 'speed' 78 instead of 130 none of 150 runs fails at 45 cm."
std::vector<Say> helps(const Window &window, const RowAnswer &row);
/// A row in columns: its name, from, to, runs, what ends it below, what above.
std::vector<Say> lineOf(const Window &window, const RowAnswer &row);
/// What measuring one of the figures that are not known would bring, the most first.
std::vector<Say> narrowing(const Window &window);
/// What to do with the program's value.
Say advice(const Window &window);

} // namespace badger::window
