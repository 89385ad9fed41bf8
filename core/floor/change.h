// SPDX-License-Identifier: GPL-3.0-or-later
// How is a floor changed by hand: what is under the pointer, and what goes where it is drawn to?
//
// Every change is a function from a floor to a floor. A handle names a thing, or one of its points:
// the ends of a wall, the points of a line or of the table's edge, the corners of a patch, the nose
// of the start. Walls of one name whose ends meet are one thing (a box); where walls meet, whatever
// their names, is one point: a room's corner, and its walls stay joined when one of them is moved.
#pragma once

#include "core/floor/floor.h"
#include "core/units/quantity.h"

#include <functional>
#include <optional>

namespace badger::floor
{

enum class Kind { Start, Wall, Post, Line, Mover, Patch, Edge };

struct Handle {
    Kind kind = Kind::Start;
    std::size_t index = 0;              ///< of its list; nought for start and edge
    std::optional<std::size_t> point{}; ///< empty: the whole of it
    bool operator==(const Handle &) const = default;
};

/// The points that can be drawn, and where they stand; of the start its nose, then a place before
/// it that turns it.
struct Grip {
    Handle handle;
    Point at;
};
std::vector<Grip> gripsOf(const Floor &floor, const Handle &of);
/// How far before its nose the place is that turns the start.
inline constexpr double turnGrip_m = 0.15;

/// What is under a place: a point of `picked` first, then the start, posts, walls, movers, lines,
/// the edge, patches. Empty: nothing is within `within_m`.
std::optional<Handle> handleAt(const Floor &floor, const Point &place, double within_m,
                               const std::optional<Handle> &picked = {});

/// Of a wall: itself and the walls of its name that hang together with it.
std::vector<std::size_t> wallsOf(const Floor &floor, std::size_t wall);

/// To whole centimetres.
Point snapped(const Point &place);

/// The thing moved by a way; its points, what hangs on them, and nothing else. Places are held on
/// the plan: a thing stops at its edge.
Floor moved(const Floor &floor, const Handle &handle, double right_m, double up_m);
/// One of its points put to a place on the plan; the turning place of a start turns it, by whole
/// degrees.
Floor pointPut(const Floor &floor, const Handle &handle, const Point &place);

Floor without(const Floor &floor, const Handle &handle);
/// A new thing of usual size about a place, with a name of its own; `made` names it.
enum class NewThing { Wall, Box, Post, Line, Mover };
Floor with(const Floor &floor, NewThing what, const Point &place, Handle &made);

/// Walls, posts, lines, movers, patches: their name; empty for start and edge.
std::string nameOf(const Floor &floor, const Handle &handle);
Floor renamed(const Floor &floor, const Handle &handle, const std::string &name);

/// One number of a thing, as it is shown and typed.
struct Number {
    const char *name; ///< "from, right"
    units::Unit unit = units::Unit::Centimetre;
    double si = 0.0;
    double low = 0.0, high = 0.0;             ///< SI
    std::function<void(Floor &, double)> put; ///< of a number in that range
};
std::vector<Number> numbersOf(const Floor &floor, const Handle &handle);
/// Of the floor itself: extent, air, light.
std::vector<Number> numbersOf(const Floor &floor);

} // namespace badger::floor
