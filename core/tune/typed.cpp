// SPDX-License-Identifier: GPL-3.0-or-later
// Readings as a hand types them.
#include "core/base/angle.h"
#include "core/tune/record.h"
#include "core/units/quantity.h"

#include <cctype>
#include <cmath>

namespace badger::tune
{

using units::Dimension;
using units::Unit;

namespace
{

/// What a number of an entry is: its unit, by how much an SI value is divided, and its range.
struct Kind {
    Dimension dimension = Dimension::PwmCounts;
    const char *unit = ""; ///< of a bare number; "": a unit has to be written
    double divide = 1.0;
    double least = 0.0;
    double most = 0.0;
};

Kind kindOf(What what, Entry entry)
{
    switch (entry) {
    case Entry::Length:
        return {Dimension::Length, "", 1.0, what == What::Trimmer ? 0.0 : -20.0, 20.0};
    case Entry::Milliseconds:
        return {Dimension::Time, "ms", 1e-3, 0.1, 10000.0};
    case Entry::Seconds:
        return {Dimension::Time, "s", 1.0, 0.01, 3600.0};
    case Entry::Degrees:
        return what == What::Horn ? Kind{Dimension::Angle, "deg", degree, -180.0, 180.0}
                                  : Kind{Dimension::Angle, "deg", degree, 0.1, 7200.0};
    case Entry::Microseconds:
        return {Dimension::Time, "us", 1e-6, 500.0, 2500.0};
    case Entry::Ohms:
        return {Dimension::Resistance, "ohm", 1.0, 1.0, 1e7};
    case Entry::Celsius:
        return {Dimension::Temperature, "C", 1.0, -40.0, 60.0};
    case Entry::Share:
        return {Dimension::PwmCounts, "", 1.0, 0.0, 1.0};
    case Entry::Board:
        break;
    }
    if (what == What::Ruler)
        return {Dimension::Length, "", 1.0, 0.0, 20.0};
    if (what == What::NoEcho)
        return {Dimension::Time, "us", 1e-6, 0.0, 1e7};
    return {Dimension::PwmCounts, "", 1.0, 0.0, what == What::Trimmer ? 1.0 : mostCounts};
}

bool isNumber(std::string_view word)
{
    return !word.empty() && (std::isdigit(static_cast<unsigned char>(word[0])) != 0 ||
                             word[0] == '-' || word[0] == '+' || word[0] == '.' || word[0] == ',');
}

/// A unit belongs to the number before it.
std::vector<std::string> wordsIn(std::string_view text)
{
    std::string plain(text);
    for (const std::string_view minus = "\u2212"; plain.find(minus) != std::string::npos;)
        plain.replace(plain.find(minus), minus.size(), "-");
    std::vector<std::string> words;
    std::string word;
    const auto end = [&] {
        if (word.empty())
            return;
        if (!isNumber(word) && word != "none" && !words.empty() && words.back() != "none")
            words.back() += word;
        else
            words.push_back(word);
        word.clear();
    };
    for (const char c : plain) {
        if (c == ';' || std::isspace(static_cast<unsigned char>(c)) != 0)
            end();
        else
            word += c;
    }
    end();
    return words;
}

/// A bare number, with a point or a comma.
std::optional<double> bare(std::string word)
{
    if (word.find_first_not_of("+-.,0123456789") != std::string::npos)
        return std::nullopt;
    const auto value = units::parse(word + "cm", Dimension::Length);
    return value ? std::optional(*value * 100.0) : std::nullopt;
}

tl::unexpected<Error> no(const std::string &word, What what, Entry entry)
{
    return fail(Error::Kind::Malformed, say("readings"), say("'{}' is no reading", word),
                entry == Entry::Board && what == What::Trimmer
                    ? say("a digital module gives 1 or 0")
                    : words(entry));
}

Result<double> one(const std::string &word, What what, Entry entry)
{
    const auto kind = kindOf(what, entry);
    double value = 0.0;
    const bool isCount = kind.dimension == Dimension::PwmCounts;
    if (isCount) {
        const bool percent = entry == Entry::Share && word.back() == '%';
        const auto number = bare(percent ? word.substr(0, word.size() - 1) : word);
        if (!number)
            return no(word, what, entry);
        value = percent ? *number / 100.0 : *number;
        // 1 / 100 of a centimetre and back: a count is whole where it was written whole.
        value = std::abs(value - std::round(value)) < 1e-9 ? std::round(value) : value;
    } else {
        const bool isBare = word.find_first_not_of("+-.,0123456789") == std::string::npos;
        const auto si = units::parse(isBare ? word + kind.unit : word, kind.dimension, "readings");
        if (!si)
            return tl::unexpected(si.error());
        value = *si / kind.divide;
    }
    if (!(value >= kind.least && value <= kind.most) ||
        (what == What::Trimmer && entry == Entry::Board && value != 0.0 && value != 1.0))
        return no(word, what, entry);
    return value;
}

} // namespace

Say words(Entry entry)
{
    switch (entry) {
    case Entry::Length:
        return say("write lengths with their unit, as 8 cm");
    case Entry::Share:
        return say("write how far it was turned, as 40 % or 0.4");
    case Entry::Milliseconds:
        return say("write milliseconds, above 0 and up to 10000");
    case Entry::Seconds:
        return say("write seconds, above 0, as 6.2");
    case Entry::Degrees:
        return say("write degrees, as 58");
    case Entry::Microseconds:
        return say("write a pulse from 500 to 2500 us");
    case Entry::Ohms:
        return say("write a resistance, as 2.2 kohm");
    case Entry::Celsius:
        return say("write a temperature from -40 to 60 degrees Celsius");
    case Entry::Board:
        break;
    }
    return say("write numbers with spaces between them");
}

Result<std::vector<double>> typedReadings(std::string_view text, What what, Entry entry)
{
    std::vector<double> readings;
    for (const auto &word : wordsIn(text)) {
        if (word == "none" && entry == Entry::Board &&
            (what == What::Ruler || what == What::NoEcho)) {
            readings.push_back(nothingCame);
            continue;
        }
        const auto value = one(word, what, entry);
        if (!value)
            return tl::unexpected(value.error());
        readings.push_back(*value);
    }
    if (readings.empty())
        return no("", what, entry);
    return readings;
}

} // namespace badger::tune
