// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/link/lines.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <fmt/format.h>

namespace badger::link
{

namespace
{

constexpr std::array<const char *, channelUnitCount> symbols = {"us", "count", "level",
                                                                "mV", "mm",    "degC"};
constexpr std::string_view opening = "badger 1 ";
constexpr double greatest = 1e9;

bool isSmall(char c)
{
    return c >= 'a' && c <= 'z';
}
bool isFigure(char c)
{
    return c >= '0' && c <= '9';
}

bool isChannelName(std::string_view name)
{
    return !name.empty() && name.size() <= longestName && isSmall(name.front()) &&
           std::all_of(name.begin(), name.end(),
                       [](char c) { return isSmall(c) || isFigure(c) || c == '-'; });
}

bool isBuild(std::string_view build)
{
    return !build.empty() && build.size() <= longestBuild &&
           std::all_of(build.begin(), build.end(), [](char c) {
               return isSmall(c) || isFigure(c) || (c >= 'A' && c <= 'Z') || c == '-' || c == '_' ||
                      c == '.';
           });
}

tl::unexpected<Error> bad(Say what)
{
    return fail(Error::Kind::Malformed, say("a line of the board"), std::move(what));
}

/// The words between single spaces; an empty one where two spaces stand.
std::vector<std::string_view> split(std::string_view text)
{
    std::vector<std::string_view> parts;
    for (;;) {
        const auto at = text.find(' ');
        parts.push_back(text.substr(0, at));
        if (at == std::string_view::npos)
            return parts;
        text.remove_prefix(at + 1);
    }
}

template <class Whole> std::optional<Whole> whole(std::string_view text, int base = 10)
{
    Whole value{};
    const auto *end = text.data() + text.size();
    const auto [at, error] = std::from_chars(text.data(), end, value, base);
    if (text.empty() || error != std::errc{} || at != end)
        return std::nullopt;
    return value;
}

Result<void> mayBeHeader(const Header &h)
{
    if (!isBuild(h.build))
        return bad(say("the name of the program has other signs than letters, figures, '-', '_' "
                       "and '.', or is longer than {}",
                       static_cast<long>(longestBuild)));
    if (h.every_ms < 1 || h.every_ms > 60000)
        return bad(say("{} ms from sample to sample; 1 to 60000 can be said", h.every_ms));
    if (h.channels.empty() || h.channels.size() > mostChannels)
        return bad(say("{} channels; 1 to {} can be said", static_cast<long>(h.channels.size()),
                       static_cast<long>(mostChannels)));
    for (auto c = h.channels.begin(); c != h.channels.end(); ++c) {
        if (!isChannelName(c->name))
            return bad(say("a channel's name is a small letter, then small letters, figures and "
                           "'-', {} at most",
                           static_cast<long>(longestName)));
        if (std::any_of(h.channels.begin(), c, [&](const Channel &o) { return o.name == c->name; }))
            return bad(say("two channels are called {}", c->name));
    }
    return {};
}

std::string bodyOf(const Header &h)
{
    auto text = fmt::format("{}{} every={}", opening, h.build, h.every_ms);
    for (const auto &c : h.channels)
        text += fmt::format(" {}:{}", c.name, symbol(c.unit));
    return text;
}

Result<std::string> bodyOf(const Sample &s)
{
    if (s.values.empty() || s.values.size() > mostChannels)
        return bad(say("{} values; 1 to {} can be said", static_cast<long>(s.values.size()),
                       static_cast<long>(mostChannels)));
    auto text = fmt::format("={:02X} {} {}", s.tag, s.number, s.time_ms);
    for (const auto &v : s.values) {
        if (v.kind == Value::Kind::Number && !(std::abs(v.number) <= greatest))
            return bad(say("a value is no number of at most 1e9"));
        text += v.kind == Value::Kind::None      ? " none"
                : v.kind == Value::Kind::NotRead ? " -"
                                                 : fmt::format(" {}", v.number);
    }
    return text;
}

Result<std::string> bodyOf(const Words &w)
{
    const auto fits = [](char c) { return c >= ' ' && c <= '~' && c != '!'; };
    if (!std::all_of(w.text.begin(), w.text.end(), fits))
        return bad(say("words have plain letters only, and no '!'"));
    return "#" + w.text;
}

Result<Line> readHeader(std::string_view body)
{
    const auto parts = split(body.substr(opening.size()));
    constexpr std::string_view every = "every=";
    if (parts.size() < 3 || !parts[1].starts_with(every))
        return bad(say("a header names its program, its time from sample to sample and its "
                       "channels"));
    Header h;
    h.build = std::string(parts[0]);
    const auto pause = whole<int>(parts[1].substr(every.size()));
    if (!pause)
        return bad(say("the time from sample to sample is no whole number"));
    h.every_ms = *pause;
    if (parts.size() - 2 > mostChannels)
        return bad(say("{} channels; 1 to {} can be said", static_cast<long>(parts.size() - 2),
                       static_cast<long>(mostChannels)));
    for (size_t i = 2; i < parts.size(); ++i) {
        const auto colon = parts[i].find(':');
        const auto unit = colon == std::string_view::npos ? std::nullopt
                                                          : channelUnit(parts[i].substr(colon + 1));
        if (!unit)
            return bad(say("a channel has no unit that is known: us, count, level, mV, mm, degC"));
        h.channels.push_back({std::string(parts[i].substr(0, colon)), *unit});
    }
    if (auto ok = mayBeHeader(h); !ok)
        return tl::unexpected(ok.error());
    return h;
}

std::optional<Value> readValue(std::string_view text)
{
    if (text == "none")
        return none;
    if (text == "-")
        return notRead;
    double value = 0.0;
    const auto *end = text.data() + text.size();
    const auto [at, error] = std::from_chars(text.data(), end, value, std::chars_format::general);
    if (text.empty() || error != std::errc{} || at != end || !(std::abs(value) <= greatest))
        return std::nullopt;
    return number(value);
}

Result<Line> readSample(std::string_view body)
{
    const auto parts = split(body.substr(1));
    if (parts.size() < 4 || parts.size() - 3 > mostChannels)
        return bad(say("a sample has its header's sign, its number, its time and 1 to {} values",
                       static_cast<long>(mostChannels)));
    const auto tag = whole<std::uint8_t>(parts[0], 16);
    const auto count = whole<std::uint16_t>(parts[1]);
    const auto time = whole<std::uint32_t>(parts[2]);
    if (parts[0].size() != 2 || !tag || !count || !time)
        return bad(say("a sample's sign, number or time cannot be read"));
    Sample s{*tag, *count, *time, {}};
    for (size_t i = 3; i < parts.size(); ++i) {
        const auto value = readValue(parts[i]);
        if (!value)
            return bad(say("value {} of the sample is neither a number nor none nor -",
                           static_cast<long>(i - 2)));
        s.values.push_back(*value);
    }
    return s;
}

} // namespace

const char *symbol(ChannelUnit unit)
{
    return symbols[static_cast<size_t>(unit)];
}

std::optional<ChannelUnit> channelUnit(std::string_view text)
{
    for (int i = 0; i < channelUnitCount; ++i)
        if (text == symbols[static_cast<size_t>(i)])
            return static_cast<ChannelUnit>(i);
    return std::nullopt;
}

std::uint16_t check(std::string_view text)
{
    unsigned crc = 0xFFFF;
    for (const char c : text) {
        crc ^= static_cast<unsigned>(static_cast<unsigned char>(c)) << 8;
        for (int bit = 0; bit < 8; ++bit)
            crc = ((crc & 0x8000U) != 0 ? (crc << 1) ^ 0x1021U : crc << 1) & 0xFFFFU;
    }
    return static_cast<std::uint16_t>(crc);
}

std::uint8_t tagOf(const Header &header)
{
    return static_cast<std::uint8_t>(check(bodyOf(header) + " ") >> 8);
}

Result<std::string> written(const Line &line)
{
    Result<std::string> body;
    if (const auto *h = std::get_if<Header>(&line)) {
        if (auto ok = mayBeHeader(*h); !ok)
            return tl::unexpected(ok.error());
        body = bodyOf(*h);
    } else if (const auto *s = std::get_if<Sample>(&line)) {
        body = bodyOf(*s);
    } else {
        body = bodyOf(std::get<Words>(line));
    }
    if (!body)
        return body;
    *body += " ";
    auto text = fmt::format("{}!{:04X}\n", *body, check(*body));
    if (text.size() - 1 > longestLine)
        return bad(say("{} signs; a line has {} at most", static_cast<long>(text.size() - 1),
                       static_cast<long>(longestLine)));
    return text;
}

Result<Line> read(std::string_view line)
{
    if (!line.empty() && line.back() == '\r')
        line.remove_suffix(1);
    if (line.size() > longestLine)
        return bad(say("it is longer than {} signs", static_cast<long>(longestLine)));
    const auto mark = line.size() < 6 ? std::string_view::npos : line.size() - 5;
    if (mark == std::string_view::npos || line[mark] != '!' || line[mark - 1] != ' ')
        return bad(say("it ends without a check"));
    const auto said = whole<std::uint16_t>(line.substr(mark + 1), 16);
    if (!said || *said != check(line.substr(0, mark)))
        return bad(say("its check does not fit its text"));
    const auto body = line.substr(0, mark - 1);
    if (body.starts_with(opening))
        return readHeader(body);
    if (body.starts_with("="))
        return readSample(body);
    if (body.starts_with("#"))
        return Words{std::string(body.substr(1))};
    return bad(say("it is neither a header nor a sample nor words"));
}

} // namespace badger::link
