// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/circuit/car_network.h"

#include "core/circuit/make_network.h"

#include <algorithm>
#include <cassert>
#include <numeric>

namespace badger::circuit
{

using kit::Bound;
using parts::Kind;

namespace
{

// What no figure says; choices of ours, on the safe side of usual parts.
constexpr double contact_ohm = 1e-4;     ///< of a jumper, a diode's own resistance
constexpr double sensorOutput_ohm = 500; ///< of a sensor's output stage
constexpr double freewheel_V = 0.8;      ///< of the diode beside a half bridge
constexpr double freewheel_ohm = 0.1;
constexpr double body_V = 0.7; ///< a part that is fed backwards conducts from here on
constexpr double body_ohm = 1.0;
constexpr double clamp_ohm = 20.0;
constexpr double knee_V = 1.0; ///< below, a part takes less than its current
constexpr double off_V = 1e4;  ///< a transistor that is off
// Levels of an input, in volts over its own ground: usual transistor logic.
constexpr double lowBelow_V = 0.8;
constexpr double highAbove_V = 2.0;

/// Of drops and resistances.
Bound lossBound(Figures f)
{
    return f == Figures::Typical ? Bound::Typical : f == Figures::Least ? Bound::High : Bound::Low;
}
/// Of what the parts take.
Bound loadBound(Figures f)
{
    return f == Figures::Typical ? Bound::Typical : f == Figures::Most ? Bound::Low : Bound::High;
}

std::optional<double> figure(const parts::Part &part, const char *key, Bound bound)
{
    const auto *f = part.figure(key);
    return f ? std::optional(kit::at(*f, bound)) : std::nullopt;
}

double cellsOhm(const Element &e, const parts::Catalogue &catalogue, Bound bound)
{
    double ohm = figure(*e.part, "resistance_ohm", bound).value_or(0.0);
    if (e.part->kind == Kind::Cell) {
        ohm = ohm * e.fitted->cellsInSeries / std::max(1, e.fitted->cellsInParallel);
        for (const auto &group : e.fitted->otherCells)
            if (const auto *cell = catalogue.find(group.partId))
                ohm += figure(*cell, "resistance_ohm", bound).value_or(0.0) * group.cells;
    }
    return std::max(ohm, contact_ohm);
}

Curve sourceCurve(const Element &e, const parts::Catalogue &catalogue, const Conditions &c)
{
    const auto of = c.figures == Figures::Typical ? Bound::Typical
                    : c.figures == Figures::Least ? Bound::Low
                                                  : Bound::High;
    const auto volts = kit::sourceVolts_V(*e.fitted, catalogue, c.charge, of);
    if (!volts || *volts <= 0.0)
        return Curve::open();
    const double ohm = cellsOhm(e, catalogue, lossBound(c.figures));
    const auto limit = figure(*e.part, "limit_A", Bound::Typical);
    return e.part->kind == Kind::Supply && limit ? Curve::supply(*volts, ohm, *limit)
                                                 : Curve::cells(*volts, ohm);
}

Curve linkCurve(const Element &e, const Conditions &c)
{
    if (const auto drop = figure(*e.part, "drop_V", lossBound(c.figures)))
        return Curve::diode(*drop, contact_ohm);
    if (e.part->shape == "switch" && !c.switched)
        return Curve::open();
    return Curve::resistor(
        std::max(contact_ohm,
                 figure(*e.part, "resistance_ohm", lossBound(c.figures)).value_or(contact_ohm)));
}

/// What a part takes for itself; 0 where that is not known.
double ownAmps(const parts::Part &part, const Conditions &c)
{
    const auto bound = loadBound(c.figures);
    if (c.moving == Moving::Idle)
        if (const auto idle = figure(part, "idle_A", bound))
            return *idle;
    if (c.moving == Moving::Stalled)
        if (const auto stall = figure(part, "stall_A", bound))
            return *stall;
    return figure(part, "running_A", bound).value_or(0.0);
}

Curve motorCurve(const parts::Part &part, const Conditions &c)
{
    const auto bound = loadBound(c.figures);
    const auto rated = figure(part, "rated_V", Bound::Typical);
    const auto stall = figure(part, "stall_A", bound);
    if (!rated || !stall || *stall <= 0.0)
        return Curve::open();
    const double ohm = *rated / *stall;
    const auto running = figure(part, "running_A", bound);
    if (c.moving == Moving::Stalled || !running)
        return Curve::resistor(ohm);
    return Curve::turning(std::min(*running, *stall), ohm);
}

/// A half bridge that is on: half of the bridge's drop.
Curve halfCurve(const parts::Part &part, const Conditions &c)
{
    const auto bound = lossBound(c.figures);
    if (const auto on = figure(part, "on_ohm", bound))
        return Curve::resistor(std::max(contact_ohm, *on / 2.0));
    const auto drop = figure(part, "drop_V", bound);
    const double ohm = figure(part, "drop_ohm", bound).value_or(0.0);
    return drop ? Curve::twoWay(*drop / 2.0, std::max(contact_ohm, ohm / 2.0), freewheel_V,
                                freewheel_ohm)
                : Curve::open();
}

} // namespace

double pinOhm(const parts::Part &board)
{
    constexpr double share = 0.1; // of the logic volts is lost at the advised current
    constexpr double usual_ohm = 25.0;
    const auto *logic = board.figure("logic_V");
    const auto *advised = board.figure("pin_advised_A");
    return logic && advised && advised->typical > 0.0 ? share * logic->typical / advised->typical
                                                      : usual_ohm;
}

CarNetwork::CarNetwork(const nets::Nets &nets) : m_nets(nets)
{
    Maker(*this).make();
    m_solver.emplace(m_shape);
}

namespace
{

Curve curveOf(const Element &e, const parts::Catalogue &catalogue, const Conditions &c,
              Level output, Level half)
{
    switch (e.what) {
    case What::Source:
        return sourceCurve(e, catalogue, c);
    case What::Link:
        return linkCurve(e, c);
    case What::Motor:
        return motorCurve(*e.part, c);
    case What::Own:
        return Curve::load(e.to == noMember ? 0.0 : ownAmps(*e.part, c), knee_V,
                           e.part->figure("diode_V") ? off_V : body_V, body_ohm);
    case What::Light: {
        const double own = e.fitted->resistor_ohm.value_or(0.0);
        return Curve::diode(figure(*e.part, "forward_V", lossBound(c.figures)).value_or(0.0),
                            std::max(1.0, own));
    }
    case What::Upper:
        return half == Level::High
                   ? halfCurve(*e.part, c)
                   : Curve::twoWay(off_V, freewheel_ohm, freewheel_V, freewheel_ohm);
    case What::Lower:
        return half == Level::Low ? halfCurve(*e.part, c)
                                  : Curve::twoWay(off_V, freewheel_ohm, freewheel_V, freewheel_ohm);
    case What::PinHigh:
        return output == Level::High ? Curve::resistor(pinOhm(*e.part)) : Curve::open();
    case What::PinLow:
        return output == Level::Low ? Curve::resistor(pinOhm(*e.part)) : Curve::open();
    case What::SensorHigh:
        return output == Level::High ? Curve::resistor(sensorOutput_ohm) : Curve::open();
    case What::SensorLow:
        return output == Level::Low ? Curve::resistor(sensorOutput_ohm) : Curve::open();
    case What::Clamp:
        return Curve::diode(body_V, clamp_ohm);
    case What::Resistor:
    case What::Jumper:
        break;
    }
    return Curve::open(); // resistors keep the curve of the shape
}

} // namespace

Network CarNetwork::network(const Conditions &c, const std::vector<Level> &levels,
                            const std::vector<Level> &halves) const
{
    auto n = m_shape;
    const auto &catalogue = m_nets.car().catalogue();
    for (size_t i = 0; i < m_elements.size(); ++i) {
        const auto &e = m_elements[i];
        if (e.what == What::Resistor || e.what == What::Jumper)
            continue;
        const bool half = e.what == What::Upper || e.what == What::Lower;
        const auto level = [&](const std::vector<Level> &all) {
            return e.output < all.size() ? all[e.output] : Level::Open;
        };
        n.branches[i].curve = curveOf(e, catalogue, c, half ? Level::Open : level(levels),
                                      half ? level(halves) : Level::Open);
    }
    for (size_t i = 0; i < m_regulators.size(); ++i) {
        const auto &part = *m_regulators[i].part;
        const auto bound = lossBound(c.figures);
        auto &r = n.regulators[i];
        if (const auto dropout = figure(part, "dropout_V", bound))
            r.dropout_V = *dropout + figure(part, "diode_V", bound).value_or(0.0);
    }
    return n;
}

Answer CarNetwork::solveWith(const Conditions &conditions, const std::vector<Level> &levels,
                             const std::vector<Level> &halves, const Answer *before) const
{
    Answer a;
    a.halves = halves;
    const auto n = network(conditions, levels, halves);
    a.solution = before ? m_solver->solve(n, before->solution.volts_V) : m_solver->solve(n);
    a.solved = a.settled = a.solution.solved;
    a.islands = islands(n, a.solution);
    return a;
}

Answer CarNetwork::solve(const Conditions &conditions, const std::vector<Level> &levels,
                         const Answer *before) const
{
    constexpr int mostRounds = 8;
    Answer a;
    a.halves.assign(m_motorOutputs.size(), Level::Open);
    if (before)
        a.halves = before->halves;
    const std::vector<double> none;
    const auto *start = before ? &before->solution.volts_V : &none;
    for (int round = 0; round < mostRounds; ++round) {
        const auto n = network(conditions, levels, a.halves);
        a.solution = m_solver->solve(n, *start);
        a.solved = a.solution.solved;
        a.islands = islands(n, a.solution);
        start = &a.solution.volts_V;
        auto halves = halvesFor(a, conditions.driven, levels);
        a.settled = halves == a.halves;
        // A driver that its own short switches off comes back, and so on: then it is not settled.
        if (a.settled || !a.solved || round + 1 == mostRounds)
            break;
        a.halves = std::move(halves);
    }
    return a;
}

std::optional<double> CarNetwork::volts_V(const Answer &a, size_t member) const
{
    const int node = nodeOf(member);
    return node < 0 ? std::nullopt : std::optional(a.solution.volts_V[static_cast<size_t>(node)]);
}

std::optional<double> CarNetwork::ownVolts_V(const Answer &a, size_t member) const
{
    const auto volts = volts_V(a, member);
    const auto ground = groundOf(member);
    if (!volts || ground == noMember)
        return volts;
    return *volts - volts_V(a, ground).value_or(0.0);
}

size_t CarNetwork::groundOf(size_t member) const
{
    return m_ground[member];
}

size_t CarNetwork::logicOf(size_t member) const
{
    return m_logic[member];
}

bool CarNetwork::isHeld(const Answer &a, size_t member) const
{
    const int node = nodeOf(member);
    return node >= 0 && a.islands[static_cast<size_t>(node)] == a.islands[0];
}

bool CarNetwork::hasGround(const Answer &a, size_t member) const
{
    const int node = nodeOf(member);
    const int ground = groundOf(member) == noMember ? 0 : nodeOf(groundOf(member));
    return node >= 0 && ground >= 0 &&
           a.islands[static_cast<size_t>(node)] == a.islands[static_cast<size_t>(ground)];
}

size_t CarNetwork::ownSupplyOf(size_t member) const
{
    return m_own[member];
}

Seen CarNetwork::seen(const Answer &a, size_t input) const
{
    const auto ground = groundOf(input);
    if (!isHeld(a, input) || (ground != noMember && !isHeld(a, ground)))
        return Seen::Open;
    const double v = ownVolts_V(a, input).value_or(0.0);
    return v < lowBelow_V ? Seen::Low : v > highAbove_V ? Seen::High : Seen::Between;
}

std::vector<Level> CarNetwork::allDriven() const
{
    std::vector<Level> halves(m_motorOutputs.size(), Level::Open);
    for (const auto &b : m_bridges)
        if (b.outputs.size() == 2) {
            halves[b.outputs[0]] = Level::High;
            halves[b.outputs[1]] = Level::Low;
        }
    return halves;
}

std::vector<Level> CarNetwork::halvesFor(const Answer &a, bool driven,
                                         const std::vector<Level> &levels) const
{
    std::vector<Level> halves(m_motorOutputs.size(), Level::Open);
    for (const auto &b : m_bridges) {
        const auto logic = logicOf(m_motorOutputs[b.outputs.front()]);
        if (logic != noMember && ownVolts_V(a, logic).value_or(0.0) < alive_V)
            continue;
        const auto enable = b.enable == noMember ? Seen::High : seen(a, b.enable);
        if (driven && b.outputs.size() == 2 && (b.enable == noMember || enable != Seen::Low)) {
            halves[b.outputs[0]] = Level::High;
            halves[b.outputs[1]] = Level::Low;
            continue;
        }
        if (b.part->kind == parts::Kind::Board) { // its ports are outputs of their own
            for (const size_t o : b.outputs)
                for (size_t i = 0; i < m_outputs.size() && i < levels.size(); ++i)
                    if (m_outputs[i].member == m_motorOutputs[o])
                        halves[o] = levels[i];
            continue;
        }
        std::string inputs;
        for (const size_t d : b.directions)
            inputs += seen(a, d) == Seen::High ? '1' : '0';
        for (const auto &row : b.part->truth) {
            if (row.enabled != (enable == Seen::High) || row.inputs != inputs)
                continue;
            for (const size_t o : b.outputs) {
                const auto &name = m_nets.all()[m_motorOutputs[o]].terminal->name;
                bool high = false;
                for (size_t i = 0; i < inputs.size(); ++i)
                    high |=
                        inputs[i] == '1' && m_nets.all()[b.directions[i]].terminal->output == name;
                if (row.does == "drive")
                    halves[o] = high ? Level::High : Level::Low;
                else if (row.does == "brake")
                    halves[o] = Level::Low;
            }
        }
    }
    return halves;
}

std::vector<int> islands(const Network &n, const Solution &s)
{
    constexpr double holds_S = 1e-7; // 10 Mohm
    std::vector<int> island(static_cast<size_t>(n.nodes));
    std::iota(island.begin(), island.end(), 0);
    const auto root = [&](int i) {
        while (island[static_cast<size_t>(i)] != i)
            i = island[static_cast<size_t>(i)];
        return i;
    };
    const auto join = [&](int a, int b) {
        const int x = root(a);
        const int y = root(b);
        island[static_cast<size_t>(std::max(x, y))] = std::min(x, y);
    };
    const auto volts = [&](int node) { return s.volts_V[static_cast<size_t>(node)]; };
    for (const auto &b : n.branches)
        if (b.curve.at(volts(b.from) - volts(b.to)).slope_S > holds_S)
            join(b.from, b.to);
    for (size_t i = 0; i < n.regulators.size(); ++i)
        if (s.regulators_A[i] > leak_S)
            join(n.regulators[i].in, n.regulators[i].out);
    for (int i = 0; i < n.nodes; ++i)
        island[static_cast<size_t>(i)] = root(i);
    return island;
}

} // namespace badger::circuit
