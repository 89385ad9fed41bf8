// SPDX-License-Identifier: GPL-3.0-or-later
// Supplies that are too low or do not arrive, and what follows from each.
#include "core/wiring/fault_finder.h"

#include <algorithm>
#include <map>

namespace badger::wiring
{

using circuit::Harm;
using circuit::noMember;
using circuit::Strain;
using circuit::What;
using parts::Kind;
using parts::Role;

void FaultFinder::underVolts()
{
    if (hasStrain(Harm::OutputAmps))
        return; // that is what takes the volts
    const auto all = strains(Harm::UnderVolts);
    // The inputs of regulators first: what hangs on their outputs follows.
    std::map<size_t, size_t> saidOf; // a member: its finding
    const auto feeder = [&](size_t member) {
        for (const auto *s : all)
            for (size_t i = 0; i < m_all.size(); ++i)
                if (s->member != member && m_all[i].fitted == m_all[s->member].fitted &&
                    m_all[i].terminal->role == Role::SupplyOut &&
                    m_all[i].terminal->fedBy == m_all[s->member].terminal->name &&
                    m_net.nodeOf(i) >= 0 && rail(m_net.nodeOf(i)) == rail(m_net.nodeOf(member)))
                    return s->member;
        return noMember;
    };
    std::vector<const Strain *> following;
    for (const auto *s : all) {
        if (feeder(s->member) != noMember) {
            following.push_back(s);
            continue;
        }
        const auto &t = *m_all[s->member].terminal;
        saidOf[s->member] = m_found.size();
        add("supply-outside-window", Severity::Error, name(s->member),
            say("{} gets {} while the car runs; it takes {} to {}.", name(s->member),
                inVolts(s->value), inVolts(t.window->low_V), inVolts(t.window->high_V)),
            say("The part does not start, or resets as soon as the motors do."),
            say("It needs a higher supply."), "terminal:" + name(s->member));
    }
    for (const auto *s : following) {
        size_t root = s->member;
        for (size_t step = 0; step < all.size() && saidOf.count(root) == 0; ++step)
            root = feeder(root);
        if (const auto it = saidOf.find(root); it != saidOf.end())
            m_found[it->second].then.push_back(words(*s));
        else // a ring of regulators
            add("supply-outside-window", Severity::Error, name(s->member), words(*s),
                say("The part does not start, or resets as soon as the motors do."),
                say("It needs a higher supply."), "terminal:" + name(s->member));
    }
}

std::vector<size_t> FaultFinder::starvedInputs() const
{
    const auto common = groundNodes();
    std::vector<size_t> all;
    for (const auto &f : m_car.fitted()) {
        if (!takesPower(*f.part) || !groundHeld(f))
            continue;
        const auto ground = memberOf(f, Role::Ground);
        if (ground != noMember && m_net.nodeOf(ground) >= 0 &&
            common.count(m_net.nodeOf(ground)) == 0)
            continue; // that is said of the ground
        const auto first = memberOf(f, Role::SupplyIn);
        if (const auto own = m_net.ownSupplyOf(first); starves(m_net, m_looked, own))
            all.push_back(m_all[own].terminal->role == Role::SupplyIn ? own : first);
        for (size_t i = 0; i < m_all.size(); ++i)
            if (m_all[i].fitted == f.instance && m_all[i].terminal->motors &&
                starves(m_net, m_looked, i) && std::find(all.begin(), all.end(), i) == all.end())
                all.push_back(i);
    }
    return all;
}

/// What should feed a starved input and starves itself: the input of the regulator whose output is
/// on its net, or the near end of a switch or fuse. The input itself where there is none.
size_t FaultFinder::causeOf(size_t input, const std::vector<size_t> &starved) const
{
    constexpr double dead_V = 1.0; ///< what a part that gets nothing leaves on its own lead
    const int node = m_net.nodeOf(input);
    for (const size_t other : starved)
        for (size_t i = 0; node >= 0 && i < m_all.size(); ++i)
            if (other != input && m_all[i].fitted == m_all[other].fitted &&
                m_all[i].terminal->role == Role::SupplyOut &&
                m_all[i].terminal->fedBy == m_all[other].terminal->name && m_net.nodeOf(i) >= 0 &&
                rail(m_net.nodeOf(i)) == rail(node))
                return causeOf(other, starved);
    for (const auto &e : m_net.elements())
        if (e.what == What::Link && node >= 0 && m_all[e.to].wires > 0 &&
            m_net.volts_V(m_looked.rest, e.from).value_or(0.0) < dead_V &&
            rail(m_net.nodeOf(e.to)) == rail(node))
            return e.from;
    return input;
}

void FaultFinder::openMinus()
{
    size_t sources = 0;
    for (const auto &f : m_car.fitted())
        sources += memberOf(f, Role::Plus) != noMember && m_all[memberOf(f, Role::Plus)].wires > 0;
    for (const auto &f : m_car.fitted()) {
        const auto plus = memberOf(f, Role::Plus);
        const auto minus = memberOf(f, Role::Minus);
        if (plus == noMember || minus == noMember || m_all[plus].wires == 0 ||
            m_all[minus].wires > 0)
            continue;
        const auto *ground = referenceGround();
        const auto other = ground && ground != &m_all[minus] ? ground->name : std::string();
        add("grounds-not-joined", Severity::Error,
            other.empty() ? name(minus) : name(minus) + " and " + other,
            say("No wire leads to {}: nothing flows.", name(minus)),
            say("What hangs on {} has no way back.", name(plus)),
            say("All grounds belong on one net; this one hangs apart."), "terminal:" + name(minus));
        for (const auto &s : m_looked.strains) {
            const auto own = m_net.ownSupplyOf(s.member);
            const bool here = own != noMember && m_net.nodeOf(own) >= 0 &&
                              rail(m_net.nodeOf(own)) == rail(m_net.nodeOf(plus));
            if (sources == 1 || here || m_all[s.member].fitted == f.instance)
                m_taken.insert(&s);
        }
        m_rooted = m_rooted || sources == 1;
    }
}

void FaultFinder::railsFor(std::map<size_t, std::vector<size_t>> &byCause) const
{
    std::map<int, std::vector<size_t>> byNet;
    for (const auto &[cause, inputs] : byCause)
        if (m_all[cause].net >= 0 && m_all[cause].wires > 0)
            byNet[m_all[cause].net].push_back(cause);
    for (const auto &[net, causes] : byNet) {
        if (causes.size() < 2)
            continue;
        // The rail itself, or an end of the conductor that should give and does not.
        size_t rail = causes.front();
        for (size_t i = 0; i < m_all.size(); ++i)
            if (m_all[i].net == net && m_all[i].wires > 0 && m_all[i].part->kind == Kind::Rail) {
                rail = i;
                break;
            }
        std::vector<size_t> all;
        for (const size_t cause : causes) {
            all.insert(all.end(), byCause[cause].begin(), byCause[cause].end());
            byCause.erase(cause);
        }
        byCause[rail] = std::move(all);
    }
}

void FaultFinder::openSupplies()
{
    if (m_rooted)
        return;
    const auto starved = starvedInputs();
    std::map<size_t, std::vector<size_t>> byCause;
    for (const size_t i : starved)
        byCause[causeOf(i, starved)].push_back(i);
    railsFor(byCause);
    for (const auto &[cause, inputs] : byCause) {
        const auto &t = *m_all[cause].terminal;
        const auto kind = m_all[cause].part->kind;
        const bool link = kind == Kind::Link;
        const auto &called = link ? label(cause) : name(cause);
        auto &root =
            add("module-unpowered", Severity::Error, name(cause),
                link || t.motors || kind == Kind::Rail
                    ? say("No supply reaches {}.", called)
                    : say("The {} has no supply.", m_all[cause].part->name),
                t.motors ? say("The motors do not turn.")
                         : say("Nothing it should do will happen, and its lights stay dark."),
                t.window ? say("{} takes {} to {}.", name(cause), inVolts(t.window->low_V),
                               inVolts(t.window->high_V))
                         : say("Look at what should feed {}.", name(cause)),
                "terminal:" + name(cause));
        for (const size_t i : inputs) {
            if (i != cause)
                root.then.push_back(say("So {} gets none.", name(i)));
            for (const auto &s : m_looked.strains)
                if (m_all[s.member].fitted == m_all[i].fitted && s.harm == Harm::UnderVolts)
                    m_taken.insert(&s);
        }
    }
}

} // namespace badger::wiring
