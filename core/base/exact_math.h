// SPDX-License-Identifier: GPL-3.0-or-later
// exp, sine and cosine whose last bit is the same on every machine.
//
// The library's own may differ by a bit from one version to the next, and a run of ten minutes
// would then end elsewhere. These use additions, multiplications and divisions alone, which the
// floating-point standard fixes (the build forbids fused ones). Source: Taylor series after a
// reduction of the argument; their error is stated at each and held to the library's by a test.
#pragma once

#include <bit>
#include <cstdint>

namespace badger::exact
{

inline constexpr double pi = 3.14159265358979323846;

/// e^x. Relative error below 4e-16 for -700 <= x <= 700; 0 below, and above it the caller's
/// mistake.
inline double exp(double x)
{
    if (x < 0.0625 && x > -0.0625) // r^9 / 9! is below the last bit
        return 1.0 +
               x * (1.0 +
                    x * (1.0 / 2 +
                         x * (1.0 / 6 +
                              x * (1.0 / 24 +
                                   x * (1.0 / 120 +
                                        x * (1.0 / 720 + x * (1.0 / 5040 + x * (1.0 / 40320))))))));
    if (x < -700.0)
        return 0.0;
    constexpr double ln2High =
        6.93147180369123816490e-01; // its last bits are nought: n * it is exact
    constexpr double ln2Low = 1.90821492927058770002e-10;
    const double turns = x * 1.44269504088896338700;
    const auto n = static_cast<std::int64_t>(turns + (turns < 0 ? -0.5 : 0.5));
    const double r = (x - static_cast<double>(n) * ln2High) - static_cast<double>(n) * ln2Low;
    // r^k / k! by pairs, so that four sums go on side by side.
    const double q = r * r;
    const double low = (1.0 + r) + q * (1.0 / 2 + r * (1.0 / 6));
    const double middle = (1.0 / 24 + r * (1.0 / 120)) + q * (1.0 / 720 + r * (1.0 / 5040));
    const double high =
        (1.0 / 40320 + r * (1.0 / 362880)) + q * (1.0 / 3628800 + r * (1.0 / 39916800));
    const double last = 1.0 / 479001600 + r * (1.0 / 6227020800.0);
    const double four = q * q;
    const double sum = low + four * (middle + four * (high + four * last));
    return sum * std::bit_cast<double>(static_cast<std::uint64_t>(n + 1023) << 52);
}

struct SineCosine {
    double sine = 0.0;
    double cosine = 1.0;
};

/// Both at once. Absolute error below 3e-16 for |x| <= 100, growing with x beyond.
inline SineCosine sineCosine(double x)
{
    if (x < 0.0625 && x > -0.0625) { // x^10 / 10! is below the last bit
        const double q = x * x;
        return {x * (1.0 - q * (1.0 / 6 - q * (1.0 / 120 - q * (1.0 / 5040 - q * (1.0 / 362880))))),
                1.0 - q * (1.0 / 2 - q * (1.0 / 24 - q * (1.0 / 720 - q * (1.0 / 40320))))};
    }
    constexpr double halfPiHigh = 1.57079632673412561417e+00;
    constexpr double halfPiLow = 6.07710050650619224932e-11;
    const double quarters = x / (pi / 2.0);
    const auto n = static_cast<std::int64_t>(quarters + (quarters < 0 ? -0.5 : 0.5));
    const double r = (x - static_cast<double>(n) * halfPiHigh) - static_cast<double>(n) * halfPiLow;
    const double q = r * r;
    const double four = q * q;
    // (-1)^k q^k / (2k + 1)! and / (2k)!, by pairs.
    const double s =
        r * ((1.0 - q * (1.0 / 6)) +
             four * ((1.0 / 120 - q * (1.0 / 5040)) +
                     four * ((1.0 / 362880 - q * (1.0 / 39916800)) +
                             four * (1.0 / 6227020800.0 - q * (1.0 / 1307674368000.0)))));
    const double c = (1.0 - q * (1.0 / 2)) +
                     four * ((1.0 / 24 - q * (1.0 / 720)) +
                             four * ((1.0 / 40320 - q * (1.0 / 3628800)) +
                                     four * (1.0 / 479001600 - q * (1.0 / 87178291200.0) +
                                             four * (1.0 / 20922789888000.0))));
    switch (n & 3) {
    case 0:
        return {s, c};
    case 1:
        return {c, -s};
    case 2:
        return {-s, -c};
    default:
        return {-c, s};
    }
}

/// ln of a number above 0. Absolute error below 4e-15 for 1e-6 <= x <= 1e6. By Newton's steps on
/// exp(), for what is made once a plan.
inline double log(double x)
{
    int doublings = 0;
    for (; x > 1.5; x *= 0.5)
        ++doublings;
    for (; x < 0.75; x *= 2.0)
        --doublings;
    const double u = (x - 1.0) / (x + 1.0); // ln x = 2 artanh u
    double sum = 0.0;
    for (int k = 27; k >= 1; k -= 2)
        sum = sum * u * u + 1.0 / k;
    return 2.0 * u * sum + doublings * 0.69314718055994530942;
}

} // namespace badger::exact
