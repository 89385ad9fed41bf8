// SPDX-License-Identifier: GPL-3.0-or-later
// Everything that is said of a car's kit and wires, complaint by complaint.
#pragma once

#include "core/diagnose/verdict.h"

namespace badger::test
{

inline std::vector<Finding> allOf(const kit::Assembly &car)
{
    return diagnose::verdictOf(car, diagnose::Of::Both).complaints;
}

} // namespace badger::test
