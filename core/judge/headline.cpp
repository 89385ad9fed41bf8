// SPDX-License-Identifier: GPL-3.0-or-later
// The sentence on top of each station.
#include "core/judge/judge.h"
#include "core/units/quantity.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <fmt/ranges.h>

namespace badger::judge
{

namespace
{

using units::fixed;
using units::quantity;
using units::Unit;

size_t countOf(const std::vector<Finding> &findings, Severity severity)
{
    return static_cast<size_t>(
        std::count_if(findings.begin(), findings.end(),
                      [&](const Finding &f) { return f.severity == severity; }));
}
size_t errors(const std::vector<Finding> &findings)
{
    return countOf(findings, Severity::Error);
}
size_t warnings(const std::vector<Finding> &findings)
{
    return countOf(findings, Severity::Warning);
}

Say packWords(const kit::Assembly &car)
{
    std::vector<Say> each;
    for (const auto &f : car.fitted()) {
        const auto volts = kit::sourceVolts_V(*f.instance, car.catalogue(), kit::Charge::Nominal);
        if (f.part->kind == parts::Kind::Supply)
            each.push_back(f.part->name);
        else if (f.part->kind == parts::Kind::Cell && volts)
            each.push_back(say("{} × {} at {}", f.instance->cellsInSeries, f.part->name,
                               quantity(*volts, Unit::Volt, 2)));
    }
    return each.empty() ? say("no pack") : joined(each, " + ");
}

/// Then there is room for its volts at every charge.
bool isOnlySource(const kit::Assembly &car)
{
    return std::count_if(car.fitted().begin(), car.fitted().end(), [](const kit::Fitted &f) {
               return f.part->kind == parts::Kind::Cell || f.part->kind == parts::Kind::Supply;
           }) == 1;
}

Headline kitLine(const kit::Assembly &car, const Judgement &j, const floor::Floor *floor)
{
    Headline h;
    const auto &power = j.kit.power;
    const auto wrong = errors(j.kit.findings.findings);
    if (car->parts.empty())
        return {say("{} has no parts yet.", car->name),
                say("Take a starting kit, or add parts one by one.")};
    if (wrong > 0) {
        for (const auto &f : j.kit.findings.findings)
            if (f.severity == Severity::Error) {
                h.sentence =
                    say("{0} {0|error|errors} in {1}'s parts: {2}", wrong, car->name, f.what);
                break;
            }
    } else {
        h.sentence = say("{}'s parts go together", car->name);
        std::vector<Say> points;
        const auto &motors = power.at(kit::Charge::Nominal);
        if (!motors.empty() && motors.front().speedFull_mps)
            points.push_back(say("{} at full {}",
                                 fixed(*motors.front().speedFull_mps, Unit::MetrePerSecond, 2),
                                 motors.front().servo ? "command" : "duty"));
        if (power.runTime)
            points.push_back(fmt::format("{:.1f} hours on one charge", power.runTime->typical_h));
        h.sentence += points.empty() ? Say(".") : say(": {}.", joined(points, ", "));
    }
    std::vector<Say> parts = {packWords(car)};
    if (const auto *pack = car.first(parts::Kind::Cell); pack && isOnlySource(car)) {
        const auto volts = [&](kit::Charge charge) {
            return quantity(*kit::sourceVolts_V(*pack, car.catalogue(), charge), Unit::Volt, 2);
        };
        parts = {say("{} × {}: {} fresh, {} nominal, {} near empty", pack->cellsInSeries,
                     car.part(*pack)->name, volts(kit::Charge::Fresh), volts(kit::Charge::Nominal),
                     volts(kit::Charge::NearEmpty))};
    }
    if (j.kit.balance.mass_kg > 0.0)
        parts.push_back(say("{}{}", j.kit.balance.withoutMass.empty() ? "" : say("at least "),
                            fixed(j.kit.balance.mass_kg, Unit::Gram, 0)));
    if (j.kit.pins.has > 0)
        parts.push_back(say("{} of {} pins", j.kit.pins.needed, j.kit.pins.has));
    if (const auto *b = car->mission ? kit::behaviour(car->mission->behaviour) : nullptr)
        parts.push_back(b->name + (floor ? " on " + floor->name : std::string{}));
    h.conditions = say("{}", joined(parts, " · "));
    return h;
}

Headline wire(const kit::Assembly &car, const Judgement &j)
{
    const auto wrong = errors(j.wire.findings);
    Headline h;
    h.conditions = say("{} · wiring revision {} · {}", say("{0} {0|wire|wires}", car->wires.size()),
                       car->wiringRevision, packWords(car));
    if (car->parts.empty())
        h.sentence = say("{} has no parts yet.", car->name);
    else if (car->wires.empty())
        h.sentence = say("{} is not wired yet.", car->name);
    else if (wrong > 0)
        h.sentence = say("{}: {} before power goes on.", car->name,
                         say("{0} {0|error to mend|errors to mend}", wrong));
    else if (const auto warned = warnings(j.wire.findings); warned > 0)
        h.sentence = say("{}'s {} wires: no error, {} before power goes on.", car->name,
                         car->wires.size(), say("{0} {0|warning|warnings}", warned));
    else
        h.sentence = say("{}'s {} wires are right: {} checks passed, no error.", car->name,
                         car->wires.size(), j.wire.fine.size());
    return h;
}

Headline tuneLine(const kit::Assembly &car, const Judgement &j)
{
    long needed = 0;
    long done = 0;
    long kept = 0;
    for (const auto &i : j.tune.items) {
        needed += i.needed ? 1 : 0;
        done += i.needed && i.isDone() ? 1 : 0;
        kept += i.record ? 1 : 0;
    }
    Headline h;
    h.conditions = say("{0} {0|record is kept|records are kept} · {1}", kept, packWords(car));
    if (j.gate(Station::Tune).state == GateState::Stale)
        h.sentence = say("{}: something under a measurement has changed.", car->name);
    else if (needed == 0)
        h.sentence = say("{} has no sensor that has to be measured.", car->name);
    else if (done == needed)
        h.sentence =
            needed == 1
                ? say("{}: the one measurement that it needs is there, and it holds.", car->name)
                : say("{}: the {} measurements that it needs are there, and they hold.", car->name,
                      needed);
    else
        h.sentence =
            say("{}: {} of {} measurements that it needs can be used.", car->name, done, needed);
    return h;
}

Headline rule(const kit::Assembly &car, const Judgement &j, const rules::Program *program)
{
    if (program == nullptr)
        return {say("{} runs no program yet.", car->name), say("Begin with one of these.")};
    const bool without = j.noBudget && j.noBudget->kind == Error::Kind::Conflict;
    if (!j.budget && !without)
        return {say("{}'s program '{}' is not complete.", car->name, program->name),
                j.noBudget ? j.noBudget->what : ""};
    for (const auto &f : j.rule.findings)
        if (f.severity == Severity::Error)
            return {say("{}: {}", car->name, f.what), f.why};
    const auto sentence =
        say("{}: '{}' has one action for every reading.", car->name, program->name);
    if (without && car.first(parts::Kind::Board) == nullptr)
        return {
            sentence,
            say("{0} {0|state|states} · {1} {1|reading|readings} · without a board the wires are "
                "the program: there is none to write",
                program->states.size(), program->readings.size())};
    if (without)
        return {sentence, say("{0} {0|state|states} · {1} {1|reading|readings} · version {2}",
                              program->states.size(), program->readings.size(), program->version)};
    const auto &b = *j.budget;
    const auto gap = b.budget.worstGap_m;
    const auto threshold = quantity(b.setup.threshold_m, Unit::Centimetre, 2);
    const auto does = b.act == rules::Act::Back   ? say("backs")
                      : b.act == rules::Act::Turn ? say("turns")
                                                  : say("halts");
    const auto begin = b.inclusive ? say("{} {} at {} or nearer", car->name, does, threshold)
                                   : say("{} {} nearer than {}", car->name, does, threshold);
    Headline h;
    if (gap < 0.0)
        h.sentence =
            say("{}; at worst it is {} too late.", begin, fixed(-gap, Unit::Centimetre, 1));
    else
        h.sentence =
            b.act == rules::Act::Stand
                ? say("{}; at worst {} are left at rest.", begin, fixed(gap, Unit::Centimetre, 1))
                : say("{}; at worst {} are left then.", begin, fixed(gap, Unit::Centimetre, 1));
    const auto &reading = *program->reading(b.reading);
    h.conditions =
        say("{} · {} · {} · air {} · no echo counts as {}", packWords(car),
            quantity(b.speed.value, Unit::MetrePerSecond, 2), b.brakes ? "brake" : "coast",
            quantity(*reading.air_degC, Unit::Celsius, 1), rules::word(reading.noEcho));
    return h;
}

Headline floorLine(const workshop::Workshop &workshop, const kit::Assembly &car, const Judgement &j)
{
    const auto *program = workshop.program(car->program);
    const auto driven = say("{} · {} · the same seed gives the same run to the bit",
                            program ? program->name : std::string{}, packWords(car));
    if (j.runsPending)
        return {say("{}: {}", car->name, j.gate(Station::Floor).why), driven};
    if (j.runs.empty())
        return {say("{} cannot be driven yet.", car->name), j.noRuns ? j.noRuns->text()
                                                            : workshop.floors.empty()
                                                                ? say("The workshop has no floor.")
                                                            : j.noBudget ? j.noBudget->text()
                                                                         : Say{}};
    return {say("{}: {}", car->name, j.gate(Station::Floor).why), driven};
}

Headline logLine(const kit::Car &car, const Judgement &j)
{
    const auto stats = logbook::statistics(j.measured);
    if (car.program.empty())
        return {say("{} runs no program yet: the log waits for its first run.", car.name),
                say("Rule offers what to begin with; then run it and read the ruler")};
    if (!stats)
        return {say("{} has not been measured with this program.", car.name),
                j.older.empty()
                    ? say("Run it, read the ruler, enter the gap")
                    : say("{0} {0|older trial is kept|older trials are kept}", j.older.size())};
    Headline h;
    h.sentence =
        say("{} left {} on average in {}", car.name, fixed(stats->mean_m, Unit::Centimetre, 1),
            say("{0} {0|run|runs}", stats->runs));
    if (j.budget)
        h.sentence += say("; {} at worst was predicted",
                          fixed(j.budget->budget.worstGap_m, Unit::Centimetre, 1));
    h.sentence += ".";
    h.conditions = stats->spread_m ? say("spread {} · least {} · most {}",
                                         fixed(*stats->spread_m, Unit::Centimetre, 2),
                                         fixed(stats->least_m, Unit::Centimetre, 1),
                                         fixed(stats->most_m, Unit::Centimetre, 1))
                                   : say("one run: no spread yet");
    return h;
}

} // namespace

Headline headline(Station station, const workshop::Workshop &workshop, const kit::Assembly &car,
                  const Judgement &judgement)
{
    switch (station) {
    case Station::Kit:
        return kitLine(car, judgement,
                       car->mission ? workshop.floor(car->mission->floor) : nullptr);
    case Station::Wire:
        return wire(car, judgement);
    case Station::Tune:
        return tuneLine(car, judgement);
    case Station::Rule:
        return rule(car, judgement, workshop.program(car->program));
    case Station::Floor:
        return floorLine(workshop, car, judgement);
    case Station::Log:
        break;
    }
    return logLine(car, judgement);
}

} // namespace badger::judge
