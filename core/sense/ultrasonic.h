// SPDX-License-Identifier: GPL-3.0-or-later
// How far away is what a ranger heard, and when does it hear at all?
#pragma once

#include "core/base/result.h"

namespace badger::sense
{

/// Speed of sound in air: c = 331.3 * sqrt(1 + T / 273.15) m/s. T in degrees Celsius, -40 to 60;
/// outside, or NaN: OutOfRange. Check values: 343.21 at 20, 347.87 at 28.
/// Source: ideal-gas law for dry air, referred to 331.3 m/s at 0 degrees Celsius.
Result<double> speedOfSound_mps(double air_degC);

/// Distance of what returned an echo of length `echo_us`: d = c t / 2, in metres.
/// `echo_us` 0 or more, up to 1 s; otherwise OutOfRange.
Result<double> echoDistance_m(double echo_us, double air_degC);

/// Echo length for a distance: t = 2 d / c, in microseconds. The inverse of echoDistance_m;
/// `sound_mps` above 0 and `distance_m` 0 or more are the caller's duty.
double echoTime_us(double distance_m, double sound_mps);

/// Least time from one ping to the next: max(40 ms, 2 range / c + 2 ms, hold), in seconds.
/// Sooner, a late echo of the first is taken for a near one of the second, or the module is still
/// holding its line for "no echo". Source: round trip at the ranger's own range; 40 ms is the
/// usual advice for this kind of module; the 2 ms margin is a choice of ours.
double leastPingSpacing_s(double range_m, double noEchoHold_s, double sound_mps);

/// Width that a beam covers at a distance from the ranger: 2 D tan(half angle), in metres.
double beamWidth_m(double distance_m, double halfAngle_rad);

} // namespace badger::sense
