// SPDX-License-Identifier: GPL-3.0-or-later
// What roll-out do the measured runs of a car come to?
//
//   roll-out = threshold - mean gap - v (half a loop + age + actuation) - set-back
//
// On average the obstacle crosses the threshold half a loop before the reading that says so, and
// the reading's error cancels. Source: the typical case of the stopping budget (drive/stopping.h),
// solved for its roll-out.
#pragma once

#include "core/base/derivation.h"
#include "core/judge/budget.h"
#include "core/logbook/measured.h"

namespace badger::judge
{

struct MeasuredRoll {
    kit::RollOut roll;     ///< braked or coasting as the budget's; law as known, else friction
    double spread_m = 0.0; ///< of the gaps
    Derivation why;
};

/// From runs that belong together (logbook::differences is empty) with the program of the budget.
/// Fails with Missing with fewer than three runs, or where the speed itself was not measured; with
/// Conflict where runs differ, end in a contact, or the program does not stand still; with
/// Malformed where less was taken than the reaction alone takes.
Result<MeasuredRoll> measuredRoll(const CarBudget &budget,
                                  const Pieces<logbook::MeasuredTrial> &trials);

} // namespace badger::judge
