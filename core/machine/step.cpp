// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/step.h"

#include "core/rules/evaluate.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace badger::machine
{

namespace
{

using rules::NoEcho;
using rules::Source;
using rules::Test;

constexpr double none = std::numeric_limits<double>::infinity();

bool isEcho(const Sensor &s)
{
    return s.source == Source::Ranger || s.source == Source::Scan;
}

/// The middle of the newest; infinite where that is none. Of an even number, while the window
/// fills, the nearer of the middle two.
double median(Held &h, int of, double newest)
{
    const auto room = static_cast<size_t>(std::clamp(of, 1, 15));
    if (static_cast<size_t>(h.kept) == room) {
        std::rotate(h.recent.begin(), h.recent.begin() + 1, h.recent.begin() + h.kept);
        --h.kept;
    }
    h.recent[static_cast<size_t>(h.kept++)] = newest;
    auto sorted = h.recent;
    std::sort(sorted.begin(), sorted.begin() + h.kept);
    return sorted[static_cast<size_t>(h.kept - 1) / 2];
}

/// The number that a policy gives in place of an echo; false: it gives none.
bool substitute(const Sensor &s, Held &h)
{
    switch (s.policy) {
    case NoEcho::Clear:
        h.number = s.limit;
        return true;
    case NoEcho::Blocked:
        h.number = 0.0;
        return true;
    case NoEcho::HoldLast:
        h.number = h.last;
        return h.hasLast;
    case NoEcho::Unset:
    case NoEcho::Stop:
    case NoEcho::Ignore:
        break;
    }
    return false;
}

void pick(const Machine &machine, Mind &mind, const Sensor &s, Held &h)
{
    h.has = false;
    h.heard = false;
    h.lost = std::numeric_limits<int>::max(); // as often as the one of them that was heard last
    for (int i = s.of.first; i < s.of.end(); ++i) {
        const int from = machine.members[static_cast<size_t>(i)];
        const auto &other = mind.held[static_cast<size_t>(from)];
        h.heard |= other.heard;
        h.lost = std::min(h.lost, other.lost);
        if (!other.has)
            continue;
        const bool better = s.choice.nearest ? other.number < h.number : other.number > h.number;
        if (!h.has || better || (s.choice.lastOfTies && other.number == h.number)) {
            h.number = other.number;
            h.which = from;
            h.has = true;
        }
    }
}

} // namespace

Mind freshMind(const Machine &machine)
{
    Mind mind;
    mind.held.resize(machine.sensors.size());
    mind.counters.assign(static_cast<size_t>(machine.counters), 0);
    mind.memos = machine.memos;
    mind.servos.assign(machine.servos.size(), ahead_deg);
    mind.random = machine.seed == 0 ? std::uint16_t{1} : machine.seed;
    return mind;
}

namespace
{

/// Everything but a single ranger's number. Kept out of hear(), which is short.
[[gnu::noinline]] void hearOther(const Sensor &s, Held &h, std::optional<double> number)
{
    if (!isEcho(s) && s.source != Source::Analogue) {
        h.has = true;
        h.heard = number.has_value() && (s.source != Source::Key || *number != 0.0);
        h.lost = h.heard ? 0 : h.lost + 1;
        h.number = number.value_or(0.0);
        return;
    }
    const double middle =
        s.medianOf == 1 ? number.value_or(none) : median(h, s.medianOf, number.value_or(none));
    h.heard = middle != none;
    h.lost = h.heard ? 0 : std::min(h.lost + 1, 1'000'000);
    if (h.heard) {
        h.number = h.last = middle;
        h.has = h.hasLast = true;
    } else {
        h.has = substitute(s, h);
    }
}

} // namespace

void hear(const Machine &machine, Mind &mind, int sensor, std::optional<double> number)
{
    const auto &s = machine.sensors[static_cast<size_t>(sensor)];
    auto &h = mind.held[static_cast<size_t>(sensor)];
    if (s.source != Source::Ranger || s.medianOf != 1 || !number)
        return hearOther(s, h, number);
    h.number = h.last = *number;
    h.has = h.hasLast = h.heard = true;
    h.lost = 0;
}

void hearScan(const Machine &machine, Mind &mind, int sensor, const ScanLook *looks, int count)
{
    const auto &s = machine.sensors[static_cast<size_t>(sensor)];
    auto &h = mind.held[static_cast<size_t>(sensor)];
    h.has = false;
    h.heard = false;
    for (int i = 0; i < count; ++i) {
        Held one = h;
        bool counts = true;
        if (!looks[i].number) {
            counts = s.policy != NoEcho::HoldLast && substitute(s, one);
        } else {
            one.number = *looks[i].number;
            h.heard = true;
            if (one.number > s.limit)
                switch (s.choice.beyond) {
                case rules::Beyond::None:
                    counts = s.policy != NoEcho::HoldLast && substitute(s, one);
                    break;
                case rules::Beyond::Limit:
                    one.number = s.limit;
                    break;
                case rules::Beyond::Zero:
                    one.number = 0.0;
                    break;
                }
        }
        if (!counts)
            continue;
        const bool better = s.choice.nearest ? one.number < h.number : one.number > h.number;
        if (!h.has || better || (s.choice.lastOfTies && one.number == h.number)) {
            h.number = one.number;
            h.angle_deg = looks[i].angle_deg;
            h.has = true;
        }
    }
    h.lost = h.heard ? 0 : h.lost + 1;
}

void derive(const Machine &machine, Mind &mind)
{
    for (size_t i = 0; i < machine.sensors.size(); ++i) {
        const auto &s = machine.sensors[i];
        auto &h = mind.held[i];
        if (s.source == Source::Pick) {
            pick(machine, mind, s, h);
        } else if (s.source == Source::Difference && s.of.count == 2) {
            const auto at = [&](int k) {
                const auto from = machine.members[static_cast<size_t>(s.of.first + k)];
                return mind.held[static_cast<size_t>(from)];
            };
            const auto a = at(0);
            const auto b = at(1);
            h.has = a.has && b.has;
            h.heard = a.heard && b.heard;
            h.number = kept(machine, a.number - b.number);
        } else {
            continue;
        }
    }
}

Settled settle(const Machine &machine, const Mind &mind)
{
    bool skip = false;
    for (size_t i = 0; i < machine.sensors.size(); ++i) {
        const auto &s = machine.sensors[i];
        if (!s.everyPass || !isEcho(s) || mind.held[i].has)
            continue;
        if (s.policy == NoEcho::Stop)
            return Settled::Stop;
        skip = true;
    }
    return skip ? Settled::Skip : Settled::Rules;
}

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
