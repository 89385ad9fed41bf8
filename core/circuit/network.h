// SPDX-License-Identifier: GPL-3.0-or-later
// How many volts has each node of a network, and how much flows through each of its branches?
//
// Nodal analysis: at every node what flows in flows out (Kirchhoff). The branches are lines of
// straight pieces, so each step solves a linear system and moves on; where a whole step would not
// come nearer, it is shortened, at last to the next corner of a line. The number of steps is
// bounded; a network that is not solved by then says so and gives no number.
#pragma once

#include "core/circuit/curve.h"

#include <cstddef>
#include <vector>

namespace badger::circuit
{

/// Two nodes and what is between them.
struct Branch {
    int from = 0;
    int to = 0;
    Curve curve;
};

/// A linear regulator: `set_V` at `out` over `ground` as long as `in` is `dropout_V` above; past
/// its limit it sags as a supply does. It takes nothing back. Its own current is a branch of its
/// own.
struct Regulator {
    int in = 0;
    int out = 0;
    int ground = 0;
    double set_V = 0.0;
    double dropout_V = 0.0;
    double limit_A = 0.0;
};

/// Node 0 is the reference, 0 V. Every other node leaks a nanosiemens to it, so that a piece of the
/// network that hangs on nothing has volts too.
struct Network {
    int nodes = 1;
    std::vector<Branch> branches;
    std::vector<Regulator> regulators;
};

struct Solution {
    bool solved = false;
    int steps = 0;
    std::vector<double> volts_V;      ///< by node
    std::vector<double> amps_A;       ///< by branch, from its first to its second node
    std::vector<double> regulators_A; ///< by regulator, from in to out
};

/// Solves networks of one shape: nodes and which of them are joined are given once, curves and
/// figures may differ from call to call. Branches and regulators that differ in their ends from the
/// first network are not allowed (asserted).
class Solver
{
public:
    explicit Solver(const Network &shape);
    /// `start` are volts to begin from, a solution of a network like this one; empty: from 0.
    Solution solve(const Network &network, const std::vector<double> &start = {}) const;

private:
    friend class Run;
    /// Rows in the order of elimination; below and after the diagonal, with what elimination adds.
    struct Row {
        std::vector<int> before; ///< columns left of the diagonal, ascending
        std::vector<int> after;  ///< right of it, ascending
        size_t first = 0;        ///< of its values: those before, the diagonal, those after
        size_t diagonal() const { return first + before.size(); }
    };
    int m_nodes = 1;
    std::vector<int> m_place; ///< of a node among the rows; of node 0 none: -1
    std::vector<Row> m_rows;
};

/// For one question.
Solution solve(const Network &network);

} // namespace badger::circuit
