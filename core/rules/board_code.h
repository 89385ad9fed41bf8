// SPDX-License-Identifier: GPL-3.0-or-later
// What does the board have to be told? A program as readable C++ for the 5 V 8-bit board.
#pragma once

#include "core/kit/assembly.h"
#include "core/rules/program.h"

#include <string>
#include <vector>

namespace badger::rules
{

struct BoardFile {
    std::string name; ///< "avocet_halt.cpp"
    std::string text;
};

/// What a line of the program text is about, so that a window can light it.
struct LineTag {
    int line = 0;    ///< from 0, in the first file
    std::string tag; ///< "state:stands", "rule:near", "value:halt", "policy:ahead"
};

struct BoardCode {
    std::vector<BoardFile> files; ///< the program first, then the support header
    std::vector<LineTag> tags;
};

/// Writes the program for one car with the car's own pins and constants; the header of the text
/// carries car, program, version and workshop. Only the text: nothing is stored.
///
/// Fails with Missing while a value, a policy, a pin or a driver's way to brake or coast is not
/// there, naming it, and where the car's board is not the one the support header is written for;
/// with Conflict where an enable that the program needs is held high, or the two wheels are driven
/// in two ways;
/// nothing is invented. People's names go into comments and strings by way of medium::source.
/// Whether it can be written, and why not.
Result<void> boardCodePossible(const Program &program, const kit::Assembly &car);
Result<BoardCode> boardCode(const Program &program, const kit::Assembly &car,
                            const std::string &workshop);

} // namespace badger::rules
