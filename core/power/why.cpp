// SPDX-License-Identifier: GPL-3.0-or-later
// The arithmetic behind every number of the power tree.
#include "core/drive/bridge.h"
#include "core/power/amounts.h"
#include "core/power/read_off.h"
#include "core/power/tree.h"
#include "core/units/quantity.h"

#include <cmath>
#include <fmt/format.h>

namespace badger::power
{

using parts::Kind;
using units::quantity;
using units::Unit;

namespace
{

Say ampsOrMilliamps(double a)
{
    return std::abs(a) < 1.0 ? quantity(a, Unit::Milliampere, 0) : quantity(a, Unit::Ampere, 2);
}
units::Quantity watts(double w)
{
    return quantity(w, Unit::Watt, 2);
}

Say rangeOf(const parts::Figure &f, Unit unit, const Say &what)
{
    const auto source = f.source.empty() ? std::string{} : "; " + f.source;
    if (f.low == f.high)
        return what + source;
    return say("{}: {} to {}{}", what, quantity(f.low, unit, 3), quantity(f.high, unit, 3), source);
}

class Why
{
public:
    Why(const Tree &tree, const kit::Assembly &car, State state)
        : m_tree(tree), m_car(car), m_state(state)
    {
    }

    Derivation volts(int index)
    {
        std::vector<int> path;
        for (int i = index; i >= 0; i = m_tree.nodes[static_cast<size_t>(i)].parent)
            path.insert(path.begin(), i);
        for (const int i : path) {
            asWired(i);
            walk(m_tree.nodes[static_cast<size_t>(i)], value(i));
        }
        const auto &v = value(index);
        m_out.result = voltsText(v);
        const auto other = m_tree.at(index, otherCase());
        m_out.aside = say("{} case {}", name(otherCase().figures), voltsText(other));
        missing(m_tree.nodes[static_cast<size_t>(index)]);
        return std::move(m_out);
    }

    Derivation ampsOrMilliamps(int index)
    {
        const auto &node = m_tree.nodes[static_cast<size_t>(index)];
        double below = 0.0;
        for (const int child : m_tree.childrenOf(index)) {
            const auto &c = m_tree.nodes[static_cast<size_t>(child)];
            below += value(child).amps_A;
            m_out.steps.push_back({c.name,
                                   (m_out.steps.empty() ? "" : "+ ") + ampsText(value(child)),
                                   {},
                                   child == index ? "" : loadOf(c)});
        }
        const auto &v = value(index);
        if (const double own = v.amps_A - below; own > 1e-9 || m_out.steps.empty())
            m_out.steps.push_back({m_out.steps.empty() ? node.name : say("its own"),
                                   (m_out.steps.empty() ? "" : "+ ") + power::ampsOrMilliamps(own),
                                   stallHow(node), loadOf(node)});
        m_out.result = ampsText(v);
        m_out.aside =
            say("{} case {}", name(otherCase().figures), ampsText(m_tree.at(index, otherCase())));
        missing(node);
        return std::move(m_out);
    }

    Derivation heat(int index)
    {
        const auto &node = m_tree.nodes[static_cast<size_t>(index)];
        const auto &v = value(index);
        const auto &p = part(node);
        if (!v.heat_W) {
            m_out.result = say("no heat to speak of");
            return std::move(m_out);
        }
        m_out.result = watts(*v.heat_W);
        const double over_V = v.amps_A > 0.0 ? *v.heat_W / v.amps_A : 0.0;
        if (node.kind == NodeKind::Output) {
            const double in_V = m_state.figures == Case::Typical ? v.feed_V : v.ceiling_V;
            const auto *t = p.terminal(kit::splitTerminal(node.id).terminal);
            m_out.steps.push_back({"in", power::volts(in_V), {}, say("at the input")});
            if (const auto *diode = p.figure("diode_V"))
                m_out.steps.push_back({"diode",
                                       "− " + power::volts(in_V - over_V - t->source_V),
                                       {},
                                       rangeOf(*diode, Unit::Volt, parts::figureName("diode_V"))});
            m_out.steps.push_back({"out", "− " + power::volts(t->source_V), {}, "regulated"});
        } else {
            m_out.steps.push_back({"drop", power::volts(over_V), {}, say("lost in this node")});
        }
        m_out.steps.push_back(
            {"current", "× " + power::ampsOrMilliamps(v.amps_A), {}, say("through it")});
        m_out.aside = m_tree.at(index, otherCase()).heat_W
                          ? say("{} case {}", name(otherCase().figures),
                                watts(*m_tree.at(index, otherCase()).heat_W))
                          : "";
        return std::move(m_out);
    }

private:
    const Values &value(int i) const { return m_tree.at(i, m_state); }
    State otherCase() const
    {
        auto other = m_state;
        other.figures = m_state.figures == Case::Typical ? Case::Worst : Case::Typical;
        return other;
    }
    const parts::Part &part(const Node &n) const
    {
        return *m_car.catalogue().find(m_car->instance(n.instance)->partId);
    }

    Say loadOf(const Node &n) const
    {
        const auto &p = part(n);
        const char *key = m_state.load == Load::Idle && p.figure("idle_A")       ? "idle_A"
                          : m_state.load == Load::Stalled && p.figure("stall_A") ? "stall_A"
                                                                                 : "running_A";
        if (n.kind == NodeKind::Channel || n.kind == NodeKind::Link || n.kind == NodeKind::Source ||
            p.figure(key) == nullptr)
            return {};
        if (n.kind == NodeKind::Motor && m_state.load == Load::Idle)
            return say("a motor that is off draws nothing");
        return rangeOf(*p.figure(key), Unit::Ampere, parts::figureName(key));
    }

    /// A held motor is the resistance of its winding: rated volts over the sheet's stall current.
    Say stallHow(const Node &n) const
    {
        const auto *rated = part(n).figure("rated_V");
        const auto *stall = part(n).figure("stall_A");
        if (n.kind != NodeKind::Motor || m_state.load != Load::Stalled || !rated || !stall ||
            n.parent < 0)
            return {};
        const auto bound = m_state.figures == Case::Worst ? kit::Bound::High : kit::Bound::Typical;
        return say("{} ÷ {}", power::volts(value(n.parent).volts_V),
                   quantity(rated->typical / kit::at(*stall, bound), Unit::Ohm, 1));
    }

    void missing(const Node &node)
    {
        for (const auto &m : node.missing)
            m_out.steps.push_back({"missing", "?", {}, m});
    }

    /// Where the branch does not bring the volts that are there.
    void asWired(int index)
    {
        const auto &v = value(index);
        const int parent = m_tree.nodes[static_cast<size_t>(index)].parent;
        if (parent >= 0 && v.offBranch && std::abs(v.feed_V - value(parent).volts_V) > differs_V)
            m_out.steps.push_back({say("the wires make"),
                                   "→ " + power::volts(v.feed_V),
                                   {},
                                   say("what the branch does not bring: a second way, or another "
                                       "supply than is said to feed it")});
    }

    void walk(const Node &n, const Values &v)
    {
        const auto &p = part(n);
        switch (n.kind) {
        case NodeKind::Source: {
            const auto &fitted = *m_car->instance(n.instance);
            const bool cells = p.kind == Kind::Cell;
            m_out.steps.push_back({n.name,
                                   (m_out.steps.empty() ? "" : "+ ") + power::volts(v.own_V),
                                   cells && fitted.otherCells.empty()
                                       ? say("{} × {}", fitted.cellsInSeries,
                                             power::volts(v.own_V / fitted.cellsInSeries))
                                       : std::string{},
                                   cells ? say("{}, {}", p.name, name(m_state.charge)) : p.name});
            sag(v, say("sag in the {}", n.name));
            if (v.fixed_V > 0.005)
                m_out.steps.push_back({say("past its limit"),
                                       "− " + power::volts(v.fixed_V),
                                       {},
                                       say("it is asked for more than it gives")});
            return;
        }
        case NodeKind::Link:
            if (const auto *drop = p.figure("drop_V"); drop && v.fixed_V > 0.0)
                m_out.steps.push_back({n.name,
                                       "− " + power::volts(v.fixed_V),
                                       {},
                                       rangeOf(*drop, Unit::Volt, p.name)});
            sag(v, say("lost in the {}", n.name));
            return;
        case NodeKind::Output: {
            const auto *t = p.terminal(kit::splitTerminal(n.id).terminal);
            if (v.held && v.volts_V < t->source_V - differs_V)
                m_out.steps.push_back({n.name,
                                       "→ " + power::volts(v.volts_V),
                                       {},
                                       say("it is asked for more than it gives")});
            else if (v.held)
                m_out.steps.push_back(
                    {n.name,
                     "→ " + power::volts(t->source_V),
                     {},
                     p.figure("dropout_V")
                         ? say("held while its input is {} or more",
                               power::volts(t->source_V + v.fixed_V +
                                            p.figure("dropout_V")->typical))
                         : say("held while its input is {} or more", power::volts(t->needs_V))});
            else
                m_out.steps.push_back({n.name,
                                       "→ " + power::volts(v.volts_V),
                                       {},
                                       say("not held: its input is too low")});
            return;
        }
        case NodeKind::Channel: {
            const auto drop = drive::bridgeDrop(p, v.flow_A);
            const auto *figure = p.figure("drop_V");
            m_out.steps.push_back({say("drop of the {}", p.name), "− " + power::volts(v.fixed_V),
                                   drop && !drop->how.empty() ? say("= {}", drop->how) : Say(),
                                   figure ? rangeOf(*figure, Unit::Volt, say("this kind"))
                                          : say("a MOSFET bridge is a resistance")});
            return;
        }
        case NodeKind::Motor:
            m_out.steps.push_back({say("at full duty"),
                                   say("× 255 of 255"),
                                   {},
                                   say("mean volts go down with the count")});
            return;
        case NodeKind::Input:
            return;
        }
    }

    void sag(const Values &v, const Say &what)
    {
        if (v.ohm_V <= 0.0)
            return;
        m_out.steps.push_back(
            {what, "− " + power::volts(v.ohm_V),
             say("{} × {}", power::ampsOrMilliamps(v.flow_A), quantity(v.ohm, Unit::Ohm, 3)),
             say("{}", name(m_state.load))});
    }

    const Tree &m_tree;
    const kit::Assembly &m_car;
    State m_state;
    Derivation m_out;
};

} // namespace

Say voltsText(const Values &v)
{
    if (!v.voltsKnown)
        return "? V";
    if (v.offBranch)
        return say("{} (as wired)", volts(v.volts_V));
    return (v.atMost ? "≤ " : "") + volts(v.volts_V);
}

Say ampsText(const Values &v)
{
    if (v.atLeast && v.amps_A <= 0.0)
        return "? A";
    return (v.atLeast ? "≥ " : "") + ampsOrMilliamps(v.amps_A);
}

Derivation why(const Tree &tree, const kit::Assembly &car, std::string_view node, Quantity quantity,
               State state)
{
    const int index = tree.indexOf(node);
    if (index < 0)
        return {};
    Why w(tree, car, state);
    auto d = quantity == Quantity::Volts  ? w.volts(index)
             : quantity == Quantity::Amps ? w.ampsOrMilliamps(index)
                                          : w.heat(index);
    static constexpr const char *quantities[] = {"volts", "amps", "heat"};
    d.title = say("{} at {}: {}, {}, {} figures", quantities[static_cast<size_t>(quantity)],
                  tree.nodes[static_cast<size_t>(index)].name, name(state.charge), name(state.load),
                  name(state.figures));
    return d;
}

} // namespace badger::power
