// SPDX-License-Identifier: GPL-3.0-or-later
// What does a listener take for bytes when it listens at another rate than the sender speaks at?
#pragma once

#include <cstdint>
#include <string>

namespace badger::link
{

/// The receiver of a serial line: a start bit, eight data bits with the lowest first, a stop bit.
/// It waits for the line to fall, makes sure in the middle of the start bit, and samples the middle
/// of each bit by its own clock. A stop bit that is low is passed over, as a receiver does whose
/// driver was not asked to mind; the next start has to fall again.
///
/// Time is counted in parts of 1 / (sends x listens) of a second, so that every bit of either side
/// is a whole number of them, and what comes out is exact. Rates are 1 to 4,000,000 a second.
class Receiver
{
public:
    Receiver(std::uint32_t sends_baud, std::uint32_t listens_baud);

    /// A byte on the line; what the listener has made of it so far is added to `heard`.
    void byte(std::uint8_t sent, std::string &heard);
    /// The line rests, high, for so many bits of the sender.
    void rest(std::uint64_t bits, std::string &heard);

private:
    void level(bool high, std::uint64_t length, std::string &heard);

    std::uint64_t m_senderBit;   ///< one bit of the sender, in parts
    std::uint64_t m_listenerBit; ///< one bit of the listener
    bool m_high = true;          ///< the line, before what comes now
    int m_bit = -1;              ///< that is sampled next: 0 start, 1 to 8 data, 9 stop; -1: waits
    std::uint64_t m_until = 0;   ///< parts to the next sample
    unsigned m_data = 0;
};

} // namespace badger::link
