// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/table.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <set>

namespace badger::rules
{

std::string Row::to() const
{
    if (cells.empty())
        return {};
    const auto same = std::all_of(cells.begin(), cells.end(),
                                  [&](const Cell &c) { return c.to == cells.front().to; });
    return same ? cells.front().to : std::string{};
}

bool Row::hasHole() const
{
    return std::any_of(cells.begin(), cells.end(),
                       [](const Cell &c) { return c.kind == CellKind::Hole; });
}

bool Row::hasOverlap() const
{
    return std::any_of(cells.begin(), cells.end(), [](const Cell &c) { return c.overlap; });
}

namespace
{

/// The rules of a program with every name looked up: a table asks them thousands of times.
class Asked
{
public:
    explicit Asked(const Program &program) : m_program(program)
    {
        for (const auto &state : program.states) {
            auto &rules = m_byState.emplace_back();
            add(rules, program.everywhere, "everywhere");
            add(rules, state.rules, state.name);
        }
    }

    /// What each state without a wait does at these numbers.
    std::vector<Cell> cells(const Numbers &heard) const
    {
        const auto settled = settle(m_program, {}, heard);
        std::vector<std::optional<double>> numbers;
        for (const auto &r : m_program.readings) {
            const auto it = settled.numbers.find(r.name);
            numbers.push_back(it == settled.numbers.end() ? std::nullopt
                                                          : std::optional(it->second));
        }
        std::vector<Cell> all;
        for (size_t i = 0; i < m_program.states.size(); ++i)
            if (!m_program.states[i].wait)
                all.push_back(cell(i, settled.why, numbers));
        return all;
    }

private:
    struct Test {
        size_t reading;
        Compare compare;
        double constant;
    };
    struct Known {
        const Rule *rule;
        const std::string *where;
        std::vector<Test> when;
        bool possible; ///< every name leads somewhere
    };

    void add(std::vector<Known> &to, const std::vector<Rule> &rules, const std::string &where)
    {
        const auto &kept = *m_where.insert(where).first;
        for (const auto &rule : rules) {
            Known known{&rule, &kept, {}, true};
            for (const auto &c : rule.when) {
                const auto *reading = m_program.reading(c.reading);
                const auto *value = m_program.value(c.value);
                known.possible &= reading && value && value->si;
                if (known.possible)
                    known.when.push_back({static_cast<size_t>(reading - m_program.readings.data()),
                                          c.compare, constantIn(*value, reading->unit)});
            }
            to.push_back(std::move(known));
        }
    }

    static bool matches(const Known &known, const std::vector<std::optional<double>> &numbers)
    {
        return known.possible &&
               std::all_of(known.when.begin(), known.when.end(), [&](const Test &t) {
                   return numbers[t.reading] && holds(*numbers[t.reading], t.compare, t.constant);
               });
    }

    Cell cell(size_t state, Why why, const std::vector<std::optional<double>> &numbers) const
    {
        const auto &from = m_program.states[state].name;
        Cell cell{from, from, CellKind::Action, {}, false};
        if (why == Why::Stopped) {
            cell.to = m_program.stopState;
            cell.kind = CellKind::Forced;
            return cell;
        }
        if (why != Why::Rules) {
            cell.kind = CellKind::Kept;
            return cell;
        }
        bool open = true; // no rule has ended the pass yet
        for (const auto &known : m_byState[state]) {
            if (!matches(known, numbers))
                continue;
            const auto &go = known.rule->go;
            if (!cell.first)
                cell.first = Fired{*known.where, known.rule->name, go};
            // A rule without conditions says what else happens; it is no limit of its own.
            cell.overlap |= go != cell.first->go && !known.rule->when.empty();
            if (open)
                cell.to = go;
            open &= !known.rule->endsPass;
        }
        if (!cell.first)
            cell.kind = CellKind::Hole;
        return cell;
    }

    const Program &m_program;
    std::set<std::string> m_where; ///< the names that the rules point into
    std::vector<std::vector<Known>> m_byState;
};

Row rowOf(const Asked &asked, const std::string &reading, std::optional<double> number)
{
    Row row;
    row.countsAsNone = number && *number == noEchoNumber;
    row.cells = asked.cells({{reading, row.countsAsNone ? std::nullopt : number}});
    return row;
}

Result<const Reading *> usable(const Program &program, const std::string &name)
{
    for (const auto &ok : {complete(program), forRangersAlone(program)})
        if (!ok)
            return tl::unexpected(ok.error());
    const auto *reading = program.reading(name);
    if (reading == nullptr)
        return fail(Error::Kind::Malformed, say("program '") + program.name + "'",
                    say("there is no reading '{}'", name), say("name one of its readings"));
    return reading;
}

std::vector<double> breakpoints(const Program &program, const Reading &reading, double limit)
{
    std::vector<double> points = {0.0, limit};
    const auto collect = [&](const std::vector<Rule> &rules) {
        for (const auto &rule : rules)
            for (const auto &c : rule.when)
                if (c.reading == reading.name)
                    points.push_back(constantIn(*program.value(c.value), reading.unit));
    };
    collect(program.everywhere);
    for (const auto &s : program.states)
        collect(s.rules);
    std::erase_if(points, [&](double p) { return p < 0.0 || p > limit; });
    std::sort(points.begin(), points.end());
    points.erase(std::unique(points.begin(), points.end()), points.end());
    return points;
}

void append(std::vector<Band> &bands, Band band)
{
    if (band.to_m <= band.from_m)
        return;
    if (!bands.empty() && bands.back().row.sameAction(band.row) &&
        bands.back().row.countsAsNone == band.row.countsAsNone)
        bands.back().to_m = band.to_m;
    else
        bands.push_back(std::move(band));
}

} // namespace

Result<void> complete(const Program &program)
{
    if (const auto sentences = broken(program); !sentences.empty())
        return fail(Error::Kind::Malformed, say("program '") + program.name + "'",
                    sentences.front(), say("mend the program"));
    if (const auto missing = unset(program); !missing.empty())
        return fail(Error::Kind::Missing, say("program '") + program.name + "'",
                    say("not chosen yet: {}", joined(missing, "; ")),
                    say("choose it at the Rule station"));
    return {};
}

Result<void> forRangersAlone(const Program &program)
{
    if (onlyRangers(program) && !program.readings.empty())
        return {};
    return fail(
        Error::Kind::Conflict, say("program '") + program.name + "'",
        say("it does more than compare distances that are read in every pass"),
        say("its exact cells, its stopping budget, its runs and its board program are there"));
}

Row rowAt(const Program &program, const std::string &reading, std::optional<double> number)
{
    return rowOf(Asked(program), reading, number);
}

const Row &Table::at(long number) const
{
    const auto after = std::upper_bound(runs.begin(), runs.end(), number,
                                        [](long n, const Run &run) { return n < run.first; });
    return std::prev(after)->row;
}

Result<Table> table(const Program &program, const std::string &name)
{
    const auto reading = usable(program, name);
    if (!reading)
        return tl::unexpected(reading.error());
    constexpr double mostRows = 20000.0;
    const auto &r = **reading;
    const double limit = std::floor(units::fromSi(*r.limit_m, r.unit) + 1e-9);
    if (limit > mostRows)
        return fail(Error::Kind::OutOfRange, say("program '") + program.name + "'",
                    fmt::format("the limit of '{}' makes a table of {:.0f} rows", name, limit),
                    say("take a larger unit or a nearer limit"));
    const auto last = static_cast<long>(limit);
    // A comparison with c changes at c itself and right after it; 0 is no echo, so 1 begins anew.
    std::set<long> starts = {0, std::min(1L, last)};
    for (const double c : breakpoints(program, r, limit))
        for (const double n : {std::ceil(c), std::floor(c) + 1.0})
            if (n <= limit)
                starts.insert(static_cast<long>(n));
    const Asked asked(program);
    Table t{name, r.unit, {}, rowOf(asked, name, std::nullopt)};
    for (const long n : starts) {
        auto row = rowOf(asked, name, static_cast<double>(n));
        if (!t.runs.empty())
            t.runs.back().last = n - 1;
        if (t.runs.empty() || !row.sameAction(t.runs.back().row) ||
            row.countsAsNone != t.runs.back().row.countsAsNone)
            t.runs.push_back({n, n, std::move(row)});
    }
    t.runs.back().last = last;
    return t;
}

Result<std::vector<Band>> bands(const Program &program, const std::string &name)
{
    const auto reading = usable(program, name);
    if (!reading)
        return tl::unexpected(reading.error());
    const auto &r = **reading;
    std::vector<Band> all;
    if (r.number == NumberType::Whole) {
        const auto t = table(program, name);
        if (!t)
            return tl::unexpected(t.error());
        for (const auto &run : t->runs)
            append(all, {units::toSi(double(run.first), r.unit),
                         std::min(*r.limit_m, units::toSi(double(run.last + 1), r.unit)), run.row});
        return all;
    }
    const auto points = breakpoints(program, r, units::fromSi(*r.limit_m, r.unit));
    const Asked asked(program);
    for (size_t i = 0; i + 1 < points.size(); ++i)
        append(all, {units::toSi(points[i], r.unit), units::toSi(points[i + 1], r.unit),
                     rowOf(asked, name, (points[i] + points[i + 1]) / 2.0)});
    return all;
}

Say explainRow(const Program &program, const std::string &name, const Row &row,
               std::optional<double> number)
{
    const auto *reading = program.reading(name);
    if (reading == nullptr || row.cells.empty())
        return say("there is no such reading");
    const auto doing = [&](const Cell &cell) {
        const auto *state = program.state(cell.to);
        return state ? words(state->motion) : Say(cell.to);
    };
    const auto because = [&](const Cell &cell) -> Say {
        if (!number || row.countsAsNone)
            return say("{}no echo counts as {}", row.countsAsNone ? say("0 is no echo; ") : Say(),
                       word(reading->noEcho));
        if (cell.kind == CellKind::Forced || cell.kind == CellKind::Kept)
            return say("another reading has no echo");
        const auto *rule = cell.first ? ruleOf(program, *cell.first) : nullptr;
        if (rule == nullptr)
            return say("no rule matches, it goes on with what it did");
        std::vector<Say> parts;
        for (const auto &c : rule->when) {
            const auto *of = program.reading(c.reading);
            const bool mine = of == reading;
            parts.push_back(say(
                "{} {} {}",
                mine ? Say(units::number(*number, 2)) : say("{} without echo", c.reading),
                sign(c.compare), units::number(constantIn(*program.value(c.value), of->unit), 2)));
        }
        return say("{}{}rule '{}'", joined(parts, " and "), parts.empty() ? "" : ", ", rule->name);
    };
    if (!row.to().empty())
        return doing(row.cells.front()) + Say(": ") + because(row.cells.front());
    std::vector<Say> parts;
    for (const auto &cell : row.cells)
        parts.push_back(say("from '{}' it {} ({})", cell.from, doing(cell), because(cell)));
    return joined(parts, "; ");
}

std::optional<double> effectiveEdge_m(const Program &program, const std::vector<Band> &bands)
{
    for (auto it = bands.rbegin(); it != bands.rend(); ++it) {
        const auto *state = program.state(it->row.to());
        if (state && !it->row.countsAsNone && actOf(state->motion) != Act::Go)
            return it->to_m;
    }
    return std::nullopt;
}

} // namespace badger::rules
