// SPDX-License-Identifier: GPL-3.0-or-later
// Which board is a program text for, and what can that board do?
#pragma once

#include "core/base/result.h"
#include "core/kit/assembly.h"

#include <optional>
#include <string>
#include <vector>

namespace badger::boardcode
{

enum class Target {
    Board,    ///< the 5 V 8-bit board: C++
    Chip,     ///< the bare 14-pin chip: C++
    Computer, ///< the 3.3 V computer: Python 3
    Ports     ///< the classroom controller: its port list and the steps, in words
};

/// The target of a car's board. Fails with Missing where the car has none (the wires are its
/// program then) or the board is none of these, naming it.
Result<Target> targetOf(const kit::Assembly &car);

/// A pin as a target's own text counts it: "D7" is 7 and "A0" 14 on the board, "P3" 3 on the chip
/// and the computer. Empty for a pin that the target does not have.
std::optional<int> pinNumber(Target target, const std::string &pin);

/// Whether a voltage can be read there.
bool isAnalogue(Target target, const std::string &pin);

/// The support that every text of a target leans on: "board_support.h".
const char *supportFile(Target target);
std::string supportText(Target target);

/// The lines of a text's head that say how it gets onto the car.
std::vector<std::string> howToLoad(Target target);

/// Whether the target reckons in 32-bit fractions; else in 64-bit ones.
inline bool isSmall(Target target)
{
    return target == Target::Board || target == Target::Chip;
}

} // namespace badger::boardcode
