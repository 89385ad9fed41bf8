// SPDX-License-Identifier: GPL-3.0-or-later
// Checks of speeds and PWM pins. Private to the checks of pins.
#pragma once

#include "core/pins/planner.h"
#include "core/wiring/check.h"

namespace badger::wiring
{

/// The least moves that give every function its pin, or why there are none.
Say mendByPlan(const pins::PinProblem &problem);

std::vector<Finding> speedWithoutPwm(const Look &look, const char *code);
std::vector<Finding> pwmTakenByServo(const Look &look, const char *code);
std::vector<Finding> pwmTakenByTone(const Look &look, const char *code);
std::vector<Finding> pwmChannelShared(const Look &look, const char *code);
std::vector<Finding> librariesClash(const Look &look, const char *code);
std::vector<Finding> pwmWasted(const Look &look, const char *code);

/// What is fine about it, and what a library takes.
Say withoutServosPwm(const Look &look);
Say withoutTonesPwm(const Look &look);

} // namespace badger::wiring
