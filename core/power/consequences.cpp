// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/power/consequences.h"

#include <algorithm>

namespace badger::power
{

namespace
{

class Folder
{
public:
    Folder(std::vector<Finding> findings, const Report &report)
        : m_all(std::move(findings)), m_tree(report.tree)
    {
    }

    std::vector<Finding> fold()
    {
        std::vector<int> rootOf(m_all.size(), none);
        for (size_t i = 0; i < m_all.size(); ++i) {
            rootOf[i] = low(i);
            if (rootOf[i] == none)
                rootOf[i] = servo(i);
            if (rootOf[i] == none)
                rootOf[i] = pack(i);
            if (rootOf[i] == none)
                rootOf[i] = other(i);
        }
        for (size_t i = 0; i < m_all.size(); ++i) {
            if (rootOf[i] == none)
                continue;
            auto &root = m_all[static_cast<size_t>(rootOf[i])];
            root.then.push_back(m_all[i].what);
            root.then.insert(root.then.end(), m_all[i].then.begin(), m_all[i].then.end());
        }
        size_t at = 0;
        std::erase_if(m_all, [&](const Finding &) { return rootOf[at++] != none; });
        return std::move(m_all);
    }

private:
    static constexpr int none = -1;

    int nodeOf(const Finding &f) const { return m_tree.indexOf(f.places.front().name); }
    const Node &node(int index) const { return m_tree.nodes[static_cast<size_t>(index)]; }

    /// It says that a place has too few volts while the car runs.
    bool isLow(const Finding &f) const
    {
        if (f.severity != Severity::Error)
            return false;
        if (f.code == "rail-not-held" || f.code == "logic-browns-out")
            return true;
        const int at = f.code == "supply-outside-window" ? nodeOf(f) : none;
        return at != none && node(at).window &&
               m_tree.at(at, nominalRunning).volts_V < node(at).window->low_V;
    }

    /// The finding of too few volts at the place that is nearest to the source, or at this very one
    /// the first of several.
    int low(size_t finding) const
    {
        if (!isLow(m_all[finding]))
            return none;
        const int own = nodeOf(m_all[finding]);
        int root = none;
        for (int at = own; at >= 0; at = node(at).parent) {
            int first = none;
            for (size_t i = 0; i < m_all.size(); ++i)
                if (i != finding && isLow(m_all[i]) && nodeOf(m_all[i]) == at &&
                    (at != own || rankOf(i) < rankOf(finding)) &&
                    (first == none || rankOf(i) < rankOf(static_cast<size_t>(first))))
                    first = static_cast<int>(i);
            if (first != none)
                root = first;
        }
        return root;
    }
    std::pair<bool, size_t> rankOf(size_t finding) const
    {
        return {m_all[finding].code != "rail-not-held", finding};
    }

    /// Cells that sag far give more than they should.
    int pack(size_t finding) const
    {
        for (size_t i = 0; i < m_all.size(); ++i)
            if (m_all[finding].code == "source-over-limit" && m_all[i].code == "pack-sags" &&
                nodeOf(m_all[i]) == nodeOf(m_all[finding]) &&
                m_all[i].severity <= m_all[finding].severity)
                return static_cast<int>(i);
        return none;
    }

    /// Of motors on a regulator, its limit and its heat; of a part with too many volts, what it
    /// gives; without a source, all that is not fed.
    int other(size_t finding) const
    {
        const auto &f = m_all[finding];
        const auto where = english(f.where);
        for (size_t i = 0; i < m_all.size(); ++i) {
            const auto &root = m_all[i];
            const int at = nodeOf(root);
            const bool rail = f.code == "source-over-limit" || f.code == "regulator-hot";
            if (rail && root.code == "motors-on-regulator" && at != none && node(at).parent >= 0 &&
                (node(node(at).parent).name == where || node(node(at).parent).id == where))
                return static_cast<int>(i);
            if (f.code == "signal-over-volts" && root.code == "supply-outside-window" &&
                at != none && !isLow(root) &&
                node(at).instance == kit::splitTerminal(where).instance)
                return static_cast<int>(i);
            if (f.code == "servo-on-regulator" && root.code == f.code && i < finding &&
                root.severity <= f.severity && at != none &&
                node(at).parent == node(nodeOf(f)).parent)
                return static_cast<int>(i); // another servo on the same rail
            if (f.code == "feed-missing" && root.code == "source-missing")
                return static_cast<int>(i);
        }
        return none;
    }

    bool isUnder(int child, int ancestor) const
    {
        for (int at = node(child).parent; at >= 0; at = node(at).parent)
            if (at == ancestor)
                return true;
        return false;
    }

    /// The servo's own finding, where the rail would keep its limit without all servos on it.
    int servo(size_t finding) const
    {
        const auto &f = m_all[finding];
        const bool limit = f.code == "source-over-limit";
        if (!limit && f.code != "regulator-hot")
            return none;
        const auto rail =
            std::find_if(m_tree.nodes.begin(), m_tree.nodes.end(), [&](const Node &n) {
                return n.kind == NodeKind::Output &&
                       (n.name == english(f.where) || n.id == english(f.where));
            });
        if (rail == m_tree.nodes.end())
            return none;
        const int at = static_cast<int>(rail - m_tree.nodes.begin());
        const State stalled{kit::Charge::Nominal, Load::Stalled, Case::Typical};
        const State fresh{kit::Charge::Fresh, Load::Running, Case::Typical};
        double servos_A = 0.0;
        double moving_A = 0.0;
        int first = none;
        for (size_t i = 0; i < m_all.size(); ++i) {
            const int child = m_all[i].code == "servo-on-regulator" ? nodeOf(m_all[i]) : none;
            if (child == none || !isUnder(child, at))
                continue;
            servos_A += m_tree.at(child, stalled).amps_A;
            moving_A += m_tree.at(child, fresh).amps_A;
            if (first == none)
                first = static_cast<int>(i);
        }
        if (first == none)
            return none;
        const auto &running = m_tree.at(at, fresh);
        const bool kept =
            limit ? rail->limit_A &&
                        m_tree.at(at, stalled).amps_A - servos_A <= rail->limit_A->typical
                  : running.heat_W && running.amps_A > 0.0 &&
                        *running.heat_W * (1.0 - moving_A / running.amps_A) <= warmRegulator_W;
        return kept ? first : none;
    }

    std::vector<Finding> m_all;
    const Tree &m_tree;
};

} // namespace

std::vector<Finding> withRoots(std::vector<Finding> findings, const Report &report)
{
    return Folder(std::move(findings), report).fold();
}

} // namespace badger::power
