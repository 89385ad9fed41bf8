// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/workshop/budget.h"

#include "core/rules/interpreter.h"
#include "core/rules/table.h"
#include "core/units/quantity.h"

#include <cmath>
#include <fmt/format.h>
#include <fmt/ranges.h>

namespace badger::workshop
{

using units::formatShort;
using units::Unit;

namespace
{

struct StopRule {
    const rules::Value *value = nullptr;
    const rules::State *state = nullptr;
};

StopRule stopRule(const rules::Program &program)
{
    StopRule farthest;
    const auto through = [&](const std::vector<rules::Rule> &all) {
        for (const auto &rule : all) {
            const auto *to = program.state(rule.go);
            if (to == nullptr || rules::actOf(to->motion) == rules::Act::Go)
                continue;
            for (const auto &c : rule.when) {
                const bool nearer =
                    c.compare == rules::Compare::Less || c.compare == rules::Compare::LessOrEqual;
                const auto *v = program.value(c.value);
                if (!nearer || v == nullptr)
                    continue;
                if (farthest.value == nullptr ||
                    v->si.value_or(0.0) > farthest.value->si.value_or(0.0))
                    farthest = {v, to};
            }
        }
    };
    through(program.everywhere);
    for (const auto &s : program.states)
        through(s.rules);
    return farthest;
}

} // namespace

const rules::Value *stopValue(const rules::Program &program)
{
    return stopRule(program).value;
}
const rules::State *stopState(const rules::Program &program)
{
    return stopRule(program).state;
}

const rules::State *goState(const rules::Program &program)
{
    for (const auto &s : program.states)
        if (rules::actOf(s.motion) == rules::Act::Go)
            return &s;
    return nullptr;
}

Result<const parts::Part *> rangerOf(const kit::Car &car, const parts::Catalogue &catalogue,
                                     const rules::Reading &reading)
{
    const auto *fitted = car.instance(reading.instance);
    const auto *part = fitted ? catalogue.find(fitted->partId) : nullptr;
    if (part == nullptr || part->kind != parts::Kind::Ranger || !fitted->mount)
        return fail(Error::Kind::Missing, "car '" + car.name + "'",
                    fmt::format("there is no mounted ranger '{}' for the reading '{}'",
                                reading.instance, reading.name),
                    "fit a ranger of that name and say where it sits");
    // Farther round it does not look ahead any more: what it reads is no gap in front of the car.
    constexpr double ahead_rad = 0.19; // 11 degrees
    if (std::abs(fitted->mount->yaw_rad) > ahead_rad)
        return fail(Error::Kind::OutOfRange, "car '" + car.name + "'",
                    fmt::format("the ranger '{}' looks {} to the side, not ahead", reading.instance,
                                units::formatShort(std::abs(fitted->mount->yaw_rad),
                                                   units::Unit::Degree, 0)),
                    "turn it ahead, or read another ranger");
    return part;
}

namespace
{

struct Shape {
    const rules::Reading *reading;
    const rules::Value *stop;
    const rules::State *stops;
    const rules::State *goes;
};

Result<Shape> shapeOf(const rules::Program &program)
{
    const auto where = "program '" + program.name + "'";
    if (program.readings.empty())
        return fail(Error::Kind::Missing, where, "it reads nothing", "add a reading");
    if (const auto t = rules::table(program, program.readings.front().name); !t)
        return tl::unexpected(t.error());
    const auto stop = stopRule(program);
    const auto *goes = goState(program);
    if (stop.value == nullptr || goes == nullptr)
        return fail(Error::Kind::Missing, where, "no rule stops the car on the way ahead",
                    "add a rule that stops nearer than a distance");
    return Shape{&program.readings.front(), stop.value, stop.state, goes};
}

std::string passWords(const rules::PassTime &pass)
{
    std::vector<std::string> parts;
    for (const auto &t : pass.terms)
        if (t.longest_s > 0.0)
            parts.push_back(
                fmt::format("{} {}", formatShort(t.longest_s, Unit::Millisecond, 1), t.name));
    return fmt::format("a pass at its longest: {}", fmt::join(parts, " + "));
}

std::vector<SumTerm> sumTerms(const CarBudget &b, const kit::Car &car, const parts::Part &ranger)
{
    std::vector<SumTerm> terms;
    for (const auto &t : b.budget.terms) {
        SumTerm term{t.key, t.name, t.how, {}, t.worst_m, t.typical_m};
        if (t.key == "latency")
            term.from = fmt::format("speed {}; {}", b.speed.from, passWords(b.pass));
        else if (t.key == "roll_out")
            term.from = b.roll.from;
        else if (t.key == "sensor_error" && car.calibrations.ruler)
            term.from = fmt::format("ruler check of {} pairs, {}", car.calibrations.ruler->pairs,
                                    car.calibrations.ruler->under.date);
        else if (t.key == "sensor_error")
            term.from = "part data: " + ranger.figure("error_m")->source;
        else
            term.from = "where the ranger sits behind the foremost point";
        terms.push_back(std::move(term));
    }
    return terms;
}

} // namespace

Result<CarBudget> budgetOf(const parts::Catalogue &catalogue, const kit::Car &car,
                           const rules::Program &program)
{
    const auto shape = shapeOf(program);
    if (!shape)
        return tl::unexpected(shape.error());
    const auto ranger = rangerOf(car, catalogue, *shape->reading);
    if (!ranger)
        return tl::unexpected(ranger.error());

    CarBudget b;
    b.valueName = shape->stop->name;
    b.brakes = shape->stops->motion.wheels != rules::Wheels::Coast;
    b.pwm_counts =
        static_cast<int>(std::lround(*program.value(shape->goes->motion.left.speed)->si));
    const auto speed = drive::speedAt(car, catalogue, b.pwm_counts);
    const auto roll = drive::rollOutOf(car, catalogue, b.brakes);
    if (!speed || !roll)
        return tl::unexpected(speed ? roll.error() : speed.error());
    b.speed = *speed;
    b.roll = *roll;
    b.pass = rules::passTime(program, (*ranger)->figure("dead_zone_m")->typical);

    b.setup.threshold_m = *shape->stop->si;
    b.setup.speed_mps = b.speed.value;
    b.setup.loop_s = b.pass.longest_s;
    b.setup.rollOut_m = drive::rollOut_m(b.roll.curve, b.speed.value);
    b.setup.sensorError_m = car.calibrations.ruler ? car.calibrations.ruler->error_m
                                                   : (*ranger)->figure("error_m")->typical;
    b.setup.setBack_m = car.instance(shape->reading->instance)->mount->setBack_m;
    b.setup.medianOf = shape->reading->medianOf;
    const auto budget = drive::stopBudget(b.setup);
    if (!budget)
        return tl::unexpected(budget.error());
    b.budget = *budget;
    b.terms = sumTerms(b, car, **ranger);
    if (const auto bands = rules::bands(program, shape->reading->name))
        b.edge_m = rules::effectiveEdge_m(program, *bands);
    if (car.wantedGap_m) {
        const auto least = drive::leastThreshold_m(b.setup, *car.wantedGap_m);
        const auto greatest = drive::greatestSpeed_mps(b.setup, b.roll.curve, *car.wantedGap_m);
        if (!least || !greatest)
            return tl::unexpected(least ? greatest.error() : least.error());
        b.leastThreshold_m = *least;
        b.greatestSpeed_mps = *greatest;
    }
    return b;
}

std::vector<OtherWay> otherWays(const parts::Catalogue &catalogue, const kit::Car &car,
                                const rules::Program &program)
{
    const auto *stop = stopState(program);
    if (stop == nullptr || program.readings.empty())
        return {};
    const auto with = [&](rules::Wheels wheels, int medianOf) {
        auto other = program;
        for (auto &s : other.states)
            if (s.name == stop->name)
                s.motion.wheels = wheels;
        other.readings.front().medianOf = medianOf;
        return other;
    };
    const auto wheels = stop->motion.wheels;
    const int median = program.readings.front().medianOf;
    std::vector<OtherWay> ways;
    for (const auto &[name, other] : {std::pair{"brake", with(rules::Wheels::Brake, median)},
                                      {"coast", with(rules::Wheels::Coast, median)},
                                      {"one reading", with(wheels, 1)},
                                      {"median of 3", with(wheels, 3)}}) {
        const auto b = budgetOf(catalogue, car, other);
        if (b)
            ways.push_back({name, b->budget.worstGap_m, other == program, b->roll.measured});
    }
    return ways;
}

Result<trial::Setup> trialSetup(const parts::Catalogue &catalogue, const kit::Car &car,
                                const rules::Program &program, const floor::Floor &floor)
{
    const auto shape = shapeOf(program);
    if (!shape)
        return tl::unexpected(shape.error());
    const auto ranger = rangerOf(car, catalogue, *shape->reading);
    const auto brake = drive::rollOutOf(car, catalogue, true);
    const auto coast = drive::rollOutOf(car, catalogue, false);
    if (!ranger)
        return tl::unexpected(ranger.error());
    if (!brake || !coast)
        return tl::unexpected(brake ? coast.error() : brake.error());

    trial::Setup setup;
    setup.floor = floor;
    auto &m = setup.car;
    m.geometry = car.geometry;
    auto speeds = drive::speedTable_mps(car, catalogue);
    if (!speeds)
        return tl::unexpected(speeds.error());
    m.speed_mps = std::move(*speeds);
    const auto *motor = kit::firstOf(car, catalogue, parts::Kind::Motor);
    m.rise_s = catalogue.find(motor->partId)->figure("rise_s")->typical;
    m.brakeRoll = brake->curve;
    m.coastRoll = coast->curve;
    m.ranger = shape->reading->instance;
    m.mount = *car.instance(shape->reading->instance)->mount;
    const auto of = [&](const char *key) { return (*ranger)->figure(key)->typical; };
    m.cosHalfAngle = std::cos(of("half_angle_rad"));
    m.deadZone_m = of("dead_zone_m");
    m.range_m = of("range_m");
    m.noEchoHold_s = of("no_echo_hold_s");
    m.rangerError_m = car.calibrations.ruler ? car.calibrations.ruler->error_m : of("error_m");
    m.rangerNoise_m = of("noise_m");
    m.lostEchoShare = of("lost_echo_share");
    // What varies from run to run on one car, after its straightness was trimmed: choices of ours
    // until trials of the car itself say more.
    m.speedSpread = 0.02;
    m.wheelSpread = 0.002;
    m.rollSpread = 0.06;
    return setup;
}

Result<trial::Trial> runTrial(const parts::Catalogue &catalogue, const kit::Car &car,
                              const rules::Program &program, const floor::Floor &floor,
                              std::uint64_t seed)
{
    const auto setup = trialSetup(catalogue, car, program, floor);
    if (!setup)
        return tl::unexpected(setup.error());
    rules::Interpreter firmware(program);
    return trial::run(*setup, firmware, seed);
}

} // namespace badger::workshop
