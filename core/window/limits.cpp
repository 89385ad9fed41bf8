// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/window/limits.h"

#include "core/base/named.h"
#include "core/judge/budget.h"
#include "core/units/quantity.h"
#include "core/world/words.h"

#include <algorithm>
#include <cmath>

namespace badger::window
{

using units::fixed;
using units::Unit;

namespace
{

double halfWidth_m(const oncar::CarModel &model)
{
    double half = 0.0;
    for (const auto &c : model.outline.corners)
        half = std::max(half, std::abs(c.y));
    return half;
}

Say cm(double m)
{
    return say("{}", fixed(m, Unit::Centimetre, 1));
}

/// A length of a row's floor, as it is fixed; else as the kind has it at first.
double lengthOf(const Row &row, const char *key)
{
    const auto *known = named(floor::generator(row.kind)->keys, key);
    const auto set = row.set.find(key);
    return units::parse(set == row.set.end() ? known->first : set->second, units::Dimension::Length)
        .value_or(0.0);
}

/// Beside a fixed beam: nearer than this its edge no longer covers a post, and how wide the strip
/// is that the car passes through there and the beam does not. Empty where it covers it to the end.
struct Strip {
    double covers_m = 0.0;
    double blind_m = 0.0;
    double side_m = 0.0; ///< of the post's nearer side from the middle line
    double half_rad = 0.0;
};
std::optional<Strip> stripOf(const Row &row, const oncar::CarModel &model)
{
    if (row.kind != "post" || model.rangers.empty() || row.drawn.count("left") != 0 ||
        row.drawn.count("diameter") != 0)
        return std::nullopt;
    Strip strip;
    strip.half_rad = model.rangers.front().halfAngle_rad;
    strip.side_m = std::abs(lengthOf(row, "left")) - lengthOf(row, "diameter") / 2.0;
    strip.blind_m = halfWidth_m(model) - strip.side_m;
    if (strip.side_m <= 0.0 || strip.blind_m <= 0.0 || !(strip.half_rad > 0.0))
        return std::nullopt;
    strip.covers_m = strip.side_m / std::tan(strip.half_rad);
    return strip;
}

/// Of a car that stops: reaction, roll-out, what stands before the ranger; and at a slanted board
/// how much nearer a corner is than what the ranger hears.
Derivation sumOf(const Row &row, const Places &places)
{
    Derivation d;
    const auto &program = places.now().program();
    const auto budget = judge::budgetOf(places.now().car(), program);
    if (!budget)
        return d;
    double sum_m = 0.0;
    for (const auto &term : budget->budget.terms) {
        d.steps.push_back({term.name, cm(term.worst_m), term.how, {}});
        sum_m += term.worst_m;
    }
    const auto angle = row.set.find("angle");
    if (row.kind == "straight" && angle != row.set.end())
        if (const auto rad = units::parse(angle->second, units::Dimension::Angle)) {
            const double half = halfWidth_m(places.now().model());
            const double corner_m = half * std::tan(std::abs(*rad));
            d.steps.push_back({say("corner before the middle"), cm(corner_m),
                               say("{} × tan {}", cm(half), fixed(*rad, Unit::Degree, 0)),
                               say("half the car's width")});
            sum_m += corner_m;
        }
    if (const auto strip = stripOf(row, places.now().model())) {
        d.steps.push_back(
            {say("the beam's edge covers the post from"), cm(strip->covers_m),
             say("{} / tan {}", cm(strip->side_m), fixed(strip->half_rad, Unit::Degree, 1)),
             say("the post's nearer side, the half-angle; a strong echo is heard "
                 "farther aside")});
        sum_m += strip->covers_m;
    }
    d.title = say("what a stop takes here at worst");
    d.result = cm(sum_m);
    return d;
}

} // namespace

bool drivesOn(const SceneRuns &runs, std::uint64_t number)
{
    const auto trace = world::drive(runs.plan(), runs.seedOf(number));
    if (trace.touches.empty())
        return false;
    const auto touched_us = trace.touches.front().time_us;
    constexpr double still_mps = 1e-3;
    bool moved = false;
    std::optional<std::uint64_t> rested_us;
    for (const auto &m : trace.path) {
        const double fastest = std::max(std::abs(m.wheels_mps[0]), std::abs(m.wheels_mps[1]));
        if (m.time_us >= touched_us)
            break;
        moved |= fastest > still_mps;
        if (moved && fastest <= still_mps)
            rested_us = m.time_us;
    }
    return rested_us &&
           std::any_of(trace.pings.begin(), trace.pings.end(), [&](const world::Ping &p) {
               return p.wrong == world::Wrong::DeadZone && p.sent_us < touched_us;
           });
}

std::optional<floor::Bend> lostAt(const SceneRuns &runs, std::uint64_t number)
{
    const auto &plan = runs.plan();
    const auto trace = world::drive(plan, runs.seedOf(number));
    const auto score = task::score(plan, trace, task::Kind::FollowsLine);
    if (score.losses.empty())
        return std::nullopt;
    const auto &loss = score.losses.front();
    const auto &track = plan.arena.tracks[size_t(loss.track)];
    floor::Floor one;
    one.lines.resize(1);
    for (const auto &p : track.points)
        one.lines[0].points.push_back({p.x, p.y});
    one.lines[0].closed = track.closed;
    if (track.closed)
        one.lines[0].points.pop_back();
    // It is lost where it bent: a car that has slipped past a corner is found beyond it.
    constexpr double before_m = 0.25;
    constexpr double every_m = 0.01;
    auto tightest = floor::bendAt(one, 0, loss.along_m);
    for (double back = every_m; back <= before_m; back += every_m) {
        const auto bend = floor::bendAt(one, 0, loss.along_m - back);
        if (bend.radius_m < tightest.radius_m)
            tightest = bend;
    }
    return tightest;
}

void explain(Limit &limit, const SceneRuns &runs, const Row &row, const Places &places)
{
    const auto &model = places.now().model();
    if (limit.touch) {
        const auto part = world::partOf(model, limit.touch->onCar);
        const auto thing = runs.plan().arena.name(limit.touch->thing);
        const auto strip = stripOf(row, model);
        limit.what = limit.drivesOn
                         ? say("it stops inside the dead zone, where readings mean nothing, and "
                               "drives on")
                     : strip ? say("its {} touches {}: a blind strip of {} beside the beam", part,
                                   thing, fixed(strip->blind_m, Unit::Millimetre, 0))
                             : say("its {} touches {}", part, thing);
        limit.why = sumOf(row, places);
        return;
    }
    constexpr double bends_m = 2.0;
    if (limit.lost && limit.lostAt && limit.lostAt->radius_m <= 0.0)
        limit.what = say("it loses the line {} along it, at a sharp corner",
                         fixed(limit.lostAt->along_m, Unit::Metre, 2));
    else if (limit.lost && limit.lostAt && limit.lostAt->radius_m < bends_m)
        limit.what = say("it loses the line {} along it, in a bend of {}",
                         fixed(limit.lostAt->along_m, Unit::Metre, 2),
                         fixed(limit.lostAt->radius_m, Unit::Centimetre, 0));
    else if (limit.lost && limit.lostAt)
        limit.what = say("it loses the line {} along it, where it is straight",
                         fixed(limit.lostAt->along_m, Unit::Metre, 2));
    else if (limit.lost)
        limit.what = say("it loses the line");
    else if (limit.fell)
        limit.what = say("a wheel goes over the edge");
    else if (runs.gate_m())
        limit.what = say("it stays outside: what stands beside the way is heard");
    else
        limit.what = say("it does not do its job often enough");
}

std::vector<Row> proposedFor(const Places &places, task::Kind task)
{
    const auto &model = places.now().model();
    Proposing p;
    p.task = task;
    p.halfWidth_m = halfWidth_m(model);
    p.rangers = !model.rangers.empty();
    const auto looksAhead = [](double yaw_rad) {
        return std::abs(yaw_rad) <= kit::aheadWithin_rad;
    };
    p.ahead = std::any_of(model.rangers.begin(), model.rangers.end(),
                          [&](const auto &r) { return looksAhead(r.yaw_rad); }) ||
              std::any_of(model.eyes.begin(), model.eyes.end(),
                          [&](const auto &e) { return e.level && looksAhead(e.yaw_rad); });
    p.cells = model.charge.usable_C > 0.0;
    return proposedRows(p);
}

} // namespace badger::window
