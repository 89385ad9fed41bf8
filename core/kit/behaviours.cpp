// SPDX-License-Identifier: GPL-3.0-or-later
// The behaviours by name, each with one plain line and what it needs.
#include "core/kit/mission.h"

#include <algorithm>

namespace badger::kit
{

const char *name(Family family)
{
    switch (family) {
    case Family::Avoidance:
        return "keeps clear of things";
    case Family::Reflectance:
        return "reads how much light comes back";
    case Family::Line:
        break;
    }
    return "follows a line";
}

const std::vector<Behaviour> &behaviours()
{
    using enum Want;
    using F = Family;
    static const char *const open = "an open floor with something to stop for";
    static const char *const room = "a room with walls and crates";
    static const char *const line = "a mat with one line";
    static const std::vector<Behaviour> all = {
        {"halt",
         "halt",
         F::Avoidance,
         "Stops inside a distance, goes on when the way is clear.",
         open,
         {Board, Drive, RangerAhead}},
        {"retreat",
         "retreat",
         F::Avoidance,
         "Backs off inside a distance, else stands.",
         open,
         {Board, Drive, RangerAhead}},
        {"keep-station",
         "keep station",
         F::Avoidance,
         "Holds its distance to what it follows: advances, stands or backs off.",
         open,
         {Board, Drive, RangerAhead}},
        {"back-and-turn",
         "back and turn",
         F::Avoidance,
         "Stops, backs, turns one way and goes on.",
         room,
         {Board, Drive, RangerAhead}},
        {"turn-away",
         "turn away",
         F::Avoidance,
         "Turns on the spot until the way is clear.",
         room,
         {Board, Drive, RangerAhead}},
        {"back-and-wander",
         "back and wander",
         F::Avoidance,
         "Backs, turns for a random time, looks again, tries the other side.",
         room,
         {Board, Drive, RangerAhead}},
        {"glance",
         "glance",
         F::Avoidance,
         "Stops, looks right and left, and takes the side with more room.",
         room,
         {Board, Drive, RangerOnServo}},
        {"first-free-side",
         "first free side",
         F::Avoidance,
         "Left if it is free, else right, else back and turn round.",
         room,
         {Board, Drive, RangerOnServo}},
        {"fan",
         "fan",
         F::Avoidance,
         "Sweeps a little while it drives; when stopped, a full fan, and steers to the longest.",
         room,
         {Board, Drive, RangerOnServo}},
        {"fixed-rangers",
         "several fixed rangers",
         F::Avoidance,
         "Looks ahead and to both sides with rangers fired in turn.",
         room,
         {Board, Drive, RangerAhead, SideRangers}},
        {"guarded-drive",
         "guarded drive",
         F::Avoidance,
         "A person steers; the program refuses or slows what would hit.",
         room,
         {Board, Drive, RangerAhead}},
        {"table-edge",
         "table edge",
         F::Reflectance,
         "Stops when the floor under its front is gone.",
         "a table above a soft landing",
         {Board, Drive, EdgeSensor}},
        {"wall-hold",
         "wall hold",
         F::Reflectance,
         "Drives along a wall at one distance.",
         "a straight light wall",
         {Board, Drive, SideReflectance}},
        {"hand-follow",
         "hand follow",
         F::Reflectance,
         "Follows a hand at one distance.",
         "an open floor and a hand",
         {Board, Drive, SideReflectance}},
        {"straddle",
         "straddle",
         F::Line,
         "Two sensors outside a line; the one that sees it says which way to steer.",
         line,
         {Board, Drive, TwoInfrared}},
        {"edge-glide",
         "edge glide",
         F::Line,
         "One analogue sensor on an edge of the line steers in proportion.",
         line,
         {Board, Drive, OneReflectance}},
        {"edge-zigzag",
         "edge zigzag",
         F::Line,
         "One sensor on an edge of the line swings from side to side.",
         line,
         {Board, Drive, OneInfrared}},
        {"lane",
         "lane",
         F::Line,
         "Four sensors between two lines, or over one.",
         "a mat with two lines",
         {Board, Drive, FourInfrared}},
        {"direct",
         "direct",
         F::Line,
         "No board: each sensor drives the wheel on its side.",
         line,
         {NoBoard, Drive, TwoInfrared}},
    };
    return all;
}

const Behaviour *behaviour(std::string_view key)
{
    const auto &all = behaviours();
    const auto it =
        std::find_if(all.begin(), all.end(), [&](const Behaviour &b) { return key == b.key; });
    return it == all.end() ? nullptr : &*it;
}

} // namespace badger::kit
