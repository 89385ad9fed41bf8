// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/judge/check_bench.h"

#include "core/judge/rule_walk.h"
#include "core/sense/ultrasonic.h"

#include <algorithm>
#include <cmath>

namespace badger::judge
{

using tune::What;
using units::quantity;
using units::Unit;

namespace
{

using Found = std::vector<Finding>;

std::string partOf(const std::string &instance)
{
    const auto name = kit::splitTerminal(instance);
    return name.instance.empty() ? instance : name.instance;
}

/// The values that conditions compare with this reading, each once.
std::vector<Say> comparedWith(const rules::Program &program, const std::string &reading)
{
    std::vector<std::string> names;
    eachCondition(program, [&](const rules::Condition &c) {
        if ((c.reading == reading || c.other == reading) && !c.value.empty() &&
            c.test != rules::Test::Lost &&
            std::find(names.begin(), names.end(), c.value) == names.end())
            names.push_back(c.value);
    });
    return {names.begin(), names.end()};
}

bool turnsByAngle(const rules::Program &program)
{
    return std::any_of(program.values.begin(), program.values.end(),
                       [](const rules::Value &v) { return v.kind == rules::ValueKind::PerDegree; });
}

/// What a stale record says is not worth more than the thresholds that were taken from it.
Found restsOnStale(const ProgramLook &look, const char *code)
{
    Found found;
    const auto add = [&](const BenchItem &i, Say where, Say what) {
        found.push_back({code, Severity::Warning, std::move(where),
                         say("{} {}, which was measured {}.", std::move(what), placeOf(i),
                             joined(i.stale, ", ")),
                         say("The number was right for what was there then."),
                         say("Measure it again, and look at the number."), targetOf(i)});
    };
    for (const auto &i : look.bench->items) {
        if (!i.record || i.stale.empty())
            continue;
        if (i.what == What::Turn && turnsByAngle(look.program))
            add(i, say("program '{}'", look.program.name), say("Its turns rest on"));
        if (i.instance.empty())
            continue;
        for (const auto &r : look.program.readings) {
            if (partOf(r.instance) != i.instance || i.what == What::NoEcho)
                continue;
            const auto values = comparedWith(look.program, r.name);
            add(i, say("program '{}', reading {}", look.program.name, r.name),
                values.empty() ? say("It rests on")
                               : say("{} {1|rests|rest} on", joined(values, ", "),
                                     static_cast<long>(values.size())));
        }
    }
    return found;
}

/// Measured where the car drives; else the floor's.
struct Air {
    Say where;
    double degC = 0.0;
};

std::optional<Air> airAt(const ProgramLook &look, const rules::Reading &r)
{
    if (look.bench != nullptr)
        for (const auto &i : look.bench->items)
            if (i.what == What::Air && i.instance == r.instance && i.record && i.record->chosen)
                return Air{placeOf(i), *i.record->chosen};
    if (look.floor == nullptr)
        return std::nullopt;
    return Air{look.floor->name, look.floor->air_degC};
}

Found airDiffers(const ProgramLook &look, const char *code)
{
    constexpr double noticeable_degC = 5.0; // about 1 % of the distance
    constexpr double at_m = 0.5;
    Found found;
    for (const auto &r : look.program.readings) {
        const auto air = airAt(look, r);
        if (!air || !isEcho(r) || !r.air_degC ||
            std::abs(*r.air_degC - air->degC) < noticeable_degC)
            continue;
        const auto here = sense::speedOfSound_mps(air->degC);
        const auto assumed = sense::speedOfSound_mps(*r.air_degC);
        if (!here || !assumed)
            continue;
        found.push_back(
            {code, Severity::Advice, air->where,
             say("The program assumes {}, the air is at {}.",
                 quantity(*r.air_degC, Unit::Celsius, 1), quantity(air->degC, Unit::Celsius, 1)),
             say("At {} the reading is off by {}.", quantity(at_m, Unit::Centimetre, 1),
                 quantity(at_m * (*assumed / *here - 1.0), Unit::Millimetre, 1)),
             say("Set the program's air temperature to the room's."), at::reading(r.name)});
    }
    return found;
}

bool measured(const ProgramLook &look)
{
    return look.bench != nullptr &&
           std::any_of(look.bench->items.begin(), look.bench->items.end(),
                       [](const BenchItem &i) { return i.record != nullptr; });
}

} // namespace

std::span<const Check<ProgramLook>> benchChecks()
{
    static const std::vector<Check<ProgramLook>> checks{
        {"rests-on-stale", noPraise, restsOnStale, "warning",
         "a threshold, a sense or a turn rests on a measurement under which something has changed",
         measured},
        {"air-differs", noPraise, airDiffers, "advice",
         "the program assumes another air temperature than was measured, or than the floor has"},
    };
    return checks;
}

} // namespace badger::judge
