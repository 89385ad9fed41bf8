// SPDX-License-Identifier: GPL-3.0-or-later
// Packs, plugs, shorts, open leads, windows.
#include "core/wiring/fault_finder.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace badger::wiring
{

using circuit::Harm;
using circuit::noMember;
using circuit::Strain;
using circuit::What;
using parts::Kind;
using parts::Role;
using units::quantity;
using units::Unit;

namespace
{
// A car with more than these is no car that a hand has wired; trying each would take seconds.
constexpr size_t mostTakenOff = 80;
} // namespace

void FaultFinder::suppliesSwapped()
{
    for (const auto &f : m_car.fitted()) {
        if (f.part->kind != Kind::Driver || m_rooted)
            continue;
        size_t logic = noMember;
        size_t motors = noMember;
        for (size_t i = 0; i < m_all.size(); ++i)
            if (m_all[i].fitted == f.instance && m_all[i].terminal->role == Role::SupplyIn)
                (m_all[i].terminal->motors ? motors : logic) = i;
        if (logic == noMember || motors == noMember || !m_all[logic].terminal->window)
            continue;
        const auto atLogic = m_net.ownVolts_V(m_looked.rest, logic).value_or(0.0);
        const auto atMotors = m_net.ownVolts_V(m_looked.rest, motors).value_or(0.0);
        if (atLogic <= atMotors || atLogic <= m_all[logic].terminal->window->high_V)
            continue;
        const auto after = weight(turned(m_car.car(), name(logic), name(motors)));
        if (after.supply > 0)
            continue;
        auto &root =
            add("supplies-swapped", Severity::Error, name(logic) + " and " + name(motors),
                say("Logic and motor supply are swapped: {} gets {}, {} gets {}.", name(logic),
                    inVolts(atLogic), name(motors), inVolts(atMotors)),
                say("The logic of the chip burns, and the motors run on the board's regulator."),
                say("The pack belongs on {}, the logic rail on {}.", name(motors), name(logic)),
                "terminal:" + name(logic));
        takeAll(root);
    }
}

std::optional<std::pair<std::string, std::string>>
FaultFinder::joinedBy(const kit::Wire &wire) const
{
    auto without = m_car.car();
    std::erase(without.wires, wire);
    const nets::Nets apart({without, m_car.catalogue()});
    for (const auto &a : m_all)
        for (const auto &b : m_all)
            if (&a < &b && a.terminal->role == Role::Plus && b.terminal->role == Role::Plus &&
                a.net == b.net && apart.of(a.name) != apart.of(b.name))
                return std::pair(a.name, b.name);
    return std::nullopt;
}

void FaultFinder::shorted()
{
    const auto shorts = strains(Harm::Shorted);
    if (shorts.empty() || m_rooted)
        return;
    const auto &s = *shorts.front();
    // A short that comes with an output is that output's.
    if (!s.atRest && (hasStrain(Harm::OutputAmps) || hasStrain(Harm::PinAmps))) {
        for (const auto *one : shorts)
            m_taken.insert(one);
        return;
    }
    // Which wire, taken off, ends it and leaves the least that is wrong?
    const kit::Wire *best = nullptr;
    Weight least;
    const auto now = weight(m_net, m_looked);
    for (size_t i = 0; i < std::min(mostTakenOff, m_car->wires.size()); ++i) {
        auto car = m_car.car();
        car.wires.erase(car.wires.begin() + static_cast<std::ptrdiff_t>(i));
        const auto w = weight(car);
        const auto rank = [](const Weight &x) { return std::pair(x.supply, x.all + x.dead); };
        if (w.supply < now.supply && (best == nullptr || rank(w) < rank(least))) {
            best = &m_car->wires[i];
            least = w;
        }
    }
    if (const auto clash = best ? joinedBy(*best) : std::nullopt) {
        takeAll(add("two-sources-one-net", Severity::Error, clash->first + " and " + clash->second,
                    say("{} and {} both feed one net.", clash->first, clash->second),
                    say("One drives current backwards into the other and one of them heats up."),
                    say("One of the two supplies has to come off this net."),
                    "terminal:" + clash->second));
        return;
    }
    auto &root = best ? add("supply-to-ground", Severity::Error, best->from + " to " + best->to,
                            say("{} is shorted, by way of the wire from {} to {}: about {} flow.",
                                label(s.member), best->from, best->to, inAmps(s.value)),
                            say("Wires glow, cells vent, a fuse blows if there is one."),
                            say("Keep the cells out and look at both ends of this wire."),
                            "terminal:" + best->from)
                      : add("supply-to-ground", Severity::Error, name(s.member),
                            say("{} is shorted: about {} flow.", label(s.member), inAmps(s.value)),
                            say("Wires glow, cells vent, a fuse blows if there is one."),
                            say("Keep the cells out and look at every wire on {}.", name(s.member)),
                            "terminal:" + name(s.member));
    takeAll(root);
}

void FaultFinder::sourcesTogether()
{
    std::map<int, std::vector<size_t>> byRail;
    for (const size_t g : givers())
        byRail[rail(m_net.nodeOf(g))].push_back(g);
    for (const auto &[node, all] : byRail) {
        const bool said = std::any_of(m_found.begin(), m_found.end(), [](const Finding &f) {
            return f.code == "two-sources-one-net"; // as what shorts the car
        });
        if (all.size() < 2 || (m_rooted && said))
            continue;
        auto &f = add("two-sources-one-net", Severity::Error, name(all[0]) + " and " + name(all[1]),
                      say("{} and {} both feed one net.", name(all[0]), name(all[1])),
                      say("One drives current backwards into the other and one of them heats up."),
                      say("One of the two supplies has to come off this net."),
                      "terminal:" + name(all[1]));
        for (const auto &s : m_looked.strains)
            if ((s.harm == Harm::Charged || s.harm == Harm::OverVolts) &&
                m_net.nodeOf(s.member) >= 0 && rail(m_net.nodeOf(s.member)) == node &&
                m_taken.insert(&s).second)
                f.then.push_back(words(s));
    }
}

void FaultFinder::charged()
{
    for (const auto *s : strains(Harm::Charged)) {
        if (m_rooted)
            return;
        add("current-into-pack", Severity::Error, name(s->member),
            say("{} flow back into {}.", inAmps(s->value), label(s->member)),
            say("Cells that are charged this way heat up, leak or vent; a supply "
                "that is fed backwards breaks."),
            say("Look for another source behind {}.", name(s->member)),
            "terminal:" + name(s->member));
        m_taken.insert(s);
    }
}

/// A pack's plus on the conductor of a pin or an input: everything behind follows from it.
void FaultFinder::packOnPin()
{
    for (const auto *s : strains(Harm::PinVolts)) {
        if (m_rooted)
            return;
        for (size_t i = 0; i < m_all.size(); ++i)
            if (m_all[i].terminal->role == Role::Plus && m_net.nodeOf(i) >= 0 &&
                rail(m_net.nodeOf(i)) == rail(m_net.nodeOf(s->member))) {
                auto &root =
                    add("signal-over-volts", Severity::Error, name(i) + " at " + name(s->member),
                        say("{} is joined to {}: {} where it takes {}.", name(i), name(s->member),
                            inVolts(m_net.volts_V(m_looked.rest, i).value_or(s->value)),
                            inVolts(s->limit)),
                        say("The pin burns, and the board with it."),
                        say("Look at the wires on {}.", name(s->member)),
                        "terminal:" + name(s->member));
                takeAll(root);
                return;
            }
    }
}

void FaultFinder::overVolts()
{
    std::map<int, std::vector<const Strain *>> byNode;
    for (const auto *s : strains(Harm::OverVolts))
        byNode[m_net.nodeOf(s->member)].push_back(s);
    for (const auto &[node, all] : byNode) {
        const auto &worst =
            **std::min_element(all.begin(), all.end(), [](const Strain *a, const Strain *b) {
                return a->limit < b->limit;
            });
        std::vector<std::string> names;
        for (const auto *s : all)
            names.push_back(name(s->member));
        add("supply-outside-window", Severity::Error, joined(names, " and "),
            say("{} {} with fresh cells; {} at most.", joined(names, " and "),
                say("{0|gets|get} {1}", names.size(), inVolts(worst.value)),
                names.size() == 1 ? say("it takes {}", inVolts(worst.limit))
                                  : say("{} takes {}", name(worst.member), inVolts(worst.limit))),
            say("Over-voltage burns the part, often at once."),
            say("Do not join it now. Look at what feeds {}.", names.front()),
            "terminal:" + names.front());
    }
}

void FaultFinder::openGrounds()
{
    for (const auto &f : m_car.fitted()) {
        const auto ground = memberOf(f, Role::Ground);
        if (ground == noMember || !groundAlone(ground))
            continue;
        for (const auto &s : m_looked.strains)
            if (m_all[s.member].fitted == f.instance)
                m_taken.insert(&s);
        add("module-ungrounded", Severity::Error, name(ground),
            say("The {} has no ground.", f.part->name),
            say("Its supply has no way back and its signals have nothing to be measured "
                "against."),
            say("{} belongs on the common ground, joined last of all.", name(ground)),
            "terminal:" + name(ground));
    }
}

void FaultFinder::apart()
{
    if (m_rooted)
        return;
    std::set<int> said;
    const auto *reference = referenceGround();
    const auto common = groundNodes();
    for (const auto &f : m_car.fitted()) {
        const auto ground = memberOf(f, Role::Ground);
        const bool lamp = f.part->kind == Kind::Led || f.part->kind == Kind::Buzzer;
        if (lamp || ground == noMember || groundAlone(ground) || m_net.nodeOf(ground) < 0 ||
            common.count(m_net.nodeOf(ground)) != 0 || !said.insert(m_net.nodeOf(ground)).second)
            continue;
        add("grounds-not-joined", Severity::Error,
            reference ? name(ground) + " and " + reference->name : name(ground),
            reference
                ? say("The ground of the {} is not joined to {}.", f.part->name, reference->name)
                : say("The ground of the {} is not joined to the others.", f.part->name),
            say("Every light is on and every wire looks right, but no signal has a way back, "
                "so nothing works or it works at random."),
            say("All grounds belong on one net; this one hangs apart."),
            "terminal:" + name(ground));
        // Without a common ground no volts mean anything, so the rest follows from it; but what a
        // sensor does to a pin over the ground that both have.
        for (const auto &s : m_looked.strains)
            if (s.harm != Harm::PinVolts || s.value < 0.0 ||
                !m_net.hasGround(m_looked.rest, s.member) || raisedBy(s.member).empty())
                m_taken.insert(&s);
    }
}

void FaultFinder::motorsOnRegulator()
{
    for (size_t i = 0; i < m_all.size(); ++i) {
        if (!m_all[i].terminal->motors || m_net.nodeOf(i) < 0 || m_rooted)
            continue;
        const auto all = givers();
        const auto onPack = [&](size_t g) {
            return m_all[g].terminal->role == Role::Plus &&
                   rail(m_net.nodeOf(g)) == rail(m_net.nodeOf(i));
        };
        if (std::any_of(all.begin(), all.end(), onPack))
            continue; // that a regulator is joined to it is said as such
        for (const size_t g : all)
            if (m_all[g].terminal->role == Role::SupplyOut &&
                rail(m_net.nodeOf(g)) == rail(m_net.nodeOf(i))) {
                auto &root = add("motors-on-regulator", Severity::Error, name(i) + " at " + name(g),
                                 say("The motors run on {}, a regulated output.", name(g)),
                                 say("Their starts pull the logic down, and the regulator burns."),
                                 say("{} belongs on the pack.", name(i)), "terminal:" + name(i));
                for (const auto &strain : m_looked.strains)
                    if ((strain.harm == Harm::UnderVolts || strain.harm == Harm::RegulatorAmps) &&
                        rail(m_net.nodeOf(strain.member)) == rail(m_net.nodeOf(g)) &&
                        m_taken.insert(&strain).second && !strain.stalled)
                        root.then.push_back(words(strain));
            }
    }
}

} // namespace badger::wiring
