// SPDX-License-Identifier: GPL-3.0-or-later
// Which numbers does a board compare?
//
// They are the board's own: 32-bit floating point, whole numbers cut towards zero, and a pulse time
// of 0 that stands for "no echo in time".
#pragma once

#include "core/rules/program.h"

#include <cstdint>

namespace badger::rules
{

/// The number that stands for "no echo" in the program. A pulse timing that runs out returns 0,
/// and a whole-number reading below one unit is cut to the same 0: the two cannot be told apart.
inline constexpr double noEchoNumber = 0.0;

/// The speed of sound that a reading reckons with, in its air; at 20 degrees where none is set.
double sound_mps(const Reading &reading);

/// Unit lengths per microsecond of echo: c / 2 in the reading's unit.
/// The reading's air temperature must be within the sound law's range.
double unitsPer_us(const Reading &reading);

/// The pulse time after which the program stops waiting, in microseconds: the round trip to the
/// reading's limit, rounded up. The limit must be set.
std::uint32_t timeOut_us(const Reading &reading);

/// A value in the reading's unit as the board code writes it: four decimals, then 32-bit float.
double constantIn(const Value &value, units::Unit unit);

/// Does a number (or infinity, for a policy) meet a comparison with a constant?
bool holds(double number, Compare compare, double constant);

} // namespace badger::rules
