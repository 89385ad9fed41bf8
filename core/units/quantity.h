// SPDX-License-Identifier: GPL-3.0-or-later
// How do people write and read quantities?
//
// Inside the program every number is SI (or what the hardware itself counts in). This is the one
// place where centimetres, inches, microseconds, degrees and the like are turned into SI and back.
// The window and the command line both use it, so both accept and print the same words.
#pragma once

#include "core/base/result.h"

#include <string>
#include <string_view>
#include <vector>

namespace badger::units
{

enum class Dimension {
    Length,      ///< SI: m
    Time,        ///< SI: s
    Speed,       ///< SI: m/s
    Temperature, ///< kept in degrees Celsius, as the sound law takes it
    Voltage,     ///< SI: V
    Current,     ///< SI: A
    Angle,       ///< SI: rad
    Resistance,  ///< SI: ohm
    Power,       ///< SI: W
    Charge,      ///< in Ah: nobody at a bench counts coulombs
    Mass,        ///< SI: kg
    PwmCounts    ///< 0 to 255 of the board's 8-bit timer; written bare or with "pwm"
};

enum class Unit {
    Metre,
    Centimetre,
    Millimetre,
    Inch,
    Second,
    Millisecond,
    Microsecond,
    MetrePerSecond,
    CentimetrePerSecond,
    Celsius,
    Volt,
    Millivolt,
    Ampere,
    Milliampere,
    Radian,
    Degree,
    Ohm,
    Kiloohm,
    Watt,
    Milliwatt,
    AmpereHour,
    MilliampereHour,
    Kilogram,
    Gram,
    Count
};

/// A number with its unit's symbol, its dimension and its size in SI.
struct UnitInfo {
    Unit unit;
    Dimension dimension;
    const char *symbol;                 ///< what is printed, "cm"
    std::vector<std::string_view> also; ///< other spellings that are accepted, "inch"
    double inSi;                        ///< SI value of one unit
};

/// Every unit the program knows, in the order in which messages list them.
const std::vector<UnitInfo> &allUnits();

/// The entry of `unit`.
const UnitInfo &info(Unit unit);

/// Reads one quantity, such as "29 cm", "11.5in", "1740us" or "22 C".
///
/// Returns the SI value. The number is decimal with a point; spaces around number and unit are
/// ignored. Errors, each with a mend: no number, no unit (PWM counts alone need none), a unit of
/// another dimension, an unknown unit, a decimal comma, a value beyond 1e9 SI units. `where` is put
/// into the error as it is.
Result<double> parse(std::string_view text, Dimension dimension, const std::string &where = {});

/// "25.94 cm": the SI value in `unit` with a fixed number of decimals, rounded as printf rounds.
/// A value that rounds to zero carries no sign; an infinite one is "no limit".
std::string format(double si, Unit unit, int decimals);

/// As `format`, without trailing zeros: "32 cm", "29.21 cm". At most `decimals` decimals.
std::string formatShort(double si, Unit unit, int decimals = 3);

/// A bare number without trailing zeros, at most `decimals` decimals: for tables and program text.
std::string plain(double value, int decimals);

/// The unit's value of an SI quantity, and back.
double fromSi(double si, Unit unit);
double toSi(double value, Unit unit);

} // namespace badger::units
