// SPDX-License-Identifier: GPL-3.0-or-later
// Which number of a program is dragged along the ruler of a window, and over which places?
#pragma once

#include "core/base/result.h"
#include "core/rules/program.h"
#include "core/units/quantity.h"

#include <optional>
#include <string>
#include <vector>

namespace badger::window
{

struct Handle {
    std::string value;   ///< its name in the program
    std::string meaning; ///< "stop at this distance"
    rules::ValueKind kind = rules::ValueKind::Distance;
    units::Unit unit = units::Unit::Centimetre; ///< in which its places are whole or round
    std::optional<double> now;                  ///< as the program has it, SI
    std::vector<double> at;                     ///< the places, SI, rising; two or more

    /// The place nearest to a number.
    size_t nearest(double si) const;
};

/// The handle of a value. Distances go in steps of the unit that the program compares (1 cm, half
/// an inch), from the first to 80 cm or 1.5 times what the value is now, no farther than the
/// reading's limit; counts of speed by 5 from 40 to 255; counts of the converter by 16; angles by 5
/// degrees; durations, gains and the like in 40 steps up to three times what they are now; whole
/// numbers of readings from 1 to 12. Fails with Missing where the program has no such value (naming
/// those that it has), or where a value without a scale of its own is not set.
Result<Handle> handleOf(const rules::Program &program, const std::string &value);

/// The same over the same stretch in steps of one's own (SI; counts of a speed and the like as they
/// are). Fails with OutOfRange for a step that leaves fewer than two places or more than 1,000.
Result<Handle> withStep(const Handle &handle, double step);

/// The first distance by which the program gives way, else its first speed, gain or count: what a
/// window shows at first. Empty: nothing to drag.
std::string firstValue(const rules::Program &program);

/// The values that can be dragged, in the program's order.
std::vector<std::string> draggable(const rules::Program &program);

/// Do two programs differ at most in this value, in their versions and names? Then a window of the
/// one is a window of the other.
bool sameBut(const rules::Program &a, const rules::Program &b, const std::string &value);

/// The program with the value at this place; version and id stay.
rules::Program with(const rules::Program &program, const std::string &value, double si);

} // namespace badger::window
