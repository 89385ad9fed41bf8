// SPDX-License-Identifier: GPL-3.0-or-later
// What may a value of a file be?
//
// Limits stand beside a key in its description, and every reader of the description takes them from
// there: the reader of files, the check of an edited value, and the schema.
#pragma once

#include <cstddef>
#include <limits>
#include <string_view>

namespace badger::io
{

/// Of a list or a map `most` counts its entries, and everything else holds for each of them.
struct Limits {
    double low = -std::numeric_limits<double>::infinity();
    double high = std::numeric_limits<double>::infinity();
    bool whole = false;       ///< of a number that is kept as a fraction
    std::size_t shortest = 0; ///< characters of a text
    std::size_t longest = std::numeric_limits<std::size_t>::max();
    std::size_t most = std::numeric_limits<std::size_t>::max();
    std::string_view words;   ///< the only texts or numbers there are, parted by '|'; empty: any
    std::string_view letters; ///< the only characters there are; empty: any
};

constexpr Limits in(double low, double high)
{
    Limits limits;
    limits.low = low;
    limits.high = high;
    return limits;
}
constexpr Limits wholeIn(double low, double high)
{
    auto limits = in(low, high);
    limits.whole = true;
    return limits;
}
constexpr Limits atLeast(double low)
{
    return in(low, std::numeric_limits<double>::infinity());
}
constexpr Limits text(std::size_t shortest, std::size_t longest)
{
    Limits limits;
    limits.shortest = shortest;
    limits.longest = longest;
    return limits;
}
constexpr Limits lettersOf(std::string_view letters, std::size_t shortest, std::size_t longest)
{
    auto limits = text(shortest, longest);
    limits.letters = letters;
    return limits;
}
constexpr Limits oneOf(std::string_view words)
{
    Limits limits;
    limits.words = words;
    return limits;
}
constexpr Limits each(Limits entry)
{
    return entry;
}
constexpr Limits most(std::size_t entries, Limits entry = {})
{
    entry.most = entries;
    return entry;
}

/// A name of a thing, which people choose.
inline constexpr Limits aName = text(1, 80);
/// A line of text that may be empty.
inline constexpr Limits aLine = text(0, 2000);

/// Calls `visit(word)` for each word of "a|b|c".
template <class Visit> constexpr void eachWord(std::string_view words, Visit visit)
{
    while (!words.empty()) {
        const auto bar = words.find('|');
        visit(words.substr(0, bar));
        words = bar == std::string_view::npos ? std::string_view{} : words.substr(bar + 1);
    }
}

} // namespace badger::io
