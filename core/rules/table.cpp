// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/table.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <fmt/ranges.h>

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

Cell cellAt(const Program &program, const std::string &from, const Numbers &numbers)
{
    Memory memory{from, {}, {}};
    const auto pass = decideSettled(program, memory, numbers);
    Cell cell{from, pass.state, CellKind::Action, matching(program, from, numbers), false};
    switch (pass.why) {
    case Why::Rules:
        break;
    case Why::NoRule:
        cell.kind = CellKind::Hole;
        break;
    case Why::Stopped:
        cell.kind = CellKind::Forced;
        break;
    case Why::Held:
    case Why::Skipped:
        cell.kind = CellKind::Kept;
        break;
    }
    cell.overlap = std::any_of(cell.matching.begin(), cell.matching.end(),
                               [&](const Fired &f) { return f.go != cell.matching.front().go; });
    return cell;
}

Result<const Reading *> usable(const Program &program, const std::string &name)
{
    if (const auto sentences = broken(program); !sentences.empty())
        return fail(Error::Kind::Malformed, "program '" + program.name + "'", sentences.front(),
                    "mend the program");
    if (const auto missing = unset(program); !missing.empty())
        return fail(Error::Kind::Missing, "program '" + program.name + "'",
                    fmt::format("not chosen yet: {}", fmt::join(missing, "; ")),
                    "choose it at the Rule station");
    const auto *reading = program.reading(name);
    if (reading == nullptr)
        return fail(Error::Kind::Malformed, "program '" + program.name + "'",
                    fmt::format("there is no reading '{}'", name), "name one of its readings");
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

Row rowAt(const Program &program, const std::string &reading, std::optional<double> number)
{
    Row row;
    row.countsAsNone = number && *number == noEchoNumber;
    if (number)
        row.number = static_cast<long>(std::trunc(*number));
    const Numbers numbers = {{reading, row.countsAsNone ? std::nullopt : number}};
    for (const auto &state : program.states)
        if (!state.wait)
            row.cells.push_back(cellAt(program, state.name, numbers));
    return row;
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
        return fail(Error::Kind::OutOfRange, "program '" + program.name + "'",
                    fmt::format("the limit of '{}' makes a table of {:.0f} rows", name, limit),
                    "take a larger unit or a nearer limit");
    Table t{name, r.unit, {}, rowAt(program, name, std::nullopt)};
    for (long n = 0; n <= static_cast<long>(limit); ++n)
        t.rows.push_back(rowAt(program, name, static_cast<double>(n)));
    return t;
}

std::vector<Run> runs(const Table &table)
{
    std::vector<Run> all;
    for (const auto &row : table.rows) {
        if (!all.empty() && row.sameAction(*all.back().row) &&
            row.countsAsNone == all.back().row->countsAsNone)
            all.back().last = *row.number;
        else
            all.push_back({*row.number, *row.number, &row});
    }
    return all;
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
        for (const auto &run : runs(*t))
            append(all,
                   {units::toSi(double(run.first), r.unit),
                    std::min(*r.limit_m, units::toSi(double(run.last + 1), r.unit)), *run.row});
        return all;
    }
    const auto points = breakpoints(program, r, units::fromSi(*r.limit_m, r.unit));
    for (size_t i = 0; i + 1 < points.size(); ++i)
        append(all, {units::toSi(points[i], r.unit), units::toSi(points[i + 1], r.unit),
                     rowAt(program, name, (points[i] + points[i + 1]) / 2.0)});
    return all;
}

std::string explain(const Program &program, const std::string &name, const Row &row,
                    std::optional<double> number)
{
    const auto *reading = program.reading(name);
    if (reading == nullptr || row.cells.empty())
        return "there is no such reading";
    const auto doing = [&](const Cell &cell) {
        const auto *state = program.state(cell.to);
        return state ? words(state->motion) : cell.to;
    };
    const auto because = [&](const Cell &cell) -> std::string {
        if (!number || row.countsAsNone)
            return fmt::format("{}no echo counts as {}", row.countsAsNone ? "0 is no echo; " : "",
                               word(reading->noEcho));
        if (cell.matching.empty())
            return "no rule matches, it goes on with what it did";
        const auto &first = cell.matching.front();
        const auto &rules =
            first.where == "everywhere" ? program.everywhere : program.state(first.where)->rules;
        const auto rule = std::find_if(rules.begin(), rules.end(),
                                       [&](const Rule &x) { return x.name == first.rule; });
        std::vector<std::string> parts;
        for (const auto &c : rule->when)
            parts.push_back(
                fmt::format("{} {} {}", units::plain(*number, 2), sign(c.compare),
                            units::plain(constantIn(*program.value(c.value), reading->unit), 2)));
        return fmt::format("{}, rule '{}'", fmt::join(parts, " and "), first.rule);
    };
    if (!row.to().empty())
        return doing(row.cells.front()) + ": " + because(row.cells.front());
    std::vector<std::string> parts;
    for (const auto &cell : row.cells)
        parts.push_back(fmt::format("from '{}' it {} ({})", cell.from, doing(cell), because(cell)));
    return fmt::format("{}", fmt::join(parts, "; "));
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
