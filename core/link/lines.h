// SPDX-License-Identifier: GPL-3.0-or-later
// Which lines go between a board and the program?
//
// Plain text, one line each, ended by a line feed; docs/link-protocol.md is the same for people who
// write their own board program. Four kinds come from the board:
//
//     badger 1 avocet-w3 every=50 ahead:us left:level !5C0E     the header
//     =5C 17 53420 1738 1 !A01D                                 a sample
//     #motor left forward !77F2                                 words for a person
//
// and one goes to it: "?" asks for the header. "!" and four figures close a line: the check of all
// that stands before it. A sample begins with the first two figures of its header's check, so that
// it is never read by the header of another program; then its number (0 to 65535, then 0 again),
// the board's time in ms, and one value a channel: a number, "none" (nothing came back), or "-"
// (not read this time).
#pragma once

#include "core/base/result.h"

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

namespace badger::link
{

/// In which unit a channel counts.
enum class ChannelUnit {
    Microseconds, ///< "us": length of an echo
    Counts,       ///< "count": of an analogue pin, 0 to 1023
    Level,        ///< "level": 0 or 1
    Millivolts,   ///< "mV"
    Millimetres,  ///< "mm"
    Celsius       ///< "degC"
};
inline constexpr int channelUnitCount = 6;
/// As it stands in the header.
const char *symbol(ChannelUnit unit);
std::optional<ChannelUnit> channelUnit(std::string_view symbol);

/// What a line may be at most. Longer ones are no lines.
inline constexpr std::size_t longestLine = 240;
inline constexpr std::size_t mostChannels = 16;
inline constexpr std::size_t longestName = 24;
inline constexpr std::size_t longestBuild = 40;

struct Channel {
    std::string name; ///< a small letter, then small letters, figures and "-"; up to 24
    ChannelUnit unit = ChannelUnit::Counts;
    bool operator==(const Channel &) const = default;
};

struct Header {
    std::string build;             ///< which program speaks: letters, figures, "-", "_", "."
    int every_ms = 50;             ///< between two samples, 1 to 60000
    std::vector<Channel> channels; ///< 1 to 16, each name once
    bool operator==(const Header &) const = default;
};

/// One value of a sample.
struct Value {
    enum class Kind { Number, None, NotRead };
    Kind kind = Kind::NotRead;
    double number = 0.0; ///< of a Number: at most 1e9 either way
    bool operator==(const Value &) const = default;
};
inline Value number(double value)
{
    return {Value::Kind::Number, value};
}
inline constexpr Value none{Value::Kind::None, 0.0};
inline constexpr Value notRead{};

struct Sample {
    std::uint8_t tag = 0;      ///< of its header
    std::uint16_t number = 0;  ///< one more than that of the sample before
    std::uint32_t time_ms = 0; ///< since the board started
    std::vector<Value> values; ///< one a channel of the header
    bool operator==(const Sample &) const = default;
};

struct Words {
    std::string text;
    bool operator==(const Words &) const = default;
};

using Line = std::variant<Header, Sample, Words>;

/// CRC-16 with the polynomial 0x1021, begun at 0xFFFF, highest bit first, nothing turned at its
/// end. Check value: 0x29B1 for the nine letters "123456789". Source: the usual law of that name.
std::uint16_t check(std::string_view text);

/// The tag that a header's samples carry. The header must be one that written() takes.
std::uint8_t tagOf(const Header &header);

/// The line with its check and its line feed. What cannot stand in a line (a name with a space, a
/// number that is not finite, more channels than may be) is an error that names it.
Result<std::string> written(const Line &line);

/// A line without its line feed (a carriage return at its end is taken off). Any bytes may be
/// given; what is no line is Malformed and says why: too long, no check, another check than its
/// text has, no kind that is known, or a part of it that cannot be read.
Result<Line> read(std::string_view line);

/// What a listener sends to have the header.
inline constexpr std::string_view askForHeader = "?\n";

} // namespace badger::link
