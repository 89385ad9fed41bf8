// SPDX-License-Identifier: GPL-3.0-or-later
// Where does the chance in a simulated run or reading come from?
#pragma once

#include <cstdint>

namespace badger
{

/// Seeded noise that is the same to the bit on every machine and in every build type: whole numbers
/// of 64 bits, and additions and multiplications after them. A counter whose steps are mixed
/// (SplitMix64, public domain), so that it costs nothing to begin anew.
class Noise
{
public:
    explicit Noise(std::uint64_t seed) : m_state(seed) {}

    /// Even over all numbers of 64 bits.
    std::uint64_t bits()
    {
        m_state += 0x9E3779B97F4A7C15ULL;
        std::uint64_t z = m_state;
        z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9ULL;
        z = (z ^ (z >> 27)) * 0x94D049BB133111EBULL;
        return z ^ (z >> 31);
    }

    /// Even between 0 (included) and 1 (excluded), from the upper 53 bits.
    double uniform() { return static_cast<double>(bits() >> 11) * 0x1.0p-53; }

    /// Close to normal with mean 0 and deviation 1: the sum of twelve even numbers of 16 bits less
    /// six (Irwin-Hall). No value beyond 6, and none of the library's logarithms, whose last bit
    /// differs between machines.
    double bell()
    {
        std::uint64_t sum = 0;
        for (int i = 0; i < 3; ++i) {
            const auto four = bits();
            sum += (four & 0xFFFF) + (four >> 16 & 0xFFFF) + (four >> 32 & 0xFFFF) + (four >> 48);
        }
        return (static_cast<double>(sum) + 6.0) * 0x1.0p-16 - 6.0;
    }

private:
    std::uint64_t m_state;
};

} // namespace badger
