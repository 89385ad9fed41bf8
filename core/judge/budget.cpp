// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/judge/budget.h"

#include "core/judge/approach.h"
#include "core/oncar/program_on_car.h"
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
                if (c.test != rules::Test::Number || !nearer || v == nullptr || r == nullptr ||
                    v->kind != rules::ValueKind::Distance || !counts(*r))
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

Say whereOf(const rules::Program &program)
{
    return say("program '") + program.name + "'";
}

bool readsEchoesAlone(const rules::Program &program)
{
    return std::all_of(program.readings.begin(), program.readings.end(),
                       [](const rules::Reading &r) { return rules::isEcho(r); });
}

/// Why nothing stops it: a program that measures no distance, or never drives ahead, has no budget,
/// and lacks none.
Error noStop(const rules::Program &program)
{
    if (goState(program) == nullptr)
        return {Error::Kind::Conflict, whereOf(program), say("it never drives ahead"),
                say("a stopping budget is of a car that has to stop")};
    if (readsEchoesAlone(program))
        return {Error::Kind::Missing, whereOf(program),
                say("no rule stops the car on the way ahead"),
                say("add a rule that stops nearer than a distance")};
    return {Error::Kind::Conflict, whereOf(program),
            say("no distance that it measures ahead stops it"),
            say("a stopping budget is made of a limit on a ranger that looks ahead")};
}

Error looksToSide(const kit::Car &car, const rules::Reading &reading)
{
    return {Error::Kind::OutOfRange, say("car '") + car.name + "'",
            say("the ranger '{}' looks {} to the side, not ahead", reading.instance,
                quantity(std::abs(mountOfReading(car, reading).yaw_rad), Unit::Degree, 0)),
            say("turn it ahead, or read another ranger")};
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

Say passWords(const rules::PassTime &pass, int looks)
{
    std::vector<Say> parts;
    for (const auto &t : pass.terms)
        if (t.longest_s > 0.0)
            parts.push_back(say("{} {}", quantity(t.longest_s, Unit::Millisecond, 1), t.name));
    const auto sum = joined(parts, " + ");
    return looks > 1 ? say("a whole sweep of {} passes, each at its longest: {}", looks, sum)
                     : say("a pass at its longest: {}", sum);
}

std::vector<SumTerm> sumTerms(const CarBudget &b, const kit::Car &car, const parts::Part &ranger)
{
    std::vector<SumTerm> terms;
    for (const auto &t : b.budget.terms) {
        SumTerm term{t.key, t.name, t.how, {}, t.worst_m, t.typical_m};
        if (t.key == "latency")
            term.from = say("speed {}; {}", b.speed.from, passWords(b.pass, b.looks));
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

/// What a budget can be asked for otherwise than the program has it.
struct How {
    bool brakes = true;
    int medianOf = 1;
};

How howOf(const Approach &approach)
{
    return {std::none_of(
                approach.into.begin(), approach.into.end(),
                [](const rules::State *s) { return s->motion.wheels == rules::Wheels::Coast; }),
            approach.reading->medianOf};
}

/// Of a state that drives ahead: the greater of its wheels' counts.
int countsOf(const rules::Program &program, const rules::State &goes)
{
    int most = 0;
    for (const auto *wheel : {&goes.motion.left, &goes.motion.right})
        if (const auto *v = program.value(wheel->speed); v && v->si)
            most = std::max(most, static_cast<int>(std::lround(*v->si)));
    return most;
}

/// What is left of the counts where the state slows down with the reading: those of the farthest
/// reading that can be the last before the limit, one step of `step_m` earlier.
int slowedCounts(const rules::Program &program, const Approach &a, int counts, double step_m)
{
    const auto &p = a.goes->motion.proportion;
    if (!p || p->follows != rules::Follows::Slow || p->reading != a.reading->name)
        return counts;
    const auto *low = program.value(p->low);
    const auto *high = program.value(p->high);
    if (!low || !high || !low->si || !high->si || *low->si >= *high->si)
        return counts;
    const double share = (*a.value->si + step_m - *low->si) / (*high->si - *low->si);
    return static_cast<int>(std::lround(counts * std::clamp(share, 0.0, 1.0)));
}

/// What the sum is made of; the loop is not in it.
drive::StopSetup setupOf(const CarBudget &b, const kit::Assembly &car, const Approach &at,
                         const How &how, const parts::Part &ranger)
{
    drive::StopSetup setup;
    setup.threshold_m = *at.value->si;
    setup.speed_mps = b.speed.value;
    setup.rollOut_m = drive::rollOut_m(b.roll.curve, b.speed.value);
    setup.sensorError_m = car->calibrations.ruler ? car->calibrations.ruler->error_m
                                                  : ranger.figure("error_m")->typical;
    setup.setBack_m = mountOfReading(car.car(), *at.reading).setBack_m;
    setup.medianOf = how.medianOf;
    setup.inSuccession = at.times;
    return setup;
}

/// Which decision it is.
CarBudget about(const Approach &at)
{
    CarBudget b;
    b.valueName = at.value->name;
    b.reading = at.reading->name;
    b.inclusive = at.inclusive;
    b.state = at.goes->name;
    b.act = rules::actOf(at.into.front()->motion);
    for (const auto *s : at.into)
        b.into.push_back(s->name);
    for (const auto *r : at.unlessSilent)
        b.unlessSilent.push_back(r->name);
    b.looks = at.looks;
    b.edge_m = at.edge_m;
    return b;
}

Result<CarBudget> budgetAt(const kit::Assembly &car, const rules::Program &program,
                           const Approach &at, const pins::Reach &reach, const How &how)
{
    const auto ranger = rangerOf(car, *at.reading);
    if (!ranger)
        return tl::unexpected(ranger.error());
    auto b = about(at);
    b.brakes = how.brakes;
    b.pass = rules::passTime(program, pingFigures(program, car));

    const auto full = countsOf(program, *at.goes);
    const auto speed_at = [&](int counts) {
        b.pwm_counts = counts;
        b.acts_counts = std::max(pins::actingCounts(reach[0].by, counts),
                                 pins::actingCounts(reach[1].by, counts));
        return drive::speedAt(car, b.acts_counts);
    };
    auto speed = speed_at(full);
    const auto roll = drive::rollOutOf(car, b.brakes);
    if (!speed || !roll)
        return tl::unexpected(speed ? roll.error() : speed.error());
    const double loop_s = b.pass.longest_s * at.looks;
    if (const int slower = slowedCounts(program, at, full, speed->value * loop_s); slower < full) {
        b.slows = true;
        speed = speed_at(slower);
        if (!speed)
            return tl::unexpected(speed.error());
    }
    b.speed = *speed;
    if (b.acts_counts != b.pwm_counts)
        b.speed.from = say("{} of 255 are asked for, the wires make {} of it; {}", b.pwm_counts,
                           b.acts_counts, b.speed.from);
    if (b.slows)
        b.speed.from = say("slowed to {} of 255 there; {}", b.pwm_counts, b.speed.from);
    b.roll = *roll;
    if (b.act != rules::Act::Stand)
        b.roll.from = say("as if braked, since it does not roll on; {}", b.roll.from);

    b.setup = setupOf(b, car, at, how, **ranger);
    b.setup.loop_s = loop_s;
    const auto budget = drive::stopBudget(b.setup);
    if (!budget)
        return tl::unexpected(budget.error());
    b.budget = *budget;
    b.terms = sumTerms(b, car, **ranger);
    // A stretch that reaches down to where the ranger reads nothing cannot be driven over.
    const double step_m = b.budget.terms.front().worst_m;
    if (at.from_m > (*ranger)->figure("dead_zone_m")->typical && at.edge_m - at.from_m < step_m)
        b.narrow = CarBudget::Narrow{at.from_m, at.edge_m, step_m};
    if (!car->wantedGap_m)
        return b;
    const auto least = drive::leastThreshold_m(b.setup, *car->wantedGap_m);
    const auto greatest = drive::greatestSpeed_mps(b.setup, b.roll.curve, *car->wantedGap_m);
    if (!least || !greatest)
        return tl::unexpected(least ? greatest.error() : least.error());
    b.leastThreshold_m = *least;
    b.greatestSpeed_mps = *greatest;
    return b;
}

/// One approach with its budget.
struct Decided {
    Approach approach;
    How how;
    CarBudget budget;
};

/// Of each reading the farthest stretch that is not driven over within a pass, of each state the
/// reading with the farthest limit; of all states the one that leaves least.
Result<Decided> decisive(const kit::Assembly &car, const regions::Exact &exact,
                         const pins::Reach &reach)
{
    const auto &program = exact.program();
    if (program.readings.empty())
        return fail(Error::Kind::Missing, whereOf(program), say("it reads nothing"),
                    say("add a reading"));
    if (const auto ok = rules::complete(program); !ok)
        return tl::unexpected(ok.error());
    const auto all = approaches(exact, car);
    if (!all)
        return tl::unexpected(all.error());
    if (all->empty()) {
        const auto aside = approaches(exact, car, true);
        return tl::unexpected(aside && !aside->empty() && readsEchoesAlone(program)
                                  ? looksToSide(car, *aside->front().reading)
                                  : noStop(program));
    }
    std::map<std::pair<std::string, std::string>, Decided> ofReading; // state, reading
    for (const auto &a : *all) {
        const std::pair key(a.goes->name, a.reading->name);
        const auto known = ofReading.find(key);
        if (known != ofReading.end() && !known->second.budget.narrow)
            continue;
        const auto how = howOf(a);
        auto budget = budgetAt(car, program, a, reach, how);
        if (!budget)
            return tl::unexpected(budget.error());
        if (known != ofReading.end())
            budget->narrow = known->second.budget.narrow; // the farther one is driven over
        ofReading[key] = {a, how, std::move(*budget)};
    }
    std::map<std::string, const Decided *> ofState;
    for (const auto &[key, d] : ofReading) {
        auto &best = ofState[key.first];
        if (best == nullptr || d.budget.setup.threshold_m > best->budget.setup.threshold_m)
            best = &d;
    }
    const Decided *worst = nullptr;
    for (const auto &[state, d] : ofState)
        if (worst == nullptr || d->budget.budget.worstGap_m < worst->budget.budget.worstGap_m)
            worst = d;
    return *worst;
}

} // namespace

Result<CarBudget> budgetOf(const kit::Assembly &car, const rules::Program &program)
{
    return budgetOf(car, program, pins::speedReach(nets::Nets(car)));
}

Result<CarBudget> budgetOf(const kit::Assembly &car, const rules::Program &program,
                           const pins::Reach &reach)
{
    if (const auto ok = rules::complete(program); !ok)
        return tl::unexpected(ok.error());
    // Distances of counts matter to no ranger's limits: no calibration is asked.
    return budgetOf(car, regions::Exact(program, oncar::carFacts(car, program, {})), reach);
}

Result<CarBudget> budgetOf(const kit::Assembly &car, const regions::Exact &exact,
                           const pins::Reach &reach)
{
    const auto at = decisive(car, exact, reach);
    if (!at)
        return tl::unexpected(at.error());
    return at->budget;
}

std::optional<StopWay> stopOf(const kit::Assembly &car, const rules::Program &program,
                              const pins::Reach &reach, const rules::State &goes,
                              const rules::State &into)
{
    const int counts = countsOf(program, goes);
    const auto speed = drive::speedAt(car, std::max(pins::actingCounts(reach[0].by, counts),
                                                    pins::actingCounts(reach[1].by, counts)));
    const auto roll = drive::rollOutOf(car, into.motion.wheels != rules::Wheels::Coast);
    if (!speed || !roll)
        return std::nullopt;
    const auto pass = rules::passTime(program, pingFigures(program, car));
    return StopWay{speed->value * pass.longest_s, drive::rollOut_m(roll->curve, speed->value),
                   speed->measured && roll->measured};
}

std::vector<OtherWay> otherWays(const kit::Assembly &car, const regions::Exact &exact,
                                const pins::Reach &reach)
{
    const auto &program = exact.program();
    const auto at = decisive(car, exact, reach);
    if (!at)
        return {};
    const auto now = at->how;
    std::vector<std::pair<Say, How>> all;
    if (at->budget.act == rules::Act::Stand) // nothing else can be braked otherwise
        all = {{say("brake"), {true, now.medianOf}}, {say("coast"), {false, now.medianOf}}};
    all.push_back({say("one reading"), {now.brakes, 1}});
    all.push_back({say("median of 3"), {now.brakes, 3}});
    std::vector<OtherWay> ways;
    for (const auto &[name, how] : all)
        if (const auto b = budgetAt(car, program, at->approach, reach, how))
            ways.push_back({name, b->budget.worstGap_m,
                            how.brakes == now.brakes && how.medianOf == now.medianOf,
                            b->roll.measured});
    return ways;
}

} // namespace badger::judge
