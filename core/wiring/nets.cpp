// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wiring/nets.h"

#include <algorithm>
#include <numeric>

namespace badger::wiring
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

Nets::Nets(const kit::Car &car, const parts::Catalogue &catalogue)
    : m_car(car), m_catalogue(catalogue)
{
    std::vector<std::string> names;
    std::vector<std::pair<size_t, size_t>> inside;
    for (const auto &fitted : car.parts) {
        const auto *part = catalogue.find(fitted.partId);
        if (part == nullptr)
            continue;
        const size_t base = names.size();
        for (size_t i = 0; i < part->terminals.size(); ++i) {
            names.push_back(fitted.id + "." + part->terminals[i].name);
            for (size_t k = 0; k < i; ++k)
                if (joinedInside(*part, part->terminals[i], part->terminals[k]))
                    inside.emplace_back(base + i, base + k);
        }
    }
    std::map<std::string_view, size_t> index;
    for (size_t i = 0; i < names.size(); ++i)
        index[names[i]] = i;
    Joined joined(names.size());
    for (const auto &[a, b] : inside)
        joined.join(a, b);
    for (const auto &wire : car.wires) {
        const auto from = index.find(wire.from);
        const auto to = index.find(wire.to);
        if (from == index.end() || to == index.end())
            continue;
        joined.join(from->second, to->second);
        ++m_wires[wire.from];
        ++m_wires[wire.to];
    }
    std::map<size_t, int> numberOf;
    for (size_t i = 0; i < names.size(); ++i) {
        const auto [it, isNew] =
            numberOf.try_emplace(joined.root(i), static_cast<int>(m_members.size()));
        if (isNew)
            m_members.emplace_back();
        m_members[static_cast<size_t>(it->second)].push_back(names[i]);
        m_netOf[names[i]] = it->second;
    }
    for (auto &m : m_members)
        std::sort(m.begin(), m.end());
}

int Nets::of(std::string_view terminal) const
{
    const auto it = m_netOf.find(terminal);
    return it == m_netOf.end() ? -1 : it->second;
}

const std::vector<std::string> &Nets::members(int net) const
{
    static const std::vector<std::string> none;
    return net < 0 ? none : m_members[static_cast<size_t>(net)];
}

std::vector<std::string> Nets::membersWith(int net, Role role) const
{
    std::vector<std::string> found;
    for (const auto &name : members(net))
        if (const auto *t = kit::terminal(m_car, m_catalogue, name); t && t->role == role)
            found.push_back(name);
    return found;
}

bool Nets::wired(std::string_view terminal) const
{
    return m_wires.find(terminal) != m_wires.end();
}

namespace
{
/// A supply output can hang on another one; a ring of them feeds nobody.
constexpr int deepestFeed = 4;
} // namespace

bool Nets::alive(const std::string &supplyOut, kit::Charge charge, int depth) const
{
    const auto *t = kit::terminal(m_car, m_catalogue, supplyOut);
    const auto instance = kit::splitTerminal(supplyOut).instance;
    const auto feeds = sourcesWithin(of(instance + "." + t->fedBy), charge, depth + 1);
    return std::any_of(feeds.begin(), feeds.end(),
                       [&](const Source &s) { return s.volts_V >= t->needs_V; });
}

std::vector<Source> Nets::sourcesWithin(int net, kit::Charge charge, int depth) const
{
    std::vector<Source> found;
    if (depth > deepestFeed)
        return found;
    for (const auto &name : members(net)) {
        const auto *t = kit::terminal(m_car, m_catalogue, name);
        if (t->role == Role::Plus) {
            if (const auto volts = kit::sourceVolts_V(
                    *m_car.instance(kit::splitTerminal(name).instance), m_catalogue, charge))
                found.push_back({name, *volts});
        } else if (t->role == Role::SupplyOut && alive(name, charge, depth)) {
            found.push_back({name, t->source_V});
        }
    }
    return found;
}

std::vector<Source> Nets::sources(int net, kit::Charge charge) const
{
    return sourcesWithin(net, charge, 0);
}

} // namespace badger::wiring
