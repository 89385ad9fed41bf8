// SPDX-License-Identifier: GPL-3.0-or-later
// How far can a ranger look at most, between the walls of a floor?
#pragma once

#include "core/floor/floor.h"

namespace badger::floor
{

/// How far apart the outermost walls stand that face each other; empty where one of the two is
/// missing. A wall is outermost where it lies along an edge of the smallest upright rectangle
/// around all walls (to 2 cm) over half of that edge or more, doorways apart.
struct Room {
    std::optional<double> along_m;  ///< x
    std::optional<double> across_m; ///< y

    /// A flat wall answers with its perpendicular distance, so between the walls of an upright room
    /// no reading is longer. Empty where a side is open.
    std::optional<double> longest_m() const;
    std::optional<double> shortest_m() const; ///< of the sides that are closed
};
Room room(const Floor &floor);

} // namespace badger::floor
