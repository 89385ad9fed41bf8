// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/units/quantity.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <fmt/format.h>
#include <fmt/ranges.h>

namespace badger::units
{

namespace
{

/// In SI units; nothing at a bench comes near, and products of it stay finite.
constexpr double largest = 1e9;

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

/// "11,5in" as "11.5in". A comma that could as well part thousands ("1,200") is an error, as is a
/// second mark.
Result<std::string> withPoint(std::string_view body, const std::string &where)
{
    std::string text(body);
    const auto mark = text.find(',');
    const auto isDigit = [](char c) { return c >= '0' && c <= '9'; };
    const auto digitsFrom = [&](size_t at) {
        size_t n = 0;
        while (at + n < text.size() && isDigit(text[at + n]))
            ++n;
        return n;
    };
    if (mark == std::string::npos)
        return text;
    const auto whole = std::string_view(text).substr(0, mark);
    const auto more = text.find_first_of(",.", mark + 1);
    if (whole.find('.') != std::string_view::npos || more == mark + 1 + digitsFrom(mark + 1))
        return fail(Error::Kind::Malformed, where,
                    fmt::format("'{}' has more than one point or comma", body),
                    "write 1234.5 or 1234,5, without marks between thousands");
    const auto first = whole.find_first_of("123456789");
    if (digitsFrom(mark + 1) == 3 && first != std::string_view::npos && whole.size() - first <= 3)
        return fail(Error::Kind::Malformed, where,
                    fmt::format("'{}' may mean thousands or a fraction", body),
                    "write a fraction with a point, and thousands without a mark");
    text[mark] = '.';
    return text;
}

} // namespace

Result<double> parse(std::string_view text, Dimension dimension, const std::string &where)
{
    using Kind = Error::Kind;
    const auto body = trimmed(text);
    const auto use = "use one of: " + accepted(dimension);
    if (body.empty())
        return fail(Kind::Missing, where, "no value is given", use);

    const auto pointed = withPoint(body, where);
    if (!pointed)
        return tl::unexpected(pointed.error());
    // from_chars takes no leading plus, and takes "inf" and "nan", which no bench produces.
    const auto start = std::string_view(*pointed).substr(body.front() == '+' ? 1 : 0);
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

} // namespace badger::units
