// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/sense/spot.h"

#include "core/base/exact_math.h"

#include <array>
#include <cmath>

namespace badger::sense
{

namespace
{

constexpr int steps = 4096;

/// The area left of a chord, summed in strips: u = -1 .. 1. Midpoints of the angle make each strip
/// exact to the third order also at the rim.
std::array<double, steps + 1> areas()
{
    std::array<double, steps + 1> all{};
    for (int i = 0; i <= steps; ++i) {
        const double u = -1.0 + 2.0 * i / steps;
        // asin u by Newton on sine: from a guess that is right at the ends.
        double angle = u * exact::pi / 2.0;
        for (int n = 0; n < 40; ++n) {
            const auto at = exact::sineCosine(angle);
            if (at.cosine < 1e-9)
                break;
            angle -= (at.sine - u) / at.cosine;
        }
        all[static_cast<size_t>(i)] =
            0.5 + (u * std::sqrt(std::fmax(0.0, 1.0 - u * u)) + angle) / exact::pi;
    }
    all.front() = 0.0;
    all.back() = 1.0;
    return all;
}

} // namespace

double coveredByEdge(double u)
{
    static const auto table = areas();
    if (u <= -1.0)
        return 0.0;
    if (u >= 1.0)
        return 1.0;
    const double at = (u + 1.0) / 2.0 * steps;
    const auto i = static_cast<size_t>(at);
    return table[i] + (at - static_cast<double>(i)) * (table[i + 1] - table[i]);
}

double coveredByLine(double away_m, double width_m, double diameter_m)
{
    const double r = diameter_m / 2.0;
    return coveredByEdge((away_m + width_m / 2.0) / r) -
           coveredByEdge((away_m - width_m / 2.0) / r);
}

} // namespace badger::sense
