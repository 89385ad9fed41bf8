// SPDX-License-Identifier: GPL-3.0-or-later
// Which wires does a half-drawn harness still lack?
#pragma once

#include "core/nets/nets.h"

#include <vector>

namespace badger::wiring
{

/// The wires that would finish it: of every feed and driver's channel that is stated and has none
/// yet, the grounds that hang on nothing, and of each signal to the pin that the program uses for
/// it, else to one that the planner gives it; and of what is wired, but not as far as its source.
/// None where everything is wired, right or wrong.
std::vector<kit::Wire> missingWires(const nets::Nets &nets);

/// The car with those wires.
kit::Car finished(const kit::Assembly &car, const std::vector<kit::Wire> &missing);

} // namespace badger::wiring
