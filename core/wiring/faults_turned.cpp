// SPDX-License-Identifier: GPL-3.0-or-later
// Packs, plugs, regulators and diodes that have only to be turned.
#include "core/wiring/fault_finder.h"

#include <algorithm>
#include <map>
#include <tuple>

namespace badger::wiring
{

using circuit::Harm;
using circuit::noMember;
using circuit::Strain;
using parts::Kind;
using parts::Role;

namespace
{

constexpr int mostTurned = 12; // each is a car that is solved anew

} // namespace

std::optional<FaultFinder::Turn> FaultFinder::turnOf(const kit::Fitted &f, const Weight &now) const
{
    const bool source = f.part->kind == Kind::Cell || f.part->kind == Kind::Supply;
    const bool diode = f.part->kind == Kind::Link && f.part->figure("drop_V") != nullptr;
    const bool regulator = f.part->kind == Kind::Regulator;
    const auto &id = f.instance->id;
    Turn turn;
    turn.part = &f;
    if (source || diode)
        std::tie(turn.a, turn.b) = leads(f);
    else if (regulator)
        std::tie(turn.a, turn.b) = std::pair(id + ".IN", id + ".OUT");
    else if (backwards(f)) {
        const auto own = m_net.ownSupplyOf(memberOf(f, Role::SupplyIn));
        std::tie(turn.a, turn.b) = std::pair(name(own), name(memberOf(f, Role::Ground)));
    } else
        return std::nullopt;
    // With one lead open nothing flows: it is not the wrong way round.
    if (source && (!m_nets.wired(turn.a) || !m_nets.wired(turn.b)))
        return std::nullopt;
    turn.after = weight(turned(m_car.car(), turn.a, turn.b));
    const auto &after = turn.after;
    // A pack that is charged may be the right way round: then another one is too much.
    if (source && now.dead <= after.dead && !hasStrain(Harm::Shorted) &&
        !hasStrain(Harm::Backwards))
        return std::nullopt;
    const bool mended = diode       ? after.supply <= now.supply && after.dead < now.dead
                        : regulator ? now.supply > 0 && after.supply == 0 && after.dead < now.dead
                                    : now.supply > 0 && after.supply == 0 && after.dead <= now.dead;
    return mended ? std::optional(turn) : std::nullopt;
}

bool FaultFinder::backwards(const kit::Fitted &f) const
{
    return memberOf(f, Role::Ground) != noMember && memberOf(f, Role::SupplyIn) != noMember &&
           std::any_of(m_looked.strains.begin(), m_looked.strains.end(), [&](const Strain &s) {
               return s.harm == Harm::Backwards && m_all[s.member].fitted == f.instance;
           });
}

void FaultFinder::turnedRound()
{
    const auto now = weight(m_net, m_looked);
    if (now.supply == 0 && now.dead == 0)
        return;
    // A pack and the plug of all that hangs on it may do: the one that leaves less wrong.
    std::optional<Turn> best;
    int tried = 0;
    for (const auto &f : m_car.fitted()) {
        if (tried > mostTurned)
            break;
        const auto turn = turnOf(f, now);
        tried += turn.has_value() || f.part->kind == Kind::Cell;
        if (turn &&
            (!best || turn->after.all + turn->after.dead < best->after.all + best->after.dead))
            best = turn;
    }
    if (!best) {
        plugs();
        return;
    }
    const auto &f = *best->part;
    const auto &called = kit::labelOf(*f.instance);
    if (f.part->kind == Kind::Cell || f.part->kind == Kind::Supply)
        takeAll(add("pack-backwards", Severity::Error, f.instance->id,
                    say("{} is connected backwards.", called),
                    say("Parts burn at once, and the cells are shorted through them."),
                    say("{} belongs on plus, {} on ground.", best->a, best->b),
                    "terminal:" + best->a));
    else if (f.part->kind == Kind::Link)
        takeAll(add("diode-backwards", Severity::Error, f.instance->id,
                    say("The diode {} is the wrong way round: nothing flows.", called),
                    say("What hangs behind it gets no supply."),
                    say("{} belongs on the side of the pack.", best->a), "terminal:" + best->a));
    else if (f.part->kind == Kind::Regulator)
        takeAll(add("plug-backwards", Severity::Error, best->a + " and " + best->b,
                    say("Input and output of {} are exchanged.", called),
                    say("It passes what it gets, and burns."),
                    say("{} belongs on the supply, {} on what it feeds.", best->a, best->b),
                    "terminal:" + best->a));
    else
        plugs();
}

void FaultFinder::plugs()
{
    // Those that hang on one pair of conductors are one fault: their rail may be turned round.
    std::map<std::pair<int, int>, std::vector<const Strain *>> groups;
    std::set<const kit::Instance *> done;
    for (const auto *s : strains(Harm::Backwards)) {
        const auto own = m_net.ownSupplyOf(s->member);
        const auto ground = m_net.groundOf(s->member);
        if (own != noMember && ground != noMember && done.insert(m_all[s->member].fitted).second)
            groups[{m_all[own].net, m_all[ground].net}].push_back(s);
    }
    for (const auto &[nets, all] : groups) {
        const auto &first = *all.front();
        const auto own = m_net.ownSupplyOf(first.member);
        const auto ground = m_net.groundOf(first.member);
        std::vector<std::string> labels;
        auto turnedCar = m_car.car();
        for (const auto *s : all) {
            labels.push_back(label(s->member));
            turnedCar = turned(std::move(turnedCar), name(m_net.ownSupplyOf(s->member)),
                               name(m_net.groundOf(s->member)));
        }
        add("plug-backwards", Severity::Error, name(own) + " and " + name(ground),
            all.size() == 1
                ? say("{} is plugged in backwards: {} over its supply.", labels.front(),
                      inVolts(first.value))
                : say("{} are plugged in backwards, or their rail is: {} over their supply.",
                      joined(labels, " and "), inVolts(first.value)),
            say("Supply and ground are exchanged: the part burns at once."),
            say("{} belongs on the supply, {} on ground.", name(own), name(ground)),
            "terminal:" + name(own));
        // Turned on a copy: where that mends the supply, everything else follows from it.
        if (weight(turnedCar).supply == 0) {
            takeAll(m_found.back());
            return;
        }
        for (const auto *s : all)
            for (const auto &other : m_looked.strains)
                if (m_all[other.member].fitted == m_all[s->member].fitted)
                    m_taken.insert(&other);
    }
}

} // namespace badger::wiring
