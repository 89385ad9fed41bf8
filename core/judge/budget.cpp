// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/judge/budget.h"
#include "core/machine/firmware.h"

#include "core/base/named.h"
#include "core/rules/table.h"
#include "core/units/quantity.h"

#include <cmath>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <functional>

namespace badger::judge
{

using units::quantity;
using units::Unit;

namespace
{

/// The farthest of the distances that a rule compares on its way to a state that does not go ahead.
StopRule farthest(const rules::Program &program,
                  const std::function<bool(const rules::Reading &)> &counts)
{
    StopRule best;
    const auto through = [&](const std::vector<rules::Rule> &all) {
        for (const auto &rule : all) {
            const auto *to = program.state(rule.go);
            if (to == nullptr || rules::actOf(to->motion) == rules::Act::Go)
                continue;
            for (const auto &c : rule.when) {
                const bool nearer =
                    c.compare == rules::Compare::Less || c.compare == rules::Compare::LessOrEqual;
                const auto *v = program.value(c.value);
                const auto *r = program.reading(c.reading);
                if (!nearer || v == nullptr || r == nullptr || !counts(*r))
                    continue;
                if (best.value == nullptr || v->si.value_or(0.0) > best.value->si.value_or(0.0))
                    best = {v, to, r, c.compare == rules::Compare::LessOrEqual};
            }
        }
    };
    through(program.everywhere);
    for (const auto &s : program.states)
        through(s.rules);
    return best;
}

bool looksAside(const kit::Car &car, const rules::Reading &reading)
{
    const auto *fitted = car.instance(reading.instance);
    const auto *mount = fitted ? kit::mountOf(car, *fitted) : nullptr;
    return mount && std::abs(mount->yaw_rad) > kit::aheadWithin_rad;
}

/// Of a reading whose ranger was found.
const kit::Mount &mountOfReading(const kit::Car &car, const rules::Reading &reading)
{
    return *kit::mountOf(car, *car.instance(reading.instance));
}

} // namespace

StopRule stopRule(const rules::Program &program, const kit::Car &car)
{
    const auto ahead =
        farthest(program, [&](const rules::Reading &r) { return !looksAside(car, r); });
    return ahead.value ? ahead : farthest(program, [](const rules::Reading &) { return true; });
}

const rules::State *goState(const rules::Program &program)
{
    for (const auto &s : program.states)
        if (rules::actOf(s.motion) == rules::Act::Go)
            return &s;
    return nullptr;
}

Result<const parts::Part *> rangerOf(const kit::Assembly &car, const rules::Reading &reading)
{
    const auto *fitted = car->instance(reading.instance);
    const auto *part = fitted ? car.part(*fitted) : nullptr;
    if (part == nullptr || part->kind != parts::Kind::Ranger || !kit::mountOf(car.car(), *fitted))
        return fail(Error::Kind::Missing, say("car '") + car->name + "'",
                    say("there is no mounted ranger '{}' for the reading '{}'", reading.instance,
                        reading.name),
                    say("fit a ranger of that name and say where it sits"));
    return part;
}

namespace
{

struct Shape {
    StopRule stop;
    const rules::State *goes;
};

Result<Shape> shapeOf(const rules::Program &program, const kit::Car &car)
{
    const auto where = say("program '") + program.name + "'";
    if (program.readings.empty())
        return fail(Error::Kind::Missing, where, say("it reads nothing"), say("add a reading"));
    for (const auto &ok : {rules::complete(program), rules::forRangersAlone(program)})
        if (!ok)
            return tl::unexpected(ok.error());
    const auto stop = stopRule(program, car);
    const auto *goes = goState(program);
    if (stop.value == nullptr || goes == nullptr)
        return fail(Error::Kind::Missing, where, say("no rule stops the car on the way ahead"),
                    say("add a rule that stops nearer than a distance"));
    if (looksAside(car, *stop.reading))
        return fail(
            Error::Kind::OutOfRange, say("car '") + car.name + "'",
            say("the ranger '{}' looks {} to the side, not ahead", stop.reading->instance,
                quantity(std::abs(mountOfReading(car, *stop.reading).yaw_rad), Unit::Degree, 0)),
            say("turn it ahead, or read another ranger"));
    return Shape{stop, goes};
}

std::map<std::string, rules::PingFigures> pingFigures(const rules::Program &program,
                                                      const kit::Assembly &car)
{
    std::map<std::string, rules::PingFigures> all;
    for (const auto &r : program.readings)
        if (const auto part = rangerOf(car, r))
            all[r.name] = {(*part)->figure("dead_zone_m")->typical,
                           (*part)->figure("no_echo_hold_s")->typical};
    return all;
}

Say passWords(const rules::PassTime &pass)
{
    std::vector<Say> parts;
    for (const auto &t : pass.terms)
        if (t.longest_s > 0.0)
            parts.push_back(say("{} {}", quantity(t.longest_s, Unit::Millisecond, 1), t.name));
    return say("a pass at its longest: {}", joined(parts, " + "));
}

std::vector<SumTerm> sumTerms(const CarBudget &b, const kit::Car &car, const parts::Part &ranger)
{
    std::vector<SumTerm> terms;
    for (const auto &t : b.budget.terms) {
        SumTerm term{t.key, t.name, t.how, {}, t.worst_m, t.typical_m};
        if (t.key == "latency")
            term.from = say("speed {}; {}", b.speed.from, passWords(b.pass));
        else if (t.key == "roll_out")
            term.from = b.roll.from;
        else if (t.key == "sensor_error" && car.calibrations.ruler)
            term.from = say("ruler check of {} pairs, {}", car.calibrations.ruler->pairs,
                            car.calibrations.ruler->under.date);
        else if (t.key == "sensor_error")
            term.from = say("part data: ") + ranger.figure("error_m")->source;
        else
            term.from = say("where the ranger sits behind the foremost point");
        terms.push_back(std::move(term));
    }
    return terms;
}

} // namespace

Result<CarBudget> budgetOf(const kit::Assembly &car, const rules::Program &program)
{
    return budgetOf(car, program, pins::speedReach(nets::Nets(car)));
}

Result<CarBudget> budgetOf(const kit::Assembly &car, const rules::Program &program,
                           const pins::Reach &reach)
{
    const auto shape = shapeOf(program, car);
    if (!shape)
        return tl::unexpected(shape.error());
    const auto &stop = shape->stop;
    const auto ranger = rangerOf(car, *stop.reading);
    if (!ranger)
        return tl::unexpected(ranger.error());

    CarBudget b;
    b.valueName = stop.value->name;
    b.reading = stop.reading->name;
    b.inclusive = stop.inclusive;
    b.brakes = stop.state->motion.wheels != rules::Wheels::Coast;
    b.pwm_counts =
        static_cast<int>(std::lround(*program.value(shape->goes->motion.left.speed)->si));
    b.acts_counts = std::max(pins::actingCounts(reach[0].by, b.pwm_counts),
                             pins::actingCounts(reach[1].by, b.pwm_counts));
    const auto speed = drive::speedAt(car, b.acts_counts);
    const auto roll = drive::rollOutOf(car, b.brakes);
    if (!speed || !roll)
        return tl::unexpected(speed ? roll.error() : speed.error());
    b.speed = *speed;
    if (b.acts_counts != b.pwm_counts)
        b.speed.from = say("{} of 255 are asked for, the wires make {} of it; {}", b.pwm_counts,
                           b.acts_counts, b.speed.from);
    b.roll = *roll;
    b.pass = rules::passTime(program, pingFigures(program, car));

    b.setup.threshold_m = *stop.value->si;
    b.setup.speed_mps = b.speed.value;
    b.setup.loop_s = b.pass.longest_s;
    b.setup.rollOut_m = drive::rollOut_m(b.roll.curve, b.speed.value);
    b.setup.sensorError_m = car->calibrations.ruler ? car->calibrations.ruler->error_m
                                                    : (*ranger)->figure("error_m")->typical;
    b.setup.setBack_m = mountOfReading(car.car(), *stop.reading).setBack_m;
    b.setup.medianOf = stop.reading->medianOf;
    const auto budget = drive::stopBudget(b.setup);
    if (!budget)
        return tl::unexpected(budget.error());
    b.budget = *budget;
    b.terms = sumTerms(b, car, **ranger);
    if (const auto bands = rules::bands(program, stop.reading->name))
        b.edge_m = rules::effectiveEdge_m(program, *bands);
    if (car->wantedGap_m) {
        const auto least = drive::leastThreshold_m(b.setup, *car->wantedGap_m);
        const auto greatest = drive::greatestSpeed_mps(b.setup, b.roll.curve, *car->wantedGap_m);
        if (!least || !greatest)
            return tl::unexpected(least ? greatest.error() : least.error());
        b.leastThreshold_m = *least;
        b.greatestSpeed_mps = *greatest;
    }
    return b;
}

std::vector<OtherWay> otherWays(const kit::Assembly &car, const rules::Program &program,
                                const pins::Reach &reach)
{
    const auto stop = stopRule(program, car);
    if (stop.value == nullptr)
        return {};
    const auto with = [&](rules::Wheels wheels, int medianOf) {
        auto other = program;
        for (auto &s : other.states)
            if (s.name == stop.state->name)
                s.motion.wheels = wheels;
        for (auto &r : other.readings)
            if (r.name == stop.reading->name)
                r.medianOf = medianOf;
        return other;
    };
    const auto wheels = stop.state->motion.wheels;
    const int median = stop.reading->medianOf;
    std::vector<OtherWay> ways;
    for (const auto &[name, other] : {std::pair{say("brake"), with(rules::Wheels::Brake, median)},
                                      {say("coast"), with(rules::Wheels::Coast, median)},
                                      {say("one reading"), with(wheels, 1)},
                                      {say("median of 3"), with(wheels, 3)}}) {
        const auto b = budgetOf(car, other, reach);
        if (b)
            ways.push_back({name, b->budget.worstGap_m, other == program, b->roll.measured});
    }
    return ways;
}

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
    const auto shape = shapeOf(program, car);
    if (!shape)
        return tl::unexpected(shape.error());
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
    const auto *motor = car.first(parts::Kind::Motor);
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
