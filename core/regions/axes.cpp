// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/regions/axes.h"

#include <algorithm>
#include <cmath>

namespace badger::regions
{

namespace
{

using rules::Source;
using rules::Test;

constexpr double converterTop = 1023.0;

bool isMade(const Sensor &s)
{
    return s.source == Source::Pick || s.source == Source::Difference;
}

/// Does a policy leave the rules without a number?
bool leavesNone(rules::NoEcho policy)
{
    return policy != rules::NoEcho::Clear && policy != rules::NoEcho::Blocked;
}

bool isWhole(const Sensor &s)
{
    return s.source == Source::Analogue ? s.scale == rules::Scale::Raw : s.whole;
}

} // namespace

std::vector<Atom> pieces(double low, double high, const std::set<double> &cuts, bool whole)
{
    std::vector<Atom> all;
    const auto between = [&](double from, bool openFrom, double to, bool openTo) {
        if (whole) {
            from = openFrom ? std::floor(from) + 1.0 : std::ceil(from);
            to = openTo ? std::ceil(to) - 1.0 : std::floor(to);
            openFrom = openTo = false;
        }
        if (from < to || (from == to && !openFrom && !openTo))
            all.push_back({Atom::Kind::Numbers, from, to, openFrom, openTo, -1});
    };
    double begin = low;
    bool open = false;
    for (const double c : cuts) {
        if (c < low || c > high)
            continue;
        between(begin, open, c, true);
        between(c, false, c, false);
        begin = c;
        open = true;
    }
    between(begin, open, high, false);
    return all;
}

Axes::Axes(const Machine &machine, int mode) : m_machine(machine)
{
    branches(machine.everywhere);
    const auto &m = machine.modes[static_cast<size_t>(mode)];
    branches(m.branches);
    if (m.sensor >= 0 && m.half != 0.0 &&
        (m.follows == rules::Follows::Steer || m.follows == rules::Follows::Slow))
        for (const double end : {-1.0, 0.0, 1.0})
            compare(m.sensor, kept(machine, m.middle + kept(machine, end * m.half)));
}

/// The cuts of another program's mode, its readings by their names.
void Axes::also(const Axes &other, const rules::Program &theirs, const rules::Program &mine,
                std::vector<std::string> &missing)
{
    const auto here = [&](int sensor) {
        const auto &name = theirs.readings[static_cast<size_t>(sensor)].name;
        for (size_t i = 0; i < mine.readings.size(); ++i)
            if (mine.readings[i].name == name)
                return static_cast<int>(i);
        if (std::find(missing.begin(), missing.end(), name) == missing.end())
            missing.push_back(name);
        return -1;
    };
    for (const auto &[sensor, cuts] : other.m_cuts)
        if (const int i = here(sensor); i >= 0)
            m_cuts[i].insert(cuts.begin(), cuts.end());
    for (const auto &[two, cuts] : other.m_pairs) {
        const int a = here(two.first);
        const int b = here(two.second);
        if (a >= 0 && b >= 0)
            for (const double c : cuts)
                pair(a, b, c);
    }
    for (const auto &[sensor, cuts] : other.m_angles)
        if (const int i = here(sensor); i >= 0)
            m_angles[i].insert(cuts.begin(), cuts.end());
}

std::vector<Axis> Axes::take() const
{
    std::vector<Axis> all;
    for (size_t i = 0; i < m_machine.sensors.size(); ++i)
        sensor(static_cast<int>(i), all);
    for (const auto &[pair, cuts] : m_pairs) {
        Axis axis{Axis::Of::Pair, pair.first, pair.second, bothWhole(pair), {}};
        const double most = top(pair.first) + top(pair.second) + 1.0;
        axis.atoms = pieces(-most, most, cuts, axis.whole);
        all.push_back(std::move(axis));
    }
    for (const auto &[scan, cuts] : m_angles)
        all.push_back({Axis::Of::Angle, scan, -1, false, angleAtoms(scan, cuts)});
    for (const auto &[memo, words] : m_memos) {
        Axis axis{Axis::Of::Memo, memo, -1, true, {}};
        for (const int w : words)
            axis.atoms.push_back({Atom::Kind::Word, 0.0, 0.0, false, false, w});
        axis.atoms.push_back({Atom::Kind::Word, 0.0, 0.0, false, false, -1});
        all.push_back(std::move(axis));
    }
    for (const auto us : m_since) {
        Axis axis{Axis::Of::Since, -1, -1, true, {}};
        for (const int done : {0, 1})
            axis.atoms.push_back({Atom::Kind::Since, us, us, false, false, done});
        all.push_back(std::move(axis));
    }
    return all;
}

void Axes::branches(const Range &range)
{
    for (int b = range.first; b < range.end(); ++b) {
        const auto &asks = m_machine.branches[static_cast<size_t>(b)].asks;
        for (int i = asks.first; i < asks.end(); ++i)
            ask(m_machine.asks[static_cast<size_t>(i)]);
    }
}

void Axes::compare(int sensor, double constant)
{
    const auto &s = at(sensor);
    if (s.source == Source::Pick) {
        order(s);
        for (int i = s.of.first; i < s.of.end(); ++i)
            m_cuts[m_machine.members[static_cast<size_t>(i)]].insert(constant);
    } else if (s.source == Source::Difference && s.of.count == 2) {
        pair(m_machine.members[static_cast<size_t>(s.of.first)],
             m_machine.members[static_cast<size_t>(s.of.first + 1)], constant);
    } else {
        m_cuts[sensor].insert(constant);
    }
}

/// The order of a Pick's members matters, ties included.
void Axes::order(const Sensor &s)
{
    for (int i = s.of.first; i < s.of.end(); ++i)
        for (int k = i + 1; k < s.of.end(); ++k)
            pair(m_machine.members[static_cast<size_t>(i)],
                 m_machine.members[static_cast<size_t>(k)], 0.0);
}

void Axes::pair(int a, int b, double cut)
{
    m_cuts[a];
    m_cuts[b];
    if (a > b) {
        std::swap(a, b);
        cut = -cut;
    }
    m_pairs[{a, b}].insert(cut);
}

/// A Pick is lost where all its members are.
void Axes::lost(int sensor, int times)
{
    const auto &s = at(sensor);
    if (isMade(s)) {
        for (int i = s.of.first; i < s.of.end(); ++i)
            lost(m_machine.members[static_cast<size_t>(i)], times);
        return;
    }
    m_cuts[sensor];
    m_lost[sensor] = std::max(m_lost[sensor], times);
}

void Axes::ask(const Ask &a)
{
    if (a.test == Test::Since) {
        m_since.insert(a.constant);
        return;
    }
    if (a.sensor < 0)
        return;
    switch (a.test) {
    case Test::Number:
        compare(a.sensor, a.constant);
        break;
    case Test::Angle:
        m_angles[a.sensor].insert(a.constant);
        m_cuts[a.sensor];
        break;
    case Test::Which:
        order(at(a.sensor));
        break;
    case Test::Than: {
        const bool above =
            a.compare == rules::Compare::Greater || a.compare == rules::Compare::GreaterOrEqual;
        pair(a.sensor, a.other, above ? a.constant : -a.constant);
        break;
    }
    case Test::Lost:
        lost(a.sensor, static_cast<int>(a.constant));
        break;
    case Test::Remembered:
        m_memos[a.sensor].insert(a.other);
        break;
    case Test::Seen:
    case Test::Unseen:
    case Test::Key:
        m_cuts[a.sensor];
        break;
    case Test::Since:
        break;
    }
}

bool Axes::bothWhole(const std::pair<int, int> &pair) const
{
    return isWhole(at(pair.first)) && isWhole(at(pair.second));
}
double Axes::top(int sensor) const
{
    const auto &s = at(sensor);
    if (s.source != Source::Analogue)
        return std::min(s.limit, s.farthest.value_or(s.limit));
    switch (s.scale) {
    case rules::Scale::Raw:
        return converterTop;
    case rules::Scale::Normalised: {
        const auto a = numberOfCount(m_machine, s, 0);
        const auto b = numberOfCount(m_machine, s, 1023);
        return std::max(*a, *b);
    }
    case rules::Scale::Distance:
        break;
    }
    double most = 0.0;
    for (const auto &d : s.byCount)
        most = std::max(most, d.value_or(0.0));
    return most;
}
double Axes::bottom(int sensor) const
{
    const auto &s = at(sensor);
    if (s.source == Source::Analogue && s.scale == rules::Scale::Normalised)
        return std::min(*numberOfCount(m_machine, s, 0), *numberOfCount(m_machine, s, 1023));
    if (s.nearest && isEcho(s))
        return *s.nearest;
    return s.source == Source::Analogue ? 0.0 : (s.whole ? 1.0 : 0.0);
}

void Axes::sensor(int i, std::vector<Axis> &all) const
{
    const auto &s = at(i);
    const auto cuts = m_cuts.find(i);
    const bool echo = isEcho(s);
    const bool blocks = echo && s.everyPass &&
                        (leavesNone(s.policy) || (s.nearest && leavesNone(s.tooNear)) ||
                         (s.farthest && leavesNone(s.wild)));
    if (isMade(s) || (cuts == m_cuts.end() && !blocks))
        return;
    Axis axis{Axis::Of::Sensor, i, -1, isWhole(s), {}};
    const auto simple = [&](Atom::Kind kind, int word) {
        axis.atoms.push_back({kind, 0.0, 0.0, false, false, word});
    };
    if (s.source == Source::Digital || s.source == Source::Button) {
        simple(Atom::Kind::No, -1);
        simple(Atom::Kind::Yes, -1);
    } else if (s.source == Source::Key) {
        for (int k = 0; k < 5; ++k)
            simple(Atom::Kind::Key, k);
    } else {
        if (cuts == m_cuts.end())
            simple(Atom::Kind::Any, -1);
        else
            axis.atoms = pieces(bottom(i), top(i), cuts->second, axis.whole);
        // Of an open axis nought itself is what the board takes for no echo.
        if (echo && !axis.whole && !axis.atoms.empty() && axis.atoms.front().from == 0.0)
            axis.atoms.front().openFrom = true;
        if (echo && s.nearest)
            simple(Atom::Kind::Near, -1);
        if (echo && s.farthest && *s.farthest < s.limit)
            simple(Atom::Kind::Wild, -1);
        if (echo)
            simple(Atom::Kind::None, -1);
        if (const auto lost = m_lost.find(i); lost != m_lost.end())
            simple(Atom::Kind::Lost, lost->second);
    }
    all.push_back(std::move(axis));
}

std::vector<Atom> Axes::angleAtoms(int scan, const std::set<double> &cuts) const
{
    // Only the scan's own angles can win: each that a comparison tells from its neighbour.
    std::vector<Atom> all;
    const auto &range = at(scan).angles;
    std::vector<double> angles(m_machine.angles_deg.begin() + range.first,
                               m_machine.angles_deg.begin() + range.end());
    std::sort(angles.begin(), angles.end());
    for (const double a : angles) {
        const bool apart =
            all.empty() || std::any_of(cuts.begin(), cuts.end(), [&](double c) {
                return (all.back().to < c) != (a < c) || (all.back().to <= c) != (a <= c);
            });
        if (apart)
            all.push_back({Atom::Kind::Angle, a, a, false, false, -1});
        else
            all.back().to = a;
    }
    return all;
}

} // namespace badger::regions
