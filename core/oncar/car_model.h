// SPDX-License-Identifier: GPL-3.0-or-later
// What is a car to a simulated run? Numbers and indices: its outline, its pins and what hangs on
// them, its wheels, its sensors.
//
// Nothing here knows a program. A pin is an index into `pins`; what its level, duty or pulse does
// is what the wires make of it: a lead that is swapped, an enable that floats, a speed line without
// PWM, a trigger and an echo that are crossed act as on the bench.
#pragma once

#include "core/arena/arena.h"
#include "core/drive/stopping.h"
#include "core/motion/motion.h"
#include "core/pins/speed_reach.h"
#include "core/sense/hearing.h"
#include "core/sense/ranger.h"

#include <array>
#include <map>
#include <string>
#include <vector>

namespace badger::oncar
{

inline constexpr int none = -1;

/// A pin of the board, with what the wires join to it; none: nothing of that kind.
struct Pin {
    std::string name; ///< "D5"
    pins::SpeedBy by = pins::SpeedBy::Duty;
    int triggers = none; ///< a ranger
    int echoes = none;   ///< the ranger whose echo line it reads
    int reads = none;    ///< a spot or a button: an index into `eyes`
    int turns = none;    ///< a servo that carries a sensor
    int pulses = none;   ///< a drive servo
    /// What a pin reads that no sensor drives: 0, 1; none: it floats.
    int rest = none;
};

/// What drives an input of the motion table.
struct Input {
    enum class By { Pin, Eye, Floating } by = By::Floating;
    int of = none; ///< a pin, an eye
    bool threeWay = false;
    bool port = false;
    /// Which wheels' turn it changes in any row: left, right.
    std::array<bool, 2> moves{};
};

struct Row {
    std::array<motion::Turn, 2> turn{motion::Turn::None, motion::Turn::None};
};

/// How the wheels do what the inputs say.
struct Wheels {
    std::vector<Input> inputs;
    std::vector<Row> rows; ///< every pattern, as motion::MotionTable counts them; empty: none
    /// Of each wheel: the pin of its enable; none: it has none, or it is held high.
    std::array<int, 2> enable{none, none};
    /// Steady speed by count, 256 entries, above 0.
    std::array<std::vector<double>, 2> speed_mps;
    bool servos = false;                          ///< drive servos, told by pulses
    std::array<double, 2> neutral_us{1500, 1500}; ///< at which a drive servo truly stands
    std::array<double, 2> neutralSpread_us{};     ///< that of a servo which was not measured
    double fullPulse_us = 200.0;                  ///< from neutral to full speed
    double rise_s = 0.15;                         ///< first-order rise of the speed
    drive::RollCurve brakeRoll, coastRoll;
    double track_m = 0.13; ///< between the wheels' middles, wider where the car scrubs in a turn
};

/// How the cells run down, and what that does to the speeds: they fall evenly with the charge.
struct Charge {
    double usable_C = 0.0; ///< ampere seconds from fresh to nearly empty; 0: it does not run down
    double rest_A = 0.0;   ///< what everything but the motors takes
    std::array<double, 2> motors_A{}; ///< of each side at full duty under its load
    double emptyShare = 1.0;          ///< of the speed fresh, when nearly empty
};

/// A third support that swivels: after the car has changed the direction in which it moves, it
/// drags until it has swung round.
struct Caster {
    double trail_m = 0.0; ///< 0: there is none
    double at_m = 0.0;    ///< ahead of the drive axle; behind it below 0
};

struct Ranger {
    std::string instance;
    arena::Vec at;        ///< from the drive axle's middle, x ahead; of one on a servo at ahead
    double yaw_rad = 0.0; ///< of its mount
    int servo = none;     ///< that carries it
    sense::RangerFigures figures;
    sense::Hearing hearing{4.0, 0.13};
    double halfAngle_rad = 0.13;
    double height_m = 0.0;
    double below_rad = 0.0;
    bool powered = true;
};

struct Servo {
    std::string instance;
    double sPerDegree = 0.002;
    double horn_deg = 0.0; ///< it lacks so much to straight ahead, to the left positive
};

/// A sensor that looks at a surface, or a button.
struct Eye {
    enum class Kind { Digital, Analogue, Light, Button } kind = Kind::Digital;
    std::string instance;
    std::string terminal; ///< "OUT1"
    arena::Vec at;        ///< from the drive axle's middle
    double spot_m = 0.01;
    bool level = false; ///< looks along the floor, not down at it
    double yaw_rad = 0.0;
    bool highOnLight = true;   ///< of a Digital; of a Button: high while pressed
    double light_counts = 0.0; ///< of an Analogue: over `lightAlbedo` and `darkAlbedo`
    double dark_counts = 0.0;
    double noise_counts = 0.0;
    double range_m = 0.0; ///< of one that looks along the floor
    /// Of an Analogue that looks along the floor: its distance by count, as calibrated; NaN: none.
    std::vector<double> distance_m;
    bool powered = true;
};

struct CarModel {
    arena::Outline outline;
    double axleToNose_m = 0.0;
    std::vector<arena::Vec> wheelsAt; ///< what stands on the floor: left, right, the third support
    std::vector<Pin> pins;
    Wheels wheels;
    Charge charge;
    Caster caster;
    std::vector<Ranger> rangers;
    std::vector<Servo> servos;
    std::vector<Eye> eyes;
    bool board = true; ///< false: the sensors drive the wheels by their wires alone

    double speedSpread = 0.02; ///< deviation of the speed from run to run, a share
    double wheelSpread = 0.002;
    double rollSpread = 0.06;

    int pin(std::string_view name) const;
};

} // namespace badger::oncar
