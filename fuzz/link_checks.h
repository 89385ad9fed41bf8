// SPDX-License-Identifier: GPL-3.0-or-later
// What holds of the line parser whatever it is given: the fuzzer asks it, and a test with kept
// seeds.
#pragma once

#include "core/link/assembler.h"

#include <cstdlib>
#include <string_view>

namespace badger::fuzz
{

inline void hold(bool law)
{
    if (!law)
        std::abort();
}

/// Bytes in one piece and one by one give the same; what is read is written as a line that reads
/// the same; nothing is counted twice.
inline void checkLink(std::string_view bytes)
{
    link::Assembler whole(9600);
    link::Assembler parted(9600);
    const auto events = whole.take(bytes, 0.0);
    std::size_t count = 0;
    std::size_t bad = 0;
    for (std::size_t i = 0; i < bytes.size(); ++i)
        count += parted.take(bytes.substr(i, 1), 0.0).size();
    hold(count == events.size());
    hold(whole.tally().samples == parted.tally().samples);
    hold(whole.tally().bytes == bytes.size());
    for (const auto &e : events) {
        bad += std::holds_alternative<link::NoLine>(e) ? 1 : 0;
        std::optional<link::Line> line;
        if (const auto *h = std::get_if<link::HeaderCame>(&e))
            line = h->header;
        if (const auto *s = std::get_if<link::SampleCame>(&e)) {
            line = s->sample;
            hold(whole.header() && s->sample.values.size() <= link::mostChannels);
        }
        if (!line)
            continue;
        auto text = link::written(*line);
        // A number may take more signs than it came with.
        if (!text)
            continue;
        text->pop_back();
        const auto again = link::read(*text);
        hold(again && *again == *line);
    }
    hold(bad == whole.tally().badLines);
    (void)whole.hearing(3.0);
    (void)whole.lastStrange();
}

} // namespace badger::fuzz
