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

/// A flat upright board, straight from one end to the other. Sound mirrors off it.
struct Wall {
    std::string name; ///< "board"
    Point from;
    Point to;
    Extra extra{};
    bool operator==(const Wall &) const = default;
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
    bool operator==(const Floor &) const = default;
};

/// A unit direction. Turned by addition and renormalised, so that a run needs no sine.
struct Direction {
    double x = 1.0;
    double y = 0.0;
};
Direction direction(double heading_rad);
/// `d` turned by any angle, given as the direction that angle has: for how a sensor is mounted.
Direction turnedBy(Direction d, Direction angle);
/// Turned counter-clockwise by a small angle (below 0.2 rad): third-order, then normalised.
Direction turned(Direction d, double small_rad);

/// What a ranger hears of one flat wall: the perpendicular distance, when the foot of the
/// perpendicular lies on the wall and inside the beam (half-angle given by its cosine). A flat wall
/// is a mirror: otherwise the ping goes elsewhere and nothing is heard.
std::optional<double> mirrorDistance_m(const Wall &wall, Point ranger, Direction looks,
                                       double cosHalfAngle);

/// The nearest wall that is heard.
struct Heard {
    double distance_m = 0.0;
    size_t wall = 0;
    Point foot;
};
std::optional<Heard> nearestHeard(const Floor &floor, Point ranger, Direction looks,
                                  double cosHalfAngle);

/// Least distance between a straight edge of the car and a wall; 0 where they cross.
double clearance_m(const Wall &wall, Point a, Point b);

} // namespace badger::floor
