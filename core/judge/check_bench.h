// SPDX-License-Identifier: GPL-3.0-or-later
// Does a program's arithmetic rest on what was measured at the bench, and does that still hold?
// Private to the checks of a program on a car.
#pragma once

#include "core/judge/check_program_on_car.h"

namespace badger::judge
{

std::span<const Check<ProgramLook>> benchChecks();

} // namespace badger::judge
