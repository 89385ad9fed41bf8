// SPDX-License-Identifier: GPL-3.0-or-later
// Which floor does a drawing show, once it is said which colour is what?
//
// Of a wall's colour every outline is an upright face; a filled circle is a post, a circle that is
// only outlined a round wall of straight pieces. Of a line's colour every stroke is a line of its
// own width. The edge is one closed outline, of a table. The start is one line from the car's tail
// to its nose. The drawing's frame is the plan; it grows where shapes lie outside.
#pragma once

#include "core/drawing/drawing.h"
#include "core/floor/floor.h"

namespace badger::floor
{

/// What a colour may be said to be.
struct Meaning {
    const char *word; ///< "wall"
    const char *what; ///< "flat and hard upright faces; filled circles are posts"
};
const std::vector<Meaning> &meanings();

struct Taking {
    std::map<std::string, std::string> colours{}; ///< by word: "#1e2629", several parted by spaces
    std::optional<double> unitsPerCm{};           ///< empty: as the drawing says it
    double air_degC = 20.0;
    std::string surface{};
};

struct FromDrawing {
    Floor floor; ///< without an id
    std::vector<Say>
        said; ///< what was left out, and what was not drawn and stands as it is at first
};

/// What the drawing says of itself, as a floor that was written by asSvg() does; empty otherwise.
Taking takingOf(const drawing::Drawing &drawing);

/// Fails with Missing where no colour is said to be anything (naming those of the drawing), one is
/// not in it, or the scale is not known; with Malformed for a drawing without a shape, a line
/// without a stroke, an edge that is not closed; with OutOfRange where the plan would be smaller
/// than 10 cm or larger than 100 m, or hold more than a floor does (1,000 walls, 1,000 posts, 100
/// lines of 2,000 points).
Result<FromDrawing> fromDrawing(const drawing::Drawing &drawing, const Taking &taking,
                                const std::string &name);

/// "#1e2629 (12 outlines), #000000 (3 outlines, 1 filled)".
Say listed(const std::vector<drawing::Colour> &colours);

} // namespace badger::floor
