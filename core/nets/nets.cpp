// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/nets/nets.h"

#include <algorithm>
#include <numeric>
#include <set>

namespace badger::nets
{

using parts::Role;

namespace
{

/// Disjoint sets over terminal indices.
class Joined
{
public:
    explicit Joined(size_t count) : m_parent(count)
    {
        std::iota(m_parent.begin(), m_parent.end(), size_t{0});
    }
    size_t root(size_t i)
    {
        while (m_parent[i] != i)
            i = m_parent[i] = m_parent[m_parent[i]];
        return i;
    }
    void join(size_t a, size_t b)
    {
        m_parent[std::max(root(a), root(b))] = std::min(root(a), root(b));
    }

private:
    std::vector<size_t> m_parent;
};

bool joinedInside(const parts::Part &part, const parts::Terminal &a, const parts::Terminal &b)
{
    if (a.role == Role::Ground && b.role == Role::Ground)
        return true;
    return part.kind == parts::Kind::Link && a.role == Role::Through && b.role == Role::Through;
}

} // namespace

bool isJumpered(const kit::Instance &fitted, const std::string &terminal)
{
    return std::find(fitted.jumpers.begin(), fitted.jumpers.end(), terminal) !=
           fitted.jumpers.end();
}

Nets::Nets(const kit::Assembly &car) : m_car(car)
{
    collect();
    join();
    feed();
}

void Nets::collect()
{
    for (const auto &fitted : m_car->parts)
        if (const auto *part = m_car.part(fitted))
            for (const auto &t : part->terminals)
                m_all.push_back({fitted.id + "." + t.name, &fitted, part, &t});
    for (size_t i = 0; i < m_all.size(); ++i)
        m_index[m_all[i].name] = i;
}

void Nets::join()
{
    Joined joined(m_all.size());
    for (size_t i = 0; i < m_all.size(); ++i)
        for (size_t k = i; k-- > 0 && m_all[k].fitted == m_all[i].fitted;)
            if (joinedInside(*m_all[i].part, *m_all[i].terminal, *m_all[k].terminal))
                joined.join(i, k);
    for (const auto &wire : m_car->wires) {
        const auto from = m_index.find(wire.from);
        const auto to = m_index.find(wire.to);
        if (from == m_index.end() || to == m_index.end())
            continue;
        joined.join(from->second, to->second);
        ++m_all[from->second].wires;
        ++m_all[to->second].wires;
    }
    std::map<size_t, int> numberOf;
    for (size_t i = 0; i < m_all.size(); ++i) {
        const auto [it, isNew] =
            numberOf.try_emplace(joined.root(i), static_cast<int>(m_indices.size()));
        if (isNew)
            m_indices.emplace_back();
        m_indices[static_cast<size_t>(it->second)].push_back(i);
        m_all[i].net = it->second;
    }
    for (auto &indices : m_indices) {
        std::sort(indices.begin(), indices.end(),
                  [this](size_t a, size_t b) { return m_all[a].name < m_all[b].name; });
        m_members.emplace_back();
        for (const size_t i : indices)
            m_members.back().push_back(m_all[i].name);
    }
}

const Member *Nets::member(std::string_view terminal) const
{
    const auto it = m_index.find(terminal);
    return it == m_index.end() ? nullptr : &m_all[it->second];
}

int Nets::of(std::string_view terminal) const
{
    const auto *m = member(terminal);
    return m ? m->net : -1;
}

const std::vector<std::string> &Nets::members(int net) const
{
    static const std::vector<std::string> none;
    return net < 0 ? none : m_members[static_cast<size_t>(net)];
}

std::vector<std::string> Nets::membersWith(int net, Role role) const
{
    std::vector<std::string> found;
    if (net >= 0)
        for (const size_t i : m_indices[static_cast<size_t>(net)])
            if (m_all[i].terminal->role == role)
                found.push_back(m_all[i].name);
    return found;
}

bool Nets::has(int net, Role role) const
{
    return net >= 0 && std::any_of(m_indices[static_cast<size_t>(net)].begin(),
                                   m_indices[static_cast<size_t>(net)].end(),
                                   [&](size_t i) { return m_all[i].terminal->role == role; });
}

bool Nets::wired(std::string_view terminal) const
{
    const auto *m = member(terminal);
    return m != nullptr && m->wires > 0;
}

bool Nets::isGround(int net) const
{
    // The ground of a module that hangs on nothing else is no ground of the car yet, but no
    // signal either.
    if (has(net, Role::Ground))
        return true;
    return net >= 0 && std::any_of(m_indices[static_cast<size_t>(net)].begin(),
                                   m_indices[static_cast<size_t>(net)].end(), [&](size_t i) {
                                       return m_all[i].terminal->role == Role::Minus &&
                                              standsOn(m_all[i]) == nullptr;
                                   });
}

const Member *Nets::standsOn(const Member &minus) const
{
    if (minus.terminal->role != Role::Minus || minus.net < 0 || has(minus.net, Role::Ground))
        return nullptr;
    for (const size_t i : m_indices[static_cast<size_t>(minus.net)])
        if (m_all[i].terminal->role == Role::Plus && m_all[i].fitted != minus.fitted)
            return &m_all[i];
    return nullptr;
}

const Member *Nets::reference() const
{
    for (const auto &m : m_all)
        if (m.terminal->role == Role::Minus && standsOn(m) == nullptr)
            return &m;
    for (const auto role : {Role::Minus, Role::Ground}) // a ring of packs has no lowest
        for (const auto &m : m_all)
            if (m.terminal->role == role)
                return &m;
    return nullptr;
}

namespace
{

/// A signal passes from one of these terminals to the other.
bool passes(const Member &a, const Member &b)
{
    if (a.part->kind == parts::Kind::Resistor)
        return a.terminal->role == Role::Through && b.terminal->role == Role::Through;
    const auto ground = [](const Member &m) { return m.terminal->role == Role::Ground; };
    return a.part->kind == parts::Kind::Divider && !ground(a) && !ground(b);
}

} // namespace

std::vector<int> Nets::line(int net) const
{
    std::set<int> reached;
    std::vector<int> open;
    const auto reach = [&](int n) {
        if (!isGround(n) && !isSupply(n) && reached.insert(n).second)
            open.push_back(n);
    };
    if (net >= 0) {
        reached.insert(net);
        open.push_back(net);
        if (isGround(net) || isSupply(net))
            open.clear();
    }
    while (!open.empty()) {
        const int n = open.back();
        open.pop_back();
        for (const size_t i : m_indices[static_cast<size_t>(n)]) {
            const auto kind = m_all[i].part->kind;
            if (kind != parts::Kind::Resistor && kind != parts::Kind::Divider)
                continue;
            for (const auto &t : m_all[i].part->terminals) {
                const auto *other = member(m_all[i].fitted->id + "." + t.name);
                if (other->net != n && passes(m_all[i], *other))
                    reach(other->net);
            }
        }
    }
    return {reached.begin(), reached.end()};
}

std::vector<std::string> Nets::onLine(std::string_view terminal, Role role) const
{
    std::vector<std::string> found;
    for (const int net : line(of(terminal))) {
        const auto here = membersWith(net, role);
        found.insert(found.end(), here.begin(), here.end());
    }
    std::sort(found.begin(), found.end());
    return found;
}

template <class Kind> bool Nets::pulled(std::string_view terminal, Kind kind) const
{
    for (const int net : line(of(terminal)))
        for (const size_t i : m_indices[static_cast<size_t>(net)]) {
            if (m_all[i].part->kind != parts::Kind::Resistor)
                continue;
            for (const auto &t : m_all[i].part->terminals)
                if (const int other = of(m_all[i].fitted->id + "." + t.name);
                    other != net && kind(other))
                    return true;
        }
    return false;
}

bool Nets::pulledDown(std::string_view terminal) const
{
    return pulled(terminal, [this](int net) { return isGround(net); });
}

bool Nets::pulledUp(std::string_view terminal) const
{
    return isSupply(of(terminal)) || pulled(terminal, [this](int net) { return isSupply(net); });
}

namespace
{

/// A supply output can hang on another one; a ring of them feeds nobody.
constexpr int deepestFeed = 4;
constexpr double notFed = -1.0;

} // namespace

bool Nets::hasSource(int net, const std::vector<double> &volts_V, double atLeast_V) const
{
    return net >= 0 && std::any_of(m_indices[static_cast<size_t>(net)].begin(),
                                   m_indices[static_cast<size_t>(net)].end(), [&](size_t i) {
                                       return volts_V[i] != notFed && volts_V[i] >= atLeast_V;
                                   });
}

/// The volts of sources in series add up.
void Nets::stack(std::vector<double> &volts_V) const
{
    const auto own_V = volts_V;
    for (size_t i = 0; i < m_all.size(); ++i) {
        const auto *at = &m_all[i];
        for (size_t deep = 0; own_V[i] != notFed && deep < m_all.size(); ++deep) {
            const auto minus = std::find_if(m_all.begin(), m_all.end(), [&](const Member &m) {
                return m.fitted == at->fitted && m.terminal->role == Role::Minus;
            });
            at = minus == m_all.end() ? nullptr : standsOn(*minus);
            if (at == nullptr || at == &m_all[i])
                break;
            volts_V[i] += std::max(0.0, own_V[static_cast<size_t>(at - m_all.data())]);
        }
    }
}

/// Packs first; then, as often as outputs may hang on each other, every output whose feed reaches
/// what it needs. Each round knows the outputs of the round before, so that a ring stays dead.
void Nets::feed()
{
    for (int c = 0; c < kit::chargeCount; ++c) {
        std::vector<double> packs(m_all.size(), notFed);
        for (size_t i = 0; i < m_all.size(); ++i)
            if (m_all[i].terminal->role == Role::Plus)
                packs[i] = kit::sourceVolts_V(*m_all[i].fitted, m_car.catalogue(),
                                              static_cast<kit::Charge>(c))
                               .value_or(notFed);
        stack(packs);
        auto known = packs;
        for (int round = 0; round < deepestFeed; ++round) {
            auto next = packs;
            for (size_t i = 0; i < m_all.size(); ++i) {
                const auto &t = *m_all[i].terminal;
                if (t.role == Role::SupplyOut &&
                    hasSource(of(m_all[i].fitted->id + "." + t.fedBy), known, t.needs_V))
                    next[i] = t.source_V;
            }
            if (next == known)
                break;
            known = std::move(next);
        }
        m_volts_V[static_cast<size_t>(c)] = std::move(known);
    }
    const auto &fresh = m_volts_V[static_cast<size_t>(kit::Charge::Fresh)];
    for (const auto &indices : m_indices)
        m_isSupply.push_back(std::any_of(indices.begin(), indices.end(),
                                         [&](size_t i) { return fresh[i] != notFed; }));
}

std::vector<Source> Nets::sources(int net, kit::Charge charge) const
{
    std::vector<Source> found;
    const auto &volts_V = m_volts_V[static_cast<size_t>(charge)];
    if (net >= 0)
        for (const size_t i : m_indices[static_cast<size_t>(net)])
            if (volts_V[i] != notFed)
                found.push_back({m_all[i].name, volts_V[i]});
    return found;
}

} // namespace badger::nets
