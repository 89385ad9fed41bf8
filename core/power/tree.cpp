// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/power/tree.h"

#include "core/circuit/car_network.h"
#include "core/circuit/stated.h"
#include "core/power/read_off.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <set>

namespace badger::power
{

using kit::Charge;
using parts::Kind;
using parts::Role;

namespace
{

/// Builds the nodes; the numbers come after.
class Grower
{
public:
    Grower(const kit::Assembly &car) : m_car(car), m_nets(car), m_lines(feedsOf(car)) {}

    Tree grow()
    {
        // One that stands on another grows there; in a ring of them one is as good as another.
        for (const bool lowest : {true, false})
            for (const auto &fitted : m_car->parts)
                if (const auto *part = m_car.part(fitted);
                    part && isSource(*part) && (!lowest || below(fitted, *part) == nullptr))
                    once(fitted, *part, fitted.id, NodeKind::Source, -1);
        findUnfed();
        findClashes();
        return std::move(m_tree);
    }

private:
    int add(const kit::Instance &fitted, const parts::Part &part, const std::string &id,
            NodeKind kind, int parent, const std::string &entry = {})
    {
        const int index = static_cast<int>(m_tree.nodes.size());
        Node n;
        n.id = id;
        n.instance = fitted.id;
        n.kind = kind;
        n.parent = parent;
        n.depth = parent < 0 ? 0 : m_tree.nodes[static_cast<size_t>(parent)].depth + 1;
        n.name = nameOf(fitted, part, id, kind);
        findEnds(n, part, entry);
        const auto split = kit::splitTerminal(id);
        if (const auto *t = part.terminal(split.terminal)) {
            n.window = t->window;
            if (const auto *limit = part.figure("limit_" + t->name + "_A"))
                n.limit_A = *limit;
        }
        if (kind == NodeKind::Source || kind == NodeKind::Link)
            if (const auto *limit =
                    part.figure(part.kind == Kind::Cell ? "advised_A" : "limit_A")) {
                n.limit_A = *limit;
                if (part.kind == Kind::Cell)
                    for (auto *v : {&n.limit_A->typical, &n.limit_A->low, &n.limit_A->high})
                        *v *= fitted.cellsInParallel;
            }
        m_tree.nodes.push_back(std::move(n));
        m_seen.insert(id);
        grow(index, fitted, part, kind);
        return index;
    }

    /// Where a meter reads its volts. `entry` is the terminal by which a link is fed.
    static void findEnds(Node &n, const parts::Part &part, const std::string &entry)
    {
        const auto *own = part.terminal(kit::splitTerminal(n.id).terminal);
        if (n.kind == NodeKind::Source || (n.kind == NodeKind::Link && own == nullptr))
            for (const auto &t : part.terminals) {
                const auto name = n.instance + "." + t.name;
                const bool isIn =
                    n.kind == NodeKind::Source ? t.role == Role::Minus : name == entry;
                (isIn ? n.in : n.out) = name;
            }
        else if (n.kind == NodeKind::Output)
            n.in = own->fedBy.empty() ? std::string() : n.instance + "." + own->fedBy;
        else if (own != nullptr)
            n.in = n.id;
        if (own != nullptr && n.kind != NodeKind::Channel)
            n.out = n.id;
    }

    static bool isSource(const parts::Part &part)
    {
        return part.kind == Kind::Cell || part.kind == Kind::Supply;
    }

    /// The plus on which a source's minus hangs.
    const nets::Member *below(const kit::Instance &fitted, const parts::Part &part) const
    {
        for (const auto &t : part.terminals)
            if (const auto *m = m_nets.member(fitted.id + "." + t.name); m && t.role == Role::Minus)
                return m_nets.standsOn(*m);
        return nullptr;
    }

    /// Sources in series with this one. What a switch or a fuse between them loses is left to the
    /// network.
    void growStack(int index, const kit::Instance &fitted)
    {
        for (const auto &other : m_car->parts) {
            const auto *part = m_car.part(other);
            if (part == nullptr || !isSource(*part))
                continue;
            const auto *plus = below(other, *part);
            if (plus && plus->fitted == &fitted)
                once(other, *part, other.id, NodeKind::Source, index);
        }
    }

    static std::string nameOf(const kit::Instance &fitted, const parts::Part &part,
                              const std::string &id, NodeKind kind)
    {
        const auto &label = kit::labelOf(fitted);
        const auto terminal = kit::splitTerminal(id).terminal;
        switch (kind) {
        case NodeKind::Channel:
            return label + ", channel " + terminal;
        case NodeKind::Input:
        case NodeKind::Output: {
            const bool only =
                std::count_if(part.terminals.begin(), part.terminals.end(),
                              [](const parts::Terminal &t) {
                                  return t.role == Role::SupplyIn || t.role == Role::SupplyOut;
                              }) < 2;
            return only ? label : label + " " + terminal;
        }
        default:
            return part.kind == Kind::Rail ? label + " " + terminal : label;
        }
    }

    /// What hangs on a node.
    void grow(int index, const kit::Instance &fitted, const parts::Part &part, NodeKind kind)
    {
        const auto id = m_tree.nodes[static_cast<size_t>(index)].id;
        if (kind == NodeKind::Input) {
            const auto terminal = kit::splitTerminal(id).terminal;
            for (const auto &t : part.terminals)
                if (t.role == Role::SupplyOut && t.fedBy == terminal &&
                    !fedFromOutside(fitted, t) && isUsed(fitted, part, t))
                    once(fitted, part, fitted.id + "." + t.name, NodeKind::Output, index);
            if (const auto *t = part.terminal(terminal); t && t->motors)
                growChannels(index, fitted, part);
        }
        if (kind == NodeKind::Channel)
            for (const auto &motor : m_car->parts) {
                const auto *p = m_car.part(motor);
                if (p && p->kind == Kind::Motor && channel(motor) == id)
                    once(motor, *p, motor.id, NodeKind::Motor, index);
            }
        for (const auto &line : m_lines)
            if (line.source == id)
                growFed(index, line);
        if (kind == NodeKind::Source)
            growStack(index, fitted);
        const auto *own = ownSupply(part);
        if (part.kind == Kind::Board && own && fitted.id + "." + own->name == id)
            growOnPins(index);
    }

    void once(const kit::Instance &fitted, const parts::Part &part, const std::string &id,
              NodeKind kind, int parent)
    {
        if (m_seen.count(id) == 0)
            add(fitted, part, id, kind, parent);
    }

    /// An output that nothing hangs on is no branch.
    bool isUsed(const kit::Instance &fitted, const parts::Part &part,
                const parts::Terminal &t) const
    {
        return &t == ownSupply(part) ||
               std::any_of(m_lines.begin(), m_lines.end(),
                           [&](const FeedLine &l) { return l.source == fitted.id + "." + t.name; });
    }

    bool fedFromOutside(const kit::Instance &fitted, const parts::Terminal &t) const
    {
        return std::any_of(m_lines.begin(), m_lines.end(),
                           [&](const FeedLine &l) { return l.input == fitted.id + "." + t.name; });
    }

    void growFed(int index, const FeedLine &line)
    {
        const auto *to = m_car->instance(kit::splitTerminal(line.input).instance);
        const auto *toPart = m_car.part(*to);
        const auto toId = nodeOf({m_car}, line.input);
        const bool passes = toPart->kind == Kind::Link || toPart->kind == Kind::Rail;
        if (m_seen.count(toId) != 0)
            return;
        const int added =
            add(*to, *toPart, toId, passes ? NodeKind::Link : NodeKind::Input, index, line.input);
        m_tree.nodes[static_cast<size_t>(added)].fromWires = line.fromWires;
    }

    /// The channel of a motor; the wires are read once for each.
    const std::string &channel(const kit::Instance &motor) const
    {
        const auto [it, isNew] = m_channels.try_emplace(&motor);
        if (isNew)
            it->second = channelOf(m_car, motor);
        return it->second;
    }

    /// A board has ports to spare: those without a motor are no branches.
    bool drivesMotor(const std::string &channel) const
    {
        return std::any_of(m_car->parts.begin(), m_car->parts.end(), [&](const kit::Instance &i) {
            const auto *p = m_car.part(i);
            return p && p->kind == Kind::Motor && this->channel(i) == channel;
        });
    }

    void growChannels(int index, const kit::Instance &fitted, const parts::Part &part)
    {
        std::set<std::string> seen;
        for (const auto &t : part.terminals)
            if (t.role == Role::MotorOut && seen.insert(t.channel).second &&
                (part.kind == Kind::Driver || drivesMotor(fitted.id + "." + t.channel)))
                once(fitted, part, fitted.id + "." + t.channel, NodeKind::Channel, index);
    }

    /// What a pin feeds takes its current from the board's rail: an LED, a buzzer.
    void growOnPins(int index)
    {
        for (const auto &other : m_car->parts) {
            const auto *p = m_car.part(other);
            if (p && (p->kind == Kind::Led || p->kind == Kind::Buzzer))
                once(other, *p, other.id, NodeKind::Input, index);
        }
    }

    void findUnfed()
    {
        for (const auto &fitted : m_car->parts) {
            const auto *part = m_car.part(fitted);
            if (part == nullptr)
                continue;
            const auto *own = ownSupply(*part);
            if (own && m_seen.count(fitted.id + "." + own->name) == 0) {
                // Said at the input a hand would wire first.
                const auto *named = own;
                if (own->role == Role::SupplyOut && part->terminal(own->fedBy))
                    named = part->terminal(own->fedBy);
                m_tree.unfed.push_back({fitted.id + "." + named->name, said(fitted, {own, named})});
            }
            for (const auto &t : part->terminals)
                if (t.motors && &t != own && m_seen.count(fitted.id + "." + t.name) == 0)
                    m_tree.unfed.push_back({fitted.id + "." + t.name, said(fitted, {&t})});
            if (part->kind == Kind::Motor && m_seen.count(fitted.id) == 0)
                m_tree.unfed.push_back(
                    {fitted.id, channel(fitted).empty()
                                    ? source("no driver channel is said to drive it")
                                    : source("its driver channel has no supply")});
            if (part->kind == Kind::Link && m_seen.count(fitted.id) == 0)
                m_tree.unfed.push_back({fitted.id, said(fitted, {&part->terminals.front()})});
        }
    }

    static SourceText<> said(const kit::Instance &fitted,
                             std::initializer_list<const parts::Terminal *> inputs)
    {
        for (const auto *input : inputs)
            for (const auto &feed : fitted.feeds)
                if (feed.to == input->name)
                    return source("what is said to feed it has no source itself");
        return source("nothing is said to feed it");
    }

    void findClashes()
    {
        std::map<std::string, std::string> first;
        for (const auto &line : m_lines) {
            if (m_seen.count(line.source) == 0 || line.fromWires) // wires are judged with the wires
                continue;
            const auto node = nodeOf({m_car}, line.input);
            const auto [it, isNew] = first.try_emplace(node, line.source);
            if (!isNew && it->second != line.source)
                m_tree.clashes.push_back({line.input, it->second, line.source});
        }
        // An output that is fed from outside while its own input is live too.
        for (const auto &fitted : m_car->parts) {
            const auto *part = m_car.part(fitted);
            for (const auto &t : part ? part->terminals : std::vector<parts::Terminal>{}) {
                const auto id = fitted.id + "." + t.name;
                if (t.role == Role::SupplyOut && first.count(id) != 0 &&
                    m_seen.count(fitted.id + "." + t.fedBy) != 0)
                    m_tree.clashes.push_back({id, first[id], fitted.id + "." + t.fedBy});
            }
        }
    }

    const kit::Assembly &m_car;
    const nets::Nets m_nets;
    std::vector<FeedLine> m_lines;
    mutable std::map<const kit::Instance *, std::string> m_channels;
    std::set<std::string> m_seen;
    Tree m_tree;
};

} // namespace

const char *name(Charge charge)
{
    static constexpr const char *names[] = {"fresh", "nominal", "near empty"};
    return names[static_cast<size_t>(charge)];
}
const char *name(Load load)
{
    static constexpr const char *names[] = {"idle", "running", "stalled"};
    return names[static_cast<size_t>(load)];
}
const char *name(Case figures)
{
    return figures == Case::Typical ? "typical" : "worst";
}

int Tree::indexOf(std::string_view id) const
{
    for (size_t i = 0; i < nodes.size(); ++i)
        if (nodes[i].id == id)
            return static_cast<int>(i);
    return -1;
}

const Node *Tree::node(std::string_view id) const
{
    const int i = indexOf(id);
    return i < 0 ? nullptr : &nodes[static_cast<size_t>(i)];
}

std::vector<int> Tree::childrenOf(int parent) const
{
    std::vector<int> children;
    for (size_t i = 0; i < nodes.size(); ++i)
        if (nodes[i].parent == parent)
            children.push_back(static_cast<int>(i));
    return children;
}

const Values &Tree::at(int node, State state) const
{
    return nodes[static_cast<size_t>(node)].states[stateIndex(state)];
}

Tree solve(const kit::Assembly &car)
{
    auto tree = Grower(car).grow();
    const auto wired = circuit::withStatedWires(car);
    const kit::Assembly assembly(wired, car.catalogue());
    const nets::Nets nets(assembly);
    const circuit::CarNetwork network(nets);
    readOff(tree, car, network);
    return tree;
}

} // namespace badger::power
