// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/power/grouped.h"

#include <algorithm>

namespace badger::power
{

namespace
{

class Grouper
{
public:
    Grouper(std::vector<Finding> findings, const Report &report)
        : m_all(std::move(findings)), m_tree(report.tree)
    {
        for (const auto &f : m_all)
            m_nodes.push_back(nodeOf(f));
    }

    std::vector<Finding> grouped()
    {
        std::vector<size_t> roots;
        for (size_t i = 0; i < m_all.size(); ++i)
            roots.push_back(rootOf(i));
        for (size_t i = 0; i < m_all.size(); ++i) {
            if (roots[i] == i)
                continue;
            auto &root = m_all[roots[i]];
            root.then.push_back(m_all[i].what);
            root.then.insert(root.then.end(), m_all[i].then.begin(), m_all[i].then.end());
        }
        size_t at = 0;
        std::erase_if(m_all, [&](const Finding &) {
            const size_t i = at++;
            return roots[i] != i;
        });
        return std::move(m_all);
    }

private:
    int nodeOf(const Finding &f) const
    {
        for (const auto &spot : f.places)
            if (const int at = m_tree.indexOf(spot.name); at >= 0 && spot.kind == Spot::Kind::Node)
                return at;
        return -1;
    }
    const Node &node(int index) const { return m_tree.nodes[static_cast<size_t>(index)]; }
    int parent(int index) const { return node(index).parent; }

    /// Is it on the way from `index` to its source? A node is on its own.
    bool isOnWay(int ancestor, int index) const
    {
        while (index >= 0 && index != ancestor)
            index = parent(index);
        return index >= 0;
    }

    size_t rootOf(size_t finding) const
    {
        std::vector<size_t> way{finding};
        for (;;) {
            size_t next = m_all.size();
            for (size_t i = 0; i < m_all.size() && next == m_all.size(); ++i)
                if (std::find(way.begin(), way.end(), i) == way.end() && explains(i, way.back()))
                    next = i;
            if (next == m_all.size())
                return way.back();
            way.push_back(next);
        }
    }

    bool explains(size_t cause, size_t follows) const
    {
        const auto &a = m_all[cause];
        const auto &b = m_all[follows];
        const int at = m_nodes[cause];
        const int below = m_nodes[follows];
        if (a.severity > b.severity || a.severity == Severity::Advice)
            return false;
        if (!b.evidence)
            return !a.evidence && a.code == b.code && cause < follows && at >= 0 && below >= 0 &&
                   parent(at) == parent(below); // another part of one kind on the same rail
        if (b.evidence->of == Evidence::Of::Volts && b.evidence->isOver() && a.evidence &&
            a.evidence->of == Evidence::Of::Volts && a.evidence->isOver())
            return at >= 0 && node(at).kind == NodeKind::Input && below < 0 &&
                   std::find(b.places.begin(), b.places.end(), at::part(node(at).instance)) !=
                       b.places.end();
        if (at < 0 || below < 0)
            return false;
        if (!b.evidence->isOver())
            return a.evidence && lowers(cause, follows);
        if (!a.evidence)
            return wouldKeep(at, below, *b.evidence);
        return at == below && cause < follows && a.evidence->isOver();
    }

    /// Fewer volts at `cause`, or more asked for than it gives, are why there are few at `follows`.
    bool lowers(size_t cause, size_t follows) const
    {
        const auto &a = *m_all[cause].evidence;
        const auto &b = *m_all[follows].evidence;
        const int at = m_nodes[cause];
        const int below = m_nodes[follows];
        const bool sooner = a.in < b.in || (a.in == b.in && cause < follows);
        if (!isOnWay(at, below) || a.in > b.in)
            return false;
        if (a.isOver()) // heat takes no volts
            return a.of != Evidence::Of::Watts;
        return at != below || sooner;
    }

    /// Of a part at `at` that does not belong on the branch of `above`: would that keep its limit
    /// without what the part takes?
    bool wouldKeep(int at, int above, const Evidence &passed) const
    {
        const State state{kit::Charge::Nominal,
                          passed.in == Evidence::In::Stalled ? Load::Stalled : Load::Running,
                          Case::Typical};
        const double whole_A = m_tree.at(above, state).amps_A;
        if (passed.of == Evidence::Of::Volts || whole_A <= 0.0)
            return false;
        double taken_A = 0.0;
        for (size_t i = 0; i < m_all.size(); ++i)
            if (const int other = m_nodes[i]; other >= 0 && !m_all[i].evidence &&
                                              parent(other) == parent(at) &&
                                              isOnWay(above, other) && other != above)
                taken_A += m_tree.at(other, state).amps_A;
        return passed.value * (1.0 - taken_A / whole_A) <= passed.limit;
    }

    std::vector<Finding> m_all;
    std::vector<int> m_nodes; ///< of each finding's place; -1: none
    const Tree &m_tree;
};

} // namespace

std::vector<Finding> grouped(std::vector<Finding> findings, const Report &report)
{
    return Grouper(std::move(findings), report).grouped();
}

} // namespace badger::power
