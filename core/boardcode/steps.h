// SPDX-License-Identifier: GPL-3.0-or-later
// A program for a controller that has its own tool: which port is what, and the steps in words.
#pragma once

#include "core/kit/assembly.h"
#include "core/machine/machine.h"

#include <string>
#include <vector>

namespace badger::boardcode
{

/// The head, the ports as they are wired, and the program as its sentences say it. A sensor or
/// motor whose port the wires do not tell is named as such.
std::string steps(const rules::Program &program, const machine::Machine &machine,
                  const kit::Assembly &car, const std::vector<std::string> &head);

} // namespace badger::boardcode
