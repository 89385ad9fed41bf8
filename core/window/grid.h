// SPDX-License-Identifier: GPL-3.0-or-later
// How do two numbers of a program go together?
//
// A rough map, not a claim: few runs at each pair of values, over the conditions that count for the
// window of the first. How much a cell without a failure leaves open is said beside it.
#pragma once

#include "core/window/edge_loop.h"
#include "core/window/search.h"

namespace badger::window
{

struct GridCell {
    int runs = 0; ///< 0: not driven yet, or the program cannot be so
    int events = 0;
    int misses = 0;
};

struct Grid {
    Handle x; ///< of the window, with fewer places
    Handle y;
    std::vector<GridCell> cells; ///< x runs fastest
    int runsEach = 0;            ///< of a cell
    double share = 0.9;          ///< of runs that have to do the job
    std::vector<Say> rows;       ///< what was driven
    bool done = false;
    std::optional<EdgeLoop> loop; ///< where the two are its gain and speed
    /// The greatest speed that the loop's arithmetic allows, as places of x and y.
    std::vector<std::pair<double, double>> curve;

    const GridCell &at(size_t ix, size_t iy) const { return cells[iy * x.at.size() + ix]; }
};

State stateOf(const Grid &grid, const GridCell &cell);

/// The numbers that can stand on the second axis: those that have a scale, without the first.
std::vector<std::string> secondValues(const Window &window);

/// Fails where the second value is missing, has no scale or is the first. The rows of the window
/// that count are driven with `runsEach` runs a cell at least, the same seeds in each. `tell` is
/// called after each line of cells, never twice at once; when it returns false the rest stays open.
/// The answer does not depend on the number of threads (of the window's question).
Result<Grid> gridOf(const Window &window, const std::string &second, int runsEach = 12,
                    const std::function<bool(const Grid &)> &tell = {});

/// The greatest share of failures that a cell without one leaves open at 95 %.
double leftOpen(const Grid &grid);

/// What it says in sentences: how many cells hold, and the loop's arithmetic where there is one.
std::vector<Say> wordsOf(const Grid &grid);

} // namespace badger::window
