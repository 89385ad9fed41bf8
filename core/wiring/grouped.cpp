// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wiring/grouped.h"

#include <algorithm>
#include <set>
#include <string>

namespace badger::wiring
{

using parts::Kind;
using parts::Role;

namespace
{

/// What two complaints may have in common: terminals, lines, and a part whose supply it is.
struct Marks {
    std::set<std::string> own;   ///< as the one that follows
    std::set<std::string> roots; ///< as the one from which others follow
};

Marks marksOf(const Finding &f, const nets::Nets &nets)
{
    Marks marks;
    for (const auto &place : f.places) {
        const auto *m = nets.member(place.name);
        if (m == nullptr)
            continue;
        const auto role = m->terminal->role;
        const auto kind = m->part->kind;
        const bool power = nets.isSupply(m->net) || nets.isGround(m->net);
        marks.own.insert({m->name, m->fitted->id});
        marks.roots.insert(m->name);
        const bool first = &place == &f.places.front();
        const bool supply = role == Role::SupplyIn || role == Role::SupplyOut;
        if (first && kind != Kind::Board && kind != Kind::Rail && kind != Kind::Cell &&
            kind != Kind::Supply && (supply || role == Role::Ground))
            marks.roots.insert(m->fitted->id);
        if (first && supply && kind == Kind::Board) // its rails come from what feeds it
            for (auto *all : {&marks.own, &marks.roots})
                all->insert("supply of " + m->fitted->id);
        for (const int line : power ? std::vector<int>{} : nets.line(m->net))
            for (auto *all : {&marks.own, &marks.roots})
                all->insert("line " + std::to_string(line));
    }
    return marks;
}

bool meet(const std::set<std::string> &a, const std::set<std::string> &b)
{
    return std::any_of(a.begin(), a.end(), [&](const auto &mark) { return b.count(mark) != 0; });
}

} // namespace

std::vector<Finding> grouped(std::vector<Finding> complaints, const nets::Nets &nets)
{
    std::vector<Finding> roots;
    std::vector<Marks> marks;
    for (auto &f : complaints) {
        const auto own = marksOf(f, nets);
        size_t root = roots.size();
        for (size_t i = 0; f.severity != Severity::Advice && i < roots.size(); ++i)
            if (roots[i].severity != Severity::Advice && meet(marks[i].roots, own.own)) {
                root = i;
                break;
            }
        if (root == roots.size()) {
            roots.push_back(std::move(f));
            marks.push_back(own);
            continue;
        }
        auto &into = roots[root];
        into.severity = std::min(into.severity, f.severity);
        into.then.push_back(std::move(f.what));
        std::move(f.then.begin(), f.then.end(), std::back_inserter(into.then));
    }
    return roots;
}

} // namespace badger::wiring
