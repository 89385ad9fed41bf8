// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/floor/floor.h"

#include <algorithm>
#include <cmath>

namespace badger::floor
{

namespace
{

Point minus(Point a, Point b)
{
    return {a.x_m - b.x_m, a.y_m - b.y_m};
}
double dot(Point a, Point b)
{
    return a.x_m * b.x_m + a.y_m * b.y_m;
}
double cross(Point a, Point b)
{
    return a.x_m * b.y_m - a.y_m * b.x_m;
}

double pointToSegment_m(Point p, Point a, Point b)
{
    const auto ab = minus(b, a);
    const double length2 = dot(ab, ab);
    const double share = length2 > 0.0 ? std::clamp(dot(minus(p, a), ab) / length2, 0.0, 1.0) : 0.0;
    const auto d = minus(p, {a.x_m + share * ab.x_m, a.y_m + share * ab.y_m});
    return std::sqrt(dot(d, d));
}

bool crossing(Point a, Point b, Point c, Point d)
{
    const double s1 = cross(minus(b, a), minus(c, a));
    const double s2 = cross(minus(b, a), minus(d, a));
    const double s3 = cross(minus(d, c), minus(a, c));
    const double s4 = cross(minus(d, c), minus(b, c));
    return s1 * s2 < 0.0 && s3 * s4 < 0.0;
}

} // namespace

Direction direction(double heading_rad)
{
    return {std::cos(heading_rad), std::sin(heading_rad)};
}

Direction turnedBy(Direction d, Direction angle)
{
    const double x = d.x * angle.x - d.y * angle.y;
    const double y = d.x * angle.y + d.y * angle.x;
    const double length = std::sqrt(x * x + y * y);
    return {x / length, y / length};
}

Direction turned(Direction d, double small_rad)
{
    return turnedBy(d, {1.0 - small_rad * small_rad / 2.0,
                        small_rad - small_rad * small_rad * small_rad / 6.0});
}

std::optional<double> mirrorDistance_m(const Wall &wall, Point ranger, Direction looks,
                                       double cosHalfAngle)
{
    const auto along = minus(wall.to, wall.from);
    const double length2 = dot(along, along);
    if (length2 <= 0.0)
        return std::nullopt;
    const double share = dot(minus(ranger, wall.from), along) / length2;
    if (share < 0.0 || share > 1.0)
        return std::nullopt;
    const Point foot{wall.from.x_m + share * along.x_m, wall.from.y_m + share * along.y_m};
    const auto to = minus(foot, ranger);
    const double distance = std::sqrt(dot(to, to));
    const double ahead = to.x_m * looks.x + to.y_m * looks.y;
    if (distance <= 0.0 || ahead < distance * cosHalfAngle)
        return std::nullopt;
    return distance;
}

std::optional<Heard> nearestHeard(const Floor &floor, Point ranger, Direction looks,
                                  double cosHalfAngle)
{
    std::optional<Heard> nearest;
    for (size_t i = 0; i < floor.walls.size(); ++i) {
        const auto &w = floor.walls[i];
        const auto distance = mirrorDistance_m(w, ranger, looks, cosHalfAngle);
        if (!distance || (nearest && nearest->distance_m <= *distance))
            continue;
        const auto along = minus(w.to, w.from);
        const double share = dot(minus(ranger, w.from), along) / dot(along, along);
        nearest =
            Heard{*distance, i, {w.from.x_m + share * along.x_m, w.from.y_m + share * along.y_m}};
    }
    return nearest;
}

double clearance_m(const Wall &wall, Point a, Point b)
{
    if (crossing(wall.from, wall.to, a, b))
        return 0.0;
    return std::min({pointToSegment_m(a, wall.from, wall.to),
                     pointToSegment_m(b, wall.from, wall.to), pointToSegment_m(wall.from, a, b),
                     pointToSegment_m(wall.to, a, b)});
}

} // namespace badger::floor
