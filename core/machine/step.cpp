// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/step.h"

#include "core/rules/board_numbers.h"

#include <algorithm>
#include <cmath>

namespace badger::machine
{

namespace
{

using rules::Test;

} // namespace

namespace
{

/// rules::holds(), where it can be drawn into the loop.
inline bool compares(double number, rules::Compare compare, double constant)
{
    switch (compare) {
    case rules::Compare::Less:
        return number < constant;
    case rules::Compare::LessOrEqual:
        return number <= constant;
    case rules::Compare::Greater:
        return number > constant;
    case rules::Compare::GreaterOrEqual:
        break;
    }
    return number >= constant;
}

bool holdsRarely(const Machine &machine, const Mind &mind, const Ask &a, std::uint64_t now_us);

/// A number against a constant is what is asked by far most.
inline bool holdsNow(const Machine &machine, const Mind &mind, const Ask &a, std::uint64_t now_us)
{
    if (a.test == Test::Number && a.sensor >= 0) {
        const auto &h = mind.held[static_cast<size_t>(a.sensor)];
        return h.has && compares(h.number, a.compare, a.constant);
    }
    return holdsRarely(machine, mind, a, now_us);
}

bool holdsRarely(const Machine &machine, const Mind &mind, const Ask &a, std::uint64_t now_us)
{
    if (a.test == Test::Since)
        return static_cast<double>(now_us - mind.entered_us) >= a.constant;
    if (a.sensor < 0)
        return false;
    if (a.test == Test::Remembered)
        return mind.memos[static_cast<size_t>(a.sensor)] == a.other;
    const auto &h = mind.held[static_cast<size_t>(a.sensor)];
    switch (a.test) {
    case Test::Angle:
        return h.has && compares(h.angle_deg, a.compare, a.constant);
    case Test::Which:
        return h.has && h.which == a.other;
    case Test::Than: {
        const auto &other = mind.held[static_cast<size_t>(a.other)];
        if (!h.has || !other.has)
            return false;
        const bool above =
            a.compare == rules::Compare::Greater || a.compare == rules::Compare::GreaterOrEqual;
        return compares(kept(machine, h.number - other.number), a.compare,
                        above ? a.constant : -a.constant);
    }
    case Test::Seen:
        return h.has && h.number != 0.0;
    case Test::Unseen:
        return h.has && h.number == 0.0;
    case Test::Key:
        return h.has && h.number == static_cast<double>(a.other);
    case Test::Lost:
        return h.lost >= static_cast<int>(a.constant) && a.constant >= 1.0;
    case Test::Number:
    case Test::Remembered:
    case Test::Since:
        break;
    }
    return false;
}

inline bool met(const Machine &machine, const Mind &mind, const Branch &b, std::uint64_t now_us)
{
    const auto *ask = machine.asks.data() + b.asks.first;
    const auto *end = ask + b.asks.count;
    for (; ask != end; ++ask) {
        const bool one = ask->counter < 0
                             ? holdsNow(machine, mind, *ask, now_us)
                             : mind.counters[static_cast<size_t>(ask->counter)] >= ask->times;
        if (one == b.any)
            return one;
    }
    return !b.any;
}

/// The branch at a place of the walk: first those that hold everywhere, then the mode's.
int branchAt(const Machine &machine, const Mode &mode, int place)
{
    if (place < machine.everywhere.count)
        return machine.everywhere.first + place;
    place -= machine.everywhere.count;
    return place < mode.branches.count ? mode.branches.first + place : -1;
}

} // namespace

void count(const Machine &machine, Mind &mind, const Walk &walk)
{
    if (machine.counters == 0)
        return;
    const auto &mode = machine.modes[static_cast<size_t>(walk.mode)];
    for (int place = 0;; ++place) {
        const int b = branchAt(machine, mode, place);
        if (b < 0)
            return;
        const auto &asks = machine.branches[static_cast<size_t>(b)].asks;
        for (int i = asks.first; i < asks.end(); ++i) {
            const auto &a = machine.asks[static_cast<size_t>(i)];
            if (a.counter < 0)
                continue;
            auto &counter = mind.counters[static_cast<size_t>(a.counter)];
            counter = holdsNow(machine, mind, a, walk.now_us) ? std::min(counter + 1, a.times) : 0;
        }
    }
}

namespace
{

/// What a walk meets first, where the mode asks one number alone.
inline const Cut &cutOf(const Machine &machine, const Mind &mind, const Quick &quick)
{
    const auto &h = mind.held[static_cast<size_t>(quick.sensor)];
    if (!h.has || std::isnan(h.number)) // no comparison holds of what is no number
        return machine.cuts[static_cast<size_t>(quick.unheard)];
    const auto *cut = machine.cuts.data() + quick.cuts.first;
    while (h.number > cut->last)
        ++cut;
    return *cut;
}

} // namespace

namespace
{

/// Rule by rule. Kept out of next(), which is short and mostly all there is.
[[gnu::noinline]] int walkOn(const Machine &machine, const Mind &mind, Walk &walk)
{
    const auto &mode = machine.modes[static_cast<size_t>(walk.mode)];
    for (;;) {
        const int b = branchAt(machine, mode, walk.next);
        if (b < 0)
            return -1;
        ++walk.next;
        if (met(machine, mind, machine.branches[static_cast<size_t>(b)], walk.now_us))
            return b;
    }
}

} // namespace

int next(const Machine &machine, const Mind &mind, Walk &walk)
{
    const auto &quick = machine.quick[static_cast<size_t>(walk.mode)];
    if (walk.next != 0 || quick.sensor < 0)
        return walkOn(machine, mind, walk);
    const auto &cut = cutOf(machine, mind, quick);
    walk.next = cut.next;
    return cut.branch;
}

Orders orders(const Machine &machine, const Mind &mind, const Mode &mode)
{
    Orders o{mode.left, mode.right, false};
    if (mode.follows == rules::Follows::Nothing || mode.sensor < 0)
        return o;
    const auto &h = mind.held[static_cast<size_t>(mode.sensor)];
    if (mode.follows == rules::Follows::Scan) {
        if (!h.has || h.angle_deg == ahead_deg)
            o.left = o.right = {WheelOrder::Kind::Brake, 0};
        else if (h.angle_deg < ahead_deg)
            std::swap(o.left, o.right);
        return o;
    }
    if (!h.has || mode.half == 0.0)
        return o;
    // Each sum rounded as the board does.
    const auto scaled = [&](WheelOrder wheel, double factor) {
        if (wheel.kind == WheelOrder::Kind::Turn)
            wheel.counts =
                static_cast<int>(std::clamp(kept(machine, wheel.counts * factor), -255.0, 255.0));
        return wheel;
    };
    const double e = kept(machine, kept(machine, h.number - mode.middle) / mode.half);
    const double held = std::clamp(e, -1.0, 1.0);
    o.clamped = held != e;
    if (mode.follows == rules::Follows::Slow) {
        const double factor = kept(machine, held + 1.0) / 2.0;
        o.left = scaled(o.left, factor);
        o.right = scaled(o.right, factor);
        return o;
    }
    const double turn = kept(machine, mode.gain * (mode.highTurnsLeft ? -held : held));
    o.left = scaled(o.left, kept(machine, 1.0 + turn));
    o.right = scaled(o.right, kept(machine, 1.0 - turn));
    return o;
}

std::uint16_t draw(Mind &mind)
{
    auto x = static_cast<std::uint32_t>(mind.random);
    x ^= (x << 7) & 0xffffU;
    x ^= x >> 9;
    x ^= (x << 8) & 0xffffU;
    mind.random = static_cast<std::uint16_t>(x);
    return mind.random;
}

std::uint64_t length_us(const Machine &machine, Mind &mind, const Hold &hold)
{
    (void)machine;
    switch (hold.length) {
    case rules::Length::Fixed:
        break;
    case rules::Length::Random: {
        const auto least_ms = hold.time_us / 1000;
        const auto most_ms = std::max(hold.most_us / 1000, least_ms);
        return (least_ms + draw(mind) % (most_ms - least_ms + 1)) * 1000;
    }
    case rules::Length::PerDegree: {
        double angle_deg = hold.angle_deg;
        if (hold.scan >= 0) {
            const auto &h = mind.held[static_cast<size_t>(hold.scan)];
            angle_deg = h.has ? h.angle_deg - ahead_deg : 0.0;
        }
        return static_cast<std::uint64_t>(
            std::llround(std::abs(angle_deg) * static_cast<double>(hold.time_us)));
    }
    }
    return hold.time_us;
}

} // namespace badger::machine
