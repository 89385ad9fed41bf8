// SPDX-License-Identifier: GPL-3.0-or-later
// Pins, outputs, lights, links, rails.
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

Say FaultFinder::overVoltsLook(const std::string &at, const std::string &from) const
{
    const auto common = groundNodes();
    for (const auto &f : m_car.fitted()) {
        if (f.part->kind != Kind::Divider)
            continue;
        const auto out = f.instance->id + ".OUT";
        const auto ground = memberOf(f, Role::Ground);
        const bool here = m_nets.of(out) == m_nets.of(at);
        if (here &&
            (ground == noMember || common.count(m_net.nodeOf(ground)) == 0 || groundAlone(ground)))
            return say("The divider's {}.GND is not on ground, so it divides nothing.",
                       f.instance->id);
    }
    return from.empty() ? say("Look at what is joined to {}.", at)
                        : say("A divider between them brings it down: V × R2 / (R1 + R2).");
}

/// What is said of the supply of a sensor, where that is too high; null where it is not.
Finding *FaultFinder::overFed(const std::string &output)
{
    const auto *m = m_nets.member(output);
    if (m == nullptr)
        return nullptr;
    const auto own = m_net.ownSupplyOf(static_cast<size_t>(m - m_all.data()));
    const int node = own != noMember ? m_net.nodeOf(own) : -1;
    return node >= 0 ? overVoltsSaid(node) : nullptr;
}

std::string FaultFinder::raisedBy(size_t member) const
{
    std::string from;
    for (const auto role : {Role::Echo, Role::DigitalOut, Role::AnalogueOut})
        for (const auto &n : m_nets.onLine(name(member), role))
            if (m_nets.member(n)->part->kind != Kind::Divider)
                from = n;
    const auto others = company(member);
    return from.empty() && !others.empty() ? others.front() : from;
}

Finding *FaultFinder::overVoltsSaid(int node)
{
    const bool over =
        std::any_of(m_looked.strains.begin(), m_looked.strains.end(), [&](const Strain &s) {
            return s.harm == Harm::OverVolts && rail(m_net.nodeOf(s.member)) == rail(node);
        });
    for (auto &f : m_found) {
        const auto *m = m_nets.member(f.target.substr(f.target.find(':') + 1));
        const int at = m ? m_net.nodeOf(static_cast<size_t>(m - m_all.data())) : -1;
        if (over && at >= 0 && rail(at) == rail(node))
            return &f;
    }
    return nullptr;
}

Finding *FaultFinder::railFault(const kit::Instance &board)
{
    for (const auto &s : m_looked.strains)
        if (s.harm == Harm::OverVolts && m_all[s.member].fitted == &board)
            if (auto *said = overVoltsSaid(m_net.nodeOf(s.member)))
                return said;
    return nullptr;
}

Finding *FaultFinder::weakSupply(const Strain &s)
{
    const auto *most = m_all[s.member].part->figure("pin_high_V");
    if (m_all[s.member].part->kind != Kind::Board || most == nullptr || s.value < 0.0 ||
        s.value > most->high)
        return nullptr;
    for (auto &f : m_found) {
        const auto *m = m_nets.member(f.target.substr(f.target.find(':') + 1));
        if (f.code == "supply-outside-window" && m != nullptr &&
            m->fitted == m_all[s.member].fitted)
            return &f;
    }
    return nullptr;
}

void FaultFinder::liftedRails()
{
    const auto sources = givers();
    for (const auto *high : strains(Harm::OverVolts)) {
        const auto &board = *m_all[high->member].fitted;
        const int here = rail(m_net.nodeOf(high->member));
        const auto isOther = [&](size_t giver) {
            return m_all[giver].fitted != &board && m_net.nodeOf(giver) >= 0 &&
                   rail(m_net.nodeOf(giver)) == here;
        };
        if (m_rooted || m_all[high->member].part->kind != Kind::Board ||
            m_all[high->member].terminal->role != Role::SupplyOut ||
            std::any_of(sources.begin(), sources.end(), isOther))
            continue;
        std::vector<const Strain *> own; // pins that are as high as the rail
        bool raised = false;
        for (const auto *s : strains(Harm::PinVolts))
            if (m_all[s->member].fitted == &board) {
                if (raisedBy(s->member).empty())
                    own.push_back(s);
                else
                    raised = true;
            }
        if (!raised)
            continue;
        for (const auto *s : strains(Harm::OverVolts))
            if (rail(m_net.nodeOf(s->member)) == here) {
                m_taken.insert(s);
                m_lifted[board.id].push_back(words(*s));
            }
        m_taken.insert(own.begin(), own.end());
    }
}

void FaultFinder::pinVolts()
{
    std::set<int> said;
    for (const auto *s : strains(Harm::PinVolts)) {
        if (m_rooted || !said.insert(m_net.nodeOf(s->member)).second)
            continue;
        const auto from = raisedBy(s->member);
        auto *railed = from.empty() ? railFault(*m_all[s->member].fitted) : nullptr;
        if (railed != nullptr) { // a pin is as high as the rail that it is switched to
            const auto line =
                say("The pins of {} give {}, too.", m_all[s->member].fitted->id, inVolts(s->value));
            if (railed->then.empty() || english(railed->then.back()) != english(line))
                railed->then.push_back(line);
            continue;
        }
        if (auto *fed = overFed(from)) {
            fed->then.push_back(words(*s));
            continue;
        }
        if (auto *weak = weakSupply(*s)) {
            weak->then.push_back(words(*s));
            continue;
        }
        double arrives = s->value;
        if (!from.empty() && m_nets.of(from) == m_nets.of(name(s->member)))
            if (const auto own =
                    m_net.ownSupplyOf(static_cast<size_t>(m_nets.member(from) - m_all.data()));
                own != noMember)
                arrives = std::max(arrives, m_net.ownVolts_V(m_looked.rest, own).value_or(arrives));
        std::vector<std::string> reached;
        for (const auto *other : strains(Harm::PinVolts))
            if (m_net.nodeOf(other->member) == m_net.nodeOf(s->member))
                reached.push_back(name(other->member));
        const auto at = joined(reached, " and ");
        auto &root =
            add("signal-over-volts", Severity::Error,
                from.empty() ? say("{}", at) : say("{} at {}", from, at),
                s->value < 0.0 ? say("{} at {}, less than its ground.", inVolts(s->value), at)
                : from.empty()
                    ? say("{} reach {}, which takes {}.", inVolts(arrives), at, inVolts(s->limit))
                    : say("{} of {} reach {}, which takes {}.", inVolts(arrives), from, at,
                          inVolts(s->limit)),
                say("The pin is damaged, at once or slowly."), overVoltsLook(reached.front(), from),
                "terminal:" + (from.empty() ? name(s->member) : from));
        if (const auto lifted = m_lifted.extract(m_all[s->member].fitted->id))
            root.then = lifted.mapped();
    }
}

void FaultFinder::outputsHeld()
{
    std::set<int> said;
    for (const auto harm : {Harm::OutputAmps, Harm::PinAmps})
        for (const auto *s : strains(harm)) {
            if (m_rooted || !said.insert(m_net.nodeOf(s->member)).second)
                continue;
            if (harm == Harm::PinAmps && m_car.first(Kind::Board) != nullptr &&
                m_all[s->member].terminal->role != Role::Pin &&
                (m_nets.isGround(m_all[s->member].net) || m_nets.isSupply(m_all[s->member].net)))
                continue; // a signal that is held is said as such
            auto others = company(s->member);
            constexpr size_t most = 2;
            if (others.size() > most)
                others.resize(most);
            const bool motor = harm == Harm::OutputAmps;
            const auto where =
                others.empty() ? name(s->member) : name(s->member) + " and " + others.front();
            add(motor ? "motor-output-held" : "output-against-output", Severity::Error, where,
                others.empty()
                    ? say("{} gives {}; it bears {}.", name(s->member), inAmps(s->value),
                          inAmps(s->limit))
                    : say("{} is joined to {}: {} flow where it bears {}.", name(s->member),
                          joined(others, " and "), inAmps(s->value), inAmps(s->limit)),
                motor ? say("The driver cuts out or burns as soon as it is switched on.")
                      : say("One is high while the other is low: the output burns."),
                say("Look at what is joined to {}.", name(s->member)),
                "terminal:" + name(s->member));
            for (const auto &other : m_looked.strains)
                if (motor && !other.stalled &&
                    (other.harm == Harm::UnderVolts || other.harm == Harm::LinkAmps) &&
                    m_taken.insert(&other).second)
                    m_found.back().then.push_back(words(other));
        }
}

void FaultFinder::outputsJoined()
{
    std::map<int, std::vector<std::string>> byNet;
    for (const auto &m : m_all) {
        const auto role = m.terminal->role;
        if (m.net >= 0 && m.wires > 0 && m_nets.onLine(m.name, Role::Pin).empty() &&
            (role == Role::DigitalOut || role == Role::AnalogueOut || role == Role::Echo))
            byNet[m.net].push_back(m.name);
    }
    for (const auto &[net, names] : byNet) {
        const bool said = std::any_of(m_found.begin(), m_found.end(), [&](const Finding &f) {
            const auto *m = m_nets.member(f.target.substr(f.target.find(':') + 1));
            return f.code == "output-against-output" && m != nullptr && m->net == net;
        });
        if (names.size() > 1 && !said && !m_rooted)
            add("output-against-output", Severity::Error, joined(names, " and "),
                say("{} are joined.", joined(names, " and ")),
                say("While one is high and the other low, neither is heard."),
                say("Look which of them belongs here."), "terminal:" + names.front());
    }
}

void FaultFinder::lights()
{
    for (const auto *s : strains(Harm::LightAmps))
        add("light-too-bright", Severity::Warning, label(s->member),
            say("{} flow through {}; it is made for {}.", inAmps(s->value), label(s->member),
                inAmps(s->limit)),
            say("The light burns, and the pin or rail that feeds it with it."),
            say("A resistor belongs in series with it."), "terminal:" + name(s->member));
}

void FaultFinder::links()
{
    for (const auto *s : strains(Harm::LinkAmps)) {
        const auto &part = *m_all[s->member].part;
        if (m_rooted)
            return;
        const bool fuse = part.shape == "fuse";
        const auto when = s->stalled ? say("when all motors stall") : say("while the car runs");
        const auto what = fuse ? say("{} flow through the {} fuse {}: it may blow.",
                                     inAmps(s->value), inAmps(s->limit), when)
                               : say("{} flow through {} {}; it bears {}.", inAmps(s->value),
                                     label(s->member), when, inAmps(s->limit));
        add("link-over-limit", s->stalled ? Severity::Warning : Severity::Error, label(s->member),
            what,
            fuse ? say("The car stands still, in the middle of a run.")
                 : say("Its contacts weld, or it overheats."),
            say("It is the motors that ask for this much."), "terminal:" + name(s->member));
    }
}

/// Both ends of a switch, fuse or diode on one conductor: it does nothing there.
void FaultFinder::bypassed()
{
    for (const auto &e : m_net.elements()) {
        if (e.what != What::Link || m_net.nodeOf(e.from) != m_net.nodeOf(e.to) ||
            m_all[e.from].wires == 0 || m_all[e.to].wires == 0)
            continue;
        const bool fuse = e.part->shape == "fuse";
        add("link-bypassed", Severity::Warning, name(e.from) + " and " + name(e.to),
            say("Both ends of {} are joined: it is bypassed.", label(e.from)),
            fuse                        ? say("A short finds no fuse in its way.")
            : e.part->shape == "switch" ? say("The car does not stop when it is switched off.")
                                        : say("What it should keep back passes."),
            say("Look at the wire that joins its two ends."), "terminal:" + name(e.from));
    }
}

/// A fuse beside a pack that gives, with nothing through it.
void FaultFinder::idleFuses()
{
    constexpr double flows_A = 1e-3;
    const auto &amps = m_looked.running.solution.amps_A;
    const auto &all = m_net.elements();
    for (size_t i = 0; i < all.size(); ++i) {
        const auto &e = all[i];
        if (m_rooted || e.what != What::Link || e.part->shape != "fuse" ||
            std::abs(amps[i]) > flows_A || m_net.nodeOf(e.from) == m_net.nodeOf(e.to))
            continue;
        const int here = rail(m_net.nodeOf(e.from));
        bool gives = false;
        for (size_t k = 0; k < all.size(); ++k)
            gives |= all[k].what == What::Source && -amps[k] > flows_A &&
                     rail(m_net.nodeOf(all[k].from)) == here;
        if (gives)
            add("fuse-idle", Severity::Warning, label(e.from),
                say("Nothing flows through {}: it protects nothing.", label(e.from)),
                say("A short finds no fuse in its way."),
                say("It belongs between the pack and everything else."),
                "terminal:" + name(e.from));
    }
}

void FaultFinder::rails()
{
    for (const auto *s : strains(Harm::RegulatorAmps)) {
        if (m_rooted || s->stalled) // a stall is the power tree's to judge
            continue;
        if (m_net.nodeOf(s->member) == m_net.nodeOf(m_net.groundOf(s->member))) {
            add("supply-to-ground", Severity::Error, name(s->member),
                say("{} is joined to ground.", name(s->member)),
                say("Its regulator cuts out or burns, and the board resets."),
                say("Look at what is joined to {}.", name(s->member)),
                "terminal:" + name(s->member));
            continue;
        }
        const auto others = company(s->member);
        add("rail-over-current", Severity::Error, name(s->member),
            say("{} is asked for {}; it gives {} at most.", name(s->member), inAmps(s->value),
                inAmps(s->limit)),
            say("Its regulator cuts out or burns, and the board resets."),
            others.empty() ? say("Look at what hangs on {}.", name(s->member))
                           : say("Look at {}.", joined(others, ", ")),
            "terminal:" + name(s->member));
    }
}

void FaultFinder::resistors()
{
    for (const auto *s : strains(Harm::ResistorHeat))
        if (!m_rooted)
            add("resistor-hot", Severity::Error, label(s->member), words(*s), say("It smokes."),
                say("Look at what is joined to its ends."), "terminal:" + name(s->member));
}

} // namespace badger::wiring
