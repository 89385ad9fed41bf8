// SPDX-License-Identifier: GPL-3.0-or-later
// The current in each wire: a wire that alone joins two halves of a net carries what the far half
// takes.
#include "core/circuit/probe.h"

#include <algorithm>

namespace badger::circuit
{

namespace
{

/// Terminals joined without resistance: by wires, and the ground pins of one part by its metal.
struct Joint {
    size_t to = 0;
    size_t edge = 0;
};

class Wires
{
public:
    Wires(const CarNetwork &network, const Answer &answer)
        : m_members(network.nets().all()), m_wires(network.nets().car()->wires),
          m_takes_A(m_members.size(), 0.0), m_joints(m_members.size()),
          m_entered(m_members.size(), 0), m_lowest(m_members.size(), 0), m_amps_A(m_wires.size())
    {
        const auto take = [&](size_t from, size_t to, double amps) {
            if (from != noMember)
                m_takes_A[from] += amps;
            if (to != noMember)
                m_takes_A[to] -= amps;
        };
        for (size_t i = 0; i < network.elements().size(); ++i)
            take(network.elements()[i].from, network.elements()[i].to, answer.solution.amps_A[i]);
        for (size_t i = 0; i < network.regulators().size(); ++i)
            take(network.regulators()[i].from, network.regulators()[i].to,
                 answer.solution.regulators_A[i]);
        join(network.nets());
    }

    std::vector<std::optional<double>> amps()
    {
        for (size_t m = 0; m < m_members.size(); ++m)
            if (m_entered[m] == 0)
                walk(m);
        return std::move(m_amps_A);
    }

private:
    void join(const nets::Nets &nets)
    {
        const auto index = [&](const std::string &name) {
            const auto *m = nets.member(name);
            return m ? static_cast<size_t>(m - m_members.data()) : noMember;
        };
        size_t edge = 0;
        for (const auto &w : m_wires) {
            const size_t a = index(w.from);
            const size_t b = index(w.to);
            if (a != noMember && b != noMember)
                joint(a, b, edge);
            ++edge;
        }
        for (size_t i = 0; i < m_members.size(); ++i)
            for (size_t k = i + 1; k < m_members.size(); ++k)
                if (m_members[k].fitted == m_members[i].fitted &&
                    m_members[i].terminal->role == parts::Role::Ground &&
                    m_members[k].terminal->role == parts::Role::Ground) {
                    joint(i, k, edge++);
                    break; // a chain is enough
                }
    }

    void joint(size_t a, size_t b, size_t edge)
    {
        m_joints[a].push_back({b, edge});
        m_joints[b].push_back({a, edge});
    }

    /// Depth first, without recursion: a wire list may be long.
    void walk(size_t root)
    {
        struct Visit {
            size_t at;
            size_t by; ///< the edge it was entered by
            size_t next = 0;
        };
        constexpr size_t none = static_cast<size_t>(-1);
        std::vector<Visit> way{{root, none}};
        m_entered[root] = m_lowest[root] = ++m_clock;
        while (!way.empty()) {
            auto &v = way.back();
            if (v.next < m_joints[v.at].size()) {
                const auto j = m_joints[v.at][v.next++];
                if (j.edge == v.by)
                    continue;
                if (m_entered[j.to] != 0) {
                    m_lowest[v.at] = std::min(m_lowest[v.at], m_entered[j.to]);
                    continue;
                }
                m_entered[j.to] = m_lowest[j.to] = ++m_clock;
                way.push_back({j.to, j.edge});
                continue;
            }
            const auto done = v;
            way.pop_back();
            if (way.empty())
                return;
            const size_t parent = way.back().at;
            m_lowest[parent] = std::min(m_lowest[parent], m_lowest[done.at]);
            // No other way leads back past this wire: the far half takes all of it through here.
            if (m_lowest[done.at] > m_entered[parent] && done.by < m_wires.size())
                m_amps_A[done.by] = m_wires[done.by].to == m_members[done.at].name
                                        ? m_takes_A[done.at]
                                        : -m_takes_A[done.at];
            m_takes_A[parent] += m_takes_A[done.at];
        }
    }

    const std::vector<nets::Member> &m_members;
    const std::vector<kit::Wire> &m_wires;
    std::vector<double> m_takes_A; ///< by terminal: out of its net, of all that lies behind it
    std::vector<std::vector<Joint>> m_joints;
    std::vector<size_t> m_entered;
    std::vector<size_t> m_lowest;
    size_t m_clock = 0;
    std::vector<std::optional<double>> m_amps_A;
};

} // namespace

std::vector<std::optional<double>> wireAmps(const CarNetwork &network, const Answer &answer)
{
    return Wires(network, answer).amps();
}

} // namespace badger::circuit
