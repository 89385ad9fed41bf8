// SPDX-License-Identifier: GPL-3.0-or-later
// How is a servo's horn put on so that it looks straight ahead?
#pragma once

#include "core/base/derivation.h"
#include "core/base/result.h"

namespace badger::mechanics
{

/// A horn sits only on whole teeth. The error is the turn that is missing to straight ahead, in
/// the sense in which teeth and angles are counted. Step = 360 / N; teeth to move n =
/// round(error / step); what is then still missing, at most half a step, is added to every angle
/// by the program: trim = error - n step. (Counted the other way, as where the horn points, both
/// change their sign together.) Source: geometry of a spline.
struct HornAnswer {
    double step_rad = 0.0;
    int teethToMove = 0;   ///< in the sense of the error
    double trim_rad = 0.0; ///< for the program to add to every angle
};

/// `teeth` 4 to 100; the error within half a turn. A tie between two teeth takes the one that
/// moves less.
Result<HornAnswer> horn(int teeth, double error_rad);
Derivation whyHorn(int teeth, double error_rad);

/// A servo's travel at usual limits: 544 us to 2400 us over 180 degrees. At 90 the pulse is 1472
/// us, not 1500: a continuous servo creeps at "90".
double pulseAt_us(double angle_deg);

} // namespace badger::mechanics
