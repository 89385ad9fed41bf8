// SPDX-License-Identifier: GPL-3.0-or-later
// The board that sits on the simulated car: which line leaves when, and what the other end hears.
#pragma once

#include "core/link/wire_bits.h"
#include "core/standin/bench.h"

#include <cstdint>
#include <string>
#include <string_view>

namespace badger::standin
{

/// Every build id of the stand-in begins so: what it says is made up.
inline constexpr std::string_view buildPrefix = "standin-";

/// A line with the time at which its first start bit leaves. Its bytes follow each other without a
/// pause, ten bits each.
struct Burst {
    std::uint64_t at_us = 0;
    std::string bytes;
};

/// Speaks a header at its start, every three seconds and when asked, and a sample at the settings'
/// rate. Time is simulated: what is said depends on seed, rate of the line and settings alone. Like
/// a board with a send buffer of 64 characters it waits where the line is too slow for it, and like
/// a board it waits for a ranger's echo.
class Talker
{
public:
    /// `baud` 300 to 4,000,000.
    Talker(std::uint64_t seed, std::uint32_t baud);

    /// The time of the next line, without making it.
    std::uint64_t nextAt_us() const { return m_next_us; }
    /// Makes the line that is due next, with the settings as they are now.
    Burst next(const Settings &settings);
    /// The listener asks: the next line is a header.
    void ask() { m_headerDue = true; }
    std::uint32_t baud() const { return m_baud; }

private:
    Bench m_bench;
    Noise m_losses;
    std::uint32_t m_baud;
    std::uint64_t m_next_us = 0;
    std::uint64_t m_sampleDue_us = 0;
    std::uint64_t m_lineFree_us = 0; ///< when the last byte so far has left
    std::uint64_t m_lastHeader_us = 0;
    bool m_headerDue = true;
    std::uint16_t m_number = 0;
    std::vector<link::Channel> m_spoken; ///< channels of the last header
    double m_spokenRate_hz = 0.0;
};

/// Turns bursts into the bytes that a listener at `listens_baud` makes of them: the same ones where
/// the rates are equal, otherwise what its receiver samples (link/wire_bits.h).
class Wire
{
public:
    Wire(std::uint32_t sends_baud, std::uint32_t listens_baud);
    std::string heard(const Burst &burst);
    std::uint32_t listens() const { return m_listens; }

private:
    link::Receiver m_receiver;
    std::uint32_t m_sends;
    std::uint32_t m_listens;
    std::uint64_t m_free_us = 0;
};

} // namespace badger::standin
