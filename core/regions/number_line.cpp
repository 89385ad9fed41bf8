// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/regions/number_line.h"

#include "core/machine/words.h"
#include "core/regions/axes.h"
#include "core/rules/board_numbers.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace badger::regions
{

namespace
{

bool contains(const Atom &a, double number)
{
    return a.kind == Atom::Kind::Numbers && (a.openFrom ? number > a.from : number >= a.from) &&
           (a.openTo ? number < a.to : number <= a.to);
}

Does doesIn(const Regions &regions, const Cell &cell)
{
    return {regions.mode, cell.to, cell.outcome, cell.fired, cell.overlap};
}

/// The cell of a mode at a number, or at none.
const Cell &cellAt(const Regions &regions, std::optional<double> number)
{
    if (regions.axes.empty())
        return regions.cells.front();
    const auto &atoms = regions.axes.front().atoms;
    for (const auto &cell : regions.cells) {
        const auto &a = atoms[static_cast<size_t>(cell.atoms.front())];
        if (a.kind == Atom::Kind::Any ? number.has_value()
            : number                  ? contains(a, *number)
                                      : a.kind == Atom::Kind::None)
            return cell;
    }
    return regions.cells.front();
}

LineRow rowAt(const std::vector<Regions> &all, std::optional<double> number)
{
    LineRow row;
    for (const auto &r : all)
        row.does.push_back(doesIn(r, cellAt(r, number)));
    return row;
}

/// Every number at which something may change in one of the modes.
std::set<double> cutsOf(const std::vector<Regions> &all)
{
    std::set<double> cuts;
    for (const auto &r : all)
        for (const auto &axis : r.axes)
            for (const auto &a : axis.atoms)
                if (a.kind == Atom::Kind::Numbers) {
                    cuts.insert(a.from);
                    cuts.insert(a.to);
                }
    return cuts;
}

} // namespace

int LineRow::to() const
{
    for (const auto &d : does)
        if (d.to != does.front().to)
            return -1;
    return does.empty() ? -1 : does.front().to;
}

bool LineRow::hasHole() const
{
    return std::any_of(does.begin(), does.end(),
                       [](const Does &d) { return d.outcome == Outcome::Hole; });
}

bool LineRow::hasOverlap() const
{
    return std::any_of(does.begin(), does.end(), [](const Does &d) { return d.overlap; });
}

const LineRow &NumberLine::at(double number) const
{
    for (const auto &s : stretches)
        if (contains(s.numbers, number))
            return s.row;
    return none;
}

bool hasNumberLine(const rules::Program &program)
{
    using namespace rules;
    if (program.readings.size() != 1)
        return false;
    const auto &r = program.readings.front();
    const auto byNumbers = [](const Rule &rule) {
        return std::all_of(rule.when.begin(), rule.when.end(), [](const Condition &c) {
            return c.test == Test::Number && c.times.empty();
        });
    };
    return r.source == Source::Ranger && r.everyPass && !r.swivel && !r.nearest_m &&
           !r.farthest_m &&
           std::all_of(program.everywhere.begin(), program.everywhere.end(), byNumbers) &&
           std::all_of(program.states.begin(), program.states.end(), [&](const State &s) {
               return !s.motion.proportion &&
                      std::all_of(s.rules.begin(), s.rules.end(), byNumbers);
           });
}

Result<NumberLine> numberLine(const rules::Program &program, const Machine &machine)
{
    if (!hasNumberLine(program))
        return fail(Error::Kind::Conflict, say("program '") + program.name + "'",
                    say("it does more than compare one distance that is read in every pass"),
                    say("its exact cells say what it does"));
    const auto &sensor = machine.sensors.front();
    NumberLine line;
    line.unit = program.readings.front().unit;
    line.whole = sensor.whole;
    line.limit = sensor.whole ? std::floor(sensor.limit) : sensor.limit;
    std::vector<Regions> modes;
    for (size_t m = 0; m < machine.modes.size(); ++m) {
        if (machine.modes[m].hold.is)
            continue;
        auto r = of(program, machine, static_cast<int>(m));
        if (!r)
            return tl::unexpected(r.error());
        if (!r->cells.empty())
            modes.push_back(std::move(*r));
    }
    line.none = rowAt(modes, std::nullopt);
    for (auto &a : pieces(sensor.whole ? 1.0 : 0.0, line.limit, cutsOf(modes), sensor.whole)) {
        // Nought itself is what the board takes for no echo.
        if (a.to == 0.0)
            continue;
        if (a.from == 0.0)
            a.openFrom = true;
        auto row = rowAt(modes, sensor.whole ? a.from : (a.from + a.to) / 2.0);
        if (!line.stretches.empty() && line.stretches.back().row == row) {
            line.stretches.back().numbers.to = a.to;
            line.stretches.back().numbers.openTo = a.openTo;
        } else {
            line.stretches.push_back({a, std::move(row)});
        }
    }
    return line;
}

std::vector<Band> bands(const NumberLine &line)
{
    std::vector<Band> all;
    const auto metres = [&](double number) { return units::toSi(number, line.unit); };
    if (line.whole)
        all.push_back({0.0, metres(1.0), true, line.none});
    for (const auto &s : line.stretches) {
        const double to = line.whole ? s.numbers.to + 1.0 : s.numbers.to;
        Band band{metres(s.numbers.from), metres(std::min(to, line.limit)), false, s.row};
        if (band.to_m > band.from_m)
            all.push_back(std::move(band));
    }
    return all;
}

Say words(const rules::Program &program, const Machine &machine, const LineRow &row,
          std::optional<double> number)
{
    if (row.does.empty())
        return say("no rule is asked");
    const auto &reading = program.readings.front();
    const bool silent = !number || *number == rules::noEchoNumber;
    const auto doing = [&](const Does &d) {
        return rules::words(program.states[static_cast<size_t>(d.to)].motion);
    };
    const auto because = [&](const Does &d) -> Say {
        if (silent)
            return say("{}no echo counts as {}", number ? say("0 is no echo; ") : Say(),
                       word(reading.noEcho));
        if (d.outcome == Outcome::Hole || d.fired.empty())
            return say("no rule matches, it goes on with what it did");
        const auto *rule = machine::ruleAt(program, machine, d.fired.front()).rule;
        const auto when = machine::words(program, *rule);
        return say("{}{}rule '{}'", when, when.empty() ? "" : ", ", rule->name);
    };
    if (row.to() >= 0)
        return doing(row.does.front()) + Say(": ") + because(row.does.front());
    std::vector<Say> parts;
    for (const auto &d : row.does)
        parts.push_back(say("from '{}' it {} ({})",
                            program.states[static_cast<size_t>(d.from)].name, doing(d),
                            because(d)));
    return joined(parts, "; ");
}

} // namespace badger::regions
