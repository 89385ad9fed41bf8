// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/regions/axes.h"
#include "core/regions/differences.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

namespace badger::regions
{

namespace
{

using rules::Test;

constexpr double mostProducts = 1e6;

/// Walks the products of one mode's axes.
class Products
{
public:
    Products(const Machine &machine, int mode, const std::vector<Axis> &axes)
        : m_machine(machine), m_mode(mode), m_axes(axes), m_atoms(axes.size(), 0),
          m_fresh(freshMind(machine))
    {
        m_fresh.mode = mode;
    }

    std::vector<Cell> cells()
    {
        if (m_axes.empty()) {
            add();
            return std::move(m_cells);
        }
        walk(0);
        return std::move(m_cells);
    }

private:
    void walk(size_t axis)
    {
        if (axis == m_axes.size()) {
            add();
            return;
        }
        for (size_t i = 0; i < m_axes[axis].atoms.size(); ++i) {
            m_atoms[axis] = static_cast<int>(i);
            walk(axis + 1);
        }
    }

    const Atom &atom(size_t axis) const
    {
        return m_axes[axis].atoms[static_cast<size_t>(m_atoms[axis])];
    }

    void range(int node, const Atom &a, std::vector<Edge> &edges) const
    {
        edges.push_back({0, node, {a.to, a.openTo ? -1 : 0}});
        edges.push_back({node, 0, {-a.from, a.openFrom ? -1 : 0}});
    }

    /// What stands for a sensor without a number of its own. Empty: nothing does.
    std::optional<double> substituted(int sensor, Atom::Kind kind) const
    {
        const auto &s = m_machine.sensors[static_cast<size_t>(sensor)];
        const auto policy = policyFor(s, kind);
        if (policy == rules::NoEcho::Clear)
            return s.limit;
        if (policy == rules::NoEcho::Blocked)
            return 0.0;
        return std::nullopt;
    }

    /// Readings of the cell by sensor; empty where no readings reach it.
    std::optional<std::vector<std::optional<double>>> reach() const
    {
        const auto sensors = m_machine.sensors.size();
        std::vector<Edge> edges;
        std::vector<bool> has(sensors, false);
        for (size_t k = 0; k < m_axes.size(); ++k) {
            const auto &axis = m_axes[k];
            if (axis.of != Axis::Of::Sensor)
                continue;
            const auto i = static_cast<size_t>(axis.sensor);
            const int node = axis.sensor + 1;
            if (atom(k).kind == Atom::Kind::Numbers) {
                has[i] = true;
                range(node, atom(k), edges);
            } else if (lacksNumber(atom(k).kind)) {
                if (const auto number = substituted(axis.sensor, atom(k).kind)) {
                    has[i] = true;
                    range(node, {Atom::Kind::Numbers, *number, *number, false, false, -1}, edges);
                }
            }
        }
        for (size_t k = 0; k < m_axes.size(); ++k) {
            const auto &axis = m_axes[k];
            if (axis.of != Axis::Of::Pair)
                continue;
            if (!has[static_cast<size_t>(axis.sensor)] || !has[static_cast<size_t>(axis.other)]) {
                if (m_atoms[k] != 0) // a difference with what is not there is one cell, not several
                    return std::nullopt;
                continue;
            }
            const auto &a = atom(k);
            edges.push_back({axis.other + 1, axis.sensor + 1, {a.to, a.openTo ? -1 : 0}});
            edges.push_back({axis.sensor + 1, axis.other + 1, {-a.from, a.openFrom ? -1 : 0}});
        }
        const auto x = solve(static_cast<int>(sensors) + 1, edges);
        if (!x)
            return std::nullopt;
        std::vector<std::optional<double>> at(sensors);
        for (size_t i = 0; i < sensors; ++i)
            if (has[i])
                at[i] = (*x)[i + 1];
        return at;
    }

    Mind mindAt(const std::vector<std::optional<double>> &at) const
    {
        Mind mind = m_fresh;
        // A reading that no rule asks for has its number: without one the policy would speak.
        for (auto &h : mind.held)
            h.has = true;
        for (size_t k = 0; k < m_axes.size(); ++k) {
            const auto &axis = m_axes[k];
            const auto &a = atom(k);
            auto *h = axis.of == Axis::Of::Sensor || axis.of == Axis::Of::Angle
                          ? &mind.held[static_cast<size_t>(axis.sensor)]
                          : nullptr;
            switch (a.kind) {
            case Atom::Kind::Numbers:
                if (h) {
                    h->has = h->heard = true;
                    h->number = *at[static_cast<size_t>(axis.sensor)];
                }
                break;
            case Atom::Kind::Near:
            case Atom::Kind::Wild:
            case Atom::Kind::None:
            case Atom::Kind::Lost:
                h->policy = policyFor(m_machine.sensors[static_cast<size_t>(axis.sensor)], a.kind);
                h->heard = a.kind == Atom::Kind::Near;
                h->has = at[static_cast<size_t>(axis.sensor)].has_value();
                h->number = at[static_cast<size_t>(axis.sensor)].value_or(0.0);
                h->lost = a.kind == Atom::Kind::Lost ? a.word : 0;
                break;
            case Atom::Kind::Yes:
            case Atom::Kind::No:
                h->has = true;
                h->number = a.kind == Atom::Kind::Yes ? 1.0 : 0.0;
                break;
            case Atom::Kind::Key:
                h->has = true;
                h->number = a.word;
                break;
            case Atom::Kind::Any:
                h->has = h->heard = true;
                h->number = 1.0;
                break;
            case Atom::Kind::Angle:
                h->angle_deg = a.from;
                break;
            case Atom::Kind::Word:
                mind.memos[static_cast<size_t>(axis.sensor)] = a.word;
                break;
            case Atom::Kind::Since:
                break;
            }
        }
        derive(m_machine, mind);
        return mind;
    }

    std::uint64_t now() const
    {
        std::uint64_t now_us = 0;
        for (size_t k = 0; k < m_axes.size(); ++k)
            if (m_axes[k].of == Axis::Of::Since && atom(k).word == 1)
                now_us = std::max(now_us, static_cast<std::uint64_t>(atom(k).to));
        return now_us;
    }

    /// The sensors that a branch's limits are of; empty where it has other conditions or none.
    std::set<int> limitsOf(int branch) const
    {
        std::set<int> sensors;
        const auto &asks = m_machine.branches[static_cast<size_t>(branch)].asks;
        for (int i = asks.first; i < asks.end(); ++i) {
            const auto &a = m_machine.asks[static_cast<size_t>(i)];
            if (a.test != Test::Number)
                return {};
            sensors.insert(a.sensor);
        }
        return sensors;
    }

    void add()
    {
        auto at = reach();
        if (!at)
            return;
        Cell cell;
        cell.atoms = m_atoms;
        cell.at = *at;
        cell.to = m_mode;
        Mind mind = mindAt(cell.at);
        switch (settle(m_machine, mind)) {
        case Settled::Stop:
            cell.outcome = Outcome::Stop;
            cell.to = m_machine.stopMode >= 0 ? m_machine.stopMode : m_mode;
            break;
        case Settled::Skip:
            cell.outcome = Outcome::Kept;
            break;
        case Settled::Rules:
            decide(mind, cell);
            break;
        }
        m_cells.push_back(std::move(cell));
    }

    void decide(Mind &mind, Cell &cell) const
    {
        Walk walk{m_mode, 0, now()};
        // A steady reading has held as often as is asked for.
        for (const auto &b : m_machine.branches)
            for (int i = b.asks.first; i < b.asks.end(); ++i)
                if (const int times = m_machine.asks[static_cast<size_t>(i)].times; times > 1)
                    for (int n = 0; n < times; ++n)
                        count(m_machine, mind, walk);
        bool ended = false;
        for (int b = next(m_machine, mind, walk); b >= 0; b = next(m_machine, mind, walk)) {
            const auto &branch = m_machine.branches[static_cast<size_t>(b)];
            if (!ended) {
                cell.fired.push_back(b);
                cell.to = branch.go;
                ended = branch.endsPass;
                continue;
            }
            const auto first = limitsOf(cell.fired.front());
            cell.overlap |=
                !first.empty() && first == limitsOf(b) &&
                branch.go != m_machine.branches[static_cast<size_t>(cell.fired.front())].go;
        }
        cell.overlap |= cell.fired.size() > 1;
        const auto &mode = m_machine.modes[static_cast<size_t>(m_mode)];
        const bool follows = mode.branches.count + m_machine.everywhere.count == 0;
        cell.outcome = !cell.fired.empty() ? Outcome::Rule
                       : follows           ? Outcome::Kept
                                           : Outcome::Hole;
    }

    const Machine &m_machine;
    int m_mode;
    const std::vector<Axis> &m_axes;
    std::vector<int> m_atoms;
    Mind m_fresh;
    std::vector<Cell> m_cells;
};

} // namespace

namespace
{

Result<Regions> cellsOf(const rules::Program &program, const Machine &machine, int mode,
                        std::vector<Axis> axes)
{
    Regions all;
    all.mode = mode;
    all.axes = std::move(axes);
    double products = 1.0;
    std::vector<Say> sensors;
    for (const auto &axis : all.axes) {
        products *= static_cast<double>(axis.atoms.size());
        if (axis.of == Axis::Of::Sensor)
            sensors.emplace_back(program.readings[static_cast<size_t>(axis.sensor)].name);
    }
    if (products > mostProducts)
        return fail(
            Error::Kind::OutOfRange, say("program '") + program.name + "'",
            say("its rules compare {} together in more than a million ways", joined(sensors, ", ")),
            say("let fewer readings decide together"));
    all.cells = Products(machine, mode, all.axes).cells();
    return all;
}

} // namespace

Result<Regions> of(const rules::Program &program, const Machine &machine, int mode)
{
    if (machine.modes[static_cast<size_t>(mode)].hold.is)
        return Regions{mode, {}, {}};
    return cellsOf(program, machine, mode, Axes(machine, mode).take());
}

Result<Regions> jointRegions(const rules::Program &program, const Machine &machine, int mode,
                             const Second &second, std::vector<std::string> &missing)
{
    Axes axes(machine, mode);
    axes.also(Axes(second.machine, second.mode), second.program, program, missing);
    return cellsOf(program, machine, mode, axes.take());
}

} // namespace badger::regions
