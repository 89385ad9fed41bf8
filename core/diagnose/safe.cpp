// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/diagnose/safe.h"

#include "core/circuit/strain.h"
#include "core/nets/nets.h"

#include <algorithm>
#include <map>
#include <set>

namespace badger::diagnose
{

using parts::Kind;
using parts::Role;

namespace
{

/// Limits that are passed: where, and how often where the terminals of another part have other
/// names.
std::map<std::pair<circuit::Harm, std::string>, int> limitsOf(const nets::Nets &nets, bool byHarm)
{
    std::map<std::pair<circuit::Harm, std::string>, int> limits;
    const circuit::CarNetwork network(nets);
    for (const auto &s : circuit::look(network, circuit::Patterns::Every).strains)
        if (!s.stalled)
            ++limits[{s.harm, byHarm ? std::string() : nets.all()[s.member].name}];
    return limits;
}

bool passesMore(const nets::Nets &before, const nets::Nets &after, bool byHarm)
{
    const auto was = limitsOf(before, byHarm);
    for (const auto &[limit, count] : limitsOf(after, byHarm))
        if (const auto it = was.find(limit); it == was.end() || it->second < count)
            return true;
    return false;
}

/// A supply or ground on one conductor with what must not hang there.
std::set<std::string> wronglyHeld(const nets::Nets &nets)
{
    std::set<std::string> held;
    for (const auto &m : nets.all()) {
        const auto role = m.terminal->role;
        const bool output = role == Role::Echo || role == Role::DigitalOut ||
                            role == Role::AnalogueOut || role == Role::MotorOut ||
                            role == Role::Lead || role == Role::Pin || role == Role::Trigger;
        if (output && m.wires > 0 && m.part->kind != Kind::Divider &&
            (nets.isSupply(m.net) || nets.isGround(m.net)))
            held.insert(m.name);
    }
    return held;
}

/// The sources that have a link of one sort.
std::set<std::string> sourcesWith(const kit::Assembly &car, const std::string &sort)
{
    const nets::Nets nets(car);
    std::set<std::string> sources;
    for (const auto &m : nets.all())
        if (m.part->kind == Kind::Link && m.part->shape == sort && m.wires > 0)
            for (const auto &plus : nets.membersWith(m.net, Role::Plus))
                sources.insert(plus);
    return sources;
}

/// Supply inputs that one of these sources reaches without a link of one sort, by links of others.
std::set<std::string> reachedPast(const kit::Assembly &car, const std::string &sort,
                                  const std::set<std::string> &sources)
{
    auto without = car.car();
    for (auto &w : without.wires) // the link's far end hangs on nothing
        for (auto *end : {&w.from, &w.to}) {
            const auto split = kit::splitTerminal(*end);
            const auto *f = car.find(split.instance);
            if (f && f->part->kind == Kind::Link && f->part->shape == sort)
                end->clear();
        }
    std::erase_if(without.wires, [](const kit::Wire &w) { return w.from.empty() || w.to.empty(); });
    const kit::Assembly assembly(without, car.catalogue());
    const nets::Nets nets(assembly);
    std::set<std::string> reached;
    for (const auto &m : nets.all())
        if (m.terminal->role == Role::SupplyIn && m.wires > 0)
            for (const auto &plus : nets.membersWith(m.net, Role::Plus))
                if (sources.count(plus) != 0)
                    reached.insert(m.name);
    return reached;
}

bool goesRound(const kit::Assembly &before, const kit::Assembly &after)
{
    for (const auto *sort : {"fuse", "switch"}) {
        const auto sources = sourcesWith(before, sort);
        if (sources.empty())
            continue;
        const auto was = reachedPast(before, sort, sources);
        for (const auto &input : reachedPast(after, sort, sources))
            if (was.count(input) == 0)
                return true;
    }
    return false;
}

/// A wire leads to a supply input from another supply than the kit names for it.
bool isMeantOtherwise(const nets::Nets &nets, const std::string &input, const std::string &from)
{
    const auto *m = nets.member(input);
    const auto *source = nets.member(from);
    if (m == nullptr || source == nullptr || m->terminal->role != Role::SupplyIn ||
        (source->terminal->role != Role::Plus && source->terminal->role != Role::SupplyOut))
        return false;
    return std::any_of(m->fitted->feeds.begin(), m->fitted->feeds.end(), [&](const kit::Feed &f) {
        const auto *meant = nets.member(f.from);
        return f.to == m->terminal->name && meant != nullptr && meant->fitted != source->fitted;
    });
}

} // namespace

std::set<std::string> fedInputs(const nets::Nets &nets)
{
    const auto any = [&](int net, std::initializer_list<Role> roles) {
        return std::any_of(roles.begin(), roles.end(),
                           [&](Role role) { return nets.has(net, role); });
    };
    std::set<std::string> fed;
    for (const auto &m : nets.all()) {
        if (m.terminal->role != Role::SupplyIn || m.wires == 0 ||
            !any(m.net, {Role::Plus, Role::Minus, Role::SupplyOut}))
            continue;
        const bool back = std::any_of(
            m.part->terminals.begin(), m.part->terminals.end(), [&](const parts::Terminal &t) {
                const int ground = nets.of(m.fitted->id + "." + t.name);
                return t.role == Role::Ground &&
                       (ground != m.net || nets.has(ground, Role::Plus)) && // or it is shorted
                       any(ground, {Role::Plus, Role::Minus});
            });
        if (back)
            fed.insert(m.name);
    }
    for (const auto &f : nets.car().fitted()) {
        const auto channel = kit::splitTerminal(f.instance->drivenBy);
        for (const auto &t : f.part->terminals) // a motor's leads
            for (const auto &out :
                 nets.membersWith(nets.of(f.instance->id + "." + t.name), Role::MotorOut))
                if (t.role == Role::Lead && nets.member(out)->fitted->id == channel.instance &&
                    nets.member(out)->terminal->channel == channel.terminal)
                    fed.insert(f.instance->id + "." + t.name + " on " + f.instance->drivenBy);
        for (const auto &feed : f.instance->feeds) {
            const auto *input = nets.member(f.instance->id + "." + feed.to);
            const auto *from = nets.member(feed.from);
            if (input && from && input->wires > 0 && from->wires > 0 && input->net == from->net)
                fed.insert(input->name + " from " + from->name);
        }
    }
    return fed;
}

bool isSafe(const kit::Assembly &before, const Fix &fix, const kit::Assembly &after)
{
    const nets::Nets was(before);
    const nets::Nets is(after);
    for (const auto &w : fix.in)
        if (isMeantOtherwise(is, w.from, w.to) || isMeantOtherwise(is, w.to, w.from))
            return false;
    const auto heldBefore = wronglyHeld(was);
    for (const auto &name : wronglyHeld(is))
        if (heldBefore.count(name) == 0)
            return false;
    const auto fed = fedInputs(is);
    for (const auto &input : fix.parts.empty() ? fedInputs(was) : std::set<std::string>())
        if (fed.count(input) == 0)
            return false;
    return !goesRound(before, after) && !passesMore(was, is, !fix.parts.empty());
}

} // namespace badger::diagnose
