// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/judge/judge.h"

#include "core/judge/check_program_on_car.h"
#include "core/judge/gates.h"
#include "core/judge/program_around.h"
#include "core/rules/check.h"
#include "core/wiring/check.h"

#include <algorithm>
#include <cmath>

namespace badger::judge
{

const char *name(GateState state)
{
    static constexpr const char *names[] = {"passed", "open", "stale", "blocked", "warning"};
    return names[static_cast<size_t>(state)];
}

namespace
{

} // namespace

const Findings &Judgement::of(Station station) const
{
    return station == Station::Kit    ? kit.findings
           : station == Station::Wire ? wire
           : station == Station::Tune ? tune.findings
                                      : rule;
}

std::vector<Finding> Judgement::all() const
{
    auto every = withWires(kit.findings.findings, wire.findings);
    for (const auto *more : {&tune.findings.findings, &rule.findings})
        every.insert(every.end(), more->begin(), more->end());
    std::stable_sort(every.begin(), every.end(), [](const Finding &a, const Finding &b) {
        return static_cast<int>(a.severity) < static_cast<int>(b.severity);
    });
    return every;
}

std::vector<Say> errorsAgainstWriting(const Judgement &judgement)
{
    std::vector<Say> all;
    for (const auto *findings : {&judgement.wire.findings, &judgement.rule.findings})
        for (const auto &f : *findings)
            if (f.severity == Severity::Error)
                all.push_back(joined({Say(f.code), f.what}, ": "));
    return all;
}

bool isCurrent(const logbook::MeasuredTrial &trial, const kit::Car &car,
               const rules::Program &program)
{
    const auto *stop = stopRule(program, car).value;
    const auto *goes = goState(program);
    const auto *speed = goes ? program.value(goes->motion.left.speed) : nullptr;
    return trial.car == car.id && trial.program == program.id &&
           trial.programVersion == program.version && stop && stop->si &&
           std::abs(trial.threshold_m - *stop->si) < 1e-6 && speed && speed->si &&
           trial.pwm_counts == std::lround(*speed->si);
}

Result<std::vector<JudgedRun>> driven(const Grounds &on, const parts::Catalogue &catalogue)
{
    world::Conditions conditions;
    conditions.lasts_s = judgedRun_s;
    const auto drive =
        Drive::make({on.car, on.program, on.floor, on.records, catalogue}, conditions);
    if (!drive)
        return tl::unexpected(drive.error());
    const auto &plan = (*drive)->plan();
    std::vector<JudgedRun> runs;
    for (std::uint64_t seed = 1; seed <= judgedRuns; ++seed) {
        const auto run = (*drive)->run(seed);
        runs.push_back({seed, world::fingerprint(run.trace), run.score.good,
                        !run.trace.touches.empty() || run.trace.fell, run.score.kind,
                        task::verdict(plan, run.trace, run.score),
                        task::whyGap(plan, run.trace, run.score)});
    }
    return runs;
}

void takeWires(Judgement &j, std::vector<Finding> findings, const kit::Assembly &car)
{
    j.wire.findings = std::move(findings);
    j.gates = gatesOf(j, car.car());
    j.next = nextStep(j, car);
}

void takeRuns(Judgement &j, Result<std::vector<JudgedRun>> runs, const kit::Assembly &car)
{
    j.runs.clear();
    j.noRuns.reset();
    if (runs)
        j.runs = std::move(*runs);
    else
        j.noRuns = runs.error();
    j.runsPending = false;
    j.gates[static_cast<size_t>(Station::Floor)] = floorGate(j);
    j.next = nextStep(j, car);
}

namespace
{

/// The same piece, or one with the same content; two that are not there are the same, too.
template <class T> bool same(const std::shared_ptr<const T> &a, const std::shared_ptr<const T> &b)
{
    return a == b || (a && b && *a == *b);
}

template <class Alike>
bool alike(const std::shared_ptr<const kit::Car> &a, const std::shared_ptr<const kit::Car> &b,
           Alike test)
{
    return a == b || test(*a, *b);
}

std::optional<double> threshold_m(const Grounds &on)
{
    const auto *stop = on.program ? stopRule(*on.program, *on.car).value : nullptr;
    return stop ? stop->si : std::nullopt;
}

void judgeWires(Judgement &j, const kit::Assembly &car)
{
    const nets::Nets nets(car);
    j.wire = {};
    j.motion = {};
    j.reach = pins::speedReach(nets);
    if (car->wires.empty()) // nothing to check yet
        return;
    auto judged = wiring::judged(nets);
    j.wire = std::move(judged.findings);
    j.motion = std::move(judged.motion);
}

void judgeProgram(Judgement &j, const Grounds &on, const kit::Assembly &car, Runs runs)
{
    j.rule = {};
    j.budget.reset();
    j.noBudget.reset();
    j.otherWays.clear();
    j.runs.clear();
    j.noRuns.reset();
    j.runsPending = false;
    if (!on.program) {
        j.noBudget = Error{Error::Kind::Missing, say("car '") + car->name + "'",
                           say("it runs no program"), say("choose one")};
        return;
    }
    const auto &program = *on.program;
    j.rule = rules::check(program, rangerFacts(car, program));
    const auto facts = around(car, program, on.records);
    if (!rules::broken(program).empty()) { // never of a file
        j.noBudget = rules::complete(program).error();
        return;
    }
    const regions::Exact exact(program, facts.facts);
    j.rule.add(regions::check(exact, facts));
    const nets::Nets nets(car);
    const auto actions = actionsOn(nets, program, j.motion);
    if (auto budget = budgetOf(car, exact, j.reach))
        j.budget = std::move(*budget);
    else
        j.noBudget = budget.error();
    checkProgramOnCar(j.rule,
                      {car, program, exact, on.floor.get(), on.missionFloor.get(), j.kit.power,
                       j.reach, actions, pinsAsWired(nets), j.budget ? &*j.budget : nullptr, &facts,
                       &j.motion, &j.tune, &j.wire.findings});
    if (j.budget)
        j.otherWays = otherWays(car, exact, j.reach);
    j.runsPending = on.floor && runs == Runs::Later;
    if (!on.floor || runs == Runs::Later)
        return;
    if (auto all = driven(on, car.catalogue()))
        j.runs = std::move(*all);
    else
        j.noRuns = all.error();
}

/// The pack's volts before the newest run, where a record was taken while driving with a known
/// pack.
std::optional<double> chargeOf(const Grounds &on)
{
    const bool asked = std::any_of(on.records.begin(), on.records.end(), [](const tune::Record &r) {
        return r.basis.battery_V && tune::isOfDrive(r.what);
    });
    if (!asked)
        return std::nullopt;
    const logbook::MeasuredTrial *last = nullptr;
    for (const auto &t : on.trials)
        if (last == nullptr || t.date >= last->date)
            last = &t;
    return last ? std::optional(last->battery_V) : std::nullopt;
}

void judgeLog(Judgement &j, const Grounds &on)
{
    j.measured.clear();
    j.older.clear();
    if (on.program)
        for (size_t i = 0; i < on.trials.size(); ++i)
            (isCurrent(on.trials[i], *on.car, *on.program) ? j.measured : j.older)
                .share(on.trials, i);
}

/// For a question that is asked once: the pieces stay whose they are.
template <class T> std::shared_ptr<const T> borrowed(const T *value)
{
    return {std::shared_ptr<const T>(), value};
}

} // namespace

Asked renew(Judgement &j, const std::optional<Grounds> &was, const Grounds &now,
            const parts::Catalogue &catalogue, Runs runs)
{
    const bool parts = was && was->parts == now.parts;
    const bool build = parts && alike(was->car, now.car, kit::sameBuild);
    const bool program = was && same(was->program, now.program);
    Asked asked;
    asked.kit = asked.wire = !build;
    asked.program = !build || !program || !same(was->floor, now.floor) ||
                    !same(was->missionFloor, now.missionFloor) ||
                    !alike(was->car, now.car, kit::sameDrive);
    asked.tune = !build || !(was->records == now.records) || was->floorName != now.floorName ||
                 chargeOf(*was) != chargeOf(now);
    asked.program |= asked.tune && now.program; // what was measured is what it is checked against
    asked.log = asked.program || !(was->trials == now.trials);
    const bool carOrProgram = !was || was->car != now.car || !program;
    if (!asked.any() && !carOrProgram)
        return asked;
    const kit::Assembly car(*now.car, catalogue);
    if (asked.kit)
        j.kit = judgeKit(car, threshold_m(now));
    else
        renewKit(j.kit, car, threshold_m(now));
    if (asked.wire)
        judgeWires(j, car);
    if (asked.tune)
        j.tune = judgeTune(car, now.records, now.floorName, chargeOf(now), j.tune);
    if (asked.program)
        judgeProgram(j, now, car, runs);
    if (asked.log)
        judgeLog(j, now);
    j.gates = gatesOf(j, car);
    j.next = nextStep(j, car);
    return asked;
}

Judgement judge(const workshop::Workshop &workshop, const kit::Assembly &car,
                const floor::Floor *floor, Runs runs)
{
    if (floor == nullptr)
        floor = workshop::floorOf(workshop, car.car());
    Grounds on{borrowed(&car.car()),
               borrowed(workshop.program(car->program)),
               borrowed(floor),
               {},
               {},
               {},
               {}};
    for (size_t i = 0; i < workshop.trials.size(); ++i)
        if (workshop.trials[i].car == car->id)
            on.trials.share(workshop.trials, i);
    for (size_t i = 0; i < workshop.records.size(); ++i)
        if (workshop.records[i].car == car->id)
            on.records.share(workshop.records, i);
    on.floorName = workshop::missionFloorName(workshop, car.car());
    on.missionFloor = borrowed(car->mission ? workshop.floor(car->mission->floor) : nullptr);
    Judgement j;
    renew(j, std::nullopt, on, car.catalogue(), runs);
    return j;
}

} // namespace badger::judge
