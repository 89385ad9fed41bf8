// SPDX-License-Identifier: GPL-3.0-or-later
// A window as a table for other programs.
#pragma once

#include "core/window/search.h"

#include <string>

namespace badger::window
{

/// The number of a place in the unit that people type.
double shown(const Window &window, double si);
/// That unit: "cm", "ms", "deg", "s/deg"; empty: a count.
const char *unitOf(const Window &window);

/// Every place of every row: row, value_unit, state, tested, runs, contacts, job_missed.
std::string csvOf(const Window &window);

} // namespace badger::window
