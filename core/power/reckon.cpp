// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/power/reckon.h"

#include "core/drive/bridge.h"

#include <algorithm>
#include <fmt/format.h>

namespace badger::power
{

using kit::Bound;
using parts::Kind;

size_t stateIndex(State s)
{
    return (static_cast<size_t>(s.charge) * 3 + static_cast<size_t>(s.load)) * 2 +
           static_cast<size_t>(s.figures);
}

namespace
{

class Reckoner
{
public:
    Reckoner(Tree &tree, const kit::Assembly &car, State state, const StallAmps &stalls)
        : m_tree(tree), m_car(car), m_state(state), m_stalls(stalls)
    {
    }

    void all()
    {
        for (size_t i = m_tree.nodes.size(); i-- > 0;) // children stand after their parents
            sumAmps(m_tree.nodes[i]);
        for (auto &node : m_tree.nodes)
            takeVolts(node);
    }

private:
    Bound worst(Bound bad) const { return m_state.figures == Case::Typical ? Bound::Typical : bad; }
    Values &of(Node &n) const { return n.states[stateIndex(m_state)]; }
    Values &above(const Node &n) const { return of(m_tree.nodes[static_cast<size_t>(n.parent)]); }
    const parts::Part &part(const Node &n) const
    {
        return *m_car.catalogue().find(m_car->instance(n.instance)->partId);
    }

    void note(Node &n, const std::string &sentence)
    {
        for (auto *list : {&n.missing, &m_tree.missing})
            if (std::find(list->begin(), list->end(), sentence) == list->end())
                list->push_back(sentence);
    }

    std::optional<double> figure(Node &n, const parts::Part &p, const std::string &key, Bound bad)
    {
        if (const auto *f = p.figure(key))
            return kit::at(*f, worst(bad));
        note(n, fmt::format("the {} of the {}", parts::figureName(key), p.name));
        return std::nullopt;
    }

    void sumAmps(Node &n)
    {
        const auto own = ownAmps(n, part(n));
        auto &v = of(n);
        v.amps_A += own.value_or(0.0);
        v.atLeast |= !own;
        if (n.parent < 0)
            return;
        above(n).amps_A += v.amps_A;
        above(n).atLeast |= v.atLeast;
    }

    /// What this node itself uses; none where that is not known.
    std::optional<double> ownAmps(Node &n, const parts::Part &p)
    {
        if (const auto stall = m_stalls.find(n.id);
            n.kind == NodeKind::Motor && m_state.load == Load::Stalled && stall != m_stalls.end())
            return stall->second;
        if (n.kind == NodeKind::Motor)
            return m_state.load == Load::Idle      ? std::optional(0.0)
                   : m_state.load == Load::Running ? figure(n, p, "running_A", Bound::High)
                                                   : figure(n, p, "stall_A", Bound::High);
        if (n.kind != NodeKind::Input && n.kind != NodeKind::Output)
            return 0.0;
        if (p.kind == Kind::Led)
            return m_state.load == Load::Idle ? std::optional(0.0) : ledAmps(n, p);
        const auto *own = ownSupply(p);
        const bool usesHere =
            p.kind == Kind::Buzzer || (own != nullptr && n.id == n.instance + "." + own->name);
        if (!usesHere)
            return 0.0;
        if (m_state.load == Load::Idle && p.figure("idle_A"))
            return figure(n, p, "idle_A", Bound::High);
        if (m_state.load == Load::Stalled && p.figure("stall_A"))
            return figure(n, p, "stall_A", Bound::High);
        return figure(n, p, "running_A", Bound::High);
    }

    /// What its resistor lets through; where none is noted, the current it is made for.
    std::optional<double> ledAmps(Node &n, const parts::Part &p)
    {
        const auto ohm = m_car->instance(n.instance)->resistor_ohm;
        const auto forward = figure(n, p, "forward_V", Bound::Low);
        const auto *logic = part(m_tree.nodes[static_cast<size_t>(n.parent)]).figure("logic_V");
        if (ohm && *ohm > 0.0 && forward && logic)
            return std::max(0.0, logic->typical - *forward) / *ohm;
        return figure(n, p, "running_A", Bound::High);
    }

    void takeVolts(Node &n)
    {
        auto &v = of(n);
        const auto &p = part(n);
        if (n.kind == NodeKind::Source) {
            takeSource(n, p);
            if (n.parent >= 0) { // in series: on top of what is below
                v.feed_V += above(n).volts_V;
                v.ceiling_V += above(n).ceiling_V;
                v.voltsKnown &= above(n).voltsKnown;
                v.atMost |= above(n).atMost;
            }
        } else {
            v.feed_V = above(n).volts_V;
            v.ceiling_V = above(n).ceiling_V;
            v.atMost = above(n).atMost;
            v.voltsKnown = above(n).voltsKnown;
            if (n.kind == NodeKind::Link)
                takeLink(p, v);
            if (n.kind == NodeKind::Channel)
                takeChannel(n, p);
        }
        v.volts_V = std::max(0.0, v.feed_V - v.ohm_V - v.fixed_V);
        if (n.kind == NodeKind::Output)
            takeOutput(n, p);
    }

    void takeSource(Node &n, const parts::Part &p)
    {
        auto &v = of(n);
        const auto &fitted = *m_car->instance(n.instance);
        const auto low =
            kit::sourceVolts_V(fitted, m_car.catalogue(), m_state.charge, worst(Bound::Low));
        const auto high =
            kit::sourceVolts_V(fitted, m_car.catalogue(), m_state.charge, worst(Bound::High));
        v.voltsKnown = low.has_value();
        v.feed_V = v.own_V = low.value_or(0.0);
        v.ceiling_V = high.value_or(0.0);
        const auto one = figure(n, p, "resistance_ohm", Bound::High);
        double ohm = one.value_or(0.0);
        bool known = one.has_value();
        if (p.kind == Kind::Cell) {
            ohm = ohm * fitted.cellsInSeries / std::max(1, fitted.cellsInParallel);
            for (const auto &group : fitted.otherCells)
                if (const auto *cell = m_car.catalogue().find(group.partId)) {
                    const auto other = figure(n, *cell, "resistance_ohm", Bound::High);
                    ohm += other.value_or(0.0) * group.cells;
                    known &= other.has_value();
                }
        }
        v.ohm = ohm;
        v.ohm_V = ohm * v.amps_A;
        v.atMost = !known || v.atLeast;
        if (v.ohm_V > 0.0)
            v.heat_W = std::min(v.ohm_V, v.feed_V) * v.amps_A;
    }

    void takeLink(const parts::Part &p, Values &v) const
    {
        if (const auto *drop = p.figure("drop_V")) {
            v.fixed_V = v.amps_A > 0.0 ? kit::at(*drop, worst(Bound::High)) : 0.0;
            v.ceiling_V -= v.amps_A > 0.0 ? kit::at(*drop, worst(Bound::Low)) : 0.0;
        }
        if (const auto *ohm = p.figure("resistance_ohm"))
            v.ohm = kit::at(*ohm, worst(Bound::High));
        v.ohm_V = v.ohm * v.amps_A;
        const double heat = std::min(v.fixed_V + v.ohm_V, v.feed_V) * v.amps_A;
        if (heat > 0.0)
            v.heat_W = heat;
    }

    void takeChannel(Node &n, const parts::Part &p)
    {
        auto &v = of(n);
        const auto drop = drive::bridgeDrop(p, v.amps_A, worst(Bound::High));
        // The most volts come out while little flows: a resistive bridge then drops nothing.
        const double least_A = m_state.figures == Case::Worst ? 0.0 : v.amps_A;
        const auto least = drive::bridgeDrop(p, least_A, worst(Bound::Low));
        if (!drop || !least) {
            note(n, fmt::format("the drop of the {}", p.name));
            v.atMost = true;
            return;
        }
        v.fixed_V = drop->volts_V;
        v.ceiling_V = std::max(0.0, v.ceiling_V - least->volts_V);
        if (v.amps_A > 0.0)
            v.heat_W = std::min(v.fixed_V, v.feed_V) * v.amps_A;
    }

    void takeOutput(Node &n, const parts::Part &p)
    {
        auto &v = of(n);
        const auto *t = p.terminal(kit::splitTerminal(n.id).terminal);
        const auto *diode = p.figure("diode_V");
        const auto *dropout = p.figure("dropout_V");
        v.fixed_V = diode ? kit::at(*diode, worst(Bound::High)) : 0.0;
        const double reach_V =
            v.feed_V - v.fixed_V - (dropout ? kit::at(*dropout, worst(Bound::High)) : 0.0);
        v.held = dropout ? reach_V >= t->source_V : v.feed_V >= t->needs_V;
        v.volts_V = v.held ? t->source_V : std::max(0.0, std::min(reach_V, t->source_V));
        if (!dropout)
            note(n, fmt::format("the {} of the {}", parts::figureName("dropout_V"), p.name));
        // The hottest case takes the highest input, since sag spares the regulator.
        const double diodeLeast_V = diode ? kit::at(*diode, worst(Bound::Low)) : 0.0;
        const double in_V = m_state.figures == Case::Typical ? v.feed_V : v.ceiling_V;
        const double over_V = in_V - diodeLeast_V - t->source_V;
        if (v.voltsKnown && over_V > 0.0 && v.amps_A > 0.0)
            v.heat_W = over_V * v.amps_A;
        v.ceiling_V = std::min(v.ceiling_V, t->source_V);
        v.atMost = v.atMost && !v.held;
    }

    Tree &m_tree;
    const kit::Assembly &m_car;
    State m_state;
    const StallAmps &m_stalls;
};

} // namespace

void reckon(Tree &tree, const kit::Assembly &car, State state, const StallAmps &stalls)
{
    Reckoner(tree, car, state, stalls).all();
}

} // namespace badger::power
