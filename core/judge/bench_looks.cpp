// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/judge/bench_looks.h"

#include "core/base/angle.h"
#include "core/judge/amounts.h"
#include "core/judge/program_around.h"
#include "core/judge/rule_walk.h"
#include "core/mechanics/horn.h"
#include "core/sense/ultrasonic.h"

#include <algorithm>
#include <cmath>

namespace badger::judge
{

using units::fixed;
using units::number;
using units::quantity;
using units::Unit;

namespace
{

Say us(double s)
{
    return say("{} us", number(s * 1e6, 0));
}

Say mm(double m)
{
    return fixed(m, Unit::Millimetre, 1);
}

Say ms(double s)
{
    return quantity(s, Unit::Millisecond, 0);
}

/// Whole numbers are cut: "n or nearer" and "farther than n" turn at the next number up.
double cutAt(double threshold_m, const rules::Reading &r, rules::Compare compare)
{
    if (r.number != rules::NumberType::Whole)
        return threshold_m;
    const double step_m = units::toSi(1.0, r.unit);
    const auto whole = tune::wholeThreshold(threshold_m, step_m);
    const bool atMost =
        compare == rules::Compare::LessOrEqual || compare == rules::Compare::Greater;
    return atMost ? whole.atMost_m : whole.lessThan_m;
}

void addMarks(EchoLook &look, const rules::Program &program, const rules::Reading &r,
              double assumed_mps)
{
    eachCondition(program, [&](const rules::Condition &c) {
        const auto *value = program.value(c.value);
        if (c.test != rules::Test::Number || c.reading != r.name || value == nullptr ||
            value->kind != rules::ValueKind::Distance || !value->si)
            return;
        const double cut_m = cutAt(*value->si, r, c.compare);
        // "Nearer" and "farther" of one number may turn at the same place: one mark.
        const bool known =
            std::any_of(look.marks.begin(), look.marks.end(), [&](const EchoMark &m) {
                return m.reading == r.name && m.value == c.value && m.cut_m == cut_m;
            });
        if (!known)
            look.marks.push_back({r.name, c.value, c.compare, *value->si,
                                  sense::echoTime_us(*value->si, look.sound_mps) * 1e-6, cut_m,
                                  cut_m * look.sound_mps / assumed_mps});
    });
}

} // namespace

Result<EchoLook> echoLook(const kit::Assembly &car, const rules::Program *program,
                          const std::string &instance, double air_degC)
{
    const auto *fitted = car.find(instance);
    if (fitted == nullptr || fitted->part->kind != parts::Kind::Ranger)
        return fail(Error::Kind::Missing, say("air"), say("'{}' is no ranger of the car", instance),
                    say("choose a ranger"));
    const auto sound = sense::speedOfSound_mps(air_degC);
    if (!sound)
        return tl::unexpected(sound.error());
    EchoLook look;
    look.air_degC = air_degC;
    look.sound_mps = *sound;
    look.leastSpacing_s =
        sense::leastPingSpacing_s(fitted->part->figure("range_m")->typical,
                                  fitted->part->figure("no_echo_hold_s")->typical, *sound);
    if (program == nullptr)
        return look;
    for (const auto &r : program->readings) {
        if (!isEcho(r) || r.instance != instance)
            continue;
        const auto assumed = sense::speedOfSound_mps(r.air_degC.value_or(air_degC));
        if (!assumed)
            continue;
        if (r.air_degC)
            look.assumed_degC = r.air_degC;
        if (r.limit_m) {
            look.limit_m = std::max(look.limit_m.value_or(0.0), *r.limit_m);
            look.timeOut_s = sense::echoTime_us(*look.limit_m, *sound) * 1e-6;
        }
        addMarks(look, *program, r, *assumed);
    }
    return look;
}

Derivation whyEcho(const EchoLook &look)
{
    Derivation d{say("speed of sound"), fixed(look.sound_mps, Unit::MetrePerSecond, 1), {}, {}};
    d.steps.push_back({say("speed of sound"), d.result,
                       say("331.3 × √(1 + {} / 273.15)", number(look.air_degC, 1)),
                       say("the air as it was measured")});
    for (const auto &m : look.marks) {
        d.steps.push_back({say("echo of {}", m.value), us(m.echo_s),
                           say("2 × {} / {}", cmInSum(m.threshold_m, 1), d.result),
                           say("the program's {}", m.value)});
        d.steps.push_back(
            {say("{} turns at", m.value), cmInSum(m.turns_m, 1),
             look.assumed_degC ? say("as the program reckons, × c at {} / c at {}",
                                     quantity(look.air_degC, Unit::Celsius, 0),
                                     quantity(*look.assumed_degC, Unit::Celsius, 0))
                               : say("as the program reckons"),
             m.cut_m != m.threshold_m
                 ? say("whole numbers are cut: it turns where {} are read", cmInSum(m.cut_m, 1))
                 : Say()});
    }
    if (look.timeOut_s)
        d.steps.push_back({say("time-out"), us(*look.timeOut_s),
                           say("2 × {} / {}", cmInSum(look.limit_m.value_or(0.0), 1), d.result),
                           say("the reading's limit")});
    d.steps.push_back({say("from ping to ping"), ms(look.leastSpacing_s),
                       say("the greatest of 40 ms, the way to its range and back + 2 ms, and how "
                           "long it holds its line"),
                       say("the part's data")});
    return d;
}

std::vector<SweepLook> sweepLooks(const kit::Assembly &car, const rules::Program *program,
                                  const std::string &servo, const tune::Record &record)
{
    std::vector<SweepLook> looks;
    const auto *fitted = car.find(servo);
    const auto *figure = fitted ? fitted->part->figure("s_per_60deg") : nullptr;
    if (program == nullptr || figure == nullptr)
        return looks;
    const auto timed = tune::dwellOf(record);
    const bool known = timed && timed->settle_s;
    const double for60_s = known ? timed->for60_s : figure->typical;
    const double settle_s = known ? std::max(0.0, *timed->settle_s) : servoSettles_s;
    for (const auto &r : program->readings) {
        if (!r.swivel || r.swivel->servo != servo || r.swivel->angles_deg.empty())
            continue;
        const auto &at = r.swivel->angles_deg;
        SweepLook look{r.name, {}, {}};
        double widest = 0.0;
        for (size_t i = 1; i < at.size(); ++i) {
            const double step = std::abs(at[i] - at[i - 1]) / 60.0 * for60_s + settle_s;
            widest = std::max(widest, step);
            look.needed.wholeSweep_s += step;
        }
        // A single look comes from straight ahead.
        const double back =
            at.size() > 1 ? std::abs(at.back() - at.front()) : std::abs(at.front() - 90.0);
        look.needed.step_s = widest;
        look.needed.flyBack_s = back / 60.0 * for60_s + settle_s;
        look.needed.wholeSweep_s += look.needed.flyBack_s;
        if (const auto *value = program->value(r.swivel->dwell))
            look.dwell_s = value->si;
        looks.push_back(std::move(look));
    }
    return looks;
}

Derivation whyHornRecord(const kit::Assembly &car, const rules::Program *program,
                         const tune::Record &record)
{
    Derivation d;
    const auto *fitted = car.find(record.instance);
    const auto *teeth = fitted ? fitted->part->figure("spline_teeth") : nullptr;
    if (record.chosen && teeth != nullptr)
        d = mechanics::whyHorn(static_cast<int>(std::lround(teeth->typical)),
                               *record.chosen * degree);
    else
        d.title = say("dwell");
    if (const auto timed = tune::dwellOf(record)) {
        d.steps.push_back({say("60° take"), ms(timed->for60_s),
                           timed->settle_s ? say("the slope of time over angle")
                                           : say("one angle: settling is in it"),
                           say("{0} {0|step|steps} timed", static_cast<long>(timed->steps))});
        if (timed->settle_s)
            d.steps.push_back({say("settling"), ms(*timed->settle_s),
                               say("what is left at no angle"), record.basis.date});
    }
    for (const auto &s : sweepLooks(car, program, record.instance, record)) {
        const auto asked = s.dwell_s ? say("the program waits {}", ms(*s.dwell_s)) : Say();
        if (s.needed.step_s > 0.0)
            d.steps.push_back({say("{}: a step needs", s.reading), ms(s.needed.step_s),
                               say("angle / 60° × time + settling"), asked});
        d.steps.push_back({say("{}: the way back needs", s.reading), ms(s.needed.flyBack_s),
                           say("angle / 60° × time + settling"), asked});
    }
    if (d.result.empty() && !d.steps.empty())
        d.result = d.steps.front().value;
    return d;
}

std::optional<EdgeLook> edgeLook(const kit::Assembly &car, const rules::Program *program)
{
    const kit::Mount *mount = nullptr;
    double lag_s = -1.0;
    for (const auto &f : car.fitted()) {
        const auto kind = f.part->kind;
        if ((kind == parts::Kind::Reflectance || kind == parts::Kind::Infrared ||
             kind == parts::Kind::Strip) &&
            mount == nullptr)
            mount = kit::mountOf(car.car(), *f.instance);
        if (const auto *rise = kind == parts::Kind::Motor ? f.part->figure("rise_s") : nullptr)
            lag_s = std::max(lag_s, rise->typical);
    }
    if (mount == nullptr || lag_s < 0.0)
        return std::nullopt;
    EdgeLook look;
    look.ahead_m = car->geometry.axleToNose_m - mount->setBack_m;
    look.lag_s = lag_s;
    if (program != nullptr)
        if (const auto *wait = program->value(program->passWait); wait && wait->si)
            look.delay_s = *wait->si;
    if (look.ahead_m <= 0.0 || look.lag_s + look.delay_s <= 0.0)
        return std::nullopt;
    look.fastest_mps = look.ahead_m / (look.lag_s + look.delay_s);
    return look;
}

Derivation whyLine(const kit::Assembly &car, const rules::Program *program,
                   const tune::Record &record)
{
    const auto look = tune::lineOf(record);
    if (!look)
        return {};
    using Kind = tune::LineLook::Kind;
    const auto from = say("measured on {}", record.basis.date);
    Derivation d{say("slack to either side"), mm(look->slack_m.value_or(0.0)), {}, {}};
    const auto &at = look->sensors_m;
    if (look->kind == Kind::Straddle) {
        d.steps.push_back({say("gap"), mm(at.back() - at.front()),
                           say("{} − ({})", mm(at.back()), mm(at.front())), from});
        d.steps.push_back({say("− line"), mm(look->line_m), {}, from});
        d.steps.push_back({say("= slack"), d.result, say("(gap − line) / 2"), {}});
    } else if (look->kind != Kind::Edge) {
        const double a = (at[2] - at[1]) / 2.0;
        const double b = (at[3] - at[0]) / 2.0;
        d.steps.push_back({say("inner sensors"), mm(a), {}, from});
        d.steps.push_back({say("outer sensors"), mm(b), {}, from});
        if (look->kind == Kind::Lane) {
            const double half = look->room_m.value_or(0.0) / 2.0;
            d.steps.push_back({say("half the room"), mm(half), {}, from});
            d.steps.push_back(
                {say("= slack"),
                 d.result,
                 say("the lesser of {} − {} and {} − {}", mm(half), mm(a), mm(b), mm(half)),
                 {}});
            d.steps.push_back(
                {say("the wrong line"), mm(half + a), say("{} + {}", mm(half), mm(a)), {}});
        } else {
            d.steps.push_back({say("half the line"), mm(look->line_m / 2.0), {}, from});
            d.steps.push_back(
                {say("= slack"), d.result, say("from its edge to the nearest sensor"), {}});
        }
    } else if (look->spot_m) {
        d.title = say("full steering from");
        d.result = mm(*look->spot_m / 2.0);
        d.steps.push_back({say("half the spot"), d.result, say("{} / 2", mm(*look->spot_m)), from});
    }
    if (const auto edge = edgeLook(car, program); edge && look->kind == Kind::Edge)
        d.steps.push_back(
            {say("stable below"), fixed(edge->fastest_mps, Unit::MetrePerSecond, 2),
             say("{} / ({} + {})", mm(edge->ahead_m), ms(edge->lag_s), ms(edge->delay_s)),
             say("sensor before the axle, motors' lag, the program's pause; at low gain")});
    return d;
}

Derivation whyLamp(const tune::Record &record)
{
    const auto look = tune::lampOf(record);
    if (!look)
        return {};
    auto d = tune::whySurfaces(look->clouds);
    if (look->light_ohm && look->dark_ohm) {
        const auto ohm = [](double r) { return quantity(r, Unit::Ohm, 0); };
        const auto how = look->clouds.lightReadsHigh ? say("partner × (1023 − counts) / counts")
                                                     : say("partner × counts / (1023 − counts)");
        d.steps.push_back({say("bright"), ohm(*look->light_ohm), how,
                           say("mean {}", number(look->clouds.light.mean, 0))});
        d.steps.push_back({say("shaded"), ohm(*look->dark_ohm), how,
                           say("mean {}", number(look->clouds.dark.mean, 0))});
        d.steps.push_back({say("best partner"), ohm(std::sqrt(*look->light_ohm * *look->dark_ohm)),
                           say("√(bright × shaded)"), say("fitted {}", ohm(*look->partner_ohm))});
    }
    return d;
}

Derivation whyTrimmer(const tune::Record &record)
{
    const auto set = tune::trimmerSettingOf(record);
    if (!set)
        return {};
    const auto percent = [](double share) { return say("{} %", number(share * 100.0, 1)); };
    const double low = set->position - set->margin;
    const double high = set->position + set->margin;
    return {say("place of the trimmer"),
            percent(set->position),
            {{say("one surface changes at"), percent(low), {}, record.basis.date},
             {say("the other at"), percent(high), {}, record.basis.date},
             {say("= half way"), percent(set->position),
              say("({} + {}) / 2", percent(low), percent(high)),
              say("{} to either side; its reference is that share of its supply",
                  percent(set->margin))}},
            {}};
}

} // namespace badger::judge
