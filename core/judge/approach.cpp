// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/judge/approach.h"

#include "core/base/angle.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace badger::judge
{

namespace
{

using rules::Act;

/// The way a look goes, against the car's own.
double yaw_rad(const kit::Mount &mount, double servo_deg)
{
    return mount.yaw_rad + (servo_deg - machine::ahead_deg) * degree;
}

bool isAside(double yaw_rad)
{
    return std::abs(std::remainder(yaw_rad, 2.0 * std::numbers::pi)) > kit::aheadWithin_rad;
}

const rules::State *stateOf(const rules::Program &program, int mode)
{
    return &program.states[static_cast<size_t>(mode)];
}

/// Does it drive ahead and ask its rules meanwhile?
bool drivesAhead(const rules::Program &program, const machine::Machine &machine, size_t mode)
{
    return !machine.modes[mode].hold.is && rules::actOf(program.states[mode].motion) == Act::Go;
}

std::optional<Approach> approachOf(const rules::Program &program, const machine::Machine &machine,
                                   int mode, size_t sensor, const regions::GivesWay &way)
{
    const auto &reading = program.readings[sensor];
    Approach a;
    a.goes = stateOf(program, mode);
    for (const int m : way.into)
        if (rules::actOf(stateOf(program, m)->motion) != Act::Go)
            a.into.push_back(stateOf(program, m));
    a.reading = &reading;
    a.value = program.value(way.value);
    if (a.into.empty() || a.value == nullptr)
        return std::nullopt; // another state drives on there: its own limits count
    a.inclusive = way.inclusive;
    a.times = way.times;
    a.looks = reading.swivel ? static_cast<int>(reading.swivel->angles_deg.size()) : 1;
    const bool whole = machine.sensors[sensor].whole;
    a.from_m = units::toSi(way.from, reading.unit);
    a.edge_m = units::toSi(whole ? way.to + 1.0 : way.to, reading.unit);
    for (const int s : way.unlessSilent)
        a.unlessSilent.push_back(&program.readings[static_cast<size_t>(s)]);
    return a;
}

} // namespace

bool looksAside(const kit::Car &car, const rules::Reading &reading)
{
    const auto *fitted = car.instance(reading.instance);
    const auto *mount = fitted ? kit::mountOf(car, *fitted) : nullptr;
    if (mount == nullptr)
        return false;
    if (!reading.swivel || reading.swivel->angles_deg.empty())
        return isAside(mount->yaw_rad);
    const auto &angles = reading.swivel->angles_deg;
    return std::all_of(angles.begin(), angles.end(),
                       [&](double deg) { return isAside(yaw_rad(*mount, deg)); });
}

Result<std::vector<Approach>> approaches(const regions::Exact &exact, const kit::Assembly &car,
                                         bool aside)
{
    const auto &program = exact.program();
    const auto &machine = exact.machine();
    std::vector<Approach> all;
    for (size_t m = 0; m < machine.modes.size(); ++m) {
        if (!exact.isReachable(m) || !drivesAhead(program, machine, m))
            continue;
        const auto &regions = exact.cells(m);
        if (!regions)
            return tl::unexpected(regions.error());
        for (size_t s = 0; s < program.readings.size(); ++s) {
            const auto &reading = program.readings[s];
            if (reading.source != rules::Source::Ranger || !reading.everyPass ||
                looksAside(car, reading) != aside)
                continue;
            for (const auto &way :
                 regions::givesWay(program, machine, *regions, static_cast<int>(s)))
                if (auto a = approachOf(program, machine, static_cast<int>(m), s, way))
                    all.push_back(std::move(*a));
        }
    }
    return all;
}

} // namespace badger::judge
