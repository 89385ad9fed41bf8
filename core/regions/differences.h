// SPDX-License-Identifier: GPL-3.0-or-later
// Are there numbers with these differences?
//
// A system of bounds on differences of two numbers has a solution where its graph has no cycle of
// negative length, and the shortest paths are one (Bellman and Ford).
#pragma once

#include <optional>
#include <vector>

namespace badger::regions
{

/// A bound that may be strict: `strict` is -1 where the bound itself is not reached.
struct Bound {
    double value = 0.0;
    int strict = 0;
    Bound operator+(const Bound &o) const { return {value + o.value, strict + o.strict}; }
    bool operator<(const Bound &o) const
    {
        return value < o.value || (value == o.value && strict < o.strict);
    }
};

/// "x[to] - x[from] <= bound"; node 0 is nought.
struct Edge {
    int from = 0;
    int to = 0;
    Bound bound;
};

/// Numbers that keep all the differences, node 0 at nought; nothing where there are none. Of whole
/// bounds that are not strict the answer is whole. A strict bound is kept by 1/1024.
std::optional<std::vector<double>> solve(int nodes, const std::vector<Edge> &edges);

} // namespace badger::regions
