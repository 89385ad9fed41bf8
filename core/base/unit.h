// SPDX-License-Identifier: GPL-3.0-or-later
// How does a person see a quantity?
//
// Inside the program every number is SI (or what the hardware itself counts in). This is the one
// place that knows centimetres, inches, microseconds, degrees and the like, and in which of them a
// length is shown. Reading what people type is units/quantity.h.
#pragma once

#include <optional>
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

/// The unit's value of an SI quantity, and back.
double fromSi(double si, Unit unit);
double toSi(double value, Unit unit);

/// "25.94 cm": the SI value in `unit` with a fixed number of decimals, rounded as printf rounds.
/// A value that rounds to zero carries no sign; an infinite one is "no limit".
std::string format(double si, Unit unit, int decimals);

/// As `format`, without trailing zeros: "32 cm", "29.21 cm". At most `decimals` decimals.
std::string formatShort(double si, Unit unit, int decimals = 3);

/// A bare number without trailing zeros, at most `decimals` decimals: for tables and program text.
std::string plain(double value, int decimals);

/// The units in which one person wants to see things. A stored value never changes with it.
struct Display {
    /// Every length in this unit: centimetres, millimetres or inches. Empty: each in the unit that
    /// is usual for it (a gap in centimetres, a hole in millimetres).
    std::optional<Unit> length;
    bool operator==(const Display &) const = default;
};

/// A number with at most so many decimals, without trailing zeros.
struct Number {
    double value = 0.0;
    int decimals = 0;
    bool operator==(const Number &) const = default;
};
inline Number number(double value, int decimals)
{
    return {value, decimals};
}

/// An SI value with the unit that is usual for it, kept until it is known who looks.
struct Quantity {
    double si = 0.0;
    Unit unit = Unit::Metre;
    int decimals = 3;   ///< in `unit`
    bool fixed = false; ///< all of them, also trailing zeros
    bool operator==(const Quantity &) const = default;
};

/// "32 cm" without trailing zeros, and "32.0 cm" with them, for whoever will look.
inline Quantity quantity(double si, Unit unit, int decimals = 3)
{
    return {si, unit, decimals};
}
inline Quantity fixed(double si, Unit unit, int decimals)
{
    return {si, unit, decimals, true};
}

/// The unit in which `display` shows something that is usually in `unit`.
Unit shownIn(Unit unit, const Display &display);

/// The decimals that say in `shown` about as much as `decimals` say in `unit`; 0 at the least.
int decimalsIn(Unit shown, Unit unit, int decimals);

/// "32 cm", or "12.6 in" where `display` says so.
std::string text(const Quantity &quantity, const Display &display = {});

} // namespace badger::units
