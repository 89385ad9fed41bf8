// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/circuit/make_network.h"

#include <algorithm>
#include <numeric>

namespace badger::circuit
{

using parts::Kind;
using parts::Role;

namespace
{

constexpr double noLimit_A = 1e3;
constexpr double jumper_ohm = 1e-3;

bool isInput(Role role)
{
    return role == Role::Trigger || role == Role::Direction || role == Role::Enable ||
           role == Role::Signal;
}

/// A supply input a part runs itself on: not the motors', where it has another.
bool isOwn(const parts::Part &part, const parts::Terminal &t)
{
    const parts::Terminal *best = nullptr;
    for (const auto &x : part.terminals) {
        if (x.role == Role::SupplyOut && x.window) {
            best = &x;
            break;
        }
        if (x.role == Role::SupplyIn && (best == nullptr || (best->motors && !x.motors)))
            best = &x;
    }
    return best == &t;
}

} // namespace

void Maker::make()
{
    findNodes();
    findGrounds();
    findOutputs();
    findBridges();
    addParts();
    m_in.m_nodeOf.resize(m_all.size());
    for (size_t i = 0; i < m_all.size(); ++i) {
        const auto it = m_nodeOfRoot.find(m_root[i]);
        m_in.m_nodeOf[i] = it == m_nodeOfRoot.end() ? -1 : it->second;
    }
}

/// Conductors: what wires join, and the ground pins of one part.
void Maker::findNodes()
{
    std::vector<size_t> parent(m_all.size());
    std::iota(parent.begin(), parent.end(), size_t{0});
    const auto root = [&](size_t i) {
        while (parent[i] != i)
            i = parent[i] = parent[parent[i]];
        return i;
    };
    const auto join = [&](size_t a, size_t b) { parent[root(a)] = root(b); };
    const auto index = [&](const nets::Member *m) { return static_cast<size_t>(m - m_all.data()); };
    for (const auto &w : m_in.m_nets.car()->wires) {
        const auto *a = m_in.m_nets.member(w.from);
        const auto *b = m_in.m_nets.member(w.to);
        if (a && b)
            join(index(a), index(b));
    }
    for (size_t i = 1; i < m_all.size(); ++i)
        for (size_t k = i; k-- > 0 && m_all[k].fitted == m_all[i].fitted;)
            if (m_all[i].terminal->role == Role::Ground && m_all[k].terminal->role == Role::Ground)
                join(i, k);
    m_root.resize(m_all.size());
    for (size_t i = 0; i < m_all.size(); ++i)
        m_root[i] = root(i);
    if (const auto *reference = m_in.m_nets.reference())
        m_nodeOfRoot[m_root[index(reference)]] = 0;
}

int Maker::node(size_t member)
{
    const auto [it, isNew] = m_nodeOfRoot.try_emplace(m_root[member], m_in.m_shape.nodes);
    if (isNew)
        ++m_in.m_shape.nodes;
    return it->second;
}

void Maker::findGrounds()
{
    m_in.m_ground.assign(m_all.size(), noMember);
    m_in.m_logic.assign(m_all.size(), noMember);
    m_in.m_own.assign(m_all.size(), noMember);
    for (size_t first = 0; first < m_all.size();) {
        size_t end = first;
        size_t ground = noMember;
        for (; end < m_all.size() && m_all[end].fitted == m_all[first].fitted; ++end)
            if (m_all[end].terminal->role == Role::Ground && ground == noMember)
                ground = end;
        const auto logic = logicRail(first, end);
        size_t own = noMember;
        for (size_t i = first; i < end; ++i)
            if (isOwn(*m_all[i].part, *m_all[i].terminal))
                own = i;
        for (size_t i = first; i < end; ++i) {
            m_in.m_own[i] = own;
            m_in.m_ground[i] = ground;
            m_in.m_logic[i] = logic;
        }
        first = end;
    }
}

/// The terminal whose volts a part's signals have: an output that gives the logic volts, else what
/// the part itself runs on. None where that stands above the logic volts: the rail is inside.
size_t Maker::logicRail(size_t first, size_t end) const
{
    const auto &part = *m_all[first].part;
    const auto *logic = part.figure("logic_V");
    size_t own = noMember;
    for (size_t i = first; i < end; ++i) {
        const auto &t = *m_all[i].terminal;
        if (logic && t.role == Role::SupplyOut && t.source_V == logic->typical)
            return i;
        if (part.kind == Kind::Driver && t.role == Role::SupplyOut)
            return i; // a module's own logic supply
        if (isOwn(part, t))
            own = i;
    }
    if (own != noMember && logic && m_all[own].terminal->window &&
        m_all[own].terminal->window->low_V > logic->typical)
        return noMember;
    return own;
}

bool Maker::drivesSomething(size_t pin) const
{
    const auto &car = *m_in.m_nets.car().operator->();
    const auto &m = m_all[pin];
    if (m.fitted == m_in.m_nets.car().first(Kind::Board))
        for (const auto &[terminal, name] : car.programPins)
            if (name == m.terminal->name)
                if (const auto *t = m_in.m_nets.car().terminal(terminal))
                    return isInput(t->role);
    for (const auto role : {Role::Trigger, Role::Direction, Role::Enable, Role::Signal})
        for (const auto &name : m_in.m_nets.onLine(m.name, role))
            if (m_in.m_nets.member(name)->part->kind != Kind::Divider)
                return true;
    return false;
}

void Maker::findOutputs()
{
    for (size_t i = 0; i < m_all.size(); ++i) {
        const auto &m = m_all[i];
        const auto role = m.terminal->role;
        if (m.wires == 0 || m.part->kind == Kind::Divider)
            continue;
        if (role == Role::MotorOut && m.part->kind == Kind::Board) // a port: told by the program
            m_in.m_outputs.push_back({i, true});
        else if (role == Role::Pin
                     ? drivesSomething(i)
                     : role == Role::Echo || role == Role::DigitalOut || role == Role::AnalogueOut)
            m_in.m_outputs.push_back({i, role == Role::Pin});
    }
}

void Maker::findBridges()
{
    std::map<std::pair<const kit::Instance *, std::string>, size_t> known;
    for (size_t i = 0; i < m_all.size(); ++i) {
        const auto &m = m_all[i];
        const bool port = m.part->kind == Kind::Board && m.terminal->role == Role::MotorOut;
        if ((m.part->kind != Kind::Driver && !port) || m.terminal->channel.empty())
            continue;
        const auto [it, isNew] =
            known.try_emplace({m.fitted, m.terminal->channel}, m_in.m_bridges.size());
        if (isNew)
            m_in.m_bridges.push_back({m.fitted, m.part, m.terminal->channel, noMember, {}, {}});
        auto &bridge = m_in.m_bridges[it->second];
        if (m.terminal->role == Role::Enable)
            bridge.enable = i;
        if (m.terminal->role == Role::Direction)
            bridge.directions.push_back(i);
        if (m.terminal->role == Role::MotorOut) {
            bridge.outputs.push_back(m_in.m_motorOutputs.size());
            m_in.m_motorOutputs.push_back(i);
        }
    }
    std::erase_if(m_in.m_bridges, [](const auto &b) { return b.outputs.empty(); });
}

void Maker::add(What what, size_t from, size_t to, Curve curve, size_t output)
{
    if (from == noMember || to == noMember)
        return;
    m_in.m_elements.push_back({what, m_all[from].fitted, m_all[from].part, from, to, output});
    m_in.m_shape.branches.push_back({node(from), node(to), curve});
}

void Maker::addBetween(What what, int from, int to, const Element &as)
{
    m_in.m_elements.push_back(as);
    m_in.m_elements.back().what = what;
    m_in.m_shape.branches.push_back({from, to, Curve::open()});
}

size_t Maker::find(size_t first, size_t end, std::string_view name) const
{
    for (size_t i = first; i < end; ++i)
        if (m_all[i].terminal->name == name)
            return i;
    return noMember;
}

void Maker::addParts()
{
    for (size_t first = 0; first < m_all.size();) {
        size_t end = first;
        while (end < m_all.size() && m_all[end].fitted == m_all[first].fitted)
            ++end;
        addPart(first, end);
        first = end;
    }
}

void Maker::addPart(size_t first, size_t end)
{
    const auto &part = *m_all[first].part;
    // A person's own part may lack the figure or hold a nought: then nothing, or a wire, is there.
    const auto ohms = [&](const char *key) {
        const auto *f = part.figure(key);
        return f ? Curve::resistor(std::max(jumper_ohm, f->typical)) : Curve::open();
    };
    const auto role = [&](Role r) {
        for (size_t i = first; i < end; ++i)
            if (m_all[i].terminal->role == r)
                return i;
        return noMember;
    };
    const auto ground = m_in.m_ground[first];
    switch (part.kind) {
    case Kind::Cell:
    case Kind::Supply:
        add(What::Source, role(Role::Plus), role(Role::Minus));
        return;
    case Kind::Link:
        if (end - first == 2)
            add(What::Link, first, first + 1);
        return;
    case Kind::Resistor:
        if (end - first == 2)
            add(What::Resistor, first, first + 1, ohms("resistance_ohm"));
        return;
    case Kind::Divider:
        add(What::Resistor, find(first, end, "IN"), find(first, end, "OUT"), ohms("top_ohm"));
        add(What::Resistor, find(first, end, "OUT"), ground, ohms("bottom_ohm"));
        return;
    case Kind::Motor:
        if (end - first == 2)
            add(What::Motor, first, first + 1);
        return;
    case Kind::Led:
        add(What::Light, role(Role::Signal), ground);
        return;
    case Kind::Buzzer:
        add(What::Own, role(Role::Signal), ground);
        return;
    default:
        break;
    }
    addRegulators(first, end);
    for (size_t i = first; i < end; ++i) {
        const auto &t = *m_all[i].terminal;
        if (isOwn(part, t))
            add(What::Own, i, ground);
        else if (t.role == Role::SupplyIn && part.kind == Kind::Regulator)
            add(What::Own, i, ground);
    }
    if (part.kind == Kind::Board)
        addBoard(first, end);
    if (part.kind == Kind::Board || part.kind == Kind::Driver)
        addDriver(first, end);
    else
        addSensor(first, end);
}

void Maker::addRegulators(size_t first, size_t end)
{
    const auto ground = m_in.m_ground[first];
    for (size_t i = first; i < end; ++i) {
        const auto &t = *m_all[i].terminal;
        const auto in = t.role == Role::SupplyOut ? find(first, end, t.fedBy) : noMember;
        if (in == noMember || ground == noMember)
            continue;
        const auto &part = *m_all[i].part;
        const auto *limit = part.figure("limit_" + t.name + "_A");
        m_in.m_regulators.push_back({What::Own, m_all[i].fitted, &part, in, i, noMember});
        m_in.m_shape.regulators.push_back({node(in), node(i), node(ground), t.source_V,
                                           std::max(0.0, t.needs_V - t.source_V),
                                           limit ? limit->typical : noLimit_A});
    }
}

void Maker::addBoard(size_t first, size_t end)
{
    const auto ground = m_in.m_ground[first];
    const auto rail = m_in.m_logic[first];
    const auto *logic = m_all[first].part->figure("logic_V");
    if (ground == noMember)
        return;
    int railNode = -1;
    const auto pins = std::any_of(m_in.m_outputs.begin(), m_in.m_outputs.end(), [&](const auto &o) {
        return o.pin && o.member >= first && o.member < end;
    });
    if (rail != noMember) {
        railNode = node(rail);
    } else if (logic && pins) { // made inside, from what the board runs on
        for (size_t i = first; i < end; ++i)
            if (isOwn(*m_all[i].part, *m_all[i].terminal)) {
                railNode = m_in.m_shape.nodes++;
                m_in.m_regulators.push_back(
                    {What::Own, m_all[first].fitted, m_all[first].part, i, noMember, noMember});
                m_in.m_shape.regulators.push_back(
                    {node(i), railNode, node(ground), logic->typical,
                     m_all[i].terminal->window->low_V - logic->typical, noLimit_A});
            }
    }
    if (railNode < 0)
        return;
    for (size_t o = 0; o < m_in.m_outputs.size(); ++o) {
        const auto pin = m_in.m_outputs[o].member;
        if (!m_in.m_outputs[o].pin || pin < first || pin >= end ||
            m_all[pin].terminal->role != Role::Pin)
            continue;
        const Element as{What::PinHigh, m_all[pin].fitted, m_all[pin].part, rail, pin, o};
        addBetween(What::PinHigh, railNode, node(pin), as);
        add(What::PinLow, pin, ground, Curve::open(), o);
    }
    for (size_t i = first; i < end; ++i) {
        if (m_all[i].terminal->role != Role::Pin || m_all[i].wires == 0)
            continue;
        addBetween(What::Clamp, node(i), railNode,
                   {What::Clamp, m_all[i].fitted, m_all[i].part, i, rail, noMember});
        add(What::Clamp, ground, i);
    }
}

void Maker::addSensor(size_t first, size_t end)
{
    const auto ground = m_in.m_ground[first];
    const auto rail = m_in.m_logic[first];
    for (size_t o = 0; o < m_in.m_outputs.size(); ++o) {
        const auto out = m_in.m_outputs[o].member;
        if (out < first || out >= end)
            continue;
        add(What::SensorHigh, rail, out, Curve::open(), o);
        add(What::SensorLow, out, ground, Curve::open(), o);
    }
    for (size_t i = first; i < end; ++i)
        if (isInput(m_all[i].terminal->role) && m_all[i].wires > 0)
            add(What::Clamp, ground, i);
}

void Maker::addDriver(size_t first, size_t end)
{
    const auto ground = m_in.m_ground[first];
    const auto rail = m_in.m_logic[first];
    size_t motors = noMember;
    for (size_t i = first; i < end; ++i)
        if (m_all[i].terminal->motors)
            motors = i;
    for (size_t o = 0; o < m_in.m_motorOutputs.size(); ++o) {
        const auto out = m_in.m_motorOutputs[o];
        if (out < first || out >= end)
            continue;
        add(What::Upper, motors, out, Curve::open(), o);
        add(What::Lower, out, ground, Curve::open(), o);
    }
    for (size_t i = first; i < end; ++i) {
        if (nets::isJumpered(*m_all[i].fitted, m_all[i].terminal->name))
            add(What::Jumper, rail, i, Curve::resistor(jumper_ohm));
        if (isInput(m_all[i].terminal->role) && m_all[i].wires > 0)
            add(What::Clamp, ground, i);
    }
}

} // namespace badger::circuit
