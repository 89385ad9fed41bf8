// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/regions/axes.h"

#include <algorithm>

namespace badger::regions
{

namespace
{

/// What another program's sensor hears where this one's hears what has no number: what lies beyond
/// its own bound, or, where it has none, a number at this end.
std::optional<double> heardAs(const Machine &machine, int sensor, Atom::Kind kind)
{
    const auto &s = machine.sensors[static_cast<size_t>(sensor)];
    if (kind == Atom::Kind::Near)
        return s.nearest ? *s.nearest / 2.0 : 1.0;
    if (kind == Atom::Kind::Wild)
        return s.farthest ? (*s.farthest + s.limit) / 2.0 : s.limit;
    return std::nullopt;
}

} // namespace

Asked askedIn(const Regions &regions, const Cell &cell, const rules::Program &cellsOf,
              const Second &second)
{
    auto mind = freshMind(second.machine);
    mind.mode = second.mode;
    for (auto &h : mind.held)
        h.has = h.heard = true;
    for (size_t k = 0; k < regions.axes.size(); ++k) {
        const auto &axis = regions.axes[k];
        if (axis.of != Axis::Of::Sensor && axis.of != Axis::Of::Angle)
            continue;
        const auto &name = cellsOf.readings[static_cast<size_t>(axis.sensor)].name;
        const auto *reading = second.program.reading(name);
        if (reading == nullptr)
            continue;
        const int i = static_cast<int>(reading - second.program.readings.data());
        auto &h = mind.held[static_cast<size_t>(i)];
        const auto &a = axis.atoms[static_cast<size_t>(cell.atoms[k])];
        if (axis.of == Axis::Of::Angle)
            h.angle_deg = a.from;
        else if (a.kind == Atom::Kind::Numbers)
            h.number = cell.at[static_cast<size_t>(axis.sensor)].value_or(0.0);
        else if (lacksNumber(a.kind))
            hear(second.machine, mind, i, heardAs(second.machine, i, a.kind));
        else if (a.kind == Atom::Kind::Key)
            h.number = a.word;
        else
            h.number = a.kind == Atom::Kind::Yes ? 1.0 : 0.0;
        if (a.kind == Atom::Kind::Lost)
            h.lost = a.word;
    }
    derive(second.machine, mind);
    switch (settle(second.machine, mind)) {
    case Settled::Stop:
        return {Outcome::Stop, std::max(0, second.machine.stopMode)};
    case Settled::Skip:
        return {Outcome::Kept, second.mode};
    case Settled::Rules:
        break;
    }
    Walk walk{second.mode, 0, 0};
    Asked asked{Outcome::Hole, second.mode};
    for (int b = next(second.machine, mind, walk); b >= 0; b = next(second.machine, mind, walk)) {
        const auto &branch = second.machine.branches[static_cast<size_t>(b)];
        asked = {Outcome::Rule, branch.go};
        if (branch.endsPass)
            break;
    }
    return asked;
}

namespace
{

bool sameEnd(const Machine &machine, const Cell &a, const Cell &b)
{
    const auto follows = machine.modes[static_cast<size_t>(a.to)].follows;
    if (follows == rules::Follows::Steer || follows == rules::Follows::Slow)
        return false; // what the wheels get differs all along
    return a.outcome == b.outcome && a.to == b.to && a.fired == b.fired && a.overlap == b.overlap;
}

/// Does `b` begin where `a` ends?
bool adjoins(const Axis &axis, const Atom &a, const Atom &b)
{
    if (a.kind != Atom::Kind::Numbers || b.kind != Atom::Kind::Numbers)
        return false;
    return axis.whole ? b.from == a.to + 1.0 : b.from == a.to && (a.openTo != b.openFrom);
}

} // namespace

std::vector<Row> rows(const Machine &machine, const Regions &regions)
{
    return rows(regions, [&](const Cell &a, const Cell &b) { return sameEnd(machine, a, b); });
}

std::vector<Row> rows(const Regions &regions,
                      const std::function<bool(const Cell &, const Cell &)> &same)
{
    std::vector<Row> all;
    for (const auto &cell : regions.cells) {
        Row row{regions.mode, {}, &cell};
        for (size_t k = 0; k < regions.axes.size(); ++k)
            row.atoms.push_back(regions.axes[k].atoms[static_cast<size_t>(cell.atoms[k])]);
        all.push_back(std::move(row));
    }
    for (size_t k = regions.axes.size(); k-- > 0;) {
        std::vector<Row> merged;
        for (auto &row : all) {
            const auto before = std::find_if(merged.rbegin(), merged.rend(), [&](const Row &other) {
                for (size_t i = 0; i < row.atoms.size(); ++i)
                    if (i != k && !(other.atoms[i] == row.atoms[i]))
                        return false;
                return adjoins(regions.axes[k], other.atoms[k], row.atoms[k]) &&
                       same(*other.cell, *row.cell);
            });
            if (before == merged.rend()) {
                merged.push_back(std::move(row));
                continue;
            }
            before->atoms[k].to = row.atoms[k].to;
            before->atoms[k].openTo = row.atoms[k].openTo;
        }
        all = std::move(merged);
    }
    return all;
}

std::vector<bool> reachable(const Machine &machine)
{
    std::vector<bool> can(machine.modes.size(), false);
    std::vector<int> open = {0};
    const auto go = [&](int mode) {
        if (mode >= 0 && !can[static_cast<size_t>(mode)]) {
            can[static_cast<size_t>(mode)] = true;
            open.push_back(mode);
        }
    };
    can[0] = true;
    const bool stops =
        std::any_of(machine.sensors.begin(), machine.sensors.end(), [](const Sensor &s) {
            return s.policy == rules::NoEcho::Stop ||
                   (s.nearest && s.tooNear == rules::NoEcho::Stop) ||
                   (s.farthest && s.wild == rules::NoEcho::Stop);
        });
    if (stops)
        go(machine.stopMode);
    while (!open.empty()) {
        const auto &m = machine.modes[static_cast<size_t>(open.back())];
        open.pop_back();
        if (m.hold.is) {
            go(m.hold.then);
            continue;
        }
        for (const auto &range : {machine.everywhere, m.branches})
            for (int b = range.first; b < range.end(); ++b)
                go(machine.branches[static_cast<size_t>(b)].go);
    }
    return can;
}

} // namespace badger::regions
