// SPDX-License-Identifier: GPL-3.0-or-later
// Which pins does a program use on a car?
//
// Everything that a text needs of the car is looked up here, before a line is written; what is not
// there is named, and nothing is invented.
#pragma once

#include "core/boardcode/target.h"
#include "core/nets/drive_map.h"
#include "core/rules/program.h"

#include <map>

namespace badger::boardcode
{

/// One wheel. Of a continuous servo `forward` is its signal's pin, and nothing else.
struct WheelText {
    nets::WheelPins pins;
    bool held = false; ///< its enable is held high: one speed
};

struct Wires {
    Target target = Target::Board;
    bool servoWheels = false; ///< the wheels are continuous servos
    WheelText left, right;
    nets::Levels brake, coast;
    std::map<std::string, std::pair<std::string, std::string>>
        pings; ///< by instance: trigger, echo
    std::map<std::string, std::string>
        inputs; ///< by reading: a digital or analogue pin, a button's
    std::map<std::string, std::string> servos;  ///< by instance
    std::map<std::string, std::string> buzzers; ///< by what the action names
    /// Of continuous servos, by side: the pulse at which they stand.
    double leftNeutral_us = 1500.0;
    double rightNeutral_us = 1500.0;
};

/// Fails with Missing while a pin or a driver's way to brake or coast is not there, naming it; with
/// Conflict where an enable that the program needs is held high, where the two wheels are driven in
/// two ways, or where the board cannot do what the program asks: read a voltage, print, take keys.
Result<Wires> wiresFor(const rules::Program &program, const kit::Assembly &car,
                       const std::map<std::string, double> &neutral_us);

} // namespace badger::boardcode
