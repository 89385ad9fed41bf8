// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/workshop/judge.h"

#include "core/firstpower/walk.h"
#include "core/mechanics/build.h"
#include "core/power/check.h"
#include "core/rules/check.h"
#include "core/sense/ultrasonic.h"
#include "core/units/quantity.h"
#include "core/wiring/check.h"
#include "core/wiring/drive_map.h"
#include "core/wiring/history.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace badger::workshop
{

using units::fixed;
using units::quantity;
using units::Unit;

const char *name(Station station)
{
    static constexpr const char *names[] = {"Kit", "Wire", "Rule", "Floor", "Log"};
    return names[static_cast<size_t>(station)];
}

const char *name(GateState state)
{
    static constexpr const char *names[] = {"passed", "open", "stale", "blocked", "warning"};
    return names[static_cast<size_t>(state)];
}

namespace
{

/// "driver.VS" of "node:driver.VS" and of "terminal:driver.VS".
std::string placeOf(const Finding &f)
{
    return f.target.substr(f.target.find(':') + 1);
}

} // namespace

const Findings &Judgement::of(Station station) const
{
    return station == Station::Kit ? kit.findings : station == Station::Wire ? wire : rule;
}

std::vector<Finding> Judgement::all() const
{
    auto every = kit.findings.findings;
    // What the wires say of a supply is nearer to the truth than what was meant.
    for (const auto &f : wire.findings) {
        std::erase_if(
            every, [&](const Finding &k) { return k.code == f.code && placeOf(k) == placeOf(f); });
        every.push_back(f);
    }
    every.insert(every.end(), rule.findings.begin(), rule.findings.end());
    std::stable_sort(every.begin(), every.end(), [](const Finding &a, const Finding &b) {
        return static_cast<int>(a.severity) < static_cast<int>(b.severity);
    });
    return every;
}

bool isCurrent(const logbook::MeasuredTrial &trial, const kit::Car &car,
               const rules::Program &program)
{
    const auto *stop = stopRule(program, car).value;
    const auto *goes = goState(program);
    const auto *speed = goes ? program.value(goes->motion.left.speed) : nullptr;
    return trial.car == car.name && trial.program == program.name &&
           trial.programVersion == program.version && stop && stop->si &&
           std::abs(trial.threshold_m - *stop->si) < 1e-6 && speed && speed->si &&
           trial.pwm_counts == std::lround(*speed->si);
}

namespace
{

units::Quantity cm(double m)
{
    return quantity(m, Unit::Centimetre, 1);
}

void budgetFindings(Findings &out, const kit::Car &car, const CarBudget &b)
{
    const auto target = "value:" + b.valueName;
    const double gap = b.budget.worstGap_m;
    if (gap < 0.0) {
        out.findings.push_back({"stops-too-late", Severity::Error, say("stopping budget"),
                                say("At worst the car is {} past the obstacle.", cm(-gap)),
                                say("It hits what it should stop for."),
                                say("Raise the threshold, slow down, or look more often."),
                                target});
    } else if (car.wantedGap_m && gap < *car.wantedGap_m) {
        out.findings.push_back(
            {"gap-under-wanted", Severity::Warning, say("stopping budget"),
             say("At worst {} are left; {} are wanted.", cm(gap), cm(*car.wantedGap_m)),
             say("The car stops, but nearer than it should."),
             say("The least threshold for that gap is {}.", cm(*b.leastThreshold_m)), target});
    } else {
        out.fine.emplace_back(say("stops short of the obstacle"));
    }
    if (b.speed.value <= 0.0)
        out.findings.push_back({"below-dead-band", Severity::Error, "speed",
                                say("At {} of 255 the wheels do not turn.", b.pwm_counts),
                                say("The motors hum, heat up and stand still."),
                                say("Raise the PWM count."), "value:speed"});
    if (!b.speed.measured || !b.roll.measured)
        out.findings.push_back(
            {"not-measured", Severity::Advice, say("stopping budget"),
             say("{} not measured on this car.",
                 !b.speed.measured && !b.roll.measured ? say("Speed and roll-out are")
                 : b.speed.measured                    ? say("The roll-out is")
                                                       : say("The speed at this count is")),
             say("The budget rests on the parts' data, which vary from car to car."),
             say("Measure it once and note battery and floor."), target});
}

void programOnCar(Findings &out, const parts::Catalogue &catalogue, const kit::Car &car,
                  const rules::Program &program, const floor::Floor *floor)
{
    for (const auto side : {kit::Side::Left, kit::Side::Right}) {
        const auto drive = wiring::wheelDrive(car, catalogue, side);
        if (!drive || !drive->jumpered)
            continue;
        for (const auto &v : program.values)
            if (v.kind == rules::ValueKind::Speed && v.si && *v.si < 255.0)
                out.findings.push_back(
                    {"speed-line-jumpered", Severity::Warning, drive->enable,
                     say("'{}' is {} of 255, but a jumper holds {} high.", v.name,
                         units::number(*v.si, 0), drive->enable),
                     say("That wheel runs at full speed whatever the program asks for."),
                     say("Remove the jumper and wire the enable to a PWM pin."),
                     "terminal:" + drive->enable});
    }
    for (const auto &r : program.readings)
        if (const auto part = rangerOf(car, catalogue, r); !part)
            out.findings.push_back(
                {"reading-without-ranger", Severity::Error,
                 say("program '{}', reading {}", program.name, r.name),
                 say("'{}' reads '{}', which is no mounted ranger of this car.", r.name,
                     r.instance),
                 say("The program cannot be run, simulated or written for this car."),
                 say("Fit a ranger of that name and say where it sits."), "reading:" + r.name});
    constexpr double noticeable_degC = 5.0; // about 1 % of the distance
    for (const auto &r : program.readings) {
        if (floor == nullptr || !r.air_degC ||
            std::abs(*r.air_degC - floor->air_degC) < noticeable_degC)
            continue;
        const auto here = sense::speedOfSound_mps(floor->air_degC);
        const auto assumed = sense::speedOfSound_mps(*r.air_degC);
        if (!here || !assumed)
            continue;
        const double at_m = 0.5;
        out.findings.push_back({"air-differs", Severity::Advice, floor->name,
                                say("The program assumes {}, the air is at {}.",
                                    quantity(*r.air_degC, Unit::Celsius, 1),
                                    quantity(floor->air_degC, Unit::Celsius, 1)),
                                say("At {} the reading is off by {}.", cm(at_m),
                                    quantity(at_m * (*assumed / *here - 1.0), Unit::Millimetre, 1)),
                                say("Set the program's air temperature to the room's."),
                                "reading:" + r.name});
    }
}

/// A count that gives the motors more than they are made for.
void speedsUnderCap(Findings &out, const power::Report &power, const rules::Program &program)
{
    const auto &nominal = power.at(kit::Charge::Nominal);
    const auto &fresh = power.at(kit::Charge::Fresh);
    if (nominal.empty() || fresh.empty() || nominal.front().servo)
        return;
    const int cap = nominal.front().cap.count;
    const int freshCap = fresh.front().cap.count;
    bool any = false;
    for (const auto &v : program.values) {
        if (v.kind != rules::ValueKind::Speed || !v.si || *v.si <= freshCap)
            continue;
        any = true;
        out.findings.push_back({"speed-over-cap",
                                *v.si > cap ? Severity::Warning : Severity::Advice, v.name,
                                say("'{}' is {} of 255; the motors' rated volts are reached at {} "
                                    "with fresh cells, at {} with nominal ones.",
                                    v.name, units::number(*v.si, 0), freshCap, cap),
                                say("The motors get hot and wear out, and a stalled one draws more "
                                    "than its sheet says."),
                                say("Keep it at {} or under.", freshCap), "value:" + v.name});
    }
    if (!any)
        out.fine.emplace_back(say("speeds keep within the motors' rated volts"));
}

Gate kitGate(const Judgement &j, const kit::Car &car)
{
    const auto &findings = j.kit.findings.findings;
    if (car.parts.empty())
        return {Station::Kit, GateState::Open, say("No part is on this car yet.")};
    if (hasError(findings))
        return {Station::Kit, GateState::Blocked,
                say("Parts that do not go together have to be changed.")};
    for (const auto &f : findings)
        if (f.severity == Severity::Warning)
            return {Station::Kit, GateState::Warning, f.what};
    return {Station::Kit, GateState::Passed, say("The parts go together.")};
}

Gate wireGate(const Judgement &j, const kit::Car &car)
{
    Gate g{Station::Wire, GateState::Passed, say("Every check of the wiring is fine.")};
    if (car.wires.empty())
        return {Station::Wire, GateState::Open, say("No wire is on this car yet.")};
    if (hasError(j.wire.findings))
        return {Station::Wire, GateState::Blocked, say("An error in the wiring has to be mended.")};
    for (const auto &f : j.wire.findings)
        if (f.severity == Severity::Warning)
            return {Station::Wire, GateState::Warning, f.what};
    return g;
}

Gate ruleGate(const Judgement &j)
{
    if (hasError(j.rule.findings))
        return {Station::Rule, GateState::Blocked,
                say("An error in the program has to be mended.")};
    if (!j.budget)
        return {Station::Rule, GateState::Open,
                j.noBudget ? say("{}.", capitalised(j.noBudget->what))
                           : say("There is no budget yet.")};
    for (const auto &f : j.rule.findings)
        if (f.severity == Severity::Warning)
            return {Station::Rule, GateState::Warning, f.what};
    return {Station::Rule, GateState::Passed,
            say("Every reading has one action and the car stops.")};
}

Gate floorGate(const Judgement &j)
{
    if (j.runsPending)
        return {Station::Floor, GateState::Open, say("The simulated runs are being driven ...")};
    if (j.runs.empty())
        return {Station::Floor, GateState::Open, say("No run is possible yet.")};
    if (hasError(j.wire.findings))
        return {Station::Floor, GateState::Open,
                say("The run is simulated as if the wires were right; mend them first.")};
    const auto stopped = std::count_if(j.runs.begin(), j.runs.end(), [](const trial::Trial &t) {
        return t.outcome == trial::Outcome::Stopped;
    });
    const auto all = static_cast<std::ptrdiff_t>(j.runs.size());
    const auto words = say("{} of {} simulated runs stop without contact.", stopped, all);
    return {Station::Floor, stopped == all ? GateState::Passed : GateState::Blocked, words};
}

/// A ruler on the floor is read to half a centimetre.
constexpr double rulerStep_m = 0.005;
constexpr int trialsWanted = 3;

Gate logGate(const Judgement &j)
{
    const auto stats = logbook::statistics(j.measured);
    if (!stats && !j.older.empty())
        return {Station::Log, GateState::Stale, say("The trials were made with other settings.")};
    if (!stats)
        return {Station::Log, GateState::Open, say("No run has been measured yet.")};
    if (stats->contacts > 0)
        return {Station::Log, GateState::Blocked,
                say("{} of {} measured runs ended in contact.", stats->contacts, stats->runs)};
    if (j.budget && stats->least_m < j.budget->budget.worstGap_m - rulerStep_m)
        return {Station::Log, GateState::Warning,
                say("A measured gap is smaller than the worst case.")};
    if (stats->runs < trialsWanted)
        return {Station::Log, GateState::Open,
                say("{} of {} measured runs are in the log.", stats->runs, trialsWanted)};
    return {Station::Log, GateState::Passed,
            say("{} measured runs agree with the prediction.", stats->runs)};
}

NextStep mend(const Finding &f, Station station, const Say &caution)
{
    return {f.mend, f.what, caution, station};
}

/// The first step of the build that is not done, or what to look at before it.
std::optional<NextStep> buildStep(const kit::Car &car, const parts::Catalogue &catalogue)
{
    for (const auto &step : mechanics::buildSteps(car, catalogue)) {
        if (step.done)
            continue;
        for (const auto &item : step.before)
            if (!item.ticked)
                return NextStep{say("{}: look first.", step.title),
                                say("Is it so? {}.", capitalised(item.text)), step.caution,
                                Station::Kit};
        return NextStep{say("{}.", step.title), step.text, step.caution, Station::Kit};
    }
    return std::nullopt;
}

/// What is still to wire, and then the first step of the first power walk that is open or wrong.
std::optional<NextStep> benchStep(const kit::Car &car, const parts::Catalogue &catalogue,
                                  const Say &powerOff)
{
    const auto wired = wiring::benchProgress(wiring::Nets(car, catalogue));
    if (wired.done < wired.wires)
        return NextStep{say("Wire it, one wire at a time: {} of {} done.", wired.done, wired.wires),
                        say("On the Bench page of Wire: space bar for done. Signals first, then "
                            "supplies; grounds and battery last."),
                        powerOff, Station::Wire};
    const auto steps = firstpower::walk(car, catalogue);
    const auto p = firstpower::progress(car, steps);
    if (p.at < 0)
        return std::nullopt;
    const auto &step = steps[static_cast<size_t>(p.at)];
    return NextStep{say("{}.", step.title),
                    p.wrong > 0
                        ? step.fails
                        : step.text + (step.expected.empty() ? std::string{}
                                                             : " Expected: " + step.expected + "."),
                    step.caution, Station::Wire};
}

NextStep nextStep(const Judgement &j, const kit::Car &car, const parts::Catalogue &catalogue)
{
    const Say powerOff = say("Power off and cells out before a wire is moved.");
    const Say onFloor = say("Car on the floor, hand at the switch, fingers clear of the wheels.");
    if (car.parts.empty())
        return {say("Fit the parts."),
                say("This car has none yet: a starting kit brings them all."),
                {},
                Station::Kit};
    for (const auto &f : j.kit.findings.findings)
        if (f.severity == Severity::Error)
            return mend(f, Station::Kit, say("Cells out before a part is exchanged."));
    for (const auto &f : j.wire.findings)
        if (f.severity == Severity::Error)
            return mend(f, Station::Wire, powerOff);
    // A car that has been driven is built, whatever has been ticked.
    if (j.measured.empty() && j.older.empty())
        if (auto step = buildStep(car, catalogue))
            return *step;
    if (car.wires.empty())
        return {say("Wire the car."),
                say("Signals first, then supplies; ground and battery are joined last."), powerOff,
                Station::Wire};
    if (j.measured.empty() && j.older.empty())
        if (auto step = benchStep(car, catalogue, powerOff))
            return *step;
    for (const auto &f : j.rule.findings)
        if (f.severity == Severity::Error)
            return mend(f, Station::Rule, {});
    if (!j.budget)
        return {
            say("Complete the program."), j.noBudget ? j.noBudget->text() : "", {}, Station::Rule};
    if (!j.runsPending && j.gate(Station::Floor).state != GateState::Passed)
        return {say("Look at the simulated runs."), j.gate(Station::Floor).why, {}, Station::Floor};
    if (j.gate(Station::Log).state == GateState::Blocked)
        return {say("Raise the threshold."), j.gate(Station::Log).why, onFloor, Station::Rule};
    const auto stats = logbook::statistics(j.measured);
    if (!stats || stats->runs < trialsWanted)
        return {say("Run it and measure: {} of {}.", stats ? stats->runs + 1 : 1, trialsWanted),
                say("Predicted: {} left at worst, {} typically. Note the battery volts first, then "
                    "read the ruler at the board.",
                    fixed(j.budget->budget.worstGap_m, Unit::Centimetre, 1),
                    fixed(j.budget->budget.typicalGap_m, Unit::Centimetre, 1)),
                onFloor, Station::Log};
    auto faster = j.budget->setup;
    faster.speed_mps *= 2.0;
    faster.rollOut_m = drive::rollOut_m(j.budget->roll.curve, faster.speed_mps);
    const auto budget = drive::stopBudget(faster);
    if (budget && budget->worstGap_m > 0.0)
        return {say("Run it once at {}.", quantity(faster.speed_mps, Unit::MetrePerSecond)),
                say("Twice the speed, roll-out by its law. Predicted: {} left at worst. Measure "
                    "the speed first.",
                    fixed(budget->worstGap_m, Unit::Centimetre, 1)),
                onFloor, Station::Log};
    return {"Ready.",
            say("Prediction and ruler agree at this speed; faster would not stop in time."),
            onFloor, Station::Log};
}

} // namespace

std::vector<trial::Trial> judgedTrials(const parts::Catalogue &catalogue, const kit::Car &car,
                                       const rules::Program &program, const floor::Floor &floor)
{
    std::vector<trial::Trial> runs;
    for (int seed = 1; seed <= judgedRuns; ++seed)
        if (auto run = runTrial(catalogue, car, program, floor, static_cast<std::uint64_t>(seed)))
            runs.push_back(std::move(*run));
    return runs;
}

void takeRuns(Judgement &j, std::vector<trial::Trial> runs, const kit::Car &car,
              const parts::Catalogue &catalogue)
{
    j.runs = std::move(runs);
    j.runsPending = false;
    j.gates[static_cast<size_t>(Station::Floor)] = floorGate(j);
    j.next = nextStep(j, car, catalogue);
}

namespace
{

/// Of each reading whose ranger is on the car. A ranger that has no place yet looks ahead.
std::map<std::string, rules::RangerFacts>
rangerFacts(const kit::Car &car, const parts::Catalogue &catalogue, const rules::Program &program)
{
    std::map<std::string, rules::RangerFacts> facts;
    for (const auto &reading : program.readings)
        if (const auto ranger = rangerOf(car, catalogue, reading)) {
            const auto &part = **ranger;
            const auto &mount = car.instance(reading.instance)->mount;
            facts[reading.name] = {
                part.figure("dead_zone_m")->typical, part.figure("range_m")->typical,
                part.figure("no_echo_hold_s")->typical, mount ? mount->yaw_rad : 0.0,
                part.figure("half_angle_rad")->typical};
        }
    return facts;
}

} // namespace

Judgement judge(const Workshop &workshop, const parts::Catalogue &catalogue, const kit::Car &car,
                const floor::Floor *floor, Runs runs)
{
    Judgement j;
    if (floor == nullptr && !workshop.floors.empty())
        floor = &workshop.floors.front();
    const auto *program = workshop.program(car.program);
    const auto *stop = program ? stopRule(*program, car).value : nullptr;
    j.kit = judgeKit(car, catalogue, stop ? stop->si : std::nullopt);
    if (!car.wires.empty()) // a car without wires has nothing to check yet
        j.wire = wiring::check(car, catalogue);
    if (program == nullptr) {
        j.noBudget = Error{Error::Kind::Missing, say("car '") + car.name + "'",
                           say("it runs no program"), say("choose one")};
    } else {
        j.rule = rules::check(*program, rangerFacts(car, catalogue, *program));
        programOnCar(j.rule, catalogue, car, *program, floor);
        speedsUnderCap(j.rule, j.kit.power, *program);
        auto budget = budgetOf(catalogue, car, *program);
        if (budget) {
            budgetFindings(j.rule, car, *budget);
            j.budget = std::move(*budget);
            j.otherWays = otherWays(catalogue, car, *program);
            j.runsPending = floor && runs == Runs::Later;
            if (floor && runs == Runs::Now)
                j.runs = judgedTrials(catalogue, car, *program, *floor);
        } else {
            j.noBudget = budget.error();
        }
        for (size_t i = 0; i < workshop.trials.size(); ++i)
            if (const auto &t = workshop.trials[i]; t.car == car.name)
                (isCurrent(t, car, *program) ? j.measured : j.older).share(workshop.trials, i);
    }
    j.gates = {kitGate(j, car), wireGate(j, car), ruleGate(j), floorGate(j), logGate(j)};
    j.next = nextStep(j, car, catalogue);
    return j;
}

} // namespace badger::workshop
