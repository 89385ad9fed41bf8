// SPDX-License-Identifier: GPL-3.0-or-later
// The cheapest way to give each row a column of its own, and the proof where there is none.
#pragma once

#include <cstddef>
#include <limits>
#include <optional>
#include <vector>

namespace badger::pins
{

/// The cost of a pair that must not be.
inline constexpr int impossible = std::numeric_limits<int>::max();

class CostMatrix
{
public:
    CostMatrix(size_t rows, size_t columns)
        : m_rows(rows), m_columns(columns), m_costs(rows * columns, 0)
    {
    }
    size_t rows() const { return m_rows; }
    size_t columns() const { return m_columns; }
    int &at(size_t row, size_t column) { return m_costs[row * m_columns + column]; }
    int at(size_t row, size_t column) const { return m_costs[row * m_columns + column]; }

private:
    size_t m_rows;
    size_t m_columns;
    std::vector<int> m_costs;
};

/// The column of each row in an assignment of least total cost; none where some row must go
/// without. Costs are 0 to a million. Time grows with rows² × columns.
/// Source: shortest augmenting paths with potentials (the Hungarian method).
std::optional<std::vector<size_t>> cheapest(const CostMatrix &costs);

/// Rows that together have fewer possible columns than they are, and those columns: every row
/// whose columns all lie among them is listed. Empty where an assignment exists.
/// Source: Hall's theorem; the alternating tree of a row that a largest matching leaves out.
struct TightSet {
    std::vector<size_t> rows;
    std::vector<size_t> columns;
};
TightSet tightSet(const CostMatrix &costs);

} // namespace badger::pins
