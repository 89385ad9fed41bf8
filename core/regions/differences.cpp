// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/regions/differences.h"

namespace badger::regions
{

std::optional<std::vector<double>> solve(int nodes, const std::vector<Edge> &edges)
{
    std::vector<Bound> far(static_cast<size_t>(nodes), Bound{0.0, 0});
    for (int round = 0; round <= nodes; ++round) {
        bool changed = false;
        for (const auto &e : edges) {
            const auto by = far[static_cast<size_t>(e.from)] + e.bound;
            if (by < far[static_cast<size_t>(e.to)]) {
                far[static_cast<size_t>(e.to)] = by;
                changed = true;
            }
        }
        if (!changed) {
            // A strict bound is kept by a step that is small beside any constant of a program, and
            // a power of two: with 32-bit constants its sums are exact.
            constexpr double step = 1.0 / 1024.0;
            std::vector<double> x;
            for (const auto &f : far)
                x.push_back(f.value + step * f.strict - far[0].value - step * far[0].strict);
            return x;
        }
    }
    return std::nullopt;
}

} // namespace badger::regions
