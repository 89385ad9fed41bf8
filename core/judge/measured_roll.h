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
#include "core/tune/stopping_fit.h"

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

/// By which law does the roll-out grow with speed? From runs at two speeds or more.
///
/// What is left of each stop after the reaction that the budget knows, v (half a loop + age +
/// actuation), is put before both laws, v τ and v² / (2a), by least squares; the one that misses by
/// less is taken. Beside it stands the fit of both terms at once, with its uncertainty.
struct MeasuredLaw {
    kit::RollLaw law = kit::RollLaw::Friction;
    double electrical_s = 0.0;       ///< τ
    double friction_s2_m = 0.0;      ///< 1 / (2a)
    double missesElectrical_m = 0.0; ///< root mean square of what each law leaves
    double missesFriction_m = 0.0;
    bool isPlain = false; ///< one misses by more than twice what the other does
    tune::StoppingFit fit;
    int speeds = 0;
    double roll_m = 0.0; ///< at the budget's speed, by that law
    Derivation why;
};

/// `trials` may be of several versions of the program, at several speeds and thresholds. Runs that
/// ended in a contact, on another floor than the last, or at a count whose speed was not measured
/// are left out. Missing with fewer than three runs, or all at one speed; Conflict where the pack
/// differed by more than logbook's 0.3 V, or the program does not drive and stand; else what
/// tune::fitStopping refuses.
Result<MeasuredLaw> measuredLaw(const kit::Assembly &car, const CarBudget &budget,
                                const Pieces<logbook::MeasuredTrial> &trials);

} // namespace badger::judge
