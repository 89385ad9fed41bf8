// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/power/read_off.h"

#include "core/drive/bridge.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace badger::power
{

using circuit::Level;
using circuit::noMember;
using circuit::What;
using kit::Bound;
using parts::Kind;
using parts::Role;

size_t stateIndex(State s)
{
    return (static_cast<size_t>(s.charge) * 3 + static_cast<size_t>(s.load)) * 2 +
           static_cast<size_t>(s.figures);
}

namespace
{

constexpr double leak_A = 1e-6; // what the solver lets through where nothing is

/// One state of the network, asked by terminals and parts.
class Solved
{
public:
    /// `before`: an answer of a state like it, from which the search is short.
    Solved(const circuit::CarNetwork &network, State state, circuit::Figures figures,
           const circuit::Answer *before)
        : m_network(network)
    {
        const bool moves = state.load != Load::Idle;
        const circuit::Conditions conditions{state.charge, static_cast<circuit::Moving>(state.load),
                                             figures, true, moves};
        // What only shines or sounds is on while the car moves.
        std::vector<Level> levels(network.outputs().size(), Level::Low);
        for (size_t i = 0; i < levels.size(); ++i)
            if (moves && network.outputs()[i].pin && drivesLight(network.outputs()[i].member))
                levels[i] = Level::High;
        const std::vector<Level> off(network.motorOutputs().size(), Level::Open);
        m_answer = network.solveWith(conditions, levels, moves ? network.allDriven() : off, before);
        if (m_answer.solved)
            sumTerminals();
    }

    bool isSolved() const { return m_answer.solved; }
    const circuit::Answer &answer() const { return m_answer; }

    /// Volts of a terminal over its own part's ground, or over the reference where it has none;
    /// none are there where only leaks lead.
    std::optional<double> volts_V(const std::string &terminal) const
    {
        const auto m = member(terminal);
        if (m == noMember)
            return std::nullopt;
        return m_network.hasGround(m_answer, m) ? m_network.ownVolts_V(m_answer, m) : 0.0;
    }

    /// What flows into the part at this terminal.
    double into_A(const std::string &terminal) const
    {
        const auto m = member(terminal);
        return m == noMember ? 0.0 : m_into_A[m];
    }

    /// Of a part's element of one kind, from its first end to its second; 0 where it has none.
    double amps_A(const std::string &instance, What what) const
    {
        for (size_t i = 0; i < m_network.elements().size(); ++i)
            if (const auto &e = m_network.elements()[i]; e.what == what && e.fitted->id == instance)
                return m_answer.solution.amps_A[i];
        return 0.0;
    }

    /// Of a regulated output.
    double regulated_A(const std::string &terminal) const
    {
        const auto m = member(terminal);
        for (size_t i = 0; i < m_network.regulators().size(); ++i)
            if (m != noMember && m_network.regulators()[i].to == m)
                return m_answer.solution.regulators_A[i];
        return 0.0;
    }

    /// What a bridge takes for its motors, and the volts between its two outputs.
    struct Bridge {
        double amps_A = 0.0;
        double volts_V = 0.0;
    };
    Bridge bridge(const kit::Instance &driver, const parts::Part &part,
                  const std::string &channel) const
    {
        Bridge b;
        std::vector<double> ends_V;
        for (const auto &t : part.terminals) {
            const auto m = t.role == Role::MotorOut && t.channel == channel
                               ? member(driver.id + "." + t.name)
                               : noMember;
            if (m == noMember)
                continue;
            ends_V.push_back(m_network.volts_V(m_answer, m).value_or(0.0));
            for (size_t i = 0; i < m_network.elements().size(); ++i)
                if (const auto &e = m_network.elements()[i]; e.what == What::Upper && e.to == m)
                    b.amps_A += std::max(0.0, m_answer.solution.amps_A[i]);
        }
        if (ends_V.size() == 2)
            b.volts_V = std::abs(ends_V[0] - ends_V[1]);
        return b;
    }

private:
    size_t member(const std::string &terminal) const
    {
        const auto *m = m_network.nets().member(terminal);
        return m ? static_cast<size_t>(m - m_network.nets().all().data()) : noMember;
    }

    bool drivesLight(size_t pin) const
    {
        const auto &nets = m_network.nets();
        const auto ends = nets.onLine(nets.all()[pin].name, Role::Signal);
        return std::any_of(ends.begin(), ends.end(), [&](const std::string &end) {
            const auto kind = nets.member(end)->part->kind;
            return kind == Kind::Led || kind == Kind::Buzzer;
        });
    }

    void sumTerminals()
    {
        m_into_A.assign(m_network.nets().all().size(), 0.0);
        const auto take = [&](const circuit::Element &e, double amps) {
            if (e.from != noMember)
                m_into_A[e.from] += amps;
            if (e.to != noMember)
                m_into_A[e.to] -= amps;
        };
        for (size_t i = 0; i < m_network.elements().size(); ++i)
            take(m_network.elements()[i], m_answer.solution.amps_A[i]);
        for (size_t i = 0; i < m_network.regulators().size(); ++i)
            take(m_network.regulators()[i], m_answer.solution.regulators_A[i]);
    }

    const circuit::CarNetwork &m_network;
    circuit::Answer m_answer;
    std::vector<double> m_into_A; ///< by terminal
};

class Reader
{
public:
    /// Volts are read from one network, amps from the other: the same but in the worst case.
    Reader(Tree &tree, const kit::Assembly &car, const Solved &volts, const Solved &amps,
           State state)
        : m_tree(tree), m_car(car), m_volts(volts), m_amps(amps), m_state(state)
    {
    }

    void all()
    {
        for (size_t i = m_tree.nodes.size(); i-- > 0;) // children stand after their parents
            readAmps(m_tree.nodes[i]);
        for (auto &node : m_tree.nodes)
            readVolts(node);
    }

private:
    Bound worst(Bound bad) const { return m_state.figures == Case::Typical ? Bound::Typical : bad; }
    Values &of(Node &n) const { return n.states[stateIndex(m_state)]; }
    Node &above(const Node &n) const { return m_tree.nodes[static_cast<size_t>(n.parent)]; }
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

    /// Is the figure known by which the network has this node's own current?
    bool knowsOwnAmps(Node &n, const parts::Part &p)
    {
        const bool idle = m_state.load == Load::Idle;
        const bool stalled = m_state.load == Load::Stalled;
        if (n.kind == NodeKind::Motor)
            return idle || figure(n, p, stalled ? "stall_A" : "running_A", Bound::High);
        if (n.kind != NodeKind::Input && n.kind != NodeKind::Output)
            return true;
        if (p.kind == Kind::Led)
            return idle || figure(n, p, "forward_V", Bound::Low);
        const auto *own = ownSupply(p);
        if (p.kind != Kind::Buzzer && (own == nullptr || n.id != n.instance + "." + own->name))
            return true;
        const char *key = idle && p.figure("idle_A")       ? "idle_A"
                          : stalled && p.figure("stall_A") ? "stall_A"
                                                           : "running_A";
        return figure(n, p, key, Bound::High).has_value();
    }

    bool isSolved() const { return m_volts.isSolved() && m_amps.isSolved(); }

    void readAmps(Node &n)
    {
        auto &v = of(n);
        v.atLeast |= !knowsOwnAmps(n, part(n)) || !isSolved();
        if (n.parent >= 0)
            of(above(n)).atLeast |= v.atLeast;
        if (!isSolved())
            return;
        const auto noLeak = [](double amps) { return std::abs(amps) < leak_A ? 0.0 : amps; };
        v.flow_A = noLeak(throughOf(n, m_volts, &Values::flow_A));
        v.amps_A = noLeak(throughOf(n, m_amps, &Values::amps_A));
    }

    double throughOf(Node &n, const Solved &solved, double Values::*children)
    {
        switch (n.kind) {
        case NodeKind::Source:
            return -solved.amps_A(n.instance, What::Source);
        case NodeKind::Link:
            return n.in == n.out ? wiredOn_A(n, children) // a rail passes on what hangs on it
                                 : std::abs(solved.amps_A(n.instance, What::Link));
        case NodeKind::Input:
            return part(n).kind == Kind::Led      ? solved.amps_A(n.instance, What::Light)
                   : part(n).kind == Kind::Buzzer ? solved.amps_A(n.instance, What::Own)
                                                  : solved.into_A(n.in) + wiredOn_A(n, children);
        case NodeKind::Output:
            return solved.regulated_A(n.out);
        case NodeKind::Channel:
            return bridge(n, solved).amps_A;
        case NodeKind::Motor:
            return std::abs(solved.amps_A(n.instance, What::Motor));
        }
        return 0.0;
    }

    /// What its terminal hands on by wires; what hangs inside the part, or on its pins, is counted
    /// where it enters.
    double wiredOn_A(const Node &n, double Values::*amps)
    {
        double sum = 0.0;
        for (const int child : m_tree.childrenOf(m_tree.indexOf(n.id))) {
            auto &c = m_tree.nodes[static_cast<size_t>(child)];
            const auto kind = part(c).kind;
            if (c.instance != n.instance && kind != Kind::Led && kind != Kind::Buzzer)
                sum += of(c).*amps;
        }
        return sum;
    }

    Solved::Bridge bridge(const Node &n, const Solved &solved) const
    {
        return solved.bridge(*m_car->instance(n.instance), part(n),
                             kit::splitTerminal(n.id).terminal);
    }

    void readVolts(Node &n)
    {
        const auto &p = part(n);
        auto &v = of(n);
        if (n.parent >= 0) {
            const auto &from = of(above(n));
            v.ceiling_V = from.ceiling_V;
            v.atMost = from.atMost;
            v.voltsKnown = from.voltsKnown;
        }
        if (!isSolved()) {
            v.voltsKnown = false;
            v.atMost = true;
            return;
        }
        if (n.kind != NodeKind::Source)
            takeFeed(n);
        switch (n.kind) {
        case NodeKind::Source:
            return takeSource(n, p);
        case NodeKind::Link:
            return takeLink(n, p);
        case NodeKind::Channel:
            return takeChannel(n, p);
        case NodeKind::Output:
            return takeOutput(n, p);
        case NodeKind::Input:
        case NodeKind::Motor:
            v.volts_V = v.feed_V;
            return;
        }
    }

    /// What reaches the node, and whether its branch alone brings it there.
    void takeFeed(Node &n) const
    {
        auto &v = of(n);
        const auto &from = of(above(n));
        v.feed_V = from.volts_V;
        v.branch_V = from.branch_V;
        const auto there = n.in.empty() ? std::nullopt : m_volts.volts_V(n.in);
        if (!there)
            return;
        v.feed_V = *there;
        v.offBranch = v.voltsKnown && std::abs(*there - v.branch_V) > differs_V;
        if (v.offBranch) // another supply may be the higher one; then nothing sags there either
            v.ceiling_V = *there > v.branch_V ? std::max(*there, v.ceiling_V) : *there;
    }

    void takeSource(Node &n, const parts::Part &p)
    {
        auto &v = of(n);
        const auto &fitted = *m_car->instance(n.instance);
        const auto low =
            kit::sourceVolts_V(fitted, m_car.catalogue(), m_state.charge, worst(Bound::Low));
        const auto high =
            kit::sourceVolts_V(fitted, m_car.catalogue(), m_state.charge, worst(Bound::High));
        const auto *below = n.parent < 0 ? nullptr : &of(above(n)); // in series: on top of it
        v.own_V = low.value_or(0.0);
        v.feed_V = v.own_V + (below ? below->volts_V : 0.0);
        v.ceiling_V = high.value_or(0.0) + (below ? below->ceiling_V : 0.0);
        v.voltsKnown = low.has_value() && (below == nullptr || below->voltsKnown);
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
        v.ohm_V = ohm * std::max(0.0, v.flow_A);
        v.atMost = !known || v.atLeast || (below != nullptr && below->atMost);
        const auto plus = m_volts.volts_V(n.out);
        const auto minus = m_volts.volts_V(n.in);
        v.volts_V =
            plus && minus ? *plus - *minus + (below ? below->volts_V : 0.0) : v.feed_V - v.ohm_V;
        v.fixed_V = rest(v); // of a supply that is asked for more than it gives
        v.branch_V = v.volts_V;
        if (v.ohm_V > 0.0)
            v.heat_W = ohm * v.amps_A * v.amps_A;
    }

    void takeLink(Node &n, const parts::Part &p) const
    {
        auto &v = of(n);
        if (const auto *drop = p.figure("drop_V"); drop && v.amps_A > 0.0 && !v.offBranch)
            v.ceiling_V -= kit::at(*drop, worst(Bound::Low));
        if (const auto *ohm = p.figure("resistance_ohm"))
            v.ohm = kit::at(*ohm, worst(Bound::High));
        v.ohm_V = v.ohm * v.flow_A;
        v.volts_V = n.in == n.out ? v.feed_V : m_volts.volts_V(n.out).value_or(v.feed_V);
        v.fixed_V = rest(v);
        v.branch_V -= v.ohm_V + v.fixed_V;
        const double heat_W = (v.fixed_V + v.ohm * v.amps_A) * v.amps_A;
        if (heat_W > 0.0)
            v.heat_W = heat_W;
    }

    /// What the resistance does not explain, without the last digits of two sums.
    static double rest(const Values &v)
    {
        constexpr double rounding_V = 1e-6;
        const double left = v.feed_V - v.ohm_V - v.volts_V;
        return std::abs(left) < rounding_V ? 0.0 : left;
    }

    void takeChannel(Node &n, const parts::Part &p)
    {
        auto &v = of(n);
        const bool loaded = v.flow_A > 0.0;
        const auto drop = drive::bridgeDrop(p, v.flow_A, worst(Bound::High));
        // The most volts come out while little flows: a resistive bridge then drops nothing.
        const double least_A = m_state.figures == Case::Worst ? 0.0 : v.amps_A;
        const auto least = drive::bridgeDrop(p, least_A, worst(Bound::Low));
        if (!drop || !least) {
            note(n, fmt::format("the drop of the {}", p.name));
            v.volts_V = v.feed_V;
            v.atMost = true;
            return;
        }
        v.ceiling_V = std::max(0.0, v.ceiling_V - least->volts_V);
        // Without a motor nothing flows, and a meter would find what the bridge is about to give.
        v.volts_V = loaded ? bridge(n, m_volts).volts_V : std::max(0.0, v.feed_V - drop->volts_V);
        v.fixed_V = loaded ? v.feed_V - v.volts_V : drop->volts_V;
        v.branch_V = v.volts_V;
        if (loaded)
            v.heat_W = v.fixed_V * v.amps_A;
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
        v.volts_V = m_volts.volts_V(n.out).value_or(0.0);
        v.branch_V = v.volts_V;
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
    const Solved &m_volts;
    const Solved &m_amps;
    State m_state;
};

} // namespace

void readOff(Tree &tree, const kit::Assembly &car, const circuit::CarNetwork &network)
{
    using circuit::Figures;
    circuit::Answer before; // one state after the other, each a little different
    const auto solved = [&](State state, Figures figures) {
        Solved s(network, state, figures, before.solved ? &before : nullptr);
        before = s.answer();
        return s;
    };
    for (const auto load : loads)
        for (const auto charge : kit::charges) {
            const State typical{charge, load, Case::Typical};
            const State worst{charge, load, Case::Worst};
            const auto middle = solved(typical, Figures::Typical);
            Reader(tree, car, middle, middle, typical).all();
            const auto least = solved(worst, Figures::Least);
            const auto greedy = solved(worst, Figures::Greedy);
            Reader(tree, car, least, greedy, worst).all();
        }
}

} // namespace badger::power
