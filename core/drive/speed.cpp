// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/speed.h"

#include "core/drive/bridge.h"
#include "core/units/quantity.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <numbers>

namespace badger::drive
{

namespace
{

using parts::Kind;
using units::quantity;
using units::Unit;

Say underWords(const kit::Circumstances &under)
{
    return say("at {} on {}, {}", quantity(under.battery_V, Unit::Volt, 2), under.floor,
               under.date);
}

Result<const parts::Part *> partOf(const kit::Assembly &car, Kind kind)
{
    const auto *fitted = car.first(kind);
    if (fitted == nullptr)
        return fail(Error::Kind::Missing, say("car '") + car->name + "'",
                    say("no {} is fitted", parts::name(kind)), say("add one to the car"));
    return car.part(*fitted);
}

Result<MotorLine> lineOf(const kit::Assembly &car)
{
    const auto driver = partOf(car, Kind::Driver);
    const auto motor = partOf(car, Kind::Motor);
    const auto wheel = partOf(car, Kind::Wheel);
    for (const auto *r : {&driver, &motor, &wheel})
        if (!*r)
            return tl::unexpected(r->error());
    const auto pack_V = car.packVolts_V(kit::Charge::Nominal);
    if (!pack_V)
        return fail(Error::Kind::Missing, say("car '") + car->name + "'", say("no pack is fitted"),
                    say("add cells to the car"));
    const auto of = [](const parts::Part *p, const char *key) { return p->figure(key)->typical; };
    const auto running_A = figureOf(**motor, "running_A");
    const auto share = loadShare(**motor);
    if (!running_A || !share)
        return tl::unexpected(running_A ? share.error() : running_A.error());
    const auto drop = bridgeDrop(**driver, *running_A);
    if (!drop)
        return tl::unexpected(drop.error());
    MotorLine line;
    line.supply_V = *pack_V;
    line.drop_V = drop->volts_V;
    line.rated_V = of(*motor, "rated_V");
    line.noLoad_rpm = of(*motor, "no_load_rpm");
    line.loadShare = *share;
    line.wheelDiameter_m = of(*wheel, "diameter_m");
    if (const auto *band = (*motor)->figure("dead_band"))
        line.deadBand = band->typical;
    return line;
}

} // namespace

Result<double> loadShare(const parts::Part &motor)
{
    const auto noLoad_A = figureOf(motor, "no_load_A");
    const auto running_A = figureOf(motor, "running_A");
    const auto stall_A = figureOf(motor, "stall_A");
    for (const auto *r : {&noLoad_A, &running_A, &stall_A})
        if (!*r)
            return tl::unexpected(r->error());
    if (!(*noLoad_A <= *running_A && *running_A < *stall_A))
        return fail(Error::Kind::OutOfRange, motor.name,
                    say("its no-load, running and stall currents are not in rising order"),
                    say("mend the part's figures"));
    return (*running_A - *noLoad_A) / (*stall_A - *noLoad_A);
}

double groundSpeed_mps(const MotorLine &line, double duty)
{
    if (duty <= line.deadBand)
        return 0.0;
    const double volts = duty * std::max(0.0, line.supply_V - line.drop_V);
    const double rpm = line.noLoad_rpm * (volts / line.rated_V - line.loadShare);
    return std::max(0.0, std::numbers::pi * line.wheelDiameter_m * rpm / 60.0);
}

namespace
{

Sourced speedFrom(const std::vector<kit::SpeedReading> &measured, const MotorLine &line,
                  int pwm_counts)
{
    const auto nearest =
        std::min_element(measured.begin(), measured.end(), [&](const auto &a, const auto &b) {
            return std::abs(a.pwm_counts - pwm_counts) < std::abs(b.pwm_counts - pwm_counts);
        });
    if (nearest != measured.end() && nearest->pwm_counts == pwm_counts)
        return {nearest->speed_mps, "measured " + underWords(nearest->under), true};
    const double band_counts = line.deadBand * 255.0;
    if (nearest != measured.end() && nearest->pwm_counts > band_counts) {
        const double ratio = (pwm_counts - band_counts) / (nearest->pwm_counts - band_counts);
        return {std::max(0.0, nearest->speed_mps * ratio),
                say("scaled from {} measured at {} counts",
                    quantity(nearest->speed_mps, Unit::MetrePerSecond), nearest->pwm_counts),
                false};
    }
    return {groundSpeed_mps(line, pwm_counts / 255.0),
            say("from the parts' data at nominal charge; not measured"), false};
}

} // namespace

Result<Sourced> speedAt(const kit::Assembly &car, int pwm_counts)
{
    if (pwm_counts < 0 || pwm_counts > 255)
        return fail(Error::Kind::OutOfRange, "speed",
                    say("{} is outside 0 to 255 PWM counts", pwm_counts),
                    say("give a count from 0 to 255"));
    return lineOf(car).map([&](const MotorLine &line) {
        return speedFrom(car->calibrations.speeds, line, pwm_counts);
    });
}

Result<std::vector<double>> speedTable_mps(const kit::Assembly &car)
{
    return lineOf(car).map([&](const MotorLine &line) {
        std::vector<double> speeds;
        for (int counts = 0; counts <= 255; ++counts)
            speeds.push_back(speedFrom(car->calibrations.speeds, line, counts).value);
        return speeds;
    });
}

Result<SourcedRoll> rollOutOf(const kit::Assembly &car, bool brake)
{
    for (const auto &r : car->calibrations.rollOuts) {
        if (r.brake != brake)
            continue;
        return SourcedRoll{
            {r.distance_m, r.speed_mps, r.law},
            say("{} at {}, {} trials {}", quantity(r.distance_m, Unit::Centimetre, 2),
                quantity(r.speed_mps, Unit::MetrePerSecond), r.trials, underWords(r.under)),
            true};
    }
    const auto motor = partOf(car, Kind::Motor);
    if (!motor)
        return tl::unexpected(motor.error());
    constexpr double coastFactor = 3.0;
    const double decay_s = (*motor)->figure("rise_s")->high * (brake ? 1.0 : coastFactor);
    return SourcedRoll{{decay_s, 1.0, kit::RollLaw::Electrical},
                       say("speed × {}, the motor's slowest decay{}; not measured",
                           quantity(decay_s, Unit::Millisecond, 0),
                           brake ? "" : say(" × 3 for coasting")),
                       false};
}

} // namespace badger::drive
