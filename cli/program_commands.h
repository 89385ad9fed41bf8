// SPDX-License-Identifier: GPL-3.0-or-later
// Calls about behaviour programs.
#pragma once

#include "cli/workshop_commands.h"
#include "core/machine/machine.h"

namespace badger::cli
{

/// Every template with its choices.
Result<Answer> templates();

/// Which program is made, and of which choices.
struct Making {
    std::string from;             ///< a template; empty: the car's present program is changed
    std::vector<std::string> set; ///< "near=18cm"
    bool propose = false;         ///< what is left open is taken as it suits the car
};
/// A copy of the workshop in which the car runs the program that was made.
Result<Answer> program(const std::string &file, const std::string &car, const Making &making,
                       const Output &out);

/// Readings in, actions with their times out.
Result<Answer> runProgram(const std::string &file, const std::string &car,
                          const std::string &readings, const Output &csv);

/// At which readings the car's program and another's act differently, or two templates made with
/// the same choices, and what each costs.
struct Comparing {
    std::string with;                   ///< a program, or a car that runs one
    std::vector<std::string> templates; ///< two of them, in place of it
    std::vector<std::string> set;
};
Result<Answer> compare(const std::string &file, const std::string &car, const Comparing &comparing);

/// The table of a program whose rules look at more than one number: its cells, mode by mode.
Result<Answer> cellTable(const rules::Program &program, const machine::CarFacts &facts,
                         const std::string &reading);

} // namespace badger::cli
