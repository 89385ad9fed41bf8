// SPDX-License-Identifier: GPL-3.0-or-later
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

Say inAmps(double a)
{
    return std::abs(a) < 1.0 ? quantity(a, Unit::Milliampere, 0) : quantity(a, Unit::Ampere, 1);
}

kit::Car turned(kit::Car car, const std::string &a, const std::string &b)
{
    for (auto &w : car.wires)
        for (auto *end : {&w.from, &w.to})
            if (*end == a)
                *end = b;
            else if (*end == b)
                *end = a;
    return car;
}

bool isSupplyHarm(Harm h)
{
    return h == Harm::Shorted || h == Harm::Charged || h == Harm::Backwards || h == Harm::OverVolts;
}

Say FaultFinder::words(const Strain &s) const
{
    switch (s.harm) {
    case Harm::Shorted:
        return say("{} gives {}.", label(s.member), inAmps(s.value));
    case Harm::Charged:
        return say("{} flow back into {}.", inAmps(s.value), label(s.member));
    case Harm::Backwards:
        return say("{} gets {}.", name(s.member), inVolts(s.value));
    case Harm::OverVolts:
    case Harm::PinVolts:
        return say("{} gets {}; it takes {}.", name(s.member), inVolts(s.value), inVolts(s.limit));
    case Harm::UnderVolts:
        return say("{} gets {}; it needs {}.", name(s.member), inVolts(s.value), inVolts(s.limit));
    case Harm::ResistorHeat:
        return say("{} turns {} into heat; it bears {}.", label(s.member),
                   quantity(s.value, Unit::Watt, 2), quantity(s.limit, Unit::Watt, 2));
    default:
        return say("{} carries {}; it bears {}.", name(s.member), inAmps(s.value), inAmps(s.limit));
    }
}

void FaultFinder::takeAll(Finding &root)
{
    // What burns first is said first: the harms are listed in that order.
    std::vector<const Strain *> all;
    for (const auto &s : m_looked.strains)
        if (m_taken.insert(&s).second && !s.stalled)
            all.push_back(&s);
    // What is the wrong way round has too few volts, too.
    std::erase_if(all, [&](const Strain *s) {
        return s->harm == Harm::UnderVolts &&
               std::any_of(m_looked.strains.begin(), m_looked.strains.end(), [&](const Strain &o) {
                   return o.harm == Harm::Backwards && o.member == s->member;
               });
    });
    std::stable_sort(all.begin(), all.end(),
                     [](const Strain *a, const Strain *b) { return a->harm < b->harm; });
    constexpr size_t mostLines = 3;
    size_t left = 0;
    for (const auto *one : all) {
        const auto &s = *one;
        if (root.then.size() < mostLines)
            root.then.push_back(words(s));
        else
            ++left;
    }
    if (left > 0)
        root.then.push_back(say("And {0} {0|more limit is|more limits are} passed.", left));
    m_rooted = true;
}

FaultFinder::Weight FaultFinder::weight(const circuit::CarNetwork &net,
                                        const circuit::Looked &looked)
{
    Weight w;
    for (const auto &s : looked.strains) {
        w.supply += isSupplyHarm(s.harm);
        w.all += !s.stalled;
    }
    const auto &all = net.nets().all();
    for (size_t i = 0; i < all.size(); ++i)
        if (all[i].terminal->role == Role::SupplyIn &&
            (i == net.ownSupplyOf(i) || all[i].terminal->motors))
            w.dead += starves(net, looked, i);
        else if (i == net.ownSupplyOf(i))
            w.dead += starves(net, looked, i);
    return w;
}

FaultFinder::Weight FaultFinder::weight(const kit::Car &car) const
{
    const kit::Assembly a(car, m_car.catalogue());
    const nets::Nets nets(a);
    const circuit::CarNetwork net(nets);
    return weight(net, circuit::look(net));
}

bool FaultFinder::hasStrain(Harm harm) const
{
    return std::any_of(m_looked.strains.begin(), m_looked.strains.end(),
                       [&](const Strain &s) { return s.harm == harm; });
}

std::vector<const Strain *> FaultFinder::strains(Harm harm) const
{
    std::vector<const Strain *> all;
    for (const auto &s : m_looked.strains)
        if (s.harm == harm && m_taken.count(&s) == 0)
            all.push_back(&s);
    return all;
}

Finding &FaultFinder::add(const char *code, Severity severity, Say where, Say what, Say why,
                          Say look, const std::string &target)
{
    m_found.push_back({code, severity, std::move(where), std::move(what), std::move(why),
                       std::move(look), target});
    return m_found.back();
}

bool FaultFinder::starves(const circuit::CarNetwork &net, const circuit::Looked &looked,
                          size_t input)
{
    const auto &t = *net.nets().all()[input].terminal;
    const double low = t.window ? t.window->low_V : t.source_V;
    constexpr double half = 0.5;
    for (const auto *a : {&looked.rest, &looked.running})
        if (!net.hasGround(*a, input) || net.ownVolts_V(*a, input).value_or(0.0) < half * low)
            return true;
    return false;
}

int FaultFinder::rail(int node) const
{
    std::set<int> seen = {node};
    std::vector<int> open = {node};
    while (!open.empty()) {
        const int at = open.back();
        open.pop_back();
        for (const auto &e : m_net.elements()) {
            if (e.what != What::Jumper && (e.what != What::Link || e.part->figure("drop_V")))
                continue;
            const int a = m_net.nodeOf(e.from);
            const int b = m_net.nodeOf(e.to);
            for (const auto &[x, y] : {std::pair{a, b}, std::pair{b, a}})
                if (x == at && seen.insert(y).second)
                    open.push_back(y);
        }
    }
    return *seen.begin();
}

std::vector<size_t> FaultFinder::givers() const
{
    std::vector<size_t> all;
    for (size_t i = 0; i < m_all.size(); ++i) {
        const auto &m = m_all[i];
        if (m.wires == 0)
            continue;
        if (m.terminal->role == Role::Plus)
            all.push_back(i);
        if (m.terminal->role != Role::SupplyOut)
            continue;
        const auto *in = m_nets.member(m.fitted->id + "." + m.terminal->fedBy);
        if (in == nullptr)
            continue;
        const auto at = static_cast<size_t>(in - m_all.data());
        if (m_net.isHeld(m_looked.rest, at) &&
            m_net.ownVolts_V(m_looked.rest, at).value_or(0.0) >= m.terminal->needs_V)
            all.push_back(i);
    }
    return all;
}

size_t FaultFinder::memberOf(const kit::Fitted &f, Role role) const
{
    for (size_t i = 0; i < m_all.size(); ++i)
        if (m_all[i].fitted == f.instance && m_all[i].terminal->role == role)
            return i;
    return noMember;
}

bool FaultFinder::groundAlone(size_t ground) const
{
    const int net = m_all[ground].net;
    return std::all_of(
        m_nets.members(net).begin(), m_nets.members(net).end(),
        [&](const std::string &n) { return m_nets.member(n)->fitted == m_all[ground].fitted; });
}

bool FaultFinder::groundHeld(const kit::Fitted &f) const
{
    const auto ground = memberOf(f, Role::Ground);
    return ground == noMember || !groundAlone(ground);
}

std::set<int> FaultFinder::groundNodes() const
{
    std::set<int> ground = {0};
    for (bool grows = true; grows;) {
        grows = false;
        for (const auto &e : m_net.elements()) {
            if (e.what != What::Link)
                continue;
            const int a = m_net.nodeOf(e.from);
            const int b = m_net.nodeOf(e.to);
            if (ground.count(a) != ground.count(b))
                grows |= ground.insert(ground.count(a) ? b : a).second;
        }
    }
    return ground;
}

const nets::Member *FaultFinder::referenceGround() const
{
    for (const auto role : {Role::Minus, Role::Ground})
        for (size_t i = 0; i < m_all.size(); ++i)
            if (m_all[i].terminal->role == role && m_net.nodeOf(i) == 0)
                return &m_all[i];
    return nullptr;
}

std::vector<std::string> FaultFinder::company(size_t member) const
{
    std::vector<std::string> all;
    for (size_t i = 0; i < m_all.size(); ++i) {
        const auto role = m_all[i].terminal->role;
        const bool output = std::any_of(m_net.outputs().begin(), m_net.outputs().end(),
                                        [&](const circuit::Output &o) { return o.member == i; });
        if (i != member && m_net.nodeOf(i) >= 0 && m_net.nodeOf(i) == m_net.nodeOf(member) &&
            (output || role == Role::Ground || role == Role::Minus || role == Role::Plus ||
             role == Role::SupplyOut || role == Role::MotorOut || role == Role::SupplyIn))
            all.push_back(name(i));
    }
    return all;
}

bool FaultFinder::takesPower(const parts::Part &part)
{
    return std::any_of(part.terminals.begin(), part.terminals.end(),
                       [](const parts::Terminal &t) { return t.role == Role::SupplyIn; });
}

std::pair<std::string, std::string> FaultFinder::leads(const kit::Fitted &f) const
{
    std::string plus;
    std::string minus;
    for (const auto &t : f.part->terminals) {
        const auto full = f.instance->id + "." + t.name;
        if (t.role == Role::Plus ||
            (f.part->kind == Kind::Link && t.role == Role::Through && plus.empty()))
            plus = full;
        else if (t.role == Role::Minus || (f.part->kind == Kind::Link && minus.empty()))
            minus = full;
    }
    return {plus, minus};
}

std::vector<Finding> FaultFinder::all()
{
    openMinus();
    turnedRound();
    suppliesSwapped();
    shorted();
    sourcesTogether();
    openGrounds();
    apart();
    charged();
    packOnPin();
    motorsOnRegulator();
    liftedRails();
    overVolts();
    openSupplies();
    underVolts();
    pinVolts();
    outputsHeld();
    outputsJoined();
    lights();
    links();
    bypassed();
    idleFuses();
    rails();
    resistors();
    return std::move(m_found);
}

std::set<std::string> starvedParts(const circuit::CarNetwork &net, const circuit::Looked &looked)
{
    std::set<std::string> all;
    const auto &members = net.nets().all();
    for (size_t i = 0; i < members.size(); ++i)
        if (members[i].terminal->role == Role::SupplyIn && i == net.ownSupplyOf(i) &&
            FaultFinder::starves(net, looked, i))
            all.insert(members[i].fitted->id);
    return all;
}

std::vector<Finding> faults(const circuit::CarNetwork &net, const circuit::Looked &looked)
{
    return FaultFinder(net, looked).all();
}

} // namespace badger::wiring
