// SPDX-License-Identifier: GPL-3.0-or-later
// In which order do parts and their terminals stand in the drawing, so that few wires cross?
//
// The board's pins stand on the left in their own order, or where there is no board, the sensors
// that drive the car themselves. Modules face them in the middle, and what
// only modules feed (motors) stands on the right. The order of the modules is the best there is:
// two modules cross each other's wires a fixed number of times for either order, so the least sum
// is found over all orders by dynamic programming over sets. Among orders with equally few
// crossings, wires between modules are kept short.
#pragma once

#include "core/kit/assembly.h"

#include <string>
#include <vector>

namespace badger::harness
{

/// One part in its column; terminals top to bottom.
struct Placed {
    std::string id;
    std::vector<std::string> left;
    std::vector<std::string> right;
};

struct Arrangement {
    std::vector<Placed> hub;     ///< the board, or the sensors; terminals on the right
    std::vector<Placed> modules; ///< top to bottom
    std::vector<Placed> far;     ///< top to bottom; their terminals on the left
    int crossings = 0;           ///< of wires between hub and modules, and between modules and far
};

Arrangement arrange(const kit::Assembly &car);

/// Crossings of wires between two columns: pairs of wires whose ends stand in opposite orders.
/// `left` and `right` are the columns' terminals top to bottom.
int crossings(const std::vector<std::string> &left, const std::vector<std::string> &right,
              const std::vector<kit::Wire> &wires);

} // namespace badger::harness
