// SPDX-License-Identifier: GPL-3.0-or-later
// What is nearest to a car, found by every side of its outline against everything.
#pragma once

#include "core/world/plan.h"

namespace badger::test
{

struct Close {
    double away_m = 1e9; ///< 0: it touches or overlaps
    int thing = -1;
    arena::Vec onCar, onFloor;
};
Close closest(const world::Plan &plan, arena::Vec at, double heading, double time_s);

} // namespace badger::test
