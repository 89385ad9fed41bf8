// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/floor/room.h"

#include <algorithm>
#include <cmath>

namespace badger::floor
{

namespace
{

constexpr double near_m = 0.02;

/// The length of all walls that lie along x (or y) = `at`.
double lengthAt(const Floor &floor, double Point::*coordinate, double Point::*other, double at)
{
    double sum_m = 0.0;
    for (const auto &w : floor.walls)
        if (std::abs(w.from.*coordinate - at) <= near_m &&
            std::abs(w.to.*coordinate - at) <= near_m)
            sum_m += std::abs(w.to.*other - w.from.*other);
    return sum_m;
}

std::optional<double> between(const Floor &floor, double Point::*coordinate, double Point::*other)
{
    if (floor.walls.empty())
        return std::nullopt;
    const auto ends = [&](double Point::*c) {
        double low = floor.walls.front().from.*c;
        double high = low;
        for (const auto &w : floor.walls) {
            low = std::min({low, w.from.*c, w.to.*c});
            high = std::max({high, w.from.*c, w.to.*c});
        }
        return std::pair(low, high);
    };
    const auto [low, high] = ends(coordinate);
    const auto [first, last] = ends(other);
    const double half_m = (last - first) / 2.0;
    if (high - low <= near_m || half_m <= near_m ||
        lengthAt(floor, coordinate, other, low) < half_m ||
        lengthAt(floor, coordinate, other, high) < half_m)
        return std::nullopt;
    return high - low;
}

} // namespace

std::optional<double> Room::longest_m() const
{
    if (!along_m || !across_m)
        return std::nullopt;
    return std::max(*along_m, *across_m);
}

std::optional<double> Room::shortest_m() const
{
    if (along_m && across_m)
        return std::min(*along_m, *across_m);
    return along_m ? along_m : across_m;
}

Room room(const Floor &floor)
{
    return {between(floor, &Point::x_m, &Point::y_m), between(floor, &Point::y_m, &Point::x_m)};
}

} // namespace badger::floor
