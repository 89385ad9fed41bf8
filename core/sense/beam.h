// SPDX-License-Identifier: GPL-3.0-or-later
// Which part of the car's way does a ranger's beam cover?
//
// A beam is a wedge of half-angle alpha about its axis; a servo that looks left and right while
// driving widens it by its sweep on both sides. Distances are measured from the ranger, along the
// car's axis. Source: plane geometry; alpha is the angle to the -6 dB edge of a usual ranger.
#pragma once

#include "core/base/derivation.h"
#include "core/base/result.h"

#include <optional>

namespace badger::sense
{

struct Beam {
    double halfAngle_rad = 0.0; ///< above 0, with the sweep below a quarter turn
    double sweep_rad = 0.0;     ///< to each side, 0 or more
    double width_m = 0.0;       ///< of the car, above 0
    double offset_m = 0.0;      ///< of the ranger, left of the car's middle
    double yaw_rad = 0.0;       ///< of the axis, left is positive
};

/// What is heard at a distance: a strip of the car's width, and what stays blind on each side.
struct Cover {
    double width_m = 0.0;     ///< of the beam itself, may exceed the car's
    double blindLeft_m = 0.0; ///< of the car's width, 0 or more
    double blindRight_m = 0.0;
};

/// Cover at a distance above 0. Fails with OutOfRange for a beam outside its ranges.
Result<Cover> coverAt(const Beam &beam, double distance_m);

/// From which distance on the car's whole width is covered: W / (2 tan(alpha + sweep)) for a
/// ranger in the middle that looks ahead; the farther of the two sides otherwise. Empty where a
/// side is never reached: the beam's edge runs away from it.
Result<std::optional<double>> fullCoverFrom_m(const Beam &beam);

/// The distance at which the lower edge of a beam meets the floor: h / tan(alpha - tilt). Empty
/// where it never does. Height above 0.
std::optional<double> meetsFloorAt_m(double height_m, double halfAngle_rad, double tilt_rad);

/// Why from that distance.
Derivation whyFullCover(const Beam &beam);

} // namespace badger::sense
