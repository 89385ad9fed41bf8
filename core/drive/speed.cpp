// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/speed.h"

#include "core/circuit/full_duty.h"
#include "core/drive/bridge.h"
#include "core/units/quantity.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <numbers>
#include <numeric>

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

Result<MotorLine> lineOf(const kit::Assembly &car, kit::Charge charge)
{
    const auto motor = partOf(car, Kind::Motor);
    const auto wheel = partOf(car, Kind::Wheel);
    for (const auto *r : {&motor, &wheel})
        if (!*r)
            return tl::unexpected(r->error());
    const auto of = [](const parts::Part *p, const char *key) { return p->figure(key)->typical; };
    const auto share = loadShare(**motor);
    if (!share)
        return tl::unexpected(share.error());
    const auto full = circuit::fullDuty(car, charge);
    if (!full)
        return fail(
            Error::Kind::Missing, say("car '") + car->name + "'", say("no volts reach its motors"),
            say("say what feeds the driver and which channel drives each motor, or wire them"));
    MotorLine line;
    line.supply_V = full->supply_V;
    line.drop_V = full->supply_V - full->motor_V;
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

/// The share of full duty up to which the car's motor does not turn.
double deadBandOf(const kit::Assembly &car)
{
    const auto *motor = car.first(Kind::Motor);
    const auto *part = motor ? car.part(*motor) : nullptr;
    const auto *band = part ? part->figure("dead_band") : nullptr;
    return band ? band->typical : MotorLine{}.deadBand;
}

/// A drive servo turns in proportion to the count, from standing on, and to the volts that reach
/// it.
Result<double> servoFull_mps(const kit::Assembly &car, const parts::Part &servo, kit::Charge charge)
{
    const auto wheel = partOf(car, Kind::Wheel);
    if (!wheel)
        return tl::unexpected(wheel.error());
    const auto full = circuit::fullDuty(car, charge);
    const auto *rated = servo.figure("rated_V");
    const auto *rpm = servo.figure("no_load_rpm");
    if (!full || !rated || !rpm)
        return fail(Error::Kind::Missing, say("car '") + car->name + "'",
                    say("nothing says how fast its servos turn"),
                    say("measure the speed, or give the servo's figures and its pack"));
    return std::numbers::pi * (*wheel)->figure("diameter_m")->typical * rpm->typical *
           full->motor_V / rated->typical / 60.0;
}

/// The car's drive servo, where no motor drives it.
const parts::Part *driveServo(const kit::Assembly &car)
{
    const auto *servo = car.first(Kind::Motor) ? nullptr : car.first(Kind::DriveServo);
    return servo ? car.part(*servo) : nullptr;
}

/// Empty where nothing usable was measured.
std::optional<Sourced> speedMeasured(const std::vector<kit::SpeedReading> &measured,
                                     double deadBand, int pwm_counts)
{
    const auto nearest =
        std::min_element(measured.begin(), measured.end(), [&](const auto &a, const auto &b) {
            return std::abs(a.pwm_counts - pwm_counts) < std::abs(b.pwm_counts - pwm_counts);
        });
    if (nearest != measured.end() && nearest->pwm_counts == pwm_counts)
        return Sourced{nearest->speed_mps, "measured " + underWords(nearest->under), true};
    const double band_counts = deadBand * 255.0;
    if (nearest != measured.end() && nearest->pwm_counts > band_counts) {
        const double ratio = (pwm_counts - band_counts) / (nearest->pwm_counts - band_counts);
        return Sourced{std::max(0.0, nearest->speed_mps * ratio),
                       say("scaled from {} measured at {} counts",
                           quantity(nearest->speed_mps, Unit::MetrePerSecond), nearest->pwm_counts),
                       false};
    }
    return std::nullopt;
}

/// The speed of each of the counts. The network is asked only where nothing measured serves.
Result<std::vector<Sourced>> speedsAt(const kit::Assembly &car, const std::vector<int> &counts)
{
    std::vector<Sourced> all;
    std::optional<MotorLine> line;
    const auto *servo = driveServo(car);
    const double deadBand = servo ? 0.0 : deadBandOf(car);
    for (const int pwm_counts : counts) {
        if (auto known = speedMeasured(car->calibrations.speeds, deadBand, pwm_counts)) {
            all.push_back(std::move(*known));
            continue;
        }
        if (servo) {
            const auto full_mps = servoFull_mps(car, *servo, kit::Charge::Fresh);
            if (!full_mps)
                return tl::unexpected(full_mps.error());
            all.push_back({*full_mps * pwm_counts / 255.0,
                           say("from the servo's data with fresh cells; not measured"), false});
            continue;
        }
        if (!line) {
            const auto made = lineOf(car, kit::Charge::Fresh);
            if (!made)
                return tl::unexpected(made.error());
            line = *made;
        }
        all.push_back({groundSpeed_mps(*line, pwm_counts / 255.0),
                       say("from the parts' data with fresh cells; not measured"), false});
    }
    return all;
}

} // namespace

double emptyShare(const kit::Assembly &car)
{
    const auto full = [&](kit::Charge charge) {
        if (const auto *servo = driveServo(car))
            return servoFull_mps(car, *servo, charge).value_or(0.0);
        const auto line = lineOf(car, charge);
        return line ? groundSpeed_mps(*line, 1.0) : 0.0;
    };
    const double fresh = full(kit::Charge::Fresh);
    return fresh > 0.0 ? std::min(1.0, full(kit::Charge::NearEmpty) / fresh) : 1.0;
}

Result<Sourced> speedAt(const kit::Assembly &car, int pwm_counts)
{
    if (pwm_counts < 0 || pwm_counts > 255)
        return fail(Error::Kind::OutOfRange, "speed",
                    say("{} is outside 0 to 255 PWM counts", pwm_counts),
                    say("give a count from 0 to 255"));
    return speedsAt(car, {pwm_counts}).map([](const auto &all) { return all.front(); });
}

Result<std::vector<double>> speedTable_mps(const kit::Assembly &car)
{
    std::vector<int> counts(256);
    std::iota(counts.begin(), counts.end(), 0);
    return speedsAt(car, counts).map([](const auto &all) {
        std::vector<double> speeds;
        for (const auto &s : all)
            speeds.push_back(s.value);
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
    if (driveServo(car)) {
        constexpr double holds_s = 0.1; // a choice of ours: its gears hold as soon as it is told
        return SourcedRoll{
            {holds_s, 1.0, kit::RollLaw::Electrical},
            say("speed × {}, a choice of ours for a servo, whose gears hold; not measured",
                quantity(holds_s, Unit::Millisecond, 0)),
            false};
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
