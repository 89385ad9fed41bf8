// SPDX-License-Identifier: GPL-3.0-or-later
// What do this car's sensors see of its way, from where they really sit?
#pragma once

#include "core/base/check.h"
#include "core/kit/assembly.h"
#include "core/kit/balance.h"
#include "core/sense/beam.h"

#include <optional>
#include <string>
#include <vector>

namespace badger::sense
{

/// One ranger with its beam as it is mounted.
struct RangerCover {
    std::string ranger;     ///< the instance
    kit::Place place;       ///< of the ranger, from the drive axle
    double setBack_m = 0.0; ///< behind the foremost point
    double height_m = 0.0;  ///< 0 where it is not said
    double tilt_rad = 0.0;
    bool ahead = true; ///< looks ahead, not to a side
    Beam fixed;        ///< at rest
    Beam swept;        ///< with its servo's sweep; as `fixed` where there is none
    double range_m = 0.0;
};

/// Every placed ranger of the car. A ranger without a place is left out (place-unknown says it).
std::vector<RangerCover> covers(const kit::Assembly &car);

/// One spot on the floor that a line sensor looks at.
struct Spot {
    std::string sensor;
    kit::Place place;
    double diameter_m = 0.0;
};
std::vector<Spot> spots(const kit::Assembly &car);

/// Blind strips at the threshold (where one is given), beams that meet the floor, ride heights.
Findings checkSight(const kit::Assembly &car, std::optional<double> threshold_m);

/// What each of these checks is called and says, for the list of findings.
std::vector<CheckLine> checkLines();

} // namespace badger::sense
