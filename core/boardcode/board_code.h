// SPDX-License-Identifier: GPL-3.0-or-later
// What does the board have to be told? A program as text for the board that the car has.
//
// C++ for the 5 V 8-bit board and the bare 14-pin chip, Python 3 for the 3.3 V computer; for the
// classroom controller its ports and the steps, in words. All of it does what machine/runner.h does
// with the same readings.
#pragma once

#include "core/boardcode/print.h"
#include "core/boardcode/target.h"
#include "core/machine/machine.h"

#include <optional>
#include <string>
#include <vector>

namespace badger::boardcode
{

struct BoardFile {
    std::string name; ///< "avocet_halt.cpp"
    std::string text;
};

struct BoardCode {
    std::vector<BoardFile> files; ///< the program first, then what it leans on
    std::vector<LineTag> tags;
};

/// How the waits of states are written.
enum class Style {
    Blocking, ///< the board does nothing else, as it is taught first
    Timed     ///< passes go on, and the end is looked at once a pass: nothing blocks
};
const char *word(Style style); ///< "blocking"

/// The same program with all its waits of one kind: those of its states, and what takes time on the
/// way into them. The start routine and the pause between passes are as they were.
rules::Program inStyle(rules::Program program, Style style);

/// What a text is written with.
struct Writing {
    std::string workshop;
    std::optional<Style> style;        ///< empty: each wait as the program has it
    std::vector<std::string> warnings; ///< stand in the head of the text, one a line
    machine::CarFacts facts;
};

/// Writes the program for one car with the car's own pins and constants; the head of the text
/// carries car, program, version, workshop and a build id (buildId below). Only the text: nothing
/// is stored.
///
/// Fails with Missing while a value, a policy, a pin or a driver's way to brake or coast is not
/// there, naming it, and where the car's board is none that can be written for; with Conflict where
/// the board cannot do what the program asks (wires.h), or the text would not fit into the chip;
/// nothing is invented. People's names go into comments and texts by way of medium::source.
Result<BoardCode> boardCode(const rules::Program &program, const kit::Assembly &car,
                            const Writing &writing);

/// Whether it can be written as far as the program and the wires tell, and why not: what the car's
/// calibrations have to give is not asked.
Result<void> boardCodePossible(const rules::Program &program, const kit::Assembly &car);

/// Eight figures of base sixteen that change with the text: its FNV-1a check (32 bits).
std::string buildId(const std::string &text);

} // namespace badger::boardcode
