// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/workshop_commands.h"

#include "cli/program_commands.h"
#include "cli/workshop_pick.h"
#include "core/boardcode/board_code.h"
#include "core/boardcode/part_tests.h"
#include "core/diagnose/diagnose.h"
#include "core/io/shipped.h"
#include "core/io/storage.h"
#include "core/io/workshop_file.h"
#include "core/judge/judge.h"
#include "core/judge/program_around.h"
#include "core/judge/sums.h"
#include "core/regions/mend.h"
#include "core/regions/number_line.h"
#include "core/units/quantity.h"

#include <algorithm>
#include <filesystem>
#include <fmt/format.h>
#include <fmt/ranges.h>

namespace badger::cli
{

using units::fixed;
using units::quantity;
using units::Unit;

Result<Answer> list(const std::string &file)
{
    const auto o = open(file);
    if (!o)
        return tl::unexpected(o.error());
    Answer a;
    std::vector<std::vector<Say>> rows;
    a.json = {{"name", o->workshop.name},
              {"cars", Json::array()},
              {"floors", Json::array()},
              {"programs", Json::array()},
              {"trials", Json::array()}};
    for (const auto &car : o->workshop.cars) {
        const auto *program = o->workshop.program(car.program);
        rows.push_back(
            {"car", car.name, car.team, program ? "runs '" + program->name + "'" : "no program"});
        a.json["cars"].push_back(
            {{"name", car.name}, {"team", car.team}, {"program", program ? program->name : ""}});
    }
    for (const auto &floor : o->workshop.floors) {
        rows.push_back(
            {"floor", floor.name, floor.surface, quantity(floor.air_degC, Unit::Celsius, 1)});
        a.json["floors"].push_back({{"name", floor.name}, {"air_C", floor.air_degC}});
    }
    for (const auto &p : o->workshop.programs) {
        rows.push_back({"program", p.name, fmt::format("version {}", p.version), ""});
        a.json["programs"].push_back({{"name", p.name}, {"version", p.version}});
    }
    for (const auto &t : o->workshop.trials) {
        const auto &car = o->workshop.car(t.car)->name; // the reader holds that it is there
        rows.push_back({"trial", car, t.date,
                        t.contact ? "contact"
                        : t.gap_m ? fixed(*t.gap_m, Unit::Centimetre, 1) + " left"
                                  : "no gap"});
        a.json["trials"].push_back({{"car", car},
                                    {"date", t.date},
                                    {"gap_cm", orNull(t.gap_m, 100.0)},
                                    {"contact", t.contact}});
    }
    a.text = fmt::format("{}\n", o->workshop.name) + aligned(rows);
    return a;
}

namespace
{

/// The findings of a car's program with the ways out that were tried on copies of it.
void addWays(std::vector<Finding> &findings, const workshop::Workshop &workshop,
             const kit::Assembly &car)
{
    const auto *program = workshop.program(car->program);
    if (program == nullptr)
        return;
    const auto around = judge::around(car, *program, judge::recordsOf(workshop, car.car()));
    for (auto &f : findings) {
        if (f.severity == Severity::Advice)
            continue;
        std::vector<Say> ways;
        for (const auto &way : regions::mends(*program, around, f))
            ways.push_back(way.words);
        if (!ways.empty())
            f.mend = say("{} Tried: {}.", f.mend, joined(ways, "; or "));
    }
}

} // namespace

Result<Answer> check(const std::string &file, const std::string &carName)
{
    const auto o = open(file);
    if (!o)
        return tl::unexpected(o.error());
    const auto cars = carsNamed(*o, carName);
    if (!cars)
        return tl::unexpected(cars.error());
    Answer a;
    a.json = {{"cars", Json::array()}, {"findings", Json::array()}};
    for (const auto *car : *cars) {
        auto judgement = judge::judge(o->workshop, {*car, o->catalogue});
        if (!car->wires.empty())
            judge::takeWires(
                judgement,
                diagnose::withWaysOut({*car, o->catalogue}, diagnose::wires({*car, o->catalogue})),
                {*car, o->catalogue});
        auto &kit = judgement.kit.findings.findings;
        std::stable_partition(kit.begin(), kit.end(),
                              [](const Finding &f) { return f.severity != Severity::Advice; });
        kit = diagnose::withWaysOut({*car, o->catalogue}, std::move(kit));
        addWays(judgement.rule.findings, o->workshop, {*car, o->catalogue});
        const auto all = judgement.all();
        a.hasError |= hasError(all);
        auto found = findingsJson(all);
        for (auto &f : found) {
            f["car"] = car->name;
            a.json["findings"].push_back(f);
        }
        Json gates = Json::object();
        for (const auto &g : judgement.gates)
            gates[judge::name(g.station)] = judge::name(g.state);
        a.json["cars"].push_back({{"name", car->name}, {"gates", gates}});
        a.text += fmt::format(
            "{}: {}\n", car->name,
            all.empty() ? "no findings"
                        : fmt::format("{} finding{}", all.size(), all.size() == 1 ? "" : "s"));
        a.text += findingsText(all);
        for (const auto *group : {&judgement.kit.findings, &judgement.wire, &judgement.rule})
            for (const auto &fine : group->fine)
                a.why += fmt::format("{}: fine: {}\n", car->name, fine);
        if (!carName.empty()) // the sums of ten cars are no answer to anything
            for (const auto &sum : judge::sumsOf(judgement, {*car, o->catalogue}))
                a.why += derivationText(sum);
    }
    return a;
}

namespace
{

std::string actionWord(const rules::Program &program, const regions::LineRow &row)
{
    if (row.hasHole())
        return "no rule";
    return row.to() < 0
               ? "depends on the state before"
               : rules::word(rules::actOf(program.states[static_cast<size_t>(row.to())].motion));
}

/// Every whole number up to the limit, as stretches in which nothing changes; 0 is no echo.
struct WholeRun {
    long first = 0;
    long last = 0;
    const regions::LineRow *row = nullptr;
};
std::vector<WholeRun> wholeRuns(const regions::NumberLine &line)
{
    std::vector<WholeRun> runs;
    for (long n = 0; n <= static_cast<long>(line.limit + 1e-9); ++n) {
        const auto &row = n == 0 ? line.none : line.at(static_cast<double>(n));
        if (n > 1 && runs.back().row == &row)
            runs.back().last = n;
        else
            runs.push_back({n, n, &row});
    }
    return runs;
}

/// The table of a program with one ranger.
Result<Answer> lineTable(const rules::Program &program, const machine::CarFacts &facts)
{
    const auto machine = machine::lower(program, facts);
    if (!machine)
        return tl::unexpected(machine.error());
    const auto line = regions::numberLine(program, *machine);
    if (!line)
        return tl::unexpected(line.error());
    constexpr double mostRows = 20000.0;
    const auto &reading = program.readings.front();
    if (line->limit > mostRows)
        return fail(Error::Kind::OutOfRange, say("program '") + program.name + "'",
                    say("the limit of '{}' makes a table of {} rows", reading.name,
                        units::number(line->limit, 0)),
                    say("take a larger unit or a nearer limit"));
    Answer a;
    const auto unit = std::string(units::info(line->unit).symbol);
    a.json = {{"reading", reading.name},
              {"unit", unit},
              {"rows", Json::array()},
              {"runs", Json::array()},
              {"none", actionWord(program, line->none)},
              {"holes", Json::array()},
              {"overlaps", Json::array()}};
    std::vector<std::vector<Say>> lines;
    for (const auto &run : wholeRuns(*line)) {
        const auto action = actionWord(program, *run.row);
        for (long n = run.first; n <= run.last; ++n)
            a.json["rows"].push_back({{"reading", n}, {"action", action}});
        const auto range = run.first == run.last
                               ? fmt::format("{} {}", run.first, unit)
                               : fmt::format("{}..{} {}", run.first, run.last, unit);
        lines.push_back(
            {range, action, regions::words(program, *machine, *run.row, double(run.first))});
        const int to = run.row->to();
        a.json["runs"].push_back(
            {{"from", run.first},
             {"to", run.last},
             {"action", action},
             {"state", to < 0 ? std::string() : program.states[static_cast<size_t>(to)].name},
             {"counts_as_none", run.first == 0}});
        if (run.row->hasHole())
            a.json["holes"].push_back({{"from", run.first}, {"to", run.last}});
        if (run.row->hasOverlap())
            a.json["overlaps"].push_back({{"from", run.first}, {"to", run.last}});
    }
    lines.push_back({"none", actionWord(program, line->none),
                     regions::words(program, *machine, line->none, std::nullopt)});
    a.text = aligned(lines);
    a.hasError = !a.json["holes"].empty();
    return a;
}

} // namespace

Result<Answer> table(const std::string &file, const std::string &carName,
                     const std::string &readingName)
{
    const auto p = pick(file, carName);
    if (!p)
        return tl::unexpected(p.error());
    const auto &program = p->program;
    const auto facts = oncar::carFacts({p->car, p->opened.catalogue}, program,
                                       judge::recordsOf(p->opened.workshop, p->car));
    if (regions::hasNumberLine(program) &&
        (readingName.empty() || readingName == program.readings.front().name))
        return lineTable(program, facts);
    return cellTable(program, facts, readingName);
}

Result<Answer> budget(const std::string &file, const std::string &carName)
{
    const auto p = pick(file, carName);
    if (!p)
        return tl::unexpected(p.error());
    const auto b = judge::budgetOf({p->car, p->opened.catalogue}, p->program);
    if (!b)
        return tl::unexpected(b.error());
    Answer a;
    std::vector<std::vector<Say>> rows = {{"", "threshold",
                                           fixed(b->setup.threshold_m, Unit::Centimetre, 2), "",
                                           "value '" + b->valueName + "' of the program"}};
    auto terms = Json::array();
    for (const auto &t : b->terms) {
        rows.push_back({"−", t.name, fixed(t.worst_m, Unit::Centimetre, 2), t.how, t.from});
        terms.push_back({{"key", t.key},
                         {"worst_cm", t.worst_m * 100.0},
                         {"typical_cm", t.typical_m * 100.0},
                         {"how", t.how},
                         {"from", t.from}});
    }
    rows.push_back({"=", "gap at worst", fixed(b->budget.worstGap_m, Unit::Centimetre, 2), "", ""});
    const auto does = b->act == rules::Act::Back   ? "backs"
                      : b->act == rules::Act::Turn ? "turns"
                                                   : "halts";
    a.text = fmt::format("{} {}: {} left at worst, {} typically\n", p->car.name, does,
                         fixed(b->budget.worstGap_m, Unit::Centimetre, 2),
                         fixed(b->budget.typicalGap_m, Unit::Centimetre, 2)) +
             aligned(rows);
    if (b->leastThreshold_m)
        a.text += fmt::format("least threshold for {} left: {}\n",
                              quantity(*p->car.wantedGap_m, Unit::Centimetre, 2),
                              fixed(*b->leastThreshold_m, Unit::Centimetre, 2));
    if (b->greatestSpeed_mps)
        a.text += fmt::format("greatest speed for that gap: {}\n",
                              fixed(*b->greatestSpeed_mps, Unit::MetrePerSecond, 3));
    a.json = {{"state", b->state},
              {"into", b->into},
              {"gap_cm", b->budget.worstGap_m * 100.0},
              {"typical_gap_cm", b->budget.typicalGap_m * 100.0},
              {"threshold_cm", b->setup.threshold_m * 100.0},
              {"effective_edge_cm", orNull(b->edge_m, 100.0)},
              {"speed_m_s", b->setup.speed_mps},
              {"loop_ms", b->setup.loop_s * 1000.0},
              {"terms", terms},
              {"wanted_gap_cm", orNull(p->car.wantedGap_m, 100.0)},
              {"least_threshold_cm", orNull(b->leastThreshold_m, 100.0)},
              {"greatest_speed_m_s", orNull(b->greatestSpeed_mps, 1.0)}};
    a.why = derivationText(judge::whyGap(*b, p->car.wantedGap_m));
    a.hasError = b->budget.worstGap_m < 0.0;
    return a;
}

} // namespace badger::cli
