// SPDX-License-Identifier: GPL-3.0-or-later
// Where does the simulated car stop, and which reading decided it?
//
// One run of one car on one floor: the firmware asks for time and readings, the world moves on
// while it does. The same setup and the same seed give the same run to the bit, in every build
// type: whole microseconds, steps of at most 1 ms, only additions, multiplications, divisions and
// square roots (which the floating-point standard fixes).
#pragma once

#include "core/drive/stopping.h"
#include "core/floor/floor.h"
#include "core/kit/car.h"
#include "core/rules/firmware.h"
#include "core/sense/ranger.h"

#include <cstdint>
#include <string>
#include <vector>

namespace badger::trial
{

/// One ranger of the simulated car: where it sits and what it hears.
struct RangerModel {
    std::string name; ///< on the car
    kit::Mount mount;
    sense::RangerFigures figures;
};

/// The simulated car: its size, how it moves, how it hears, and how much of that varies.
struct CarModel {
    kit::Geometry geometry;
    /// Steady speed of the left and the right wheel by count: 256 entries each.
    std::array<std::vector<double>, 2> speed_mps;
    double rise_s = 0.15; ///< first-order rise of the wheel speed, above 0
    drive::RollCurve brakeRoll;
    drive::RollCurve coastRoll;
    double actuation_s = 0.0; ///< from the command until the motors answer
    /// Each hears its own pings only: what one ranger's echo does to another is not simulated.
    std::vector<RangerModel> rangers;

    double speedSpread = 0.0; ///< deviation of the speed from run to run, a share
    double wheelSpread = 0.0; ///< deviation between the two wheels, a share
    double rollSpread = 0.0;  ///< deviation of the roll-out from run to run, a share
};

struct Setup {
    CarModel car;
    floor::Floor floor;
    double longest_s = 20.0; ///< the run ends then at the latest; 0.1 to 600
};

/// Where the car is at a moment: its foremost point and the way it looks.
struct Pose {
    std::uint64_t time_us = 0;
    floor::Point nose;
    floor::Direction looks;
    double speed_mps = 0.0;
};

/// One ping with what was decided on it.
struct Ping {
    std::uint64_t sent_us = 0;
    std::uint64_t decided_us = 0;
    Pose from;                    ///< when it was sent
    std::optional<double> true_m; ///< from the ranger to the wall that answered
    floor::Point foot;            ///< where it was mirrored
    rules::Decision decision;
    bool decided = false; ///< a decision followed (the run may end before)
};

enum class Outcome { Stopped, Contact, StillDriving, NeverMoved, LeftFloor };

struct Trial {
    std::uint64_t seed = 0;
    std::vector<Pose> path; ///< every 10 ms, and the last moment
    std::vector<Ping> pings;
    Outcome outcome = Outcome::StillDriving;
    double gap_m = 0.0; ///< from the car's front to the nearest wall at the end
    double contactSpeed_mps = 0.0;
    std::string contactWall;
    double end_s = 0.0;
    int deciding = -1; ///< index of the ping that made the car stop for good, or -1
};

/// Drives one run. Ends 1 s after the car has come to rest for good, at a contact, when the nose
/// leaves the plan, or after `longest_s`. Refuses a setup with a value outside its range.
Result<Trial> run(const Setup &setup, rules::Firmware &firmware, std::uint64_t seed);

/// The verdict in one sentence: gap, contact or not, which reading decided.
Say verdict(const Trial &trial);

/// The pose at a time, between the recorded ones. The path must not be empty.
Pose poseAt(const Trial &trial, std::uint64_t time_us);

/// The trace as CSV: one line a ping, SI or with the unit in the heading.
std::string traceCsv(const Trial &trial);

/// A number that changes when any bit of the run's path or pings does: for comparing runs.
std::uint64_t fingerprint(const Trial &trial);

} // namespace badger::trial
