// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/link/rate_guess.h"

#include "core/link/lines.h"
#include "core/link/wire_bits.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>
#include <string>

namespace badger::link
{

namespace
{

constexpr std::array<std::uint32_t, 9> rates = {2400,  4800,   9600,   19200,  38400,
                                                57600, 115200, 250000, 1000000};
constexpr std::uint32_t fewest = 12;

/// Lines as boards send them: programs with one to eight channels, numbers that wander.
std::string speech()
{
    std::string text;
    std::uint32_t chance = 1;
    const auto next = [&](std::uint32_t most) {
        chance = chance * 1664525U + 1013904223U;
        return static_cast<double>((chance >> 8) % most);
    };
    const std::array<Channel, 8> all = {{{"ahead", ChannelUnit::Microseconds},
                                         {"line", ChannelUnit::Counts},
                                         {"left", ChannelUnit::Level},
                                         {"right", ChannelUnit::Level},
                                         {"light", ChannelUnit::Counts},
                                         {"battery", ChannelUnit::Millivolts},
                                         {"side", ChannelUnit::Microseconds},
                                         {"edge", ChannelUnit::Counts}}};
    for (std::size_t program = 0; program < 64; ++program) {
        const auto channels = 1 + program % all.size();
        const Header header{"car-w" + std::to_string(program),
                            50,
                            {all.begin(), all.begin() + static_cast<std::ptrdiff_t>(channels)}};
        const auto tag = tagOf(header);
        text += written(header).value_or("");
        const auto first = static_cast<std::uint16_t>(next(3000));
        for (std::uint16_t i = 0; i < 12; ++i) {
            Sample s{tag, static_cast<std::uint16_t>(first + i), (first + i) * 50U, {}};
            for (const auto &c : header.channels)
                s.values.push_back(number(c.unit == ChannelUnit::Level          ? next(2)
                                          : c.unit == ChannelUnit::Microseconds ? 400 + next(6000)
                                          : c.unit == ChannelUnit::Millivolts   ? 6000 + next(3000)
                                                                                : next(1024)));
            text += written(s).value_or("");
        }
    }
    return text;
}

ByteCounts heardAs(const std::string &text, std::uint32_t sends, std::uint32_t listens)
{
    Receiver receiver(sends, listens);
    std::string heard;
    for (const char c : text) {
        receiver.byte(static_cast<std::uint8_t>(c), heard);
        if (c == '\n')
            receiver.rest(20ULL * std::max(1U, sends / listens), heard);
    }
    ByteCounts counts{};
    for (const char c : heard)
        ++counts[static_cast<unsigned char>(c)];
    return counts;
}

} // namespace

std::span<const std::uint32_t> usualRates()
{
    return rates;
}

std::optional<RateGuess> guessRate(const ByteCounts &heard, std::uint32_t listens_baud)
{
    if (listens_baud == 0 || std::accumulate(heard.begin(), heard.end(), 0U) < fewest)
        return std::nullopt;
    const auto text = speech();
    std::vector<std::pair<double, std::uint32_t>> found;
    for (const auto sends : rates) {
        if (sends == listens_baud)
            continue;
        const auto expected = heardAs(text, sends, listens_baud);
        const double all = std::accumulate(expected.begin(), expected.end(), 128.0);
        double likelihood = 0.0;
        for (size_t b = 0; b < heard.size(); ++b)
            if (heard[b] > 0)
                likelihood += heard[b] * std::log((expected[b] + 0.5) / all);
        found.emplace_back(likelihood, sends);
    }
    // Among equals the rate that most boards are set to.
    std::sort(found.begin(), found.end(), [](const auto &a, const auto &b) {
        const auto usual = [](std::uint32_t baud) { return baud == 9600 || baud == 115200; };
        return std::pair(a.first, usual(a.second)) > std::pair(b.first, usual(b.second));
    });
    return RateGuess{found[0].second, found[0].first - found[1].first};
}

} // namespace badger::link
