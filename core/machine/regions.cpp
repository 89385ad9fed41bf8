// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/regions.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

namespace badger::machine
{

namespace
{

using rules::Source;
using rules::Test;

constexpr double mostProducts = 1e6;
constexpr double converterTop = 1023.0;

bool isMade(const Sensor &s)
{
    return s.source == Source::Pick || s.source == Source::Difference;
}

/// The pieces of a line from `low` to `high` that is cut at some points: each point, and what lies
/// between. Of whole numbers a piece without one is left out.
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

/// Collects the axes of one mode.
class Axes
{
public:
    Axes(const Machine &machine, int mode) : m_machine(machine), m_mode(mode)
    {
        branches(machine.everywhere);
        const auto &m = machine.modes[static_cast<size_t>(mode)];
        branches(m.branches);
        if (m.sensor >= 0 && m.half != 0.0f &&
            (m.follows == rules::Follows::Steer || m.follows == rules::Follows::Slow))
            for (const float end : {-1.0f, 0.0f, 1.0f})
                compare(m.sensor, double(m.middle + end * m.half));
    }

    /// The cuts of another program's mode, its readings by their names.
    void also(const Axes &other, const rules::Program &theirs, const rules::Program &mine,
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

    std::vector<Axis> take()
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

private:
    const Sensor &at(int sensor) const { return m_machine.sensors[static_cast<size_t>(sensor)]; }

    void branches(const Range &range)
    {
        for (int b = range.first; b < range.end(); ++b) {
            const auto &asks = m_machine.branches[static_cast<size_t>(b)].asks;
            for (int i = asks.first; i < asks.end(); ++i)
                ask(m_machine.asks[static_cast<size_t>(i)]);
        }
    }

    void compare(int sensor, double constant)
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
    void order(const Sensor &s)
    {
        for (int i = s.of.first; i < s.of.end(); ++i)
            for (int k = i + 1; k < s.of.end(); ++k)
                pair(m_machine.members[static_cast<size_t>(i)],
                     m_machine.members[static_cast<size_t>(k)], 0.0);
    }

    void pair(int a, int b, double cut)
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
    void lost(int sensor, int times)
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

    void ask(const Ask &a)
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

    bool bothWhole(const std::pair<int, int> &pair) const
    {
        return isWhole(at(pair.first)) && isWhole(at(pair.second));
    }
    static bool isWhole(const Sensor &s)
    {
        return s.source == Source::Analogue ? s.scale == rules::Scale::Raw : s.whole;
    }
    double top(int sensor) const
    {
        const auto &s = at(sensor);
        if (s.source != Source::Analogue)
            return s.limit;
        switch (s.scale) {
        case rules::Scale::Raw:
            return converterTop;
        case rules::Scale::Normalised: {
            const auto a = numberOfCount(s, 0);
            const auto b = numberOfCount(s, 1023);
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
    double bottom(int sensor) const
    {
        const auto &s = at(sensor);
        if (s.source == Source::Analogue && s.scale == rules::Scale::Normalised)
            return std::min(*numberOfCount(s, 0), *numberOfCount(s, 1023));
        return s.source == Source::Analogue ? 0.0 : (s.whole ? 1.0 : 0.0);
    }

    void sensor(int i, std::vector<Axis> &all) const
    {
        const auto &s = at(i);
        const auto cuts = m_cuts.find(i);
        const bool echo = s.source == Source::Ranger || s.source == Source::Scan;
        const bool blocks = echo && s.everyPass && s.policy != rules::NoEcho::Clear &&
                            s.policy != rules::NoEcho::Blocked;
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
            if (echo)
                simple(Atom::Kind::None, -1);
            if (const auto lost = m_lost.find(i); lost != m_lost.end())
                simple(Atom::Kind::Lost, lost->second);
        }
        all.push_back(std::move(axis));
    }

    std::vector<Atom> angleAtoms(int scan, const std::set<double> &cuts) const
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

    const Machine &m_machine;
    int m_mode;
    std::map<int, std::set<double>> m_cuts;
    std::map<std::pair<int, int>, std::set<double>> m_pairs;
    std::map<int, std::set<double>> m_angles;
    std::map<int, int> m_lost;
    std::map<int, std::set<int>> m_memos;
    std::set<double> m_since;
};

/// A bound that may be strict: `strict` is -1 where the bound itself is not reached.
struct Bound {
    double value = 0.0;
    int strict = 0;
    Bound operator+(const Bound &o) const { return {value + o.value, strict + o.strict}; }
    bool operator<(const Bound &o) const
    {
        return value < o.value || (value == o.value && strict < o.strict);
    }
};

/// "x[to] - x[from] <= bound"; node 0 is nought.
struct Edge {
    int from = 0;
    int to = 0;
    Bound bound;
};

/// Numbers that keep all the differences, or nothing where there are none: shortest paths from
/// nought (Bellman and Ford). Of whole numbers with whole bounds the answer is whole.
std::optional<std::vector<double>> solve(int nodes, const std::vector<Edge> &edges)
{
    std::vector<Bound> far(static_cast<size_t>(nodes), Bound{0.0, 0});
    for (int round = 0; round <= nodes; ++round) {
        bool changed = false;
        for (const auto &e : edges) {
            const auto by = far[static_cast<size_t>(e.from)] + e.bound;
            if (by < far[static_cast<size_t>(e.to)]) {
                far[static_cast<size_t>(e.to)] = by;
                changed = true;
            }
        }
        if (!changed) {
            // A strict bound is kept by a step that is small beside any constant of a program.
            constexpr double step = 1e-3;
            std::vector<double> x;
            for (const auto &f : far)
                x.push_back(f.value + step * f.strict - far[0].value - step * far[0].strict);
            return x;
        }
    }
    return std::nullopt;
}

/// Walks the products of one mode's axes.
class Products
{
public:
    Products(const Machine &machine, int mode, const std::vector<Axis> &axes)
        : m_machine(machine), m_mode(mode), m_axes(axes), m_atoms(axes.size(), 0),
          m_fresh(freshMind(machine))
    {
        m_fresh.mode = mode;
    }

    std::vector<Cell> cells()
    {
        if (m_axes.empty()) {
            add();
            return std::move(m_cells);
        }
        walk(0);
        return std::move(m_cells);
    }

private:
    void walk(size_t axis)
    {
        if (axis == m_axes.size()) {
            add();
            return;
        }
        for (size_t i = 0; i < m_axes[axis].atoms.size(); ++i) {
            m_atoms[axis] = static_cast<int>(i);
            walk(axis + 1);
        }
    }

    const Atom &atom(size_t axis) const
    {
        return m_axes[axis].atoms[static_cast<size_t>(m_atoms[axis])];
    }

    void range(int node, const Atom &a, std::vector<Edge> &edges) const
    {
        edges.push_back({0, node, {a.to, a.openTo ? -1 : 0}});
        edges.push_back({node, 0, {-a.from, a.openFrom ? -1 : 0}});
    }

    /// What stands for a sensor without an echo. Empty: nothing does.
    std::optional<double> substituted(int sensor) const
    {
        const auto &s = m_machine.sensors[static_cast<size_t>(sensor)];
        if (s.policy == rules::NoEcho::Clear)
            return s.limit;
        if (s.policy == rules::NoEcho::Blocked)
            return 0.0;
        return std::nullopt;
    }

    /// Readings of the cell by sensor; empty where no readings reach it.
    std::optional<std::vector<std::optional<double>>> reach() const
    {
        const auto sensors = m_machine.sensors.size();
        std::vector<Edge> edges;
        std::vector<bool> has(sensors, false);
        for (size_t k = 0; k < m_axes.size(); ++k) {
            const auto &axis = m_axes[k];
            if (axis.of != Axis::Of::Sensor)
                continue;
            const auto i = static_cast<size_t>(axis.sensor);
            const int node = axis.sensor + 1;
            if (atom(k).kind == Atom::Kind::Numbers) {
                has[i] = true;
                range(node, atom(k), edges);
            } else if (atom(k).kind == Atom::Kind::None || atom(k).kind == Atom::Kind::Lost) {
                if (const auto number = substituted(axis.sensor)) {
                    has[i] = true;
                    range(node, {Atom::Kind::Numbers, *number, *number, false, false, -1}, edges);
                }
            }
        }
        for (size_t k = 0; k < m_axes.size(); ++k) {
            const auto &axis = m_axes[k];
            if (axis.of != Axis::Of::Pair)
                continue;
            if (!has[static_cast<size_t>(axis.sensor)] || !has[static_cast<size_t>(axis.other)]) {
                if (m_atoms[k] != 0) // a difference with what is not there is one cell, not several
                    return std::nullopt;
                continue;
            }
            const auto &a = atom(k);
            edges.push_back({axis.other + 1, axis.sensor + 1, {a.to, a.openTo ? -1 : 0}});
            edges.push_back({axis.sensor + 1, axis.other + 1, {-a.from, a.openFrom ? -1 : 0}});
        }
        const auto x = solve(static_cast<int>(sensors) + 1, edges);
        if (!x)
            return std::nullopt;
        std::vector<std::optional<double>> at(sensors);
        for (size_t i = 0; i < sensors; ++i)
            if (has[i])
                at[i] = (*x)[i + 1];
        return at;
    }

    Mind mindAt(const std::vector<std::optional<double>> &at) const
    {
        Mind mind = m_fresh;
        // A reading that no rule asks for has its number: without one the policy would speak.
        for (auto &h : mind.held)
            h.has = true;
        for (size_t k = 0; k < m_axes.size(); ++k) {
            const auto &axis = m_axes[k];
            const auto &a = atom(k);
            auto *h = axis.of == Axis::Of::Sensor || axis.of == Axis::Of::Angle
                          ? &mind.held[static_cast<size_t>(axis.sensor)]
                          : nullptr;
            switch (a.kind) {
            case Atom::Kind::Numbers:
                if (h) {
                    h->has = h->heard = true;
                    h->number = *at[static_cast<size_t>(axis.sensor)];
                }
                break;
            case Atom::Kind::None:
            case Atom::Kind::Lost:
                h->has = at[static_cast<size_t>(axis.sensor)].has_value();
                h->number = at[static_cast<size_t>(axis.sensor)].value_or(0.0);
                h->lost = a.kind == Atom::Kind::Lost ? a.word : 0;
                break;
            case Atom::Kind::Yes:
            case Atom::Kind::No:
                h->has = true;
                h->number = a.kind == Atom::Kind::Yes ? 1.0 : 0.0;
                break;
            case Atom::Kind::Key:
                h->has = true;
                h->number = a.word;
                break;
            case Atom::Kind::Any:
                h->has = h->heard = true;
                h->number = 1.0;
                break;
            case Atom::Kind::Angle:
                h->angle_deg = a.from;
                break;
            case Atom::Kind::Word:
                mind.memos[static_cast<size_t>(axis.sensor)] = a.word;
                break;
            case Atom::Kind::Since:
                break;
            }
        }
        derive(m_machine, mind);
        return mind;
    }

    std::uint64_t now() const
    {
        std::uint64_t now_us = 0;
        for (size_t k = 0; k < m_axes.size(); ++k)
            if (m_axes[k].of == Axis::Of::Since && atom(k).word == 1)
                now_us = std::max(now_us, static_cast<std::uint64_t>(atom(k).to));
        return now_us;
    }

    /// The sensors that a branch's limits are of; empty where it has other conditions or none.
    std::set<int> limitsOf(int branch) const
    {
        std::set<int> sensors;
        const auto &asks = m_machine.branches[static_cast<size_t>(branch)].asks;
        for (int i = asks.first; i < asks.end(); ++i) {
            const auto &a = m_machine.asks[static_cast<size_t>(i)];
            if (a.test != Test::Number)
                return {};
            sensors.insert(a.sensor);
        }
        return sensors;
    }

    void add()
    {
        auto at = reach();
        if (!at)
            return;
        Cell cell;
        cell.atoms = m_atoms;
        cell.at = *at;
        cell.to = m_mode;
        Mind mind = mindAt(cell.at);
        switch (settle(m_machine, mind)) {
        case Settled::Stop:
            cell.outcome = Outcome::Stop;
            cell.to = m_machine.stopMode >= 0 ? m_machine.stopMode : m_mode;
            break;
        case Settled::Skip:
            cell.outcome = Outcome::Kept;
            break;
        case Settled::Rules:
            decide(mind, cell);
            break;
        }
        m_cells.push_back(std::move(cell));
    }

    void decide(Mind &mind, Cell &cell) const
    {
        Walk walk{m_mode, 0, now()};
        // A steady reading has held as often as is asked for.
        for (const auto &b : m_machine.branches)
            for (int i = b.asks.first; i < b.asks.end(); ++i)
                for (int n = m_machine.asks[static_cast<size_t>(i)].times; n > 1; --n)
                    count(m_machine, mind, walk);
        bool ended = false;
        for (int b = next(m_machine, mind, walk); b >= 0; b = next(m_machine, mind, walk)) {
            const auto &branch = m_machine.branches[static_cast<size_t>(b)];
            if (!ended) {
                cell.fired.push_back(b);
                cell.to = branch.go;
                ended = branch.endsPass;
                continue;
            }
            const auto first = limitsOf(cell.fired.front());
            cell.overlap |=
                !first.empty() && first == limitsOf(b) &&
                branch.go != m_machine.branches[static_cast<size_t>(cell.fired.front())].go;
        }
        cell.overlap |= cell.fired.size() > 1;
        const auto &mode = m_machine.modes[static_cast<size_t>(m_mode)];
        const bool follows = mode.branches.count + m_machine.everywhere.count == 0;
        cell.outcome = !cell.fired.empty() ? Outcome::Rule
                       : follows           ? Outcome::Kept
                                           : Outcome::Hole;
    }

    const Machine &m_machine;
    int m_mode;
    const std::vector<Axis> &m_axes;
    std::vector<int> m_atoms;
    Mind m_fresh;
    std::vector<Cell> m_cells;
};

} // namespace

namespace
{

Result<Regions> cellsOf(const rules::Program &program, const Machine &machine, int mode,
                        std::vector<Axis> axes)
{
    Regions all;
    all.mode = mode;
    all.axes = std::move(axes);
    double products = 1.0;
    std::vector<Say> sensors;
    for (const auto &axis : all.axes) {
        products *= static_cast<double>(axis.atoms.size());
        if (axis.of == Axis::Of::Sensor)
            sensors.emplace_back(program.readings[static_cast<size_t>(axis.sensor)].name);
    }
    if (products > mostProducts)
        return fail(
            Error::Kind::OutOfRange, say("program '") + program.name + "'",
            say("its rules compare {} together in more than a million ways", joined(sensors, ", ")),
            say("let fewer readings decide together"));
    all.cells = Products(machine, mode, all.axes).cells();
    return all;
}

} // namespace

Result<Regions> regions(const rules::Program &program, const Machine &machine, int mode)
{
    if (machine.modes[static_cast<size_t>(mode)].hold.is)
        return Regions{mode, {}, {}};
    return cellsOf(program, machine, mode, Axes(machine, mode).take());
}

Result<Regions> jointRegions(const rules::Program &program, const Machine &machine, int mode,
                             const Second &second, std::vector<std::string> &missing)
{
    Axes axes(machine, mode);
    axes.also(Axes(second.machine, second.mode), second.program, program, missing);
    return cellsOf(program, machine, mode, axes.take());
}

Asked askedIn(const Regions &regions, const Cell &cell, const rules::Program &cellsOf,
              const Second &second)
{
    auto mind = freshMind(second.machine);
    mind.mode = second.mode;
    for (auto &h : mind.held)
        h.has = h.heard = true;
    for (size_t k = 0; k < regions.axes.size(); ++k) {
        const auto &axis = regions.axes[k];
        if (axis.of != Axis::Of::Sensor && axis.of != Axis::Of::Angle)
            continue;
        const auto &name = cellsOf.readings[static_cast<size_t>(axis.sensor)].name;
        const auto *reading = second.program.reading(name);
        if (reading == nullptr)
            continue;
        const int i = static_cast<int>(reading - second.program.readings.data());
        auto &h = mind.held[static_cast<size_t>(i)];
        const auto &a = axis.atoms[static_cast<size_t>(cell.atoms[k])];
        if (axis.of == Axis::Of::Angle)
            h.angle_deg = a.from;
        else if (a.kind == Atom::Kind::Numbers)
            h.number = cell.at[static_cast<size_t>(axis.sensor)].value_or(0.0);
        else if (a.kind == Atom::Kind::None || a.kind == Atom::Kind::Lost)
            hear(second.machine, mind, i, std::nullopt);
        else if (a.kind == Atom::Kind::Key)
            h.number = a.word;
        else
            h.number = a.kind == Atom::Kind::Yes ? 1.0 : 0.0;
        if (a.kind == Atom::Kind::Lost)
            h.lost = a.word;
    }
    derive(second.machine, mind);
    switch (settle(second.machine, mind)) {
    case Settled::Stop:
        return {Outcome::Stop, std::max(0, second.machine.stopMode)};
    case Settled::Skip:
        return {Outcome::Kept, second.mode};
    case Settled::Rules:
        break;
    }
    Walk walk{second.mode, 0, 0};
    Asked asked{Outcome::Hole, second.mode};
    for (int b = next(second.machine, mind, walk); b >= 0; b = next(second.machine, mind, walk)) {
        const auto &branch = second.machine.branches[static_cast<size_t>(b)];
        asked = {Outcome::Rule, branch.go};
        if (branch.endsPass)
            break;
    }
    return asked;
}

namespace
{

bool sameEnd(const Machine &machine, const Cell &a, const Cell &b)
{
    const auto follows = machine.modes[static_cast<size_t>(a.to)].follows;
    if (follows == rules::Follows::Steer || follows == rules::Follows::Slow)
        return false; // what the wheels get differs all along
    return a.outcome == b.outcome && a.to == b.to && a.fired == b.fired && a.overlap == b.overlap;
}

/// Does `b` begin where `a` ends?
bool adjoins(const Axis &axis, const Atom &a, const Atom &b)
{
    if (a.kind != Atom::Kind::Numbers || b.kind != Atom::Kind::Numbers)
        return false;
    return axis.whole ? b.from == a.to + 1.0 : b.from == a.to && (a.openTo != b.openFrom);
}

} // namespace

std::vector<Row> rows(const Machine &machine, const Regions &regions)
{
    return rows(regions, [&](const Cell &a, const Cell &b) { return sameEnd(machine, a, b); });
}

std::vector<Row> rows(const Regions &regions,
                      const std::function<bool(const Cell &, const Cell &)> &same)
{
    std::vector<Row> all;
    for (const auto &cell : regions.cells) {
        Row row{regions.mode, {}, &cell};
        for (size_t k = 0; k < regions.axes.size(); ++k)
            row.atoms.push_back(regions.axes[k].atoms[static_cast<size_t>(cell.atoms[k])]);
        all.push_back(std::move(row));
    }
    for (size_t k = regions.axes.size(); k-- > 0;) {
        std::vector<Row> merged;
        for (auto &row : all) {
            const auto before = std::find_if(merged.rbegin(), merged.rend(), [&](const Row &other) {
                for (size_t i = 0; i < row.atoms.size(); ++i)
                    if (i != k && !(other.atoms[i] == row.atoms[i]))
                        return false;
                return adjoins(regions.axes[k], other.atoms[k], row.atoms[k]) &&
                       same(*other.cell, *row.cell);
            });
            if (before == merged.rend()) {
                merged.push_back(std::move(row));
                continue;
            }
            before->atoms[k].to = row.atoms[k].to;
            before->atoms[k].openTo = row.atoms[k].openTo;
        }
        all = std::move(merged);
    }
    return all;
}

std::vector<bool> reachable(const Machine &machine)
{
    std::vector<bool> can(machine.modes.size(), false);
    std::vector<int> open = {0};
    const auto go = [&](int mode) {
        if (mode >= 0 && !can[static_cast<size_t>(mode)]) {
            can[static_cast<size_t>(mode)] = true;
            open.push_back(mode);
        }
    };
    can[0] = true;
    const bool stops = std::any_of(machine.sensors.begin(), machine.sensors.end(),
                                   [](const Sensor &s) { return s.policy == rules::NoEcho::Stop; });
    if (stops)
        go(machine.stopMode);
    while (!open.empty()) {
        const auto &m = machine.modes[static_cast<size_t>(open.back())];
        open.pop_back();
        if (m.hold.is) {
            go(m.hold.then);
            continue;
        }
        for (const auto &range : {machine.everywhere, m.branches})
            for (int b = range.first; b < range.end(); ++b)
                go(machine.branches[static_cast<size_t>(b)].go);
    }
    return can;
}

} // namespace badger::machine
