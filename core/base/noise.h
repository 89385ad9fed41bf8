// SPDX-License-Identifier: GPL-3.0-or-later
// Where does the chance in a simulated run or reading come from?
#pragma once

#include <cstdint>
#include <random>

namespace badger
{

/// Seeded noise that is the same to the bit on every machine and in every build type: the engine
/// is specified by the language standard, and only additions and multiplications follow it.
class Noise
{
public:
    explicit Noise(std::uint64_t seed) : m_engine(seed) {}

    /// Even between 0 (included) and 1 (excluded), from the upper 53 bits.
    double uniform() { return static_cast<double>(m_engine() >> 11) * 0x1.0p-53; }

    /// Close to normal with mean 0 and deviation 1: the sum of twelve even numbers less six
    /// (Irwin-Hall). No value beyond 6, and none of the library's logarithms, whose last bit
    /// differs between machines.
    double bell()
    {
        double sum = 0.0;
        for (int i = 0; i < 12; ++i)
            sum += uniform();
        return sum - 6.0;
    }

private:
    std::mt19937_64 m_engine;
};

} // namespace badger
