// SPDX-License-Identifier: GPL-3.0-or-later
// What a set of runs shares: a program on a car, and a floor compiled for it. Made once.
#pragma once

#include "core/arena/arena.h"
#include "core/oncar/program_on_car.h"

namespace badger::world
{

/// A person's keys: from each time on one is held, until the next.
struct KeyPress {
    std::uint64_t time_us = 0;
    rules::Command key = rules::Command::None;
};

/// The car of one run, as factors of what its model says.
struct DrawnCar {
    double speed = 1.0;                    ///< of both wheels
    std::array<double, 2> wheels{1.0, 1.0}; ///< of each: left, right
    double roll = 1.0;                     ///< of the roll-out
};

/// How a run is driven.
struct Conditions {
    double lasts_s = 20.0;     ///< 0.1 to 600
    bool noise = true;         ///< false: every spread and jitter is nought
    bool endAtContact = false; ///< else it goes on, wheels slipping where the way is barred
    bool reversed = false;     ///< it starts the other way round: heading turned by half a turn
    std::vector<KeyPress> keys{};
    double chargeUsed = 0.0; ///< at the start, 0 fresh to 1 nearly empty; speeds count as of fresh
    DrawnCar drawn{};
    /// It ends so long after the first rest, where that is sooner; 0: it does not.
    double afterRest_s = 0.0;
};

struct Plan {
    const oncar::ProgramOnCar *on = nullptr; ///< outlives it
    arena::Arena arena;
    double sound_mps = 343.0;
    arena::Pose start; ///< of the drive axle's middle
    /// What stands farther than this is of no consequence to the program: half as far again as the
    /// farthest distance that it compares, 60 cm at least. A reading that misses it is not wrong.
    double cares_m = 0.6;
    Conditions conditions;
};

/// Fails as arena::compile() does; with OutOfRange for conditions outside their range; with
/// Conflict where the car stands in a wall at the start, or a wheel beyond the edge.
Result<Plan> planFor(const oncar::ProgramOnCar &on, const floor::Floor &floor,
                     const Conditions &conditions);

} // namespace badger::world
