// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/harness/arrange.h"

#include <algorithm>
#include <limits>
#include <map>
#include <set>

namespace badger::harness
{

using parts::Kind;
using parts::Role;

namespace
{

using Neighbours = std::multimap<std::string, std::string>;

Neighbours neighbours(const std::vector<kit::Wire> &wires)
{
    Neighbours all;
    for (const auto &w : wires) {
        all.emplace(w.from, w.to);
        all.emplace(w.to, w.from);
    }
    return all;
}

/// Rows of terminals that already stand.
using Rows = std::map<std::string, int>;

std::vector<int> rowsOf(const std::string &terminal, const Neighbours &joined, const Rows &rows)
{
    std::vector<int> found;
    const auto [begin, end] = joined.equal_range(terminal);
    for (auto it = begin; it != end; ++it)
        if (const auto row = rows.find(it->second); row != rows.end())
            found.push_back(row->second);
    std::sort(found.begin(), found.end());
    return found;
}

/// Terminals by the middle of the rows they lead to; those that lead nowhere keep their order at
/// the end.
void sortByRow(std::vector<std::string> &terminals, const Neighbours &joined, const Rows &rows)
{
    std::map<std::string, double> key;
    for (const auto &t : terminals) {
        const auto found = rowsOf(t, joined, rows);
        double sum = 0.0;
        for (const int r : found)
            sum += r;
        key[t] = found.empty() ? std::numeric_limits<double>::max()
                               : sum / static_cast<double>(found.size());
    }
    std::stable_sort(terminals.begin(), terminals.end(),
                     [&](const auto &a, const auto &b) { return key[a] < key[b]; });
}

/// One column's parts against the rows of another: how often two of them cross in either order, and
/// how many wires join them.
class Ordering
{
public:
    Ordering(const std::vector<Placed> &parts, const std::vector<std::vector<int>> &rows,
             const std::vector<std::vector<int>> &joins)
        : m_count(parts.size()), m_above(m_count, std::vector<int>(m_count, 0)), m_joins(joins)
    {
        for (size_t a = 0; a < m_count; ++a)
            for (size_t b = 0; b < m_count; ++b)
                for (const int ra : rows[a])
                    for (const int rb : rows[b])
                        m_above[a][b] += ra > rb;
    }

    std::vector<size_t> best() const
    {
        constexpr size_t mostExact = 14; // more sets than that take too long for a drag
        return m_count <= mostExact ? exact() : bySwaps();
    }

private:
    static constexpr long crossingCost = 1000; ///< outweighs the length of the wires between parts

    /// Crossings that come with putting `next` below the set.
    long below(unsigned set, size_t next) const
    {
        long sum = 0;
        for (size_t a = 0; a < m_count; ++a)
            if (set & (1U << a))
                sum += m_above[a][next];
        return sum;
    }

    /// Wires that reach on past the set: added up over all prefixes, their length.
    long reaching(unsigned set) const
    {
        long sum = 0;
        for (size_t a = 0; a < m_count; ++a)
            for (size_t b = 0; b < m_count; ++b)
                if ((set & (1U << a)) && !(set & (1U << b)))
                    sum += m_joins[a][b];
        return sum;
    }

    std::vector<size_t> exact() const
    {
        const unsigned all = (1U << m_count) - 1;
        std::vector<long> least(size_t{all} + 1, std::numeric_limits<long>::max());
        std::vector<size_t> last(size_t{all} + 1, 0);
        least[0] = 0;
        for (unsigned set = 0; set < all; ++set) {
            const long here = least[set] + reaching(set);
            for (size_t next = 0; next < m_count; ++next) {
                if (set & (1U << next))
                    continue;
                const unsigned with = set | (1U << next);
                const long sum = here + crossingCost * below(set, next);
                if (sum < least[with]) {
                    least[with] = sum;
                    last[with] = next;
                }
            }
        }
        std::vector<size_t> order;
        for (unsigned set = all; set != 0; set &= ~(1U << last[set]))
            order.insert(order.begin(), last[set]);
        return order;
    }

    /// For more parts than any car here has: neighbours change places while that helps.
    std::vector<size_t> bySwaps() const
    {
        std::vector<size_t> order(m_count);
        for (size_t i = 0; i < m_count; ++i)
            order[i] = i;
        for (bool better = true; better;) {
            better = false;
            for (size_t i = 1; i < m_count; ++i)
                if (m_above[order[i - 1]][order[i]] > m_above[order[i]][order[i - 1]]) {
                    std::swap(order[i - 1], order[i]);
                    better = true;
                }
        }
        return order;
    }

    size_t m_count;
    std::vector<std::vector<int>> m_above; ///< crossings with the first above the second
    const std::vector<std::vector<int>> &m_joins;
};

class Arranger
{
public:
    Arranger(const kit::Assembly &car) : m_car(car), m_joined(neighbours(car->wires)) {}

    Arrangement make()
    {
        findHub();
        findLeftward();
        placeHub();
        Rows rows = rowsOf(m_result.hub, &Placed::right);
        collectModules();
        order(m_result.modules, &Placed::left, rows);
        for (auto &m : m_result.modules)
            sortByRow(m.left, m_joined, rows);
        rows = rowsOf(m_result.modules, &Placed::right);
        order(m_result.far, &Placed::left, rows);
        for (auto &f : m_result.far)
            sortByRow(f.left, m_joined, rows);
        m_result.crossings = crossings(column(m_result.hub, &Placed::right),
                                       column(m_result.modules, &Placed::left), m_car->wires) +
                             crossings(column(m_result.modules, &Placed::right),
                                       column(m_result.far, &Placed::left), m_car->wires);
        return std::move(m_result);
    }

private:
    using Side = std::vector<std::string> Placed::*;

    static std::vector<std::string> column(const std::vector<Placed> &parts, Side side)
    {
        std::vector<std::string> all;
        for (const auto &p : parts)
            all.insert(all.end(), (p.*side).begin(), (p.*side).end());
        return all;
    }

    static Rows rowsOf(const std::vector<Placed> &parts, Side side)
    {
        Rows rows;
        int row = 0;
        for (const auto &name : column(parts, side))
            rows[name] = row++;
        return rows;
    }

    /// What the others face: the board, or where there is none, the sensors.
    void findHub()
    {
        if (const auto *board = m_car.first(Kind::Board)) {
            m_hub.insert(board->id);
            return;
        }
        for (const auto &fitted : m_car->parts)
            if (const auto *part = m_car.part(fitted))
                for (const auto &t : part->terminals)
                    if ((t.role == Role::DigitalOut || t.role == Role::AnalogueOut ||
                         t.role == Role::Echo) &&
                        part->kind != Kind::Divider)
                        m_hub.insert(fitted.id);
    }

    bool atHub(const std::string &terminal) const
    {
        return m_hub.count(kit::splitTerminal(terminal).instance) > 0;
    }

    /// Terminals whose wires run to the left: those joined to the hub, and those joined to them.
    void findLeftward()
    {
        for (bool grew = true; grew;) {
            grew = false;
            for (const auto &[a, b] : m_joined)
                if ((atHub(a) || m_left.count(a)) && !atHub(b))
                    grew |= m_left.insert(b).second;
        }
    }

    void placeHub()
    {
        for (const auto &fitted : m_car->parts) {
            if (!m_hub.count(fitted.id))
                continue;
            Placed p{fitted.id, {}, {}};
            for (const auto &t : m_car.part(fitted)->terminals)
                p.right.push_back(fitted.id + "." + t.name);
            m_result.hub.push_back(std::move(p));
        }
    }

    void collectModules()
    {
        for (const auto &fitted : m_car->parts) {
            const auto *part = m_car.part(fitted);
            if (part == nullptr || m_hub.count(fitted.id) || part->terminals.empty())
                continue;
            Placed p{fitted.id, {}, {}};
            const bool far = part->kind == Kind::Motor;
            const bool long_ = part->terminals.size() > mostUnused;
            for (const auto &t : part->terminals) {
                const auto name = fitted.id + "." + t.name;
                const bool wired = m_joined.count(name) > 0;
                if (!wired && long_)
                    continue; // rows of a breadboard that nothing is in
                const bool left = far || m_left.count(name) || (!wired && t.role != Role::MotorOut);
                (left ? p.left : p.right).push_back(name);
            }
            (far ? m_result.far : m_result.modules).push_back(std::move(p));
        }
    }

    /// Puts a column's parts into the best order against the rows beside it.
    void order(std::vector<Placed> &parts, Side side, const Rows &rows)
    {
        std::map<std::string, size_t> partOf;
        std::vector<std::vector<int>> reach(parts.size());
        for (size_t i = 0; i < parts.size(); ++i) {
            for (const auto &t : parts[i].*side) {
                const auto found = badger::harness::rowsOf(t, m_joined, rows);
                reach[i].insert(reach[i].end(), found.begin(), found.end());
            }
            for (const auto *list : {&parts[i].left, &parts[i].right})
                for (const auto &t : *list)
                    partOf[t] = i;
        }
        std::vector<std::vector<int>> joins(parts.size(), std::vector<int>(parts.size(), 0));
        for (const auto &w : m_car->wires) {
            const auto a = partOf.find(w.from);
            const auto b = partOf.find(w.to);
            if (a != partOf.end() && b != partOf.end() && a->second != b->second) {
                ++joins[a->second][b->second];
                ++joins[b->second][a->second];
            }
        }
        std::vector<Placed> ordered;
        for (const size_t i : Ordering(parts, reach, joins).best())
            ordered.push_back(std::move(parts[i]));
        parts = std::move(ordered);
    }

    static constexpr size_t mostUnused = 20; ///< terminals; more are shown only where wired

    const kit::Assembly &m_car;
    Neighbours m_joined;
    std::set<std::string> m_hub;
    std::set<std::string> m_left;
    Arrangement m_result;
};

} // namespace

Arrangement arrange(const kit::Assembly &car)
{
    return Arranger(car).make();
}

int crossings(const std::vector<std::string> &left, const std::vector<std::string> &right,
              const std::vector<kit::Wire> &wires)
{
    Rows leftRow;
    Rows rightRow;
    for (size_t i = 0; i < left.size(); ++i)
        leftRow[left[i]] = static_cast<int>(i);
    for (size_t i = 0; i < right.size(); ++i)
        rightRow[right[i]] = static_cast<int>(i);
    std::vector<std::pair<int, int>> lines;
    for (const auto &w : wires)
        for (const auto &[a, b] : {std::pair(&w.from, &w.to), std::pair(&w.to, &w.from)}) {
            const auto l = leftRow.find(*a);
            const auto r = rightRow.find(*b);
            if (l != leftRow.end() && r != rightRow.end())
                lines.emplace_back(l->second, r->second);
        }
    int count = 0;
    for (size_t i = 0; i < lines.size(); ++i)
        for (size_t k = 0; k < i; ++k)
            count += (lines[i].first - lines[k].first) * (lines[i].second - lines[k].second) < 0;
    return count;
}

} // namespace badger::harness
