// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/regions/gives_way.h"

#include <algorithm>
#include <cmath>

namespace badger::regions
{

namespace
{

void addOnce(std::vector<int> &all, int one)
{
    if (std::find(all.begin(), all.end(), one) == all.end())
        all.push_back(one);
}

/// What happens at one atom of the axis, over all cells that it is in.
struct AtAtom {
    bool stays = false;
    std::vector<int> into;
    std::vector<int> unlessSilent;
    int times = 1;
};

int timesOf(const Machine &machine, const std::vector<int> &branches)
{
    int most = 1;
    for (const int b : branches) {
        const auto &asks = machine.branches[static_cast<size_t>(b)].asks;
        for (int i = asks.first; i < asks.end(); ++i)
            most = std::max(most, machine.asks[static_cast<size_t>(i)].times);
    }
    return most;
}

/// Sensors without an echo in a cell.
std::vector<int> silentIn(const Regions &regions, const Cell &cell)
{
    std::vector<int> all;
    for (size_t k = 0; k < regions.axes.size(); ++k) {
        const auto &axis = regions.axes[k];
        const auto kind = axis.atoms[static_cast<size_t>(cell.atoms[k])].kind;
        if (axis.of == Axis::Of::Sensor && lacksNumber(kind) && kind != Atom::Kind::Near)
            addOnce(all, axis.sensor);
    }
    return all;
}

/// How many of the other readings are as far as they reach in a cell.
int farReadings(const Regions &regions, const Cell &cell)
{
    int all = 0;
    for (size_t k = 0; k < regions.axes.size(); ++k) {
        const auto &atoms = regions.axes[k].atoms;
        const auto &atom = atoms[static_cast<size_t>(cell.atoms[k])];
        all += regions.axes[k].of == Axis::Of::Sensor && atom.kind == Atom::Kind::Numbers &&
               std::none_of(atoms.begin(), atoms.end(), [&](const Atom &other) {
                   return other.kind == Atom::Kind::Numbers && other.from > atom.from;
               });
    }
    return all;
}

AtAtom at(const Machine &machine, const Regions &regions, size_t axis, int atom)
{
    AtAtom all;
    int farthest = -1;
    for (const auto &cell : regions.cells) {
        if (cell.atoms[axis] != atom)
            continue;
        if (cell.outcome != Outcome::Hole && cell.to != regions.mode) {
            addOnce(all.into, cell.to);
            if (const int far = farReadings(regions, cell); far > farthest) {
                farthest = far; // what it does where nothing else is near stands first
                std::rotate(all.into.begin(), std::find(all.into.begin(), all.into.end(), cell.to),
                            all.into.end());
            }
            all.times = std::max(all.times, timesOf(machine, cell.fired));
            continue;
        }
        const auto silent = silentIn(regions, cell);
        all.stays |= cell.outcome != Outcome::Kept || silent.empty();
        // One that holds its last number decides by that: another cell says how.
        for (const int s : silent)
            if (cell.outcome == Outcome::Kept &&
                machine.sensors[static_cast<size_t>(s)].policy == rules::NoEcho::Ignore)
                addOnce(all.unlessSilent, s);
    }
    all.stays |= all.into.empty();
    return all;
}

bool isAbout(const Machine &machine, const Ask &ask, int sensor)
{
    if (ask.test != rules::Test::Number || ask.sensor < 0)
        return false;
    const auto &s = machine.sensors[static_cast<size_t>(ask.sensor)];
    if (s.source != rules::Source::Pick)
        return ask.sensor == sensor;
    for (int i = s.of.first; i < s.of.end(); ++i)
        if (machine.members[static_cast<size_t>(i)] == sensor)
            return true;
    return false;
}

/// The least constant at or past the far end of the stretch that numbers are compared with.
std::optional<double> limitAt(const Machine &machine, int mode, int sensor, const GivesWay &stretch)
{
    std::optional<double> least;
    for (const auto &range :
         {machine.everywhere, machine.modes[static_cast<size_t>(mode)].branches})
        for (int b = range.first; b < range.end(); ++b) {
            const auto &asks = machine.branches[static_cast<size_t>(b)].asks;
            for (int i = asks.first; i < asks.end(); ++i) {
                const auto &ask = machine.asks[static_cast<size_t>(i)];
                if (isAbout(machine, ask, sensor) && ask.constant >= stretch.to &&
                    (!least || ask.constant < *least))
                    least = ask.constant;
            }
        }
    const double apart = machine.sensors[static_cast<size_t>(sensor)].whole ? 1.0 : 0.0;
    return least && *least - stretch.to <= apart ? least : std::nullopt;
}

void nameLimit(const rules::Program &program, const Machine &machine, int mode, int sensor,
               GivesWay &stretch)
{
    const auto limit = limitAt(machine, mode, sensor, stretch);
    if (!limit)
        return;
    const auto through = [&](const std::vector<rules::Rule> &rules) {
        for (const auto &rule : rules)
            for (const auto &c : rule.when) {
                const auto *value = program.value(c.value);
                const auto *reading = program.reading(c.reading);
                if (c.test == rules::Test::Number && value && value->si && reading &&
                    stretch.value.empty() &&
                    constantOf(*value, lengthOf(program, *reading), !machine.small) == *limit) {
                    stretch.value = value->name;
                    stretch.inclusive = c.compare == rules::Compare::LessOrEqual ||
                                        c.compare == rules::Compare::Greater;
                }
            }
    };
    through(program.everywhere);
    through(program.states[static_cast<size_t>(mode)].rules);
}

} // namespace

std::vector<GivesWay> givesWay(const rules::Program &program, const Machine &machine,
                               const Regions &regions, int sensor)
{
    std::vector<GivesWay> all;
    for (size_t k = 0; k < regions.axes.size(); ++k) {
        const auto &axis = regions.axes[k];
        if (axis.of != Axis::Of::Sensor || axis.sensor != sensor)
            continue;
        bool stayed = false;
        bool open = false; ///< the stretch at hand still grows
        for (int i = static_cast<int>(axis.atoms.size()) - 1; i >= 0; --i) {
            const auto &atom = axis.atoms[static_cast<size_t>(i)];
            if (atom.kind != Atom::Kind::Numbers)
                continue;
            const auto here = at(machine, regions, k, i);
            if (here.stays) {
                stayed = true;
                open = false;
                continue;
            }
            if (!stayed)
                continue;
            if (!open)
                all.push_back({atom.from, atom.to, atom.openTo, {}, {}, true, 1, {}});
            open = true;
            auto &stretch = all.back();
            stretch.from = atom.from;
            stretch.times = std::max(stretch.times, here.times);
            for (const int m : here.into)
                addOnce(stretch.into, m);
            for (const int s : here.unlessSilent)
                addOnce(stretch.unlessSilent, s);
        }
    }
    for (auto &stretch : all)
        nameLimit(program, machine, regions.mode, sensor, stretch);
    return all;
}

std::vector<int> givesWayAtAnEnd(const Machine &machine, const Regions &regions, int sensor)
{
    for (size_t k = 0; k < regions.axes.size(); ++k) {
        const auto &axis = regions.axes[k];
        for (size_t i = 0; i < axis.atoms.size(); ++i) {
            const auto kind = axis.atoms[i].kind;
            const bool atEnd = i == 0 || i + 1 == axis.atoms.size();
            if (axis.of != Axis::Of::Sensor || axis.sensor != sensor ||
                !(kind == Atom::Kind::Yes || (kind == Atom::Kind::Numbers && atEnd)))
                continue;
            const auto here = at(machine, regions, k, static_cast<int>(i));
            if (!here.stays)
                return here.into;
        }
    }
    return {};
}

} // namespace badger::regions
