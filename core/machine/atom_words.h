// SPDX-License-Identifier: GPL-3.0-or-later
// How are an axis and its atoms said? In words of the table: they are the same in every language.
#pragma once

#include "core/machine/regions.h"

#include <string>

namespace badger::machine
{

/// "ahead", "right - left", "fan angle", "turn", "time".
std::string axisName(const rules::Program &program, const Axis &axis);

/// "1..18", ">18..<45", "none", "none 3 times", "1", "left", "other", "after 500 ms"; of a pair its
/// difference, "..-4".
std::string atomWords(const Machine &machine, const Axis &axis, const Atom &atom);

} // namespace badger::machine
