// SPDX-License-Identifier: GPL-3.0-or-later
// What does a measurement say for the numbers of a program?
#pragma once

#include "core/kit/assembly.h"
#include "core/rules/program.h"
#include "core/tune/record.h"

#include <vector>

namespace badger::judge
{

/// The program with what was measured put in, and each change in words, "light: 820, it was 700".
struct TakenOver {
    rules::Program program;
    std::vector<Say> changes; ///< empty: it says what was measured already
};

/// Two surfaces, or bright and shaded: the counts of a normalised reading's light and dark, and the
/// ends of a proportion, become the means; the one count that a raw reading is compared with
/// becomes the line between. A module's sense becomes the level that was measured over light. A
/// turn rate becomes the time for a degree: of both sides the mean. Air goes into the readings of
/// its ranger. Where a reading is compared with several counts it is not said which of them the
/// line is, and they stay. Anything else changes nothing; so does a record that cannot be used.
TakenOver takenOver(const tune::Record &record, const rules::Program &program);

} // namespace badger::judge
