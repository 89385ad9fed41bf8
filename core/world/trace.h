// SPDX-License-Identifier: GPL-3.0-or-later
// What happened in a run: where the car was, what it read and why that was wrong, what it decided,
// what it touched. Numbers and indices; words are made of them on demand (world/words.h).
#pragma once

#include "core/arena/echo.h"
#include "core/machine/runner.h"
#include "core/world/plan.h"

#include <array>
#include <cstdint>
#include <string>
#include <vector>

namespace badger::world
{

/// The car at a moment.
struct Moment {
    std::uint64_t time_us = 0;
    arena::Pose pose; ///< of the drive axle's middle
    std::array<double, 2> wheels_mps{};
};

/// Why a reading is not what stands there.
enum class Wrong {
    Right,
    Slanted,    ///< none: a flat face stands too far off the axis
    Ends,       ///< none: the face ends short of the place that would answer
    Thin,       ///< none: a post or an edge is heard less far
    Soft,       ///< none: cloth or foam
    Lost,       ///< none: this ping came to nothing
    Roundabout, ///< long: by way of another face
    Behind,     ///< long: what stands nearer is not heard, something behind it is
    Moving,     ///< the servo still moved
    DeadZone,   ///< too near
    Crosstalk,  ///< another ranger's echo
    FloorEcho,  ///< short: the floor
    Wild        ///< short: a noise ended it
};

/// One look of a ranger.
struct Ping {
    std::uint64_t sent_us = 0;
    std::uint64_t done_us = 0;
    int ranger = 0;            ///< of the car
    arena::Pose from;          ///< the ranger, where it really looked
    std::uint32_t echo_us = 0; ///< 0: none
    double read_m = -1.0;      ///< what that is in this air; below 0: none
    double true_m = -1.0;      ///< of what stands nearest in its beam; below 0: nothing does
    Wrong wrong = Wrong::Right;
    int thing = -1;                    ///< that answered, else that should have
    int by = -1;                       ///< by way of which; of Crosstalk the other ranger
    arena::By heard = arena::By::Face; ///< how it came back
    double slant_rad = 0.0;            ///< of Slanted: how far off it stands
    double asked_deg = 90.0;           ///< of a servo: where it was sent, and where it was
    double stood_deg = 90.0;
    arena::Vec place; ///< where it was sent back
    arena::Vec turn;  ///< where it was mirrored first
};

/// A level or a count that changed.
struct Change {
    std::uint64_t time_us = 0;
    int eye = 0; ///< of the car
    int value = 0;
};

/// A mode was entered.
struct Step {
    std::uint64_t time_us = 0;
    machine::Cause cause;
    machine::Mind mind;
    int ping = -1; ///< the newest before it
};

/// What the wheels were told.
struct Told {
    std::uint64_t time_us = 0;
    std::array<motion::Turn, 2> turn{};
    std::array<int, 2> counts{};
};

enum class Phase { Ahead, Back, Turning, Waiting };

struct Touch {
    std::uint64_t time_us = 0;
    std::uint64_t until_us = 0;
    Phase phase = Phase::Ahead;
    int thing = -1;
    arena::Vec onCar; ///< from the axle's middle
    arena::Vec onFloor;
    double speed_mps = 0.0; ///< of the touching place against what it touches
};

struct Fell {
    std::uint64_t time_us = 0;
    int wheel = 0; ///< 0 left, 1 right, 2 the third support
    arena::Vec at;
};

enum class End { Time, Contact, Fell, LeftPlan };

struct Trace {
    std::uint64_t seed = 0;
    std::vector<Moment> path; ///< at every event, at most 20 ms apart while it moves
    std::vector<Ping> pings;
    std::vector<Change> changes;
    std::vector<Step> steps;
    std::vector<Told> told;
    std::vector<Touch> touches;
    std::optional<Fell> fell;
    std::optional<Moment> rested; ///< the first time that it came to rest
    End end = End::Time;
    std::uint64_t end_us = 0;
    double nearest_m =
        1e9; ///< least clearance of the run, as often as it was looked at; exact at rest
    int nearestThing = -1;
};

/// The car at a time, between the recorded moments. The path must not be empty.
Moment at(const Trace &trace, std::uint64_t time_us);

/// A number that changes when any bit of the run's path or readings does: for comparing runs.
std::uint64_t fingerprint(const Trace &trace);

/// One seeded run. The same plan and seed give the same run to the bit.
Trace drive(const Plan &plan, std::uint64_t seed);

} // namespace badger::world
