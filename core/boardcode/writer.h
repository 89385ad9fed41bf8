// SPDX-License-Identifier: GPL-3.0-or-later
// How does a program become a tree, once everything it needs of the car was found?
//
// The text does what machine/runner.h does, in the same order: look, decide, end waits, print,
// pause. What a program does not use is not in its text.
#pragma once

#include "core/boardcode/tree.h"
#include "core/boardcode/wires.h"
#include "core/machine/machine.h"

#include <string>

namespace badger::boardcode
{

struct Source {
    const rules::Program &program;
    const machine::Machine &machine; ///< the same program, lowered for the car
    const Wires &wires;
    std::string banner; ///< printed at the start, where the program prints
};

/// The program is complete; the machine is that of the target's numbers.
std::vector<Item> items(const Source &source);

} // namespace badger::boardcode
