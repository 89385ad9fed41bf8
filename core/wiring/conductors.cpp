// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wiring/conductors.h"

#include <algorithm>

namespace badger::wiring
{

using circuit::noMember;
using circuit::What;
using parts::Kind;
using parts::Role;

namespace
{

/// A member of a node is joined to itself alone at first; each branch that conducts like a wire
/// makes two one.
template <class Joins> std::vector<int> joinedNodes(const circuit::CarNetwork &net, Joins joins)
{
    int count = 1;
    for (size_t i = 0; i < net.nets().all().size(); ++i)
        count = std::max(count, net.nodeOf(i) + 1);
    std::vector<int> number(static_cast<size_t>(count));
    for (size_t i = 0; i < number.size(); ++i)
        number[i] = static_cast<int>(i);
    for (bool changed = true; changed;) {
        changed = false;
        for (const auto &e : net.elements()) {
            const int a = net.nodeOf(e.from);
            const int b = net.nodeOf(e.to);
            if (a < 0 || b < 0 || !joins(e))
                continue;
            auto &x = number[static_cast<size_t>(a)];
            auto &y = number[static_cast<size_t>(b)];
            changed |= x != y;
            x = y = std::min(x, y);
        }
    }
    return number;
}

} // namespace

Conductors::Conductors(const circuit::CarNetwork &net, const circuit::Looked &looked)
    : m_net(net), m_looked(looked), m_all(net.nets().all())
{
    m_rail = joinedNodes(net, [](const circuit::Element &e) {
        return e.what == What::Jumper || (e.what == What::Link && !e.part->figure("drop_V"));
    });
    const auto ground =
        joinedNodes(net, [](const circuit::Element &e) { return e.what == What::Link; });
    for (size_t i = 0; i < ground.size(); ++i)
        if (ground[i] == ground[0])
            m_ground.insert(static_cast<int>(i));
    for (const auto role : {Role::Ground, Role::Minus})
        for (size_t i = m_all.size(); i-- > 0;)
            if (m_all[i].terminal->role == role && net.nodeOf(i) == 0)
                m_reference = i;
    for (size_t i = 0; i < m_all.size(); ++i) {
        const auto &m = m_all[i];
        if (m.wires == 0)
            continue;
        if (m.terminal->role == Role::Plus)
            m_givers.push_back(i);
        if (m.terminal->role != Role::SupplyOut)
            continue;
        const auto *in = net.nets().member(m.fitted->id + "." + m.terminal->fedBy);
        if (in == nullptr)
            continue;
        const auto at = static_cast<size_t>(in - m_all.data());
        if (net.isHeld(looked.rest, at) &&
            net.ownVolts_V(looked.rest, at).value_or(0.0) >= m.terminal->needs_V)
            m_givers.push_back(i);
    }
}

int Conductors::rail(size_t member) const
{
    const int node = m_net.nodeOf(member);
    return node < 0 ? -1 : m_rail[static_cast<size_t>(node)];
}

bool Conductors::isCommonGround(size_t member) const
{
    return m_ground.count(m_net.nodeOf(member)) != 0;
}

size_t Conductors::of(const kit::Instance &fitted, Role role) const
{
    for (size_t i = 0; i < m_all.size(); ++i)
        if (m_all[i].fitted == &fitted && m_all[i].terminal->role == role)
            return i;
    return noMember;
}

bool Conductors::isAlone(size_t ground) const
{
    const auto &on = m_net.nets().members(m_all[ground].net);
    return std::all_of(on.begin(), on.end(), [&](const std::string &n) {
        return m_net.nets().member(n)->fitted == m_all[ground].fitted;
    });
}

std::vector<size_t> Conductors::upstream(size_t member) const
{
    std::vector<size_t> way = {member};
    std::set<int> seen;
    for (size_t k = 0; k < way.size(); ++k) {
        const int node = m_net.nodeOf(way[k]);
        if (node < 0 || !seen.insert(node).second)
            continue;
        const auto add = [&](size_t next) {
            if (std::find(way.begin(), way.end(), next) == way.end())
                way.push_back(next);
        };
        for (const auto &e : m_net.elements())
            if (e.what == What::Link && m_net.nodeOf(e.to) == node)
                add(e.from);
        for (size_t i = 0; i < m_all.size(); ++i) {
            if (m_net.nodeOf(i) != node || i == way[k])
                continue;
            const auto &t = *m_all[i].terminal;
            if (t.role == Role::Plus)
                add(i);
            const auto *in = t.role == Role::SupplyOut && !t.fedBy.empty()
                                 ? m_net.nets().member(m_all[i].fitted->id + "." + t.fedBy)
                                 : nullptr;
            if (in != nullptr)
                add(static_cast<size_t>(in - m_all.data()));
        }
    }
    return way;
}

bool Conductors::starves(size_t input) const
{
    const auto &t = *m_all[input].terminal;
    const double low = t.window ? t.window->low_V : t.source_V;
    constexpr double half = 0.5;
    for (const auto *a : {&m_looked.rest, &m_looked.running})
        if (!m_net.hasGround(*a, input) || m_net.ownVolts_V(*a, input).value_or(0.0) < half * low)
            return true;
    return false;
}

std::vector<size_t> Conductors::company(size_t member) const
{
    std::vector<size_t> all;
    for (size_t i = 0; i < m_all.size(); ++i) {
        const auto role = m_all[i].terminal->role;
        const bool output = std::any_of(m_net.outputs().begin(), m_net.outputs().end(),
                                        [&](const circuit::Output &o) { return o.member == i; });
        if (i != member && m_net.nodeOf(i) >= 0 && m_net.nodeOf(i) == m_net.nodeOf(member) &&
            (output || role == Role::Ground || role == Role::Minus || role == Role::Plus ||
             role == Role::SupplyOut || role == Role::MotorOut || role == Role::SupplyIn))
            all.push_back(i);
    }
    return all;
}

size_t Conductors::raisedBy(size_t member) const
{
    size_t from = noMember;
    for (const auto role : {Role::Echo, Role::DigitalOut, Role::AnalogueOut})
        for (const auto &n : m_net.nets().onLine(m_all[member].name, role)) {
            const auto *m = m_net.nets().member(n);
            if (m->part->kind != Kind::Divider)
                from = static_cast<size_t>(m - m_all.data());
        }
    const auto others = company(member);
    return from == noMember && !others.empty() ? others.front() : from;
}

} // namespace badger::wiring
