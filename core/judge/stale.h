// SPDX-License-Identifier: GPL-3.0-or-later
// What was measured or tested once and no longer rests on what is there?
#pragma once

#include "core/judge/judge.h"

#include <string>
#include <vector>

namespace badger::judge
{

/// Where it is done again. In this order the car is moved least: what it takes on its blocks first,
/// then what is held under it or before it, then the floor.
enum class Place { Blocks, Bench, Surfaces, Floor };
const char *name(Place place);

struct StaleThing {
    enum class Kind { Calibration, PartTest, Program, Trial };
    Kind kind = Kind::Calibration;
    Say what;                 ///< "ranger: ranger against ruler"
    std::vector<Say> reasons; ///< clauses
    Place place = Place::Bench;
};
const char *name(StaleThing::Kind kind);

/// In the order in which to do them again. Nothing stored says that something is stale: records,
/// ticks of the first power walk, the program's pins and the trials are compared with the car.
/// `floorName` is that of the car's mission; empty where none is chosen.
std::vector<StaleThing> staleThings(const Judgement &judgement, const kit::Assembly &car,
                                    const std::string &floorName);

} // namespace badger::judge
