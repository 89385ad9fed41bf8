// SPDX-License-Identifier: GPL-3.0-or-later
// How tightly does a line bend, and where?
#pragma once

#include "core/floor/floor.h"

#include <optional>

namespace badger::floor
{

/// A bend is measured by two chords of this length, before and behind the place; the pieces of a
/// round one are shorter than that. A joint that turns by more than 30 degrees at once is a sharp
/// corner: its radius is 0 for 2 cm to each side.
inline constexpr double bendOver_m = 0.1;

struct Bend {
    size_t line = 0;      ///< of the floor
    double along_m = 0.0; ///< from the line's beginning
    Point at;
    double radius_m = 0.0; ///< a chord by the turn to the next; 0: a corner; 100 m: straight
};

/// Of a line (two points and more) at a place. A closed line goes on past its end, on others it is
/// measured a chord's length inside their ends.
Bend bendAt(const Floor &floor, size_t line, double along_m);

/// The tightest of all lines, looked for every centimetre; empty without a line.
std::optional<Bend> tightestBend(const Floor &floor);

/// Length of the way along a line.
double lengthOf_m(const Line &line);

} // namespace badger::floor
