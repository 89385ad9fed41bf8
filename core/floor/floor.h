// SPDX-License-Identifier: GPL-3.0-or-later
// Where does the car drive?
//
// Coordinates are metres, x to the right and y up as the plan is drawn; headings are radians,
// counter-clockwise from +x.
#pragma once

#include "core/base/extra.h"
#include "core/base/id.h"

#include <optional>
#include <string>
#include <vector>

namespace badger::floor
{

struct Point {
    double x_m = 0.0;
    double y_m = 0.0;
    Extra extra{};
    bool operator==(const Point &) const = default;
};

/// How an upright face answers a ping.
enum class Face {
    Board, ///< flat and hard: a mirror
    Rough, ///< hard and uneven: a mirror that answers faintly from any side, too
    Cloth, ///< a mirror that swallows most of it
    Foam
};

/// An upright face, straight from one end to the other. Sound mirrors off it.
struct Wall {
    std::string name; ///< "board"
    Point from;
    Point to;
    Extra extra{};
    Face face = Face::Board;
    bool operator==(const Wall &) const = default;
};

/// A round post or a table's leg.
struct Post {
    std::string name;
    Point at; ///< its middle
    double radius_m = 0.0;
    Extra extra{};
    bool operator==(const Post &) const = default;
};

/// A line on a mat, of one width along its whole way. Bends are given as many short pieces.
struct Line {
    std::string name;
    std::vector<Point> points; ///< of its middle, two or more
    double width_m = 0.019;
    bool closed = false; ///< the last point is joined to the first
    bool light = false;  ///< light on dark; else dark on light
    Extra extra{};
    bool operator==(const Line &) const = default;
};

/// A flat board that moves, or a hand: straight on between two moments.
struct Mover {
    std::string name;
    Point from; ///< as it stands at the start of a run
    Point to;
    double east_mps = 0.0; ///< along x while it moves
    double north_mps = 0.0;
    double begins_s = 0.0;
    double ends_s = 0.0;
    std::optional<double> vanishes_s{}; ///< it is taken away
    Extra extra{};
    bool operator==(const Mover &) const = default;
};

/// A part of the floor, an upright rectangle, that has another shade or more light on it.
struct Patch {
    std::string name;
    Point from;
    Point to;
    std::optional<double> albedo{};
    std::optional<double> ambient{};
    Extra extra{};
    bool operator==(const Patch &) const = default;
};

/// Where the car's foremost point stands at the start, and which way it looks.
struct Start {
    Point nose;
    double heading_rad = 0.0;
    Extra extra{};
    bool operator==(const Start &) const = default;
};

struct Floor {
    Id<Floor> id;
    std::string name;      ///< a label; each floor of a workshop has its own
    std::string surface;   ///< "sealed concrete"
    double width_m = 0.0;  ///< the plan's extent along x
    double depth_m = 0.0;  ///< along y
    double air_degC = 0.0; ///< today
    std::vector<Wall> walls;
    Start start;
    Extra extra{};
    std::vector<Post> posts{};
    std::vector<Line> lines{};
    std::vector<Mover> movers{};
    std::vector<Patch> patches{};
    std::vector<Point> edge{}; ///< of a table, all round; beyond it is nothing. Empty: no edge
    double albedo = 0.85;      ///< of the floor, 0 to 1
    double ambient = 0.1;      ///< infrared light about, 0 to 1
    bool rough = false;        ///< joints and sills that answer a ping that meets the floor
    bool operator==(const Floor &) const = default;
};

/// Of a line on a floor, dark or light: how much it gives back.
inline constexpr double darkAlbedo = 0.20;
inline constexpr double lightAlbedo = 0.85;

} // namespace badger::floor
