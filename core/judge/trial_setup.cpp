// SPDX-License-Identifier: GPL-3.0-or-later
// The car as a trial simulates it.
#include "core/base/named.h"
#include "core/judge/budget.h"
#include "core/machine/firmware.h"
#include "core/rules/table.h"

#include <cmath>

namespace badger::judge
{

namespace
{

trial::RangerModel rangerModel(const kit::Car &car, const parts::Part &part,
                               const std::string &instance)
{
    const auto of = [&](const char *key) { return part.figure(key)->typical; };
    trial::RangerModel m;
    m.name = instance;
    m.mount = *kit::mountOf(car, *car.instance(instance));
    m.figures.cosHalfAngle = std::cos(of("half_angle_rad"));
    m.figures.deadZone_m = of("dead_zone_m");
    m.figures.range_m = of("range_m");
    m.figures.noEchoHold_s = of("no_echo_hold_s");
    m.figures.error_m = car.calibrations.ruler ? car.calibrations.ruler->error_m : of("error_m");
    m.figures.noise_m = of("noise_m");
    m.figures.lostEchoShare = of("lost_echo_share");
    return m;
}

} // namespace

Result<trial::Setup> trialSetup(const kit::Assembly &car, const rules::Program &program,
                                const floor::Floor &floor)
{
    for (const auto &ok : {rules::complete(program), rules::forRangersAlone(program)})
        if (!ok)
            return tl::unexpected(ok.error());
    if (const auto stops = budgetOf(car, program); !stops)
        return tl::unexpected(stops.error());
    const auto brake = drive::rollOutOf(car, true);
    const auto coast = drive::rollOutOf(car, false);
    if (!brake || !coast)
        return tl::unexpected(brake ? coast.error() : brake.error());

    trial::Setup setup;
    setup.floor = floor;
    auto &m = setup.car;
    m.geometry = car->geometry;
    auto speeds = drive::speedTable_mps(car);
    if (!speeds)
        return tl::unexpected(speeds.error());
    const auto reach = pins::speedReach(nets::Nets(car));
    for (size_t wheel = 0; wheel < reach.size(); ++wheel)
        for (int asked = 0; asked <= 255; ++asked)
            m.speed_mps[wheel].push_back(
                (*speeds)[static_cast<size_t>(pins::actingCounts(reach[wheel].by, asked))]);
    if (const auto *motor = car.first(parts::Kind::Motor)) // of a servo the model's own stands
        m.rise_s = car.part(*motor)->figure("rise_s")->typical;
    m.brakeRoll = brake->curve;
    m.coastRoll = coast->curve;
    for (const auto &r : program.readings) {
        const auto part = rangerOf(car, r);
        if (!part)
            return tl::unexpected(part.error());
        if (named(m.rangers, r.instance) == nullptr)
            m.rangers.push_back(rangerModel(car, **part, r.instance));
    }
    // What varies from run to run on one car, after its straightness was trimmed: choices of ours
    // until trials of the car itself say more.
    m.speedSpread = 0.02;
    m.wheelSpread = 0.002;
    m.rollSpread = 0.06;
    return setup;
}

Result<trial::Trial> runTrial(const kit::Assembly &car, const rules::Program &program,
                              const floor::Floor &floor, std::uint64_t seed)
{
    const auto setup = trialSetup(car, program, floor);
    if (!setup)
        return tl::unexpected(setup.error());
    machine::ProgramFirmware firmware(program);
    return trial::run(*setup, firmware, seed);
}

} // namespace badger::judge
