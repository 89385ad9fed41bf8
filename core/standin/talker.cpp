// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/standin/talker.h"

#include <algorithm>
#include <cmath>

namespace badger::standin
{

namespace
{

constexpr std::uint64_t headerEvery_us = 3000000;
constexpr std::uint64_t sendBuffer = 64; ///< characters
constexpr double lostLineShare = 0.05;
constexpr std::uint64_t bitsOfByte = 10;

std::uint64_t lengthOf_us(std::uint64_t bytes, std::uint32_t baud)
{
    return (bytes * bitsOfByte * 1000000ULL + baud - 1) / baud;
}

} // namespace

Talker::Talker(std::uint64_t seed, std::uint32_t baud)
    : m_bench(seed), m_losses(seed ^ 0x9E3779B97F4A7C15ULL), m_baud(baud)
{
}

Burst Talker::next(const Settings &s)
{
    const auto channels = channelsOf(s);
    const auto pause_us = static_cast<std::uint64_t>(1e6 / s.rate_hz);
    const link::Header header{std::string(buildPrefix) + "1",
                              static_cast<int>(std::max(1.0, 1000.0 / s.rate_hz)), channels};
    if (channels != m_spoken || s.rate_hz != m_spokenRate_hz)
        m_headerDue = true;
    Burst burst;
    burst.at_us = std::max(m_next_us, m_lineFree_us);
    std::uint64_t done_us = m_next_us;
    if (m_headerDue || m_next_us - m_lastHeader_us >= headerEvery_us) {
        burst.bytes = link::written(header).value_or("");
        m_spoken = channels;
        m_spokenRate_hz = s.rate_hz;
        m_headerDue = false;
        m_lastHeader_us = m_next_us;
    } else {
        const auto values = m_bench.read(s, m_next_us);
        done_us += m_bench.busy_us();
        burst.at_us = std::max(burst.at_us, done_us);
        const link::Sample sample{link::tagOf(header), m_number++,
                                  static_cast<std::uint32_t>(m_next_us / 1000), values};
        const bool lost =
            s.faults.count(Fault::LostLines) > 0 && m_losses.uniform() < lostLineShare;
        if (!lost)
            burst.bytes = link::written(sample).value_or("");
        m_sampleDue_us = std::max(m_sampleDue_us + pause_us, done_us);
    }
    m_lineFree_us = burst.at_us + lengthOf_us(burst.bytes.size(), m_baud);
    // What is behind the buffer's 64 characters keeps the board waiting.
    const auto buffered_us = lengthOf_us(sendBuffer, m_baud);
    const auto freeToGoOn_us = m_lineFree_us > buffered_us ? m_lineFree_us - buffered_us : 0;
    m_next_us = std::max({m_sampleDue_us, freeToGoOn_us, done_us});
    return burst;
}

Wire::Wire(std::uint32_t sends_baud, std::uint32_t listens_baud)
    : m_receiver(sends_baud, listens_baud), m_sends(sends_baud), m_listens(listens_baud)
{
}

std::string Wire::heard(const Burst &burst)
{
    if (m_sends == m_listens)
        return burst.bytes;
    std::string out;
    if (burst.at_us > m_free_us)
        m_receiver.rest((burst.at_us - m_free_us) * m_sends / 1000000ULL, out);
    for (const char c : burst.bytes)
        m_receiver.byte(static_cast<std::uint8_t>(c), out);
    m_free_us = burst.at_us + lengthOf_us(burst.bytes.size(), m_sends);
    return out;
}

} // namespace badger::standin
