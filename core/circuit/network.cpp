// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/circuit/network.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <set>

namespace badger::circuit
{

namespace
{

constexpr int fewSteps = 60;
constexpr int manySteps = 300;
constexpr double goodEnough_A = 1e-12;
constexpr double regulatorSlope_S = 1e4; ///< 0.05 mV at half an ampere

/// What a regulator passes, and how that changes with the volts at its three ends.
struct Passing {
    double amps_A = 0.0;
    double byIn_S = 0.0;
    double byOut_S = 0.0;
    double byGround_S = 0.0;
    int piece = 0; ///< 0 blocked, 1 at its set volts, 2 at its dropout; 3 and 4: past its limit
};

Passing pass(const Regulator &r, double in_V, double out_V, double ground_V)
{
    const double bySet = r.set_V - (out_V - ground_V);
    const double byRoom = in_V - out_V - r.dropout_V;
    const bool held = bySet <= byRoom;
    const double over_V = std::min(bySet, byRoom);
    double slope = regulatorSlope_S;
    double amps = over_V * slope;
    int piece = held ? 1 : 2;
    if (amps < 0.0) {
        slope = leak_S;
        amps = over_V * slope;
        piece = held ? 5 : 6;
    } else if (amps > r.limit_A) {
        slope = r.limit_A / r.set_V;
        amps = r.limit_A + slope * (over_V - r.limit_A / regulatorSlope_S);
        piece = held ? 3 : 4;
    }
    return held ? Passing{amps, 0.0, -slope, slope, piece}
                : Passing{amps, slope, -slope, 0.0, piece};
}

} // namespace

Solver::Solver(const Network &shape) : m_nodes(shape.nodes)
{
    const auto n = static_cast<size_t>(shape.nodes);
    std::vector<std::set<int>> joined(n);
    const auto join = [&](int a, int b) {
        if (a > 0 && b > 0 && a != b) {
            joined[static_cast<size_t>(a)].insert(b);
            joined[static_cast<size_t>(b)].insert(a);
        }
    };
    for (const auto &b : shape.branches)
        join(b.from, b.to);
    for (const auto &r : shape.regulators) {
        join(r.in, r.out);
        join(r.in, r.ground);
        join(r.out, r.ground);
    }
    // The node with the fewest neighbours goes first: that adds the fewest entries.
    m_place.assign(n, -1);
    std::vector<int> order;
    std::vector<std::vector<int>> after(n);
    for (size_t k = 1; k < n; ++k) {
        int best = -1;
        for (int i = 1; i < shape.nodes; ++i)
            if (m_place[static_cast<size_t>(i)] < 0 &&
                (best < 0 ||
                 joined[static_cast<size_t>(i)].size() < joined[static_cast<size_t>(best)].size()))
                best = i;
        m_place[static_cast<size_t>(best)] = static_cast<int>(order.size());
        order.push_back(best);
        const auto neighbours = joined[static_cast<size_t>(best)];
        for (const int a : neighbours) {
            joined[static_cast<size_t>(a)].erase(best);
            for (const int b : neighbours)
                join(a, b);
        }
        after[static_cast<size_t>(best)] = {neighbours.begin(), neighbours.end()};
    }
    m_rows.resize(order.size());
    for (size_t row = 0; row < order.size(); ++row) {
        for (const int a : after[static_cast<size_t>(order[row])]) {
            const int place = m_place[static_cast<size_t>(a)];
            m_rows[row].after.push_back(place);
            m_rows[static_cast<size_t>(place)].before.push_back(static_cast<int>(row));
        }
        std::sort(m_rows[row].after.begin(), m_rows[row].after.end());
    }
    size_t values = 0;
    for (auto &row : m_rows) {
        row.first = values;
        values += row.before.size() + 1 + row.after.size();
    }
}

/// One search.
class Run
{
public:
    Run(const Solver &solver, const Network &network)
        : m_solver(solver), m_network(network), m_size(solver.m_rows.size()),
          m_matrix(m_size == 0
                       ? 0
                       : solver.m_rows.back().diagonal() + 1 + solver.m_rows.back().after.size()),
          m_right(m_size), m_step(m_size), m_work(m_size),
          m_pieces(network.branches.size() + network.regulators.size())
    {
        assert(network.nodes == solver.m_nodes);
    }

    Solution go(const std::vector<double> &start)
    {
        Solution s;
        m_volts.assign(static_cast<size_t>(m_network.nodes), 0.0);
        if (start.size() == m_volts.size())
            m_volts = start;
        s.solved = search(fewSteps, s.steps);
        // Nodes that hang on a leak alone fly off to thousands of volts on the way. Leaking more at
        // first keeps them near; each answer is the start for the next, smaller leak.
        for (double leak = 0.1; !s.solved && leak > leak_S; leak /= 30.0) {
            if (leak == 0.1)
                std::fill(m_volts.begin(), m_volts.end(), 0.0);
            m_leak_S = leak;
            (void)search(manySteps, s.steps);
        }
        if (!s.solved) {
            m_leak_S = leak_S;
            s.solved = search(manySteps, s.steps);
        }
        s.volts_V = m_volts;
        currents(s);
        return s;
    }

private:
    /// Steps from the volts at hand to the answer; false where it is not met within `most`.
    bool search(int most, int &steps)
    {
        double off = assemble(m_volts);
        for (int i = 0; i < most; ++i) {
            ++steps;
            if (!eliminate())
                return false;
            const auto before = m_pieces;
            const auto whole = moved(1.0);
            const double offWhole = assemble(whole);
            // The linear system was the network itself, or the pieces meet where they differ.
            if (m_pieces == before || offWhole < goodEnough_A) {
                m_volts = whole;
                return true;
            }
            constexpr double nearer = 0.7;
            m_volts = offWhole < nearer * off ? whole : moved(toCorner());
            off = assemble(m_volts);
        }
        return false;
    }

    /// Fills in matrix and right side at some volts; gives how much is missing at the nodes.
    double assemble(const std::vector<double> &volts)
    {
        std::fill(m_matrix.begin(), m_matrix.end(), 0.0);
        std::fill(m_right.begin(), m_right.end(), 0.0);
        for (size_t i = 1; i < volts.size(); ++i) {
            const auto at = static_cast<size_t>(m_solver.m_place[i]);
            m_right[at] -= m_leak_S * volts[i];
            entry(at, at) += m_leak_S;
        }
        size_t k = 0;
        for (const auto &b : m_network.branches) {
            const auto p =
                b.curve.at(volts[static_cast<size_t>(b.from)] - volts[static_cast<size_t>(b.to)]);
            flow(b.from, b.to, p.amps_A);
            slope(b.from, b.to, b.from, p.slope_S);
            slope(b.from, b.to, b.to, -p.slope_S);
            m_pieces[k++] = p.piece;
        }
        for (const auto &r : m_network.regulators) {
            const auto p = passing(r, volts);
            flow(r.in, r.out, p.amps_A);
            slope(r.in, r.out, r.in, p.byIn_S);
            slope(r.in, r.out, r.out, p.byOut_S);
            slope(r.in, r.out, r.ground, p.byGround_S);
            m_pieces[k++] = p.piece;
        }
        double off = 0.0;
        for (const double r : m_right)
            off += std::abs(r);
        return off;
    }

    static Passing passing(const Regulator &r, const std::vector<double> &volts)
    {
        return pass(r, volts[static_cast<size_t>(r.in)], volts[static_cast<size_t>(r.out)],
                    volts[static_cast<size_t>(r.ground)]);
    }

    double &entry(size_t row, size_t column)
    {
        const auto &r = m_solver.m_rows[row];
        if (column == row)
            return m_matrix[r.diagonal()];
        const auto &list = column < row ? r.before : r.after;
        const auto at = static_cast<size_t>(
            std::lower_bound(list.begin(), list.end(), static_cast<int>(column)) - list.begin());
        return m_matrix[(column < row ? r.first : r.diagonal() + 1) + at];
    }

    void flow(int from, int to, double amps)
    {
        if (from > 0)
            m_right[static_cast<size_t>(m_solver.m_place[static_cast<size_t>(from)])] -= amps;
        if (to > 0)
            m_right[static_cast<size_t>(m_solver.m_place[static_cast<size_t>(to)])] += amps;
    }

    void slope(int from, int to, int by, double siemens)
    {
        if (by <= 0)
            return;
        const auto column = static_cast<size_t>(m_solver.m_place[static_cast<size_t>(by)]);
        if (from > 0)
            entry(static_cast<size_t>(m_solver.m_place[static_cast<size_t>(from)]), column) +=
                siemens;
        if (to > 0)
            entry(static_cast<size_t>(m_solver.m_place[static_cast<size_t>(to)]), column) -=
                siemens;
    }

    /// Solves for the step, row by row; false where a pivot vanishes.
    bool eliminate()
    {
        m_step = m_right;
        for (size_t i = 0; i < m_size; ++i) {
            const auto &row = m_solver.m_rows[i];
            spread(row, i);
            for (const int k : row.before) {
                const auto &above = m_solver.m_rows[static_cast<size_t>(k)];
                const double factor = m_work[static_cast<size_t>(k)] / m_matrix[above.diagonal()];
                if (factor == 0.0)
                    continue;
                const double *value = &m_matrix[above.diagonal()];
                for (const int j : above.after)
                    m_work[static_cast<size_t>(j)] -= factor * *++value;
                m_step[i] -= factor * m_step[static_cast<size_t>(k)];
            }
            double *value = &m_matrix[row.diagonal()];
            *value = m_work[i];
            if (!(std::abs(*value) > 1e-15))
                return false;
            for (const int j : row.after)
                *++value = m_work[static_cast<size_t>(j)];
        }
        for (size_t i = m_size; i-- > 0;) {
            const auto &row = m_solver.m_rows[i];
            const double *value = &m_matrix[row.diagonal()];
            for (const int j : row.after)
                m_step[i] -= *++value * m_step[static_cast<size_t>(j)];
            m_step[i] /= m_matrix[row.diagonal()];
        }
        return true;
    }

    /// A row's values at their columns.
    void spread(const Solver::Row &row, size_t i)
    {
        const double *value = &m_matrix[row.first];
        for (const int j : row.before)
            m_work[static_cast<size_t>(j)] = *value++;
        m_work[i] = *value++;
        for (const int j : row.after)
            m_work[static_cast<size_t>(j)] = *value++;
    }

    std::vector<double> moved(double share) const
    {
        auto volts = m_volts;
        for (size_t i = 1; i < volts.size(); ++i)
            volts[i] += share * m_step[static_cast<size_t>(m_solver.m_place[i])];
        return volts;
    }

    /// How far the step stays on the straight pieces it was made for: there what is missing falls
    /// in proportion, so that each such step comes nearer (Katzenelson 1965).
    double toCorner() const
    {
        double least = 1.0;
        const auto at = [&](int node) { return m_volts[static_cast<size_t>(node)]; };
        const auto by = [&](int node) {
            return node > 0
                       ? m_step[static_cast<size_t>(m_solver.m_place[static_cast<size_t>(node)])]
                       : 0.0;
        };
        for (const auto &b : m_network.branches)
            least =
                std::min(least, b.curve.nextCorner(at(b.from) - at(b.to), by(b.from) - by(b.to)));
        for (const auto &r : m_network.regulators) {
            const double set = r.set_V - at(r.out) + at(r.ground);
            const double room = at(r.in) - at(r.out) - r.dropout_V;
            const double setBy = by(r.ground) - by(r.out);
            const double roomBy = by(r.in) - by(r.out);
            const double full = r.limit_A / regulatorSlope_S;
            for (const double corner : {0.0, full}) {
                least = std::min(least, crossing(set, setBy, corner));
                least = std::min(least, crossing(room, roomBy, corner));
            }
            least = std::min(least, crossing(set - room, setBy - roomBy, 0.0));
        }
        return least;
    }

    void currents(Solution &s) const
    {
        for (const auto &b : m_network.branches)
            s.amps_A.push_back(
                b.curve
                    .at(m_volts[static_cast<size_t>(b.from)] - m_volts[static_cast<size_t>(b.to)])
                    .amps_A);
        for (const auto &r : m_network.regulators)
            s.regulators_A.push_back(passing(r, m_volts).amps_A);
    }

    const Solver &m_solver;
    const Network &m_network;
    size_t m_size;
    double m_leak_S = leak_S;     ///< from every node to the reference
    std::vector<double> m_matrix; ///< the rows' values, one row after the other
    std::vector<double> m_right;
    std::vector<double> m_step;
    std::vector<double> m_work; ///< one row while it is eliminated
    std::vector<double> m_volts;
    std::vector<int> m_pieces;
};

Solution Solver::solve(const Network &network, const std::vector<double> &start) const
{
    return Run(*this, network).go(start);
}

Solution solve(const Network &network)
{
    return Solver(network).solve(network);
}

} // namespace badger::circuit
