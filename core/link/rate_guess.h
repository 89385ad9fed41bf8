// SPDX-License-Identifier: GPL-3.0-or-later
// At which rate does the other side speak, when what is heard is rubbish?
#pragma once

#include <array>
#include <cstdint>
#include <optional>
#include <span>
#include <string_view>
#include <vector>

namespace badger::link
{

/// The rates that boards are set to, slowest first.
std::span<const std::uint32_t> usualRates();

/// How many of each byte were heard.
using ByteCounts = std::array<std::uint32_t, 256>;

struct RateGuess {
    std::uint32_t likely_baud = 0;
    /// By how much it is likelier than the next, as a natural logarithm of the ratio. Under 3
    /// (twenty to one) it is no more than a hint.
    double lead = 0.0;
    bool isSure() const { return lead >= 3.0; }
};

/// For every other usual rate it is worked out once what a listener at `listens_baud` would make of
/// lines that are spoken at it (wire_bits.h), and how often each byte comes out. The likeliest for
/// the bytes that were heard is the guess: greatest sum over the bytes of count x ln(share), each
/// share kept off zero by a half.
///
/// Empty with fewer than 12 bytes, or with a `listens_baud` of 0.
std::optional<RateGuess> guessRate(const ByteCounts &heard, std::uint32_t listens_baud);

} // namespace badger::link
