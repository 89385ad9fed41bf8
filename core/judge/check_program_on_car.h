// SPDX-License-Identifier: GPL-3.0-or-later
// What is wrong with a program on this car, and with the stop it makes there?
#pragma once

#include "core/base/check.h"
#include "core/floor/floor.h"
#include "core/judge/budget.h"
#include "core/judge/kit_judgement.h"
#include "core/kit/assembly.h"

namespace badger::judge
{

/// The program against the car's rangers, enables and the air of the floor (null: no floor).
void checkProgramOnCar(Findings &out, const kit::Assembly &car, const rules::Program &program,
                       const floor::Floor *floor);

/// Counts that give the motors more than they are made for. Nothing is said where the report knows
/// no motor on a driver.
void checkSpeedsUnderCap(Findings &out, const power::Report &power, const rules::Program &program);

/// Does it stop, with the gap that is wanted, and what do the numbers rest on?
void checkStop(Findings &out, const kit::Car &car, const CarBudget &budget);

/// What each of these checks is called and says, for the list of findings.
std::vector<CheckLine> checkLines();

} // namespace badger::judge
