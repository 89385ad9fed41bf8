// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/nets/flow.h"

#include <algorithm>

namespace badger::nets
{

using parts::Kind;
using parts::Role;

namespace
{

struct Load {
    double running_A = 0.0;
    double stalled_A = 0.0;
    Load &operator+=(const Load &other)
    {
        running_A += other.running_A;
        stalled_A += other.stalled_A;
        return *this;
    }
};

double figureOr0(const parts::Part &part, const char *key)
{
    const auto *f = part.figure(key);
    return f ? f->typical : 0.0;
}

/// What a part uses itself; a motor or a servo that is held takes its stall current.
Load ownLoad(const parts::Part &part)
{
    const double running = figureOr0(part, "running_A");
    return {running, std::max(running, figureOr0(part, "stall_A"))};
}

/// The input by which a part takes its own current: not the motors', where it has another.
const parts::Terminal *ownInput(const parts::Part &part)
{
    const parts::Terminal *only = nullptr;
    for (const auto &t : part.terminals) {
        if (t.role != Role::SupplyIn)
            continue;
        if (!t.motors)
            return &t;
        only = only ? only : &t;
    }
    return only;
}

class Loads
{
public:
    explicit Loads(const Nets &nets) : m_nets(nets) {}

    /// Motors on a driver's outputs.
    Load motorsOf(const std::string &driver) const
    {
        Load sum;
        for (const auto &m : m_nets.all()) {
            if (m.terminal->role != Role::Lead || m.terminal != &m.part->terminals.front())
                continue; // one lead stands for its motor
            for (const auto &out : m_nets.membersWith(m.net, Role::MotorOut))
                if (m_nets.member(out)->fitted->id == driver) {
                    sum += ownLoad(*m.part);
                    break;
                }
        }
        return sum;
    }

    /// What a supply input takes, with all that hangs on the outputs made from it.
    Load at(const Member &input, int depth = 0) const
    {
        Load sum;
        if (input.terminal == ownInput(*input.part))
            sum += ownLoad(*input.part);
        if (input.terminal->motors)
            sum += motorsOf(input.fitted->id);
        constexpr int deepest = 4;
        for (const auto &t : input.part->terminals)
            if (t.role == Role::SupplyOut && t.fedBy == input.terminal->name && depth < deepest)
                sum += on(m_nets.of(input.fitted->id + "." + t.name), depth + 1);
        return sum;
    }

    /// What all supply inputs on a net take.
    Load on(int net, int depth = 0) const
    {
        Load sum;
        for (const auto &name : m_nets.membersWith(net, Role::SupplyIn))
            sum += at(*m_nets.member(name), depth);
        return sum;
    }

    /// What comes back to one pack through a part's ground: its own current and its motors', as far
    /// as that pack gives them.
    Load back(const Member &ground, const std::string &pack) const
    {
        Load sum;
        const auto *own = ownInput(*ground.part);
        for (const auto &t : ground.part->terminals) {
            if (t.role != Role::SupplyIn ||
                packOf(m_nets.of(ground.fitted->id + "." + t.name)) != pack)
                continue;
            if (&t == own)
                sum += ownLoad(*ground.part);
            if (t.motors)
                sum += motorsOf(ground.fitted->id);
        }
        return sum;
    }

private:
    /// The pack or supply that a net hangs on in the end; empty where it hangs on nothing.
    std::string packOf(int net, int depth = 0) const
    {
        constexpr int deepest = 4;
        const auto sources = m_nets.sources(net, kit::Charge::Nominal);
        if (sources.empty() || depth > deepest)
            return {};
        const auto &m = *m_nets.member(sources.front().terminal);
        return m.terminal->role == Role::Plus
                   ? m.fitted->id
                   : packOf(m_nets.of(m.fitted->id + "." + m.terminal->fedBy), depth + 1);
    }

    const Nets &m_nets;
};

constexpr size_t noWire = static_cast<size_t>(-1);

/// The terminals of the car as a graph: wires, and what is joined inside parts.
class Ways
{
public:
    explicit Ways(const Nets &nets) : m_nets(nets), m_edges(nets.all().size())
    {
        const auto &all = nets.all();
        for (size_t i = 0; i < nets.car()->wires.size(); ++i) {
            const auto *a = nets.member(nets.car()->wires[i].from);
            const auto *b = nets.member(nets.car()->wires[i].to);
            if (a != nullptr && b != nullptr)
                join(index(*a), index(*b), i);
        }
        for (size_t i = 1; i < all.size(); ++i)
            for (size_t k = i; k-- > 0 && all[k].fitted == all[i].fitted;) {
                const auto both = [&](Role role) {
                    return all[i].terminal->role == role && all[k].terminal->role == role;
                };
                if (both(Role::Ground) || (all[i].part->kind == Kind::Link && both(Role::Through)))
                    join(i, k, noWire);
            }
    }

    size_t index(const Member &m) const { return static_cast<size_t>(&m - m_nets.all().data()); }

    /// Leads every load within reach back to the root along the nearest way.
    template <class LoadAt> void lead(const Member &root, std::vector<Flow> &flows, LoadAt loadAt)
    {
        struct Step {
            size_t at;
            size_t from; ///< position in the walk
            size_t wire;
        };
        std::vector<Step> walk = {{index(root), 0, noWire}};
        std::vector<bool> seen(m_edges.size(), false);
        seen[walk.front().at] = true;
        for (size_t i = 0; i < walk.size(); ++i) {
            const size_t here = walk[i].at; // the vector grows below
            for (const auto &[to, wire] : m_edges[here])
                if (!seen[to]) {
                    seen[to] = true;
                    walk.push_back({to, i, wire});
                }
        }
        std::vector<Load> sums(walk.size());
        for (size_t i = walk.size(); i-- > 1;) {
            sums[i] += loadAt(m_nets.all()[walk[i].at]);
            sums[walk[i].from] += sums[i];
            if (walk[i].wire != noWire) {
                flows[walk[i].wire].running_A += sums[i].running_A;
                flows[walk[i].wire].stalled_A += sums[i].stalled_A;
            }
        }
    }

private:
    struct Edge {
        size_t to;
        size_t wire;
    };
    void join(size_t a, size_t b, size_t wire)
    {
        m_edges[a].push_back({b, wire});
        m_edges[b].push_back({a, wire});
    }

    const Nets &m_nets;
    std::vector<std::vector<Edge>> m_edges;
};

/// One ground terminal stands for its part.
bool firstGround(const Member &m)
{
    for (const auto &t : m.part->terminals)
        if (t.role == Role::Ground)
            return &t == m.terminal;
    return false;
}

} // namespace

std::vector<Flow> flows(const Nets &nets)
{
    std::vector<Flow> all(nets.car()->wires.size());
    for (size_t i = 0; i < all.size(); ++i)
        all[i].wire = i;
    const Loads loads(nets);
    Ways ways(nets);
    std::vector<bool> done(static_cast<size_t>(nets.count()), false);
    const auto once = [&](int net) {
        const bool first = !done[static_cast<size_t>(net)];
        done[static_cast<size_t>(net)] = true;
        return first;
    };
    for (const auto &m : nets.all()) {
        const auto role = m.terminal->role;
        if (m.net < 0 || m.wires == 0)
            continue;
        const auto sources = nets.sources(m.net, kit::Charge::Nominal);
        if (!sources.empty() && sources.front().terminal == m.name && once(m.net))
            ways.lead(m, all, [&](const Member &at) {
                return at.terminal->role == Role::SupplyIn ? loads.at(at) : Load{};
            });
        else if (role == Role::Minus)
            ways.lead(m, all, [&](const Member &at) {
                return firstGround(at) ? loads.back(at, m.fitted->id) : Load{};
            });
        else if (role == Role::MotorOut && once(m.net))
            ways.lead(m, all, [&](const Member &at) {
                return at.terminal->role == Role::Lead ? ownLoad(*at.part) : Load{};
            });
    }
    std::erase_if(all, [](const Flow &f) { return f.stalled_A <= 0.0; });
    return all;
}

std::vector<PinLoad> pinLoads(const Nets &nets)
{
    std::vector<PinLoad> all;
    for (const auto &m : nets.all()) {
        const bool led = m.part->kind == Kind::Led;
        if (m.terminal->role != Role::Signal || (!led && m.part->kind != Kind::Buzzer))
            continue;
        const auto pins = nets.onLine(m.name, Role::Pin);
        if (pins.empty())
            continue;
        double amps = figureOr0(*m.part, "running_A");
        if (led) {
            double ohm = m.fitted->resistor_ohm.value_or(0.0);
            for (const int net : nets.line(m.net))
                for (const auto &name : nets.membersWith(net, Role::Through))
                    if (const auto *r = nets.member(name);
                        r->part->kind == Kind::Resistor &&
                        r->terminal == &r->part->terminals.front())
                        ohm += figureOr0(*r->part, "resistance_ohm");
            const double left_V = figureOr0(*nets.member(pins.front())->part, "logic_V") -
                                  figureOr0(*m.part, "forward_V");
            if (ohm > 0.0) // without a resistor the kit says so
                amps = std::max(0.0, left_V) / ohm;
        }
        all.push_back({pins.front(), kit::labelOf(*m.fitted), amps});
    }
    return all;
}

std::vector<RailLoad> railLoads(const Nets &nets)
{
    const Loads loads(nets);
    std::vector<RailLoad> all;
    for (const auto &m : nets.all()) {
        const auto *limit = m.part->figure("limit_" + m.terminal->name + "_A");
        if (m.terminal->role != Role::SupplyOut || limit == nullptr || m.wires == 0)
            continue;
        const auto sources = nets.sources(m.net, kit::Charge::Nominal);
        if (sources.empty() || sources.front().terminal != m.name)
            continue;
        all.push_back({m.name, loads.on(m.net).running_A, limit->typical});
    }
    return all;
}

std::optional<double> thinnestJumper_A(const parts::Catalogue &catalogue)
{
    std::optional<double> least;
    for (const auto &p : catalogue.parts())
        if (const auto *limit = p.kind == Kind::Jumper ? p.figure("limit_A") : nullptr)
            least = std::min(least.value_or(limit->typical), limit->typical);
    return least;
}

} // namespace badger::nets
