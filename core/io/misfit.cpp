// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/io/misfit.h"

#include "core/base/medium.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace badger::io
{

namespace
{

std::size_t characters(std::string_view text)
{
    return static_cast<std::size_t>(std::count_if(text.begin(), text.end(), [](char c) {
        return (static_cast<unsigned char>(c) & 0xC0) != 0x80;
    }));
}

bool isWord(std::string_view text, std::string_view words)
{
    bool found = words.empty();
    eachWord(words, [&](std::string_view word) { found = found || word == text; });
    return found;
}

Say wanted(Shape shape, const Limits &limits, std::string_view unit)
{
    if (!limits.words.empty() && shape != Shape::List && shape != Shape::Object) {
        std::vector<Say> all;
        eachWord(limits.words, [&](std::string_view word) {
            all.emplace_back(shape == Shape::Text ? fmt::format("\"{}\"", word)
                                                  : std::string(word));
        });
        return say("one of {}", joined(all, ", "));
    }
    static constexpr SourceText<> names[] = {source("a number"),      source("a whole number"),
                                             source("true or false"), source("a text"),
                                             source("a list"),        source("an object")};
    Say words = names[static_cast<int>(limits.whole ? Shape::Whole : shape)];
    if (shape == Shape::Number || shape == Shape::Whole) {
        if (std::isfinite(limits.low))
            words += say(" from {}", fmt::format("{}", limits.low));
        if (std::isfinite(limits.high))
            words += say(" to {}{}", fmt::format("{}", limits.high), unit);
    }
    constexpr auto any = std::numeric_limits<std::size_t>::max();
    if ((shape == Shape::List || shape == Shape::Object) && limits.most != any)
        words += say(" of at most {} entries", limits.most);
    if (shape == Shape::Text && limits.longest != any)
        words += say(" of at most {} characters", limits.longest);
    if (shape == Shape::Text && !limits.letters.empty())
        words += say(" made of {}", limits.letters);
    if (shape == Shape::Text && limits.shortest > 0)
        words += say(", not empty");
    return words;
}

} // namespace

bool keeps(double number, const Limits &limits)
{
    return std::isfinite(number) && number >= limits.low && number <= limits.high &&
           (!limits.whole || number == std::trunc(number)) &&
           isWord(fmt::format("{}", number), limits.words);
}

bool keeps(std::string_view text, const Limits &limits)
{
    const auto n = characters(text);
    return n >= limits.shortest && n <= limits.longest && isWord(text, limits.words) &&
           (limits.letters.empty() || text.find_first_not_of(limits.letters) == text.npos);
}

std::string_view unitOf(std::string_view pointer)
{
    static constexpr std::pair<std::string_view, std::string_view> units[] = {
        {"_m_s", " m/s"}, {"_m", " m"},     {"_s", " s"},    {"_V", " V"},
        {"_A", " A"},     {"_rad", " rad"}, {"_degC", " °C"}};
    for (const auto &[ending, unit] : units)
        if (pointer.ends_with(ending))
            return unit;
    return {};
}

Error misfit(std::string_view pointer, std::string_view found, Shape shape, const Limits &limits)
{
    constexpr std::size_t longestShown = 40;
    const bool isNumber = !found.empty() && (found[0] == '-' || std::isdigit(found[0]) != 0);
    const auto unit = unitOf(pointer);
    return {Error::Kind::Malformed, pointer.empty() ? say("the file") : Say(pointer),
            say("{}{} does not fit", medium::shortened(found, longestShown), isNumber ? unit : ""),
            say("it should be {}", wanted(shape, limits, unit))};
}

Error missing(std::string_view pointer, std::string_view key)
{
    return {Error::Kind::Missing, pointer.empty() ? say("the file") : Say(pointer),
            say("the key '{}' is missing", key), say("add it")};
}

} // namespace badger::io
