// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/judge/gates.h"

#include "core/firstpower/walk.h"
#include "core/mechanics/build.h"
#include "core/revisions/history.h"

#include <algorithm>

namespace badger::judge
{

using units::fixed;
using units::quantity;
using units::Unit;

namespace
{

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
            return {Station::Wire,
                    f.code == "harness-unfinished" ? GateState::Open : GateState::Warning, f.what};
    return g;
}

Gate tuneGate(const Judgement &j)
{
    long needed = 0;
    const BenchItem *stale = nullptr;
    const BenchItem *bad = nullptr;
    const BenchItem *open = nullptr;
    for (const auto &i : j.tune.items) {
        if (i.record && !i.stale.empty() && stale == nullptr)
            stale = &i;
        if (!i.needed)
            continue;
        ++needed;
        if (!i.record && open == nullptr)
            open = &i;
        if (i.record && !i.verdict.good && bad == nullptr)
            bad = &i;
    }
    if (stale)
        return {Station::Tune, GateState::Stale,
                say("{} was measured {}.",
                    stale->instance.empty()
                        ? capitalised(tune::words(stale->what))
                        : say("{}, {},", stale->instance, tune::words(stale->what)),
                    stale->stale.front())};
    if (bad)
        return {Station::Tune, GateState::Warning,
                say("{}: {}", bad->instance, bad->verdict.sentence)};
    if (open)
        return {Station::Tune, GateState::Open,
                say("{}: {} is not measured yet.", open->instance, tune::words(open->what))};
    if (needed == 0)
        return {Station::Tune, GateState::Passed, say("No sensor of this car has to be measured.")};
    return {Station::Tune, GateState::Passed, say("Every sensor has been measured, and it holds.")};
}

Gate ruleGate(const Judgement &j)
{
    if (hasError(j.rule.findings))
        return {Station::Rule, GateState::Blocked,
                say("An error in the program has to be mended.")};
    // A program that does more than compare distances has no budget, and is complete without one.
    const bool without = j.noBudget && j.noBudget->kind == Error::Kind::Conflict;
    if (!j.budget && !without)
        return {Station::Rule, GateState::Open,
                j.noBudget ? say("{}.", capitalised(j.noBudget->what))
                           : say("There is no budget yet.")};
    for (const auto &f : j.rule.findings)
        if (f.severity == Severity::Warning)
            return {Station::Rule, GateState::Warning, f.what};
    return {Station::Rule, GateState::Passed,
            without ? say("Every reading has one action.")
                    : say("Every reading has one action and the car stops.")};
}

} // namespace

Gate floorGate(const Judgement &j)
{
    if (j.runsPending)
        return {Station::Floor, GateState::Open, say("The simulated runs are being driven ...")};
    if (hasError(j.wire.findings))
        return {Station::Floor, GateState::Open,
                j.runs.empty()
                    ? say("Its wires come first; then it can be driven.")
                    : say("{} of {} simulated runs do their task with the wires as they are; mend "
                          "those first.",
                          std::count_if(j.runs.begin(), j.runs.end(),
                                        [](const JudgedRun &r) { return r.good; }),
                          std::ssize(j.runs))};
    if (j.runs.empty())
        return {Station::Floor, GateState::Open, say("No run is possible yet.")};
    const auto good =
        std::count_if(j.runs.begin(), j.runs.end(), [](const JudgedRun &r) { return r.good; });
    const auto all = static_cast<std::ptrdiff_t>(j.runs.size());
    const auto state = good == all ? GateState::Passed : GateState::Blocked;
    switch (j.runs.front().kind) {
    case task::Kind::Stops:
        return {Station::Floor, state,
                say("{} of {} simulated runs stop without contact.", good, all)};
    case task::Kind::FollowsLine:
        return {Station::Floor, state,
                say("{} of {} simulated runs never lose the line.", good, all)};
    case task::Kind::StaysOnTable:
        return {Station::Floor, state,
                say("{} of {} simulated runs stay on the table.", good, all)};
    case task::Kind::KeepsMoving:
    case task::Kind::Holds:
        break;
    }
    return {Station::Floor, state, say("{} of {} simulated runs go without contact.", good, all)};
}

namespace
{

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
    // At parts and wires the fault is known, and the hand has to look.
    if (station == Station::Wire || station == Station::Kit)
        return {f.what, f.mend, caution, station};
    return {f.mend, f.what, caution, station};
}

Say placeWords(const BenchItem &i)
{
    return i.instance.empty() ? tune::words(i.what)
                              : say("{}, {}", i.instance, tune::words(i.what));
}

/// The first step of the build that is not done, or what to look at before it.
std::optional<NextStep> buildStep(const kit::Assembly &car)
{
    for (const auto &step : mechanics::buildSteps(car)) {
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
std::optional<NextStep> benchStep(const kit::Assembly &car, const Say &powerOff)
{
    const auto wired = revisions::benchProgress(nets::Nets(car));
    if (wired.done < wired.wires)
        return NextStep{say("Wire it, one wire at a time: {} of {} done.", wired.done, wired.wires),
                        say("On the Bench page of Wire: space bar for done. Signals first, then "
                            "supplies; grounds and battery last."),
                        powerOff, Station::Wire};
    const auto steps = firstpower::walk(car);
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

} // namespace

namespace
{

/// The measurement that is missing, no longer holds or cannot be used.
std::optional<NextStep> tuneStep(const Judgement &j)
{
    for (const auto &i : j.tune.items) {
        const auto steps = tune::protocolOf(i.what);
        const Say caution = steps.empty() ? Say() : steps.front().caution;
        if (i.record && !i.stale.empty())
            return NextStep{say("Measure again: {}.", placeWords(i)),
                            say("It was measured {}.", joined(i.stale, ", ")), caution,
                            Station::Tune};
        if (!i.needed || i.isDone())
            continue;
        if (i.record)
            return NextStep{say("Measure again: {}.", placeWords(i)),
                            joined({i.verdict.sentence, i.verdict.toDo}, " "), caution,
                            Station::Tune};
        return NextStep{say("Measure: {}.", placeWords(i)),
                        steps.empty() ? Say() : steps.front().text, caution, Station::Tune};
    }
    return std::nullopt;
}

} // namespace

/// The car runs: measured runs, then twice the speed.
NextStep driveStep(const Judgement &j, const Say &onFloor)
{
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

NextStep nextStep(const Judgement &j, const kit::Assembly &car)
{
    const Say powerOff = say("Power off and cells out before a wire is moved.");
    const Say onFloor = say("Car on the floor, hand at the switch, fingers clear of the wheels.");
    if (car->parts.empty())
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
        if (auto step = buildStep(car))
            return *step;
    if (car->wires.empty())
        return {say("Wire the car."),
                say("Signals first, then supplies; ground and battery are joined last."), powerOff,
                Station::Wire};
    for (const auto &f : j.wire.findings)
        if (f.code == "harness-unfinished")
            return mend(f, Station::Wire, powerOff);
    if (j.measured.empty() && j.older.empty())
        if (auto step = benchStep(car, powerOff))
            return *step;
    if (auto step = tuneStep(j))
        return *step;
    for (const auto &f : j.rule.findings)
        if (f.severity == Severity::Error)
            return mend(f, Station::Rule, {});
    if (!j.budget && j.noBudget && j.noBudget->kind == Error::Kind::Conflict)
        return {say("Try it with the wheels off the ground."),
                say("Write the board program, then show each sensor what it looks for, and watch "
                    "which way the wheels go."),
                powerOff, Station::Rule};
    if (!j.budget)
        return {
            say("Complete the program."), j.noBudget ? j.noBudget->text() : "", {}, Station::Rule};
    if (!j.runsPending && j.gate(Station::Floor).state != GateState::Passed)
        return {say("Look at the simulated runs."), j.gate(Station::Floor).why, {}, Station::Floor};
    if (j.gate(Station::Log).state == GateState::Blocked)
        return {say("Raise the threshold."), j.gate(Station::Log).why, onFloor, Station::Rule};
    return driveStep(j, onFloor);
}

const std::vector<StationDescriptor> &stationList()
{
    static const std::vector<StationDescriptor> list = {
        {Station::Kit, "Kit", {"kit", "node", "mission", "make"}, kitGate},
        {Station::Wire, "Wire", {"terminal", "wire"}, wireGate},
        {Station::Tune,
         "Tune",
         {"bench"},
         [](const Judgement &j, const kit::Car &) { return tuneGate(j); }},
        {Station::Rule,
         "Rule",
         {"value", "reading", "policy", "rule", "state"},
         [](const Judgement &j, const kit::Car &) { return ruleGate(j); }},
        {Station::Floor,
         "Floor",
         {},
         [](const Judgement &j, const kit::Car &) { return floorGate(j); }},
        {Station::Log, "Log", {}, [](const Judgement &j, const kit::Car &) { return logGate(j); }},
    };
    return list;
}

const char *name(Station station)
{
    return stationList()[static_cast<size_t>(station)].name;
}

std::optional<Station> stationOf(std::string_view target)
{
    const auto kind = target.substr(0, target.find(':'));
    for (const auto &s : stationList())
        if (std::find(s.places.begin(), s.places.end(), kind) != s.places.end())
            return s.station;
    return std::nullopt;
}

std::array<Gate, stations.size()> gatesOf(const Judgement &j, const kit::Car &car)
{
    std::array<Gate, stations.size()> gates;
    for (const auto &s : stationList())
        gates[static_cast<size_t>(s.station)] = s.gate(j, car);
    return gates;
}

} // namespace badger::judge
