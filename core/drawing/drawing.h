// SPDX-License-Identifier: GPL-3.0-or-later
// Which shapes does a drawing show, in which colours?
//
// An SVG drawing reduced to outlines of straight pieces. Coordinates are the drawing's own units, x
// to the right and **y down**, after all transforms. What is read: `svg`, `g`, `a`, `rect`, `line`,
// `polyline`, `polygon`, `circle`, `ellipse`, `path` (all its commands; a curve becomes
// `curvePieces` straight pieces), `transform`, `viewBox`, and `fill`, `stroke` and `stroke-width`
// as attributes, in `style`, or of a class in a `style` sheet that names one class a rule. What
// shows nothing (`display`, `visibility`, no colour) is no shape. Everything else is listed as left
// out. Nothing is read from outside the text; references of any kind are left out, too.
#pragma once

#include "core/base/result.h"

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace badger::drawing
{

inline constexpr int curvePieces = 24;
inline constexpr std::size_t mostBytes = 8U << 20U;
inline constexpr std::size_t mostPieces = 20000; ///< straight ones, of all shapes
inline constexpr int deepest = 64;               ///< groups within groups

struct Place {
    double x = 0.0;
    double y = 0.0;
    bool operator==(const Place &) const = default;
};

/// One outline: a sub-path, a rectangle, a line.
struct Shape {
    std::string name;   ///< its `title`, else its id, else of a group about it; may be empty
    std::string fill;   ///< "#1e2629"; empty: none
    std::string stroke; ///< alike
    double strokeWidth = 0.0;
    std::vector<Place> points; ///< two or more; of a circle its middle alone
    bool closed = false;
    double radius = 0.0; ///< above 0: a circle
};

/// Something that is not read, and how often it stands there.
struct LeftOut {
    std::string what; ///< "text", "image", "a gradient"
    int times = 0;
};

struct Drawing {
    std::vector<Shape> shapes;
    Place low, high;                    ///< its frame: the viewBox, else what the shapes cover
    std::optional<double> unitsPerCm{}; ///< where width and viewBox say it
    std::map<std::string, std::string> notes; ///< `data-` attributes of the root, without "data-"
    std::vector<LeftOut> leftOut;
};

/// `where` names the text in errors. Fails with Malformed for what is no SVG, declares entities, or
/// has a number or transform that cannot be read or that flattens a shape; with OutOfRange for one
/// that is too large, too deep or has too many pieces.
Result<Drawing> readSvg(std::string_view text, const std::string &where);

/// A circle as a closed outline of straight pieces.
std::vector<Place> asPolygon(Place middle, double radius);

/// What is drawn in one colour.
struct Colour {
    std::string colour; ///< "#1e2629"
    int outlines = 0;
    int filled = 0;
    double widest = 0.0; ///< stroke, in units
};
/// Each colour once, the commonest first.
std::vector<Colour> coloursOf(const Drawing &drawing);

/// "#abc", "#AABBCC", "rgb(1, 2, 3)", "black" as "#aabbcc"; empty: "none", "transparent" and what
/// is no plain colour.
std::string colourOf(std::string_view text);

} // namespace badger::drawing
