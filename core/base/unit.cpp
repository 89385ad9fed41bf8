// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/unit.h"

#include "core/base/angle.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace badger::units
{

const std::vector<UnitInfo> &allUnits()
{
    using enum Dimension;
    static const std::vector<UnitInfo> units = {
        {Unit::Centimetre, Length, "cm", {}, 0.01},
        {Unit::Millimetre, Length, "mm", {}, 0.001},
        {Unit::Inch, Length, "in", {"inch", "inches", "\""}, 0.0254},
        {Unit::Metre, Length, "m", {}, 1.0},
        {Unit::Microsecond, Time, "us", {"µs", "μs"}, 1e-6},
        {Unit::Millisecond, Time, "ms", {}, 1e-3},
        {Unit::Second, Time, "s", {}, 1.0},
        {Unit::MetrePerSecond, Speed, "m/s", {}, 1.0},
        {Unit::CentimetrePerSecond, Speed, "cm/s", {}, 0.01},
        {Unit::Celsius, Temperature, "°C", {"C", "degC"}, 1.0},
        {Unit::Volt, Voltage, "V", {}, 1.0},
        {Unit::Millivolt, Voltage, "mV", {}, 1e-3},
        {Unit::Milliampere, Current, "mA", {}, 1e-3},
        {Unit::Ampere, Current, "A", {}, 1.0},
        {Unit::Degree, Angle, "deg", {"°"}, degree},
        {Unit::Radian, Angle, "rad", {}, 1.0},
        {Unit::Ohm, Resistance, "ohm", {"Ohm", "Ω", "Ω"}, 1.0},
        {Unit::Kiloohm, Resistance, "kohm", {"kOhm", "kΩ", "kΩ"}, 1000.0},
        {Unit::Watt, Power, "W", {}, 1.0},
        {Unit::Milliwatt, Power, "mW", {}, 1e-3},
        {Unit::MilliampereHour, Charge, "mAh", {}, 1e-3},
        {Unit::AmpereHour, Charge, "Ah", {}, 1.0},
        {Unit::Gram, Mass, "g", {}, 1e-3},
        {Unit::Kilogram, Mass, "kg", {}, 1.0},
        {Unit::Count, PwmCounts, "pwm", {"counts", "count"}, 1.0},
    };
    return units;
}

const UnitInfo &info(Unit unit)
{
    const auto &units = allUnits();
    return *std::find_if(units.begin(), units.end(),
                         [unit](const UnitInfo &u) { return u.unit == unit; });
}

namespace
{

/// For people: a sum without an end is no number.
std::string unbounded(double value)
{
    return std::isnan(value) ? "unknown" : "no limit";
}

} // namespace

double fromSi(double si, Unit unit)
{
    return si / info(unit).inSi;
}

double toSi(double value, Unit unit)
{
    return value * info(unit).inSi;
}

std::string plain(double value, int decimals)
{
    if (!std::isfinite(value))
        return unbounded(value);
    auto text = fmt::format("{:.{}f}", value, decimals);
    if (text.find('.') != std::string::npos) {
        text.erase(text.find_last_not_of('0') + 1);
        if (text.back() == '.')
            text.pop_back();
    }
    return text == "-0" ? "0" : text;
}

std::string format(double si, Unit unit, int decimals)
{
    if (!std::isfinite(si))
        return unbounded(si);
    auto number = fmt::format("{:.{}f}", fromSi(si, unit), decimals);
    if (number.find_first_not_of("-0.") == std::string::npos && number.front() == '-')
        number.erase(0, 1);
    return number + " " + info(unit).symbol;
}

std::string formatShort(double si, Unit unit, int decimals)
{
    if (!std::isfinite(si))
        return unbounded(si);
    return plain(fromSi(si, unit), decimals) + " " + info(unit).symbol;
}

Unit shownIn(Unit unit, const Display &display)
{
    return display.length && info(unit).dimension == Dimension::Length ? *display.length : unit;
}

int decimalsIn(Unit shown, Unit unit, int decimals)
{
    const double finer = std::log10(info(shown).inSi / info(unit).inSi);
    return std::max(0, decimals + static_cast<int>(std::lround(finer)));
}

std::string text(const Quantity &quantity, const Display &display)
{
    const auto shown = shownIn(quantity.unit, display);
    const int decimals = decimalsIn(shown, quantity.unit, quantity.decimals);
    return quantity.fixed ? format(quantity.si, shown, decimals)
                          : formatShort(quantity.si, shown, decimals);
}

} // namespace badger::units
