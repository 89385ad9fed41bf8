// SPDX-License-Identifier: GPL-3.0-or-later
// What a motion is called, and which way a car takes from what its wheels do.
#include "core/motion/motion.h"

namespace badger::motion
{

const char *name(Turn turn)
{
    switch (turn) {
    case Turn::Forward:
        return "forward";
    case Turn::Backward:
        return "backward";
    case Turn::Brake:
        return "held";
    case Turn::Coast:
        return "free";
    case Turn::Dead:
        return "dead";
    case Turn::Unsure:
        return "unsure";
    case Turn::Fights:
        return "fights itself";
    case Turn::None:
        break;
    }
    return "no motor";
}

namespace
{

struct PathRow {
    Path path;
    Turn left;
    Turn right;
    const char *words;
    const char *arrow;
};

constexpr PathRow paths[] = {
    {Path::Ahead, Turn::Forward, Turn::Forward, "straight ahead", "↑"},
    {Path::Back, Turn::Backward, Turn::Backward, "straight back", "↓"},
    {Path::PivotLeft, Turn::Brake, Turn::Forward, "pivots left about the left wheel", "↰"},
    {Path::PivotRight, Turn::Forward, Turn::Brake, "pivots right about the right wheel", "↱"},
    {Path::PivotLeftBack, Turn::Brake, Turn::Backward, "pivots back about the left wheel", "↲"},
    {Path::PivotRightBack, Turn::Backward, Turn::Brake, "pivots back about the right wheel", "↳"},
    {Path::CurveLeft, Turn::Coast, Turn::Forward, "curves left, the left wheel rolls along", "↖"},
    {Path::CurveRight, Turn::Forward, Turn::Coast, "curves right, the right wheel rolls along",
     "↗"},
    {Path::CurveLeftBack, Turn::Coast, Turn::Backward, "curves back, the left wheel rolls along",
     "↙"},
    {Path::CurveRightBack, Turn::Backward, Turn::Coast, "curves back, the right wheel rolls along",
     "↘"},
    {Path::SpinLeft, Turn::Backward, Turn::Forward, "spins left on the spot", "↺"},
    {Path::SpinRight, Turn::Forward, Turn::Backward, "spins right on the spot", "↻"},
    {Path::Held, Turn::Brake, Turn::Brake, "brakes", "■"},
    {Path::Rolls, Turn::Coast, Turn::Coast, "rolls out freely", "·"},
};

const PathRow *rowOf(Path path)
{
    for (const auto &r : paths)
        if (r.path == path)
            return &r;
    return nullptr;
}

} // namespace

const char *words(Path path)
{
    const auto *r = rowOf(path);
    return r ? r->words : "cannot be said";
}

const char *arrow(Path path)
{
    const auto *r = rowOf(path);
    return r ? r->arrow : "?";
}

Path pathOf(Turn left, Turn right)
{
    // A dead wheel rolls along; a wheel that is held beside one that rolls holds the car.
    const auto plain = [](Turn t) { return t == Turn::Dead ? Turn::Coast : t; };
    left = plain(left);
    right = plain(right);
    const auto still = [](Turn t) { return t == Turn::Brake || t == Turn::Coast; };
    if (left != right && still(left) && still(right))
        return Path::Held;
    for (const auto &r : paths)
        if (r.left == left && r.right == right)
            return r.path;
    return Path::Unsure;
}

std::string MotionInput::levelName(int level) const
{
    if (port)
        return level == 0 ? "stop" : level > 0 ? "A high" : "B high";
    if (pulses)
        return level < 0 ? "short" : level > 0 ? "long" : "neutral";
    return level > 0 ? high : low;
}

const MotionRow *rowFor(const MotionTable &table, Path path)
{
    for (const auto &r : table.rows)
        if (r.path == path)
            return &r;
    return nullptr;
}

} // namespace badger::motion
