// SPDX-License-Identifier: GPL-3.0-or-later
// How did a run go, for what the program is there for?
//
// A task follows from the program's family and can be chosen otherwise. Every figure is read from
// the trace; the verdict is a sentence with the figure that decides it.
#pragma once

#include "core/base/derivation.h"
#include "core/world/trace.h"

#include <optional>
#include <string_view>
#include <vector>

namespace badger::task
{

enum class Kind {
    Stops,       ///< comes to rest before what stands ahead
    KeepsMoving, ///< goes on about the floor and touches nothing
    Holds,       ///< holds its distance from a wall, a hand or a target
    FollowsLine,
    StaysOnTable
};
inline constexpr int kindCount = 5;
const char *word(Kind kind); ///< "stops", "keeps-moving", "holds", "line", "table"
std::optional<Kind> kindOf(std::string_view word);
/// By the program's family; of one without, by what it reads and does on that floor.
Kind taskOf(const world::Plan &plan);

/// A line was lost.
struct Loss {
    std::uint64_t time_us = 0;
    double along_m = 0.0; ///< from the line's beginning
    int track = 0;
    bool found = false; ///< again, later
};

/// A turn or a straight move that a time ends.
struct Timed {
    std::uint64_t time_us = 0;
    int mode = 0;
    bool turns = false;
    std::optional<double> asked; ///< rad or m; empty: the program says a time alone
    double done = 0.0;           ///< rad or m, from the command to its end
    double settled = 0.0;        ///< to the next command's own
};

/// A turn to a side that was looked for: what really stood on both.
struct Side {
    std::uint64_t time_us = 0;
    bool left = false;             ///< it turned left
    std::optional<double> left_m;  ///< the longest way there among the places it looked at; empty:
    std::optional<double> right_m; ///< nothing stands there
};
/// Neither side is longer by this and more: either is right.
inline constexpr double sidesAlike_m = 0.03;
bool isLonger(const Side &side); ///< the side it took, or they are alike

struct Score {
    Kind kind = Kind::Stops;
    bool moved = false;
    std::optional<double> rest_s; ///< when it first came to rest after it had moved
    std::optional<double>
        gap_m; ///< then, from the foremost point straight ahead; empty: nothing there
    int gapThing = -1;
    double nearest_m = 0.0;
    double ahead_s = 0.0;  ///< told to go ahead
    double driven_m = 0.0; ///< way of the axle's middle
    double stuck_s = 0.0;  ///< in which the way was barred
    std::optional<double>
        coverage;         ///< share of the floor that it can stand on; empty: it has no bounds
    double blind_s = 0.0; ///< longest without a reading of a ranger
    double blind_m = 0.0; ///< longest way driven without one, another time perhaps
    std::uint64_t blindAt_us = 0; ///< where that way began
    double blindWay_s = 0.0;      ///< and how long it took
    // Holds
    std::optional<double> held_m;   ///< mean distance to what stands there, after three seconds
    double heldShare = 0.0;         ///< of those three seconds and more: something stood there
    std::optional<double> spread_m; ///< its deviation
    // FollowsLine
    double laps = 0.0; ///< full ways round in the one sense or the other
    std::vector<Loss> losses;
    bool sawLine = false; ///< there is one, and it was under the sensors
    double swing_m = 0.0;
    double mean_mps = 0.0;
    // StaysOnTable
    std::optional<double> toEdge_m; ///< least of a wheel

    std::vector<Timed> timed;
    std::vector<Side> sides;
    std::vector<size_t> wrong; ///< pings that read wrong
    bool good = false;         ///< the task was met
};

/// Was the task met, by the figures of its kind? `clean`: nothing was touched, nothing fell, and it
/// moved.
bool isGood(const Score &score, bool clean, world::End end);

Score score(const world::Plan &plan, const world::Trace &trace, std::optional<Kind> kind = {});

/// The verdict in a sentence or two.
Say verdict(const world::Plan &plan, const world::Trace &trace, const Score &score);

/// Of a run that stopped: from the reading that stopped it to the gap. Empty steps where none did.
Derivation whyGap(const world::Plan &plan, const world::Trace &trace, const Score &score);

} // namespace badger::task
