// SPDX-License-Identifier: GPL-3.0-or-later
// Walls and points as columns of numbers, so that many are looked at in one go.
//
// Sorted along a curve that keeps neighbours together and cut into blocks of sixteen with a box
// each: a query passes over every block whose box is of no use, and computes the others four at a
// time. The same code runs with whatever width the machine has and gives the same bits: no sum is
// reordered, and fused multiplications are forbidden.
#pragma once

#include "core/arena/vec.h"

#include <array>
#include <cstddef>
#include <vector>

namespace badger::arena
{

/// How many are looked at in one go.
inline constexpr std::size_t block = 16;
using Keys = std::array<double, block>;
inline constexpr double farAway = 1e300; ///< the key of what a query does not mean

/// The boxes of blocks.
struct Boxes {
    std::vector<double> lowX, lowY, highX, highY; ///< padded to whole blocks of `block` boxes
    std::size_t count = 0;

    void add(Vec low, Vec high);
    void pad();
};

struct WallLanes {
    std::vector<double> ax, ay, bx, by, ux, uy, length; ///< padded to whole blocks
    std::vector<int> order;                             ///< by lane: which wall; -1: padding
    Boxes boxes;

    std::size_t blocks() const { return boxes.count; }
};

struct PointLanes {
    std::vector<double> x, y;
    std::vector<int> order;
    Boxes boxes;

    std::size_t blocks() const { return boxes.count; }
};

/// `a`, `b`: the ends of the walls, which have a length.
WallLanes wallLanes(const std::vector<Vec> &a, const std::vector<Vec> &b);
PointLanes pointLanes(const std::vector<Vec> &at);

/// Squared distances of a place to `block` boxes from `first` on (a multiple of `block`).
void boxDistances2(const Boxes &boxes, std::size_t first, Vec p, Keys &out);
/// 0 for boxes that the box of two places meets, else farAway. False: none does.
bool boxesOnTheWay(const Boxes &boxes, std::size_t first, Vec p, Vec q, Keys &out);

// Of the walls or points of one block. Those that tell something are nearer than a limit: where
// none is, they say false, and `out` is not to be read.

/// Squared distances.
bool distances2(const WallLanes &walls, std::size_t b, Vec p, double limit2, Keys &out);
bool distances2(const PointLanes &points, std::size_t b, Vec p, double limit2, Keys &out);
/// The least of the walls' squared distances.
double least2(const WallLanes &walls, std::size_t b, Vec p);
/// Distances to the foot of the perpendicular; farAway where that lies beyond the wall's ends.
bool feet(const WallLanes &walls, std::size_t b, Vec p, double limit, Keys &out);
/// Squared: half the way from `image` to the mirror image of `p` in each wall; farAway where that
/// way does not meet the wall.
bool folds(const WallLanes &walls, std::size_t b, Vec p, Vec image, double limit2, Keys &out);
/// Squared distances of walls of which some part may lie between two rays from p, to the left and
/// to the right of an axis and less than a quarter turn from it; farAway for the others.
bool between(const WallLanes &walls, std::size_t b, Vec p, Vec left, Vec right, double limit2,
             Keys &out);
/// Does one of the walls cross the way from p to q, its ends left out?
bool crossed(const WallLanes &walls, std::size_t b, Vec p, Vec q);

/// Calls `visit(number)` for the blocks whose box lies nearer to `p` than
/// `limit_m()`, which is asked anew before each.
template <class Limit, class Visit>
void nearBlocks(const Boxes &boxes, Vec p, Limit &&limit_m, Visit &&visit)
{
    Keys keys;
    for (std::size_t first = 0; first < boxes.count; first += block) {
        boxDistances2(boxes, first, p, keys);
        for (std::size_t i = 0; i < block && first + i < boxes.count; ++i) {
            const double limit = limit_m();
            if (keys[i] < limit * limit)
                visit(first + i);
        }
    }
}

} // namespace badger::arena
