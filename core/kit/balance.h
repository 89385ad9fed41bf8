// SPDX-License-Identifier: GPL-3.0-or-later
// Where is the weight, and does the car stand on its wheels and its support?
//
// The centre of mass is the mass-weighted mean of the parts' places. Share on the drive axle =
// 1 - (axle to centre of mass) / (axle to support); the car stands while the centre of mass lies
// inside the triangle of its contact points. Source: balance of moments on a rigid car.
//
// A part whose place is not known widens the answer: it may be anywhere along the car. A part whose
// mass is not known is named.
#pragma once

#include "core/base/derivation.h"
#include "core/base/finding.h"
#include "core/kit/assembly.h"

#include <optional>
#include <string>
#include <vector>

namespace badger::kit
{

/// A place on the car: x ahead of the drive axle, y to the left of the middle.
struct Place {
    double x_m = 0.0;
    double y_m = 0.0;
    double yaw_rad = 0.0;
    bool operator==(const Place &) const = default;
};

/// Where a fitted part sits: its mount, its carrier's place, a motor's or wheel's side on the axle,
/// the middle of a deck. Empty where nothing says it.
std::optional<Place> placeOf(const Assembly &car, const Instance &fitted);

/// How many of it are on the car: a wheel entry stands for one wheel a motor, a pack for its cells.
int howMany(const Assembly &car, const Instance &fitted);

/// The outline of a fitted part from above: along the car and across it, before it is turned. A
/// pack's cells lie side by side across the car, in as many rows as its width asks for. Empty where
/// the part states no size.
struct Footprint {
    double length_m = 0.0;
    double width_m = 0.0;
};
std::optional<Footprint> footprintOf(const Assembly &car, const Instance &fitted);

/// How far the middle of a part lies behind the point its place is counted from: a ranger's face,
/// the spot under a line sensor; 0 for what is placed by its middle.
double bodyBehind_m(const parts::Part &part);

/// Mass of a fitted part with all its pieces; empty where its figure is missing.
std::optional<double> massOf_kg(const Assembly &car, const Instance &fitted,
                                Bound bound = Bound::Typical);

/// Area of the car's deck, by its shape.
double deckArea_m2(const Geometry &geometry);

struct Balance {
    double mass_kg = 0.0; ///< of what is known
    double low_kg = 0.0;
    double high_kg = 0.0;
    Place centre;            ///< with the parts that have no place at the middle of the car
    double rearmost_m = 0.0; ///< x of the centre with those parts at the tail
    double foremost_m = 0.0; ///< and at the nose; equal where every place is known
    std::vector<std::string> withoutMass;  ///< instances
    std::vector<std::string> withoutPlace; ///< instances
    std::optional<double> support_m;       ///< x of the third support, behind the axle negative
    std::optional<double> axleShare;       ///< 0 to 1 where it stands, else outside
    std::optional<double> tipsAt_mps2;     ///< braking or starting that lifts the support
};
Balance balance(const Assembly &car);

/// Why that share of the weight on the drive wheels: the two arms, then every part's mass and
/// place.
Derivation whyBalance(const Assembly &car);

} // namespace badger::kit
