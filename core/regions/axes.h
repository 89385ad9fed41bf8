// SPDX-License-Identifier: GPL-3.0-or-later
// Along which axes do the rules of a mode decide? Private to the regions.
#pragma once

#include "core/regions/regions.h"

#include <map>
#include <set>

namespace badger::regions
{

/// The pieces of a line from `low` to `high` that is cut at some points: each point, and what lies
/// between. Of whole numbers a piece without one is left out.
std::vector<Atom> pieces(double low, double high, const std::set<double> &cuts, bool whole);

/// The constants that the rules of one mode compare with, and the axes that are cut at them.
class Axes
{
public:
    Axes(const Machine &machine, int mode);
    /// The cuts of another program's mode, its readings by their names. What is not read here is
    /// added to `missing`.
    void also(const Axes &other, const rules::Program &theirs, const rules::Program &mine,
              std::vector<std::string> &missing);
    std::vector<Axis> take() const;

private:
    const Sensor &at(int sensor) const { return m_machine.sensors[static_cast<size_t>(sensor)]; }
    void branches(const Range &range);
    void compare(int sensor, double constant);
    void order(const Sensor &s);
    void pair(int a, int b, double cut);
    void lost(int sensor, int times);
    void ask(const Ask &a);
    bool bothWhole(const std::pair<int, int> &pair) const;
    double top(int sensor) const;
    double bottom(int sensor) const;
    void sensor(int i, std::vector<Axis> &all) const;
    std::vector<Atom> angleAtoms(int scan, const std::set<double> &cuts) const;

    const Machine &m_machine;
    std::map<int, std::set<double>> m_cuts;
    std::map<std::pair<int, int>, std::set<double>> m_pairs;
    std::map<int, std::set<double>> m_angles;
    std::map<int, int> m_lost;
    std::map<int, std::set<int>> m_memos;
    std::set<double> m_since;
};

} // namespace badger::regions
