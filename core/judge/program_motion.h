// SPDX-License-Identifier: GPL-3.0-or-later
// What each action of a program does on the car as it is wired.
#pragma once

#include "core/kit/assembly.h"
#include "core/motion/motion.h"
#include "core/rules/program.h"

namespace badger::judge
{

struct ProgramAction {
    std::string state; ///< of the program, "drives"
    int row = -1;      ///< of the motion table: the pattern that its pins make; -1 where it is none
    bool possible = true; ///< the driver has a way to do it; where it has, but an enable that it
                          ///< needs is held high, it has not
    motion::Path wanted = motion::Path::Unsure; ///< what the program means by it
    motion::Path path = motion::Path::Unsure;   ///< what the wires make of it
};

/// What a state means one of its wheels to do.
motion::Turn wantedTurn(const rules::Motion &motion, const rules::Wheel &wheel);

/// The pins that the program uses for the wheels are those that the wires lead to.
bool pinsAsWired(const nets::Nets &nets);

/// Every state of the program, with the levels that its pins (`programPins`) would have. Pins the
/// program does not set are low. Empty where a wheel's driver or a pin is not known.
std::vector<ProgramAction> actionsOn(const nets::Nets &nets, const rules::Program &program,
                                     const motion::MotionTable &table);
std::vector<ProgramAction> actionsOn(const kit::Assembly &car, const rules::Program &program,
                                     const motion::MotionTable &table);

} // namespace badger::judge
