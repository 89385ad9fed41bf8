// SPDX-License-Identifier: GPL-3.0-or-later
// The sentence on top of each station.
#include "core/rules/table.h"
#include "core/units/quantity.h"
#include "core/workshop/judge.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <fmt/ranges.h>

namespace badger::workshop
{

namespace
{

using units::format;
using units::formatShort;
using units::Unit;

std::string count(size_t n, const char *one, const char *many)
{
    return fmt::format("{} {}", n, n == 1 ? one : many);
}

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

std::string packWords(const parts::Catalogue &catalogue, const kit::Car &car)
{
    const auto *pack = kit::firstOf(car, catalogue, parts::Kind::Cell);
    if (const auto *supply = kit::firstOf(car, catalogue, parts::Kind::Supply);
        pack == nullptr && supply != nullptr)
        return catalogue.find(supply->partId)->name;
    const auto volts = kit::packVolts_V(car, catalogue, kit::Charge::Nominal);
    if (pack == nullptr || !volts)
        return "no pack";
    return fmt::format("{} × {} at {}", pack->cellsInSeries, catalogue.find(pack->partId)->name,
                       formatShort(*volts, Unit::Volt, 2));
}

Headline kitLine(const parts::Catalogue &catalogue, const kit::Car &car, const Judgement &j)
{
    Headline h;
    const auto &power = j.kit.power;
    const auto wrong = errors(j.kit.findings.findings);
    if (car.parts.empty())
        return {fmt::format("{} has no parts yet.", car.name),
                "Take a starting kit, or add parts one by one."};
    if (wrong > 0) {
        for (const auto &f : j.kit.findings.findings)
            if (f.severity == Severity::Error) {
                h.sentence = fmt::format("{} in {}'s parts: {}", count(wrong, "error", "errors"),
                                         car.name, f.what);
                break;
            }
    } else {
        h.sentence = fmt::format("{}'s parts go together", car.name);
        std::vector<std::string> say;
        const auto &motors = power.at(kit::Charge::Nominal);
        if (!motors.empty() && motors.front().speedFull_mps)
            say.push_back(fmt::format(
                "{} at full {}", format(*motors.front().speedFull_mps, Unit::MetrePerSecond, 2),
                motors.front().servo ? "command" : "duty"));
        if (power.runTime)
            say.push_back(fmt::format("{:.1f} hours on one charge", power.runTime->typical_h));
        h.sentence += say.empty() ? "." : fmt::format(": {}.", fmt::join(say, ", "));
    }
    std::vector<std::string> parts = {packWords(catalogue, car)};
    if (const auto *pack = kit::firstOf(car, catalogue, parts::Kind::Cell)) {
        const auto volts = [&](kit::Charge charge) {
            return formatShort(*kit::sourceVolts_V(*pack, catalogue, charge), Unit::Volt, 2);
        };
        parts = {fmt::format("{} × {}: {} fresh, {} nominal, {} near empty", pack->cellsInSeries,
                             catalogue.find(pack->partId)->name, volts(kit::Charge::Fresh),
                             volts(kit::Charge::Nominal), volts(kit::Charge::NearEmpty))};
    }
    if (j.kit.balance.mass_kg > 0.0)
        parts.push_back(fmt::format("{}{}", j.kit.balance.withoutMass.empty() ? "" : "at least ",
                                    format(j.kit.balance.mass_kg, Unit::Gram, 0)));
    if (j.kit.pins.has > 0)
        parts.push_back(fmt::format("{} of {} pins", j.kit.pins.needed, j.kit.pins.has));
    if (const auto *b = car.mission ? kit::behaviour(car.mission->behaviour) : nullptr)
        parts.push_back(b->name +
                        (car.mission->floor.empty() ? std::string{} : " on " + car.mission->floor));
    h.conditions = fmt::format("{}", fmt::join(parts, " · "));
    return h;
}

Headline wire(const parts::Catalogue &catalogue, const kit::Car &car, const Judgement &j)
{
    const auto wrong = errors(j.wire.findings);
    Headline h;
    h.conditions =
        fmt::format("{} · wiring revision {} · {}", count(car.wires.size(), "wire", "wires"),
                    car.wiringRevision, packWords(catalogue, car));
    if (car.parts.empty())
        h.sentence = fmt::format("{} has no parts yet.", car.name);
    else if (car.wires.empty())
        h.sentence = fmt::format("{} is not wired yet.", car.name);
    else if (wrong > 0)
        h.sentence = fmt::format("{}: {} before power goes on.", car.name,
                                 count(wrong, "error to mend", "errors to mend"));
    else if (const auto warned = warnings(j.wire.findings); warned > 0)
        h.sentence = fmt::format("{}'s {} wires: no error, {} before power goes on.", car.name,
                                 car.wires.size(), count(warned, "warning", "warnings"));
    else
        h.sentence = fmt::format("{}'s {} wires are right: {} checks passed, no error.", car.name,
                                 car.wires.size(), j.wire.fine.size());
    return h;
}

Headline rule(const parts::Catalogue &catalogue, const kit::Car &car, const Judgement &j,
              const rules::Program *program)
{
    if (program == nullptr)
        return {fmt::format("{} runs no program yet.", car.name), "Begin with one of these."};
    if (!j.budget)
        return {fmt::format("{}'s program '{}' is not complete.", car.name, program->name),
                j.noBudget ? j.noBudget->what : ""};
    for (const auto &f : j.rule.findings)
        if (f.severity == Severity::Error)
            return {fmt::format("{}: {}", car.name, f.what), f.why};
    const auto &b = *j.budget;
    const auto gap = b.budget.worstGap_m;
    const auto threshold = formatShort(b.setup.threshold_m, Unit::Centimetre, 2);
    const auto begin = b.inclusive ? fmt::format("{} halts at {} or nearer", car.name, threshold)
                                   : fmt::format("{} halts nearer than {}", car.name, threshold);
    Headline h;
    h.sentence = gap >= 0.0 ? fmt::format("{}; at worst {} are left at rest.", begin,
                                          format(gap, Unit::Centimetre, 1))
                            : fmt::format("{}; at worst it is {} too late.", begin,
                                          format(-gap, Unit::Centimetre, 1));
    const auto &reading = *program->reading(b.reading);
    h.conditions = fmt::format(
        "{} · {} · {} · air {} · no echo counts as {}", packWords(catalogue, car),
        formatShort(b.speed.value, Unit::MetrePerSecond, 2), b.brakes ? "brake" : "coast",
        formatShort(*reading.air_degC, Unit::Celsius, 1), rules::word(reading.noEcho));
    return h;
}

Headline floorLine(const Workshop &workshop, const kit::Car &car, const Judgement &j)
{
    if (j.runsPending)
        return {fmt::format("{}: {}", car.name, j.gate(Station::Floor).why),
                "Seeded noise: the same seed gives the same run to the bit"};
    if (j.runs.empty())
        return {fmt::format("{} cannot be driven yet.", car.name),
                j.noBudget ? j.noBudget->text()
                           : (workshop.floors.empty() ? "The workshop has no floor." : "")};
    return {fmt::format("{}: {}", car.name, j.gate(Station::Floor).why),
            "Seeded noise: the same seed gives the same run to the bit"};
}

Headline logLine(const kit::Car &car, const Judgement &j)
{
    const auto stats = logbook::statistics(j.measured);
    if (car.program.empty())
        return {fmt::format("{} runs no program yet: the log waits for its first run.", car.name),
                "Rule offers what to begin with; then run it and read the ruler"};
    if (!stats)
        return {fmt::format("{} has not been measured with this program.", car.name),
                j.older.empty()
                    ? "Run it, read the ruler, enter the gap"
                    : count(j.older.size(), "older trial is kept", "older trials are kept")};
    Headline h;
    h.sentence = fmt::format("{} left {} on average in {}", car.name,
                             format(stats->mean_m, Unit::Centimetre, 1),
                             count(static_cast<size_t>(stats->runs), "run", "runs"));
    if (j.budget)
        h.sentence += fmt::format("; {} at worst was predicted",
                                  format(j.budget->budget.worstGap_m, Unit::Centimetre, 1));
    h.sentence += ".";
    h.conditions = stats->spread_m ? fmt::format("spread {} · least {} · most {}",
                                                 format(*stats->spread_m, Unit::Centimetre, 2),
                                                 format(stats->least_m, Unit::Centimetre, 1),
                                                 format(stats->most_m, Unit::Centimetre, 1))
                                   : "one run: no spread yet";
    return h;
}

} // namespace

Headline headline(Station station, const Workshop &workshop, const parts::Catalogue &catalogue,
                  const kit::Car &car, const Judgement &judgement)
{
    switch (station) {
    case Station::Kit:
        return kitLine(catalogue, car, judgement);
    case Station::Wire:
        return wire(catalogue, car, judgement);
    case Station::Rule:
        return rule(catalogue, car, judgement, workshop.program(car.program));
    case Station::Floor:
        return floorLine(workshop, car, judgement);
    case Station::Log:
        break;
    }
    return logLine(car, judgement);
}

} // namespace badger::workshop
