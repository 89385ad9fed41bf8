// SPDX-License-Identifier: GPL-3.0-or-later
// Private to the lowering of a program.
#pragma once

#include "core/machine/machine.h"

namespace badger::machine
{

/// Fills Machine::quick and Machine::cuts from the branches as they stand.
void addQuick(Machine &machine);

} // namespace badger::machine
