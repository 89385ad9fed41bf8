// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/step.h"

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

constexpr double noEnd = std::numeric_limits<double>::infinity();

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

/// What a number that cannot be meant counts as; empty: it is one that can.
std::optional<NoEcho> outside(const Sensor &s, double number)
{
    if (s.nearest && number < *s.nearest)
        return s.tooNear;
    if (s.farthest && number > *s.farthest)
        return s.wild;
    return std::nullopt;
}

/// The number that its policy gives in place of an echo; false: it gives none.
bool substitute(const Sensor &s, Held &h)
{
    switch (h.policy) {
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
    for (size_t i = 0; i < mind.held.size(); ++i)
        mind.held[i].policy = machine.sensors[i].policy;
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
        s.medianOf == 1 ? number.value_or(noEnd) : median(h, s.medianOf, number.value_or(noEnd));
    const auto cannotBe = middle == noEnd ? std::optional(s.policy) : outside(s, middle);
    // What is too near to be measured was heard; what cannot be meant was not.
    h.heard = !cannotBe || (s.nearest && middle < *s.nearest);
    h.lost = h.heard ? 0 : std::min(h.lost + 1, 1'000'000);
    if (!cannotBe) {
        h.number = h.last = middle;
        h.has = h.hasLast = true;
    } else {
        h.policy = *cannotBe;
        h.has = substitute(s, h);
    }
}

/// One look of a scan: the number that it counts with; empty: it is left out.
std::optional<double> counted(const Sensor &s, const ScanLook &look)
{
    Held one;
    one.policy = s.policy;
    const auto cannotBe = look.number ? outside(s, *look.number) : std::optional(s.policy);
    if (!cannotBe && *look.number <= s.limit)
        return look.number;
    if (!cannotBe && s.choice.beyond == rules::Beyond::Limit)
        return s.limit;
    if (!cannotBe && s.choice.beyond == rules::Beyond::Zero)
        return 0.0;
    if (cannotBe)
        one.policy = *cannotBe;
    if (one.policy == NoEcho::HoldLast || !substitute(s, one))
        return std::nullopt;
    return one.number;
}

} // namespace

void hear(const Machine &machine, Mind &mind, int sensor, std::optional<double> number)
{
    const auto &s = machine.sensors[static_cast<size_t>(sensor)];
    auto &h = mind.held[static_cast<size_t>(sensor)];
    if (s.source != Source::Ranger || s.medianOf != 1 || !number || s.nearest || s.farthest)
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
        const auto heard = looks[i].number;
        h.heard |= heard && !(s.farthest && *heard > *s.farthest);
        const auto number = counted(s, looks[i]);
        if (!number)
            continue;
        const bool better = s.choice.nearest ? *number < h.number : *number > h.number;
        if (!h.has || better || (s.choice.lastOfTies && *number == h.number)) {
            h.number = *number;
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
        if (mind.held[i].policy == NoEcho::Stop)
            return Settled::Stop;
        skip = true;
    }
    return skip ? Settled::Skip : Settled::Rules;
}

} // namespace badger::machine
