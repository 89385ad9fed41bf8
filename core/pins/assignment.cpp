// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pins/assignment.h"

#include <algorithm>

namespace badger::pins
{

namespace
{

constexpr long far = std::numeric_limits<long>::max() / 4;
constexpr long forbidden = 1'000'000'000; ///< more than any sum of costs that are allowed
constexpr size_t nobody = std::numeric_limits<size_t>::max();

/// One more row finds its column; rows and columns are counted from 1, 0 is the start.
class Assigner
{
public:
    explicit Assigner(const CostMatrix &costs)
        : m_costs(costs), m_rowPotential(costs.rows() + 1), m_columnPotential(costs.columns() + 1),
          m_rowOf(costs.columns() + 1), m_before(costs.columns() + 1)
    {
    }

    void add(size_t row)
    {
        m_rowOf[0] = row;
        size_t column = 0;
        std::vector<long> least(m_costs.columns() + 1, far);
        std::vector<bool> done(m_costs.columns() + 1, false);
        do {
            done[column] = true;
            column = step(column, least, done);
        } while (m_rowOf[column] != 0);
        while (column != 0) {
            const size_t before = m_before[column];
            m_rowOf[column] = m_rowOf[before];
            column = before;
        }
    }

    size_t rowOf(size_t column) const { return m_rowOf[column]; }

private:
    long cost(size_t row, size_t column) const
    {
        const int c = m_costs.at(row - 1, column - 1);
        return c == impossible ? forbidden : c;
    }

    /// Lets the nearest column into the tree and returns it.
    size_t step(size_t from, std::vector<long> &least, const std::vector<bool> &done)
    {
        const size_t row = m_rowOf[from];
        long delta = far;
        size_t next = 0;
        for (size_t c = 1; c < done.size(); ++c) {
            if (done[c])
                continue;
            const long reduced = cost(row, c) - m_rowPotential[row] - m_columnPotential[c];
            if (reduced < least[c]) {
                least[c] = reduced;
                m_before[c] = from;
            }
            if (least[c] < delta) {
                delta = least[c];
                next = c;
            }
        }
        for (size_t c = 0; c < done.size(); ++c) {
            if (done[c]) {
                m_rowPotential[m_rowOf[c]] += delta;
                m_columnPotential[c] -= delta;
            } else {
                least[c] -= delta;
            }
        }
        return next;
    }

    const CostMatrix &m_costs;
    std::vector<long> m_rowPotential;
    std::vector<long> m_columnPotential;
    std::vector<size_t> m_rowOf; ///< by column; 0 where it is free
    std::vector<size_t> m_before;
};

/// A largest matching over the possible pairs, by augmenting paths.
class Matching
{
public:
    explicit Matching(const CostMatrix &costs) : m_costs(costs), m_rowOf(costs.columns(), nobody) {}

    /// Fails where the row cannot be matched; `seen` then holds the columns it can reach.
    bool add(size_t row, std::vector<bool> &seen)
    {
        for (size_t c = 0; c < m_costs.columns(); ++c) {
            if (m_costs.at(row, c) == impossible || seen[c])
                continue;
            seen[c] = true;
            if (m_rowOf[c] == nobody || add(m_rowOf[c], seen)) {
                m_rowOf[c] = row;
                return true;
            }
        }
        return false;
    }

private:
    const CostMatrix &m_costs;
    std::vector<size_t> m_rowOf;
};

} // namespace

std::optional<std::vector<size_t>> cheapest(const CostMatrix &costs)
{
    const size_t rows = costs.rows();
    if (rows > costs.columns())
        return std::nullopt;
    Assigner assigner(costs);
    for (size_t row = 1; row <= rows; ++row)
        assigner.add(row);
    std::vector<size_t> columnOf(rows, nobody);
    for (size_t c = 1; c <= costs.columns(); ++c)
        if (const size_t row = assigner.rowOf(c); row != 0) {
            if (costs.at(row - 1, c - 1) == impossible)
                return std::nullopt;
            columnOf[row - 1] = c - 1;
        }
    return columnOf;
}

TightSet tightSet(const CostMatrix &costs)
{
    TightSet tight;
    Matching matching(costs);
    std::vector<bool> reached(costs.columns(), false);
    bool found = false;
    for (size_t row = 0; row < costs.rows() && !found; ++row) {
        std::fill(reached.begin(), reached.end(), false);
        found = !matching.add(row, reached);
    }
    if (!found)
        return tight;
    for (size_t c = 0; c < costs.columns(); ++c)
        if (reached[c])
            tight.columns.push_back(c);
    for (size_t row = 0; row < costs.rows(); ++row) {
        bool within = true;
        for (size_t c = 0; c < costs.columns(); ++c)
            within &= costs.at(row, c) == impossible || reached[c];
        if (within)
            tight.rows.push_back(row);
    }
    return tight;
}

} // namespace badger::pins
