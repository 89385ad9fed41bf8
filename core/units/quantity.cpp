// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/units/quantity.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <numbers>

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
        {Unit::Degree, Angle, "deg", {"°"}, std::numbers::pi / 180.0},
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

/// In SI units; nothing at a bench comes near, and products of it stay finite.
constexpr double largest = 1e9;

/// For people: a sum without an end is no number.
std::string unbounded(double value)
{
    return std::isnan(value) ? "unknown" : "no limit";
}

std::string_view trimmed(std::string_view text)
{
    const auto space = " \t\r\n";
    const auto first = text.find_first_not_of(space);
    if (first == std::string_view::npos)
        return {};
    return text.substr(first, text.find_last_not_of(space) - first + 1);
}

std::string accepted(Dimension dimension)
{
    std::vector<std::string> symbols;
    for (const auto &u : allUnits())
        if (u.dimension == dimension)
            symbols.emplace_back(u.symbol);
    return fmt::format("{}", fmt::join(symbols, ", "));
}

const UnitInfo *unitNamed(std::string_view symbol)
{
    for (const auto &u : allUnits())
        if (symbol == u.symbol || std::find(u.also.begin(), u.also.end(), symbol) != u.also.end())
            return &u;
    return nullptr;
}

} // namespace

Result<double> parse(std::string_view text, Dimension dimension, const std::string &where)
{
    using Kind = Error::Kind;
    const auto body = trimmed(text);
    const auto use = "use one of: " + accepted(dimension);
    if (body.empty())
        return fail(Kind::Missing, where, "no value is given", use);

    // from_chars takes no leading plus, and takes "inf" and "nan", which no bench produces.
    const auto start = body.front() == '+' ? body.substr(1) : body;
    const bool looksNumeric =
        !start.empty() && std::string_view("0123456789.-").find(start.front()) != std::string::npos;
    double number = 0.0;
    const auto [end, code] = std::from_chars(start.data(), start.data() + start.size(), number,
                                             std::chars_format::fixed);
    if (!looksNumeric || code == std::errc::invalid_argument || !std::isfinite(number))
        return fail(Kind::Malformed, where, fmt::format("'{}' does not start with a number", body),
                    use);
    if (code == std::errc::result_out_of_range)
        return fail(Kind::OutOfRange, where, fmt::format("'{}' is too large or too small", body),
                    "write a number this work can meet");

    const auto symbol =
        trimmed(std::string_view(end, static_cast<size_t>(start.data() + start.size() - end)));
    if (symbol.starts_with(','))
        return fail(Kind::Malformed, where, fmt::format("'{}' has a decimal comma", body),
                    "write a decimal point");
    if (symbol.empty()) {
        if (dimension == Dimension::PwmCounts && std::abs(number) <= largest)
            return number;
        return fail(Kind::Missing, where, fmt::format("'{}' has no unit", body), use);
    }
    const auto *unit = unitNamed(symbol);
    if (unit == nullptr)
        return fail(Kind::Malformed, where, fmt::format("'{}' is not a unit here", symbol), use);
    if (unit->dimension != dimension)
        return fail(Kind::Malformed, where, fmt::format("'{}' is the wrong kind of unit", symbol),
                    use);
    const double si = number * unit->inSi;
    if (std::abs(si) > largest)
        return fail(Kind::OutOfRange, where, fmt::format("'{}' is too large", body),
                    "write a number this work can meet");
    return si;
}

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

} // namespace badger::units
