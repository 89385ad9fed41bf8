// SPDX-License-Identifier: GPL-3.0-or-later
// What is wrong with a program on this car, and with the stop it makes there?
#pragma once

#include "core/base/check.h"
#include "core/floor/floor.h"
#include "core/judge/budget.h"
#include "core/judge/kit_judgement.h"
#include "core/judge/program_motion.h"
#include "core/judge/tune_judgement.h"
#include "core/kit/assembly.h"
#include "core/regions/check.h"

namespace badger::judge
{

/// What the checks of a program on a car look at.
struct ProgramLook {
    const kit::Assembly &car;
    const rules::Program &program;
    const regions::Exact &exact;                ///< of the program, on this car
    const floor::Floor *floor = nullptr;        ///< on which it is simulated; null: no floor
    const floor::Floor *missionFloor = nullptr; ///< for which it is meant; null: not said
    const power::Report &power;
    const pins::Reach &reach;
    const std::vector<ProgramAction> &actions;   ///< empty where the wires are not known
    bool pinsAsWired = false;                    ///< the program's pins for the wheels
    const CarBudget *budget = nullptr;           ///< null where there is none
    const regions::Around *around = nullptr;     ///< what was measured; null: nothing
    const motion::MotionTable *motion = nullptr; ///< what the wires do; null: not asked
    const TuneJudgement *bench = nullptr;        ///< what was measured, and what is stale of it
    const std::vector<Finding> *wires = nullptr; ///< what is said of the wires; null: not asked
};

/// The program against the car's rangers, wires and motors, the air of the floor, and the stop.
void checkProgramOnCar(Findings &out, const ProgramLook &look);

/// What each of these checks is called and says, for the list of findings.
std::vector<CheckLine> checkLines();

} // namespace badger::judge
