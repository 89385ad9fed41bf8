// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/window/scene_run.h"

#include "core/base/noise.h"
#include "core/judge/budget.h"
#include "core/world/world.h"

#include <algorithm>
#include <cmath>

namespace badger::window
{

namespace
{

/// A car that has stopped is looked at so much longer: it might drive on.
constexpr double afterRest_s = 2.0;

std::uint64_t hashOf(const Row &row)
{
    std::uint64_t hash = 14695981039346656037ULL; // FNV-1a
    const auto mix = [&](const std::string &text) {
        for (const unsigned char c : text + ";") {
            hash ^= c;
            hash *= 1099511628211ULL;
        }
    };
    mix(row.kind);
    for (const auto &[key, value] : row.set)
        mix(key + "=" + value);
    for (const auto &[key, range] : row.drawn)
        mix(key + "=" + std::to_string(range.low) + ".." + std::to_string(range.high));
    return hash;
}

Range factors(const parts::Part &part, const char *figure)
{
    const auto *f = part.figure(figure);
    if (f == nullptr || !(f->typical > 0.0))
        return {1.0, 1.0};
    return {f->low / f->typical, f->high / f->typical};
}

/// n in binary, read backwards behind the point: the first n are even over 0 to 1 at every n.
double evenly(std::uint64_t n)
{
    double at = 0.0;
    double half = 0.5;
    for (; n != 0; n >>= 1, half *= 0.5)
        at += double(n & 1) * half;
    return at;
}

arena::Pose ahead(const arena::Pose &pose, double way_m)
{
    return {pose.at + way_m * pose.looks, pose.looks};
}

/// How far the car can go straight on, and where something stands beside that way that it gets
/// past: nearer than `beside_m`, and clearer by a fifth before and behind it.
struct Way {
    double free_m = 0.0;
    std::optional<double> gate_m;
};
Way wayAhead(const world::Plan &plan)
{
    constexpr double lookAhead_m = 6.0;
    constexpr double beside_m = 0.3;
    constexpr double behind_m = 0.3;
    constexpr double step_m = 0.01;
    Way way;
    std::vector<double> clear_m;
    const auto &outline = plan.on->model().outline;
    const auto inPlan = [&](const arena::Pose &pose) {
        return plan.arena.size.x <= 0.0 ||
               (pose.at.x >= 0.0 && pose.at.y >= 0.0 && pose.at.x <= plan.arena.size.x &&
                pose.at.y <= plan.arena.size.y);
    };
    for (; way.free_m < lookAhead_m; way.free_m += step_m) {
        const auto pose = ahead(plan.start, way.free_m);
        const double near_m = arena::nearest(plan.arena, outline, pose, 0.0).distance_m;
        if (near_m <= world::skin_m || !inPlan(pose))
            break;
        clear_m.push_back(near_m);
    }
    const auto last = clear_m.size() - std::min(clear_m.size(), size_t(behind_m / step_m));
    if (last < 3)
        return way;
    const auto least = std::min_element(clear_m.begin(), clear_m.begin() + long(last));
    const double before = *std::max_element(clear_m.begin(), least + 1);
    const double after = *std::max_element(least, clear_m.begin() + long(last));
    if (*least < beside_m && *least < 0.8 * before && *least < 0.8 * after)
        way.gate_m = double(least - clear_m.begin()) * step_m;
    return way;
}

} // namespace

bool takesKeys(const rules::Program &program)
{
    return std::any_of(program.readings.begin(), program.readings.end(),
                       [](const rules::Reading &r) { return r.source == rules::Source::Key; });
}

Unmeasured unmeasuredOf(const kit::Assembly &car, const rules::Program &program)
{
    Unmeasured u;
    const auto *motor = car.first(parts::Kind::Motor);
    const auto *part = motor ? car.part(*motor) : nullptr;
    int counts = 255;
    if (const auto *go = judge::goState(program))
        if (const auto *v = program.value(go->motion.left.speed); v && v->si)
            counts = static_cast<int>(std::lround(*v->si));
    const auto speed = drive::speedAt(car, counts);
    if (part && speed && !speed->measured) {
        u.speed = factors(*part, "no_load_rpm");
        u.names.push_back(say("speed"));
    }
    const auto roll = drive::rollOutOf(car, true);
    if (part && roll && !roll->measured) {
        u.roll = factors(*part, "rise_s");
        u.names.push_back(say("roll-out"));
    }
    return u;
}

Result<std::unique_ptr<Places>> Places::make(const Question &question, const Handle &handle)
{
    std::unique_ptr<Places> p(new Places(question, handle));
    const auto &course = question.course;
    auto now = oncar::ProgramOnCar::make(p->m_car, *course.program, course.records);
    if (!now)
        return tl::unexpected(now.error());
    p->m_now = std::move(*now);
    p->m_unmeasured = unmeasuredOf(p->m_car, *course.program);
    if (question.speedKnown)
        p->m_unmeasured.speed = {1.0, 1.0};
    if (question.rollKnown)
        p->m_unmeasured.roll = {1.0, 1.0};
    constexpr double unknownWay_m = 0.03;
    const auto budget = judge::budgetOf(p->m_car, *course.program);
    p->m_wayOfPass_m = budget ? budget->setup.speed_mps * budget->setup.loop_s : unknownWay_m;
    return p;
}

const oncar::ProgramOnCar *Places::at(size_t place)
{
    auto &p = m_places[place];
    std::call_once(p.once, [&] {
        const auto &course = m_question.course;
        p.program = with(*course.program, m_handle.value, m_handle.at[place]);
        if (auto on = m_now->withProgram(p.program, course.records))
            p.on = std::move(*on);
    });
    return p.on ? &*p.on : nullptr;
}

SceneRuns::SceneRuns(Places &places, const Row &row, task::Kind task)
    : m_places(places), m_row(row), m_task(task), m_key(hashOf(row))
{
}

std::uint64_t SceneRuns::seedOf(std::uint64_t number) const
{
    return Noise(m_places.question().seed ^ m_key ^ (number * 0x9E3779B97F4A7C15ULL)).bits();
}

bool SceneRuns::isFixed() const
{
    return std::all_of(m_row.drawn.begin(), m_row.drawn.end(), [](const auto &d) {
        return d.first == "charge" || d.first == "speed" || d.first == "wheels";
    });
}

/// What the runs of all rows have in common. A person who drives holds ahead all the time.
world::Conditions SceneRuns::shared() const
{
    world::Conditions c;
    c.noise = m_places.question().noise;
    c.endAtContact = true;
    c.lasts_s = m_lasts_s;
    c.afterRest_s = m_task == task::Kind::Stops ? afterRest_s : 0.0;
    if (takesKeys(m_places.now().program()))
        c.keys = {{0, rules::Command::Ahead}};
    return c;
}

Result<world::Plan> SceneRuns::planOf(const oncar::ProgramOnCar &on, std::uint64_t number) const
{
    const auto &q = m_places.question();
    const auto scene = sceneOf(m_row, *q.course.floor, shared(), seedOf(number));
    if (!scene)
        return tl::unexpected(scene.error());
    return world::planFor(on, scene->floor, scene->conditions);
}

/// What differs from run to run on one plan: the phase of the first ping (the start is so much
/// farther back), the car of this run.
void SceneRuns::vary(world::Plan &plan, std::uint64_t number)
{
    const auto &q = m_places.question();
    Noise noise(seedOf(number) ^ 0x636172ULL);
    const double phase = q.noise ? noise.uniform() : evenly(number);
    m_setBack_m = phase * m_places.wayOfPass_m();
    plan.start = ahead(m_start, -m_setBack_m);
    auto &c = plan.conditions;
    c.drawn = {};
    if (q.noise) {
        const auto &u = m_places.unmeasured();
        c.drawn.speed = u.speed.low + (u.speed.high - u.speed.low) * noise.uniform();
        c.drawn.roll = u.roll.low + (u.roll.high - u.roll.low) * noise.uniform();
    }
    const auto draw = [&](const char *key) {
        const auto it = m_row.drawn.find(key);
        return it == m_row.drawn.end()
                   ? std::optional<double>()
                   : it->second.low + (it->second.high - it->second.low) * noise.uniform();
    };
    if (const auto charge = draw("charge"))
        c.chargeUsed = *charge;
    if (const auto speed = draw("speed"))
        c.drawn.speed *= *speed;
    if (const auto wheels = draw("wheels"))
        c.drawn.wheels[1] = *wheels;
}

Result<void> SceneRuns::begin()
{
    auto plan = planOf(m_places.now(), 0);
    if (!plan)
        return tl::unexpected(plan.error());
    const auto way = wayAhead(*plan);
    m_gate_m = way.gate_m;
    constexpr double lasting_s = 20.0;
    m_lasts_s = lasting_s;
    if (m_task == task::Kind::Stops) {
        // Long enough for the slowest to come to what stands ahead.
        constexpr double least_mps = 0.05;
        double slowest_mps = least_mps;
        if (const auto *go = judge::goState(m_places.now().program()))
            if (const auto *v = m_places.now().program().value(go->motion.left.speed); v && v->si) {
                const auto &model = m_places.now().model();
                const auto counts = static_cast<size_t>(std::clamp(*v->si, 0.0, 255.0));
                const auto charge = m_row.drawn.find("charge");
                const double used = charge == m_row.drawn.end() ? 0.0 : charge->second.high;
                const double share = (1.0 - used * (1.0 - model.charge.emptyShare)) *
                                     m_places.unmeasured().speed.low;
                slowest_mps = std::max(least_mps, 0.85 * share * model.wheels.speed_mps[0][counts]);
            }
        m_lasts_s = std::clamp(way.free_m / slowest_mps + 2.0 * afterRest_s, 4.0, 60.0);
    }
    return {};
}

std::optional<Went> SceneRuns::drive(size_t place, std::uint64_t number)
{
    if (m_place != place || !isFixed()) {
        const auto *on = m_places.at(place);
        if (on == nullptr)
            return std::nullopt;
        auto plan = planOf(*on, number);
        if (!plan)
            return std::nullopt;
        m_outcomes.reset();
        m_plan = std::make_unique<world::Plan>(std::move(*plan));
        m_start = m_plan->start;
        m_outcomes = std::make_unique<task::Outcomes>(*m_plan, m_task);
        m_place = place;
    }
    vary(*m_plan, number);
    const auto o = m_outcomes->of(seedOf(number));
    const auto &q = m_places.question();
    Went went;
    went.nearest_m = o.nearest_m;
    went.end_s = o.rest_s.value_or(double(o.end_us) * 1e-6);
    went.touch = o.first;
    went.fell = o.fell.has_value();
    const bool leftLine =
        m_task == task::Kind::FollowsLine && (o.losses > 0 || o.end == world::End::LeftPlan);
    went.lost = leftLine;
    went.event = o.touches > 0 || o.fell || leftLine || (q.want_m > 0.0 && o.nearest_m < q.want_m);
    constexpr double away_m = 0.3;
    switch (m_task) {
    case task::Kind::Stops:
        went.job = m_gate_m ? o.farthest_m >= *m_gate_m + m_setBack_m
                            : o.moved && (o.rest_s.has_value() || o.touches > 0);
        break;
    case task::Kind::KeepsMoving:
        went.job = o.farthest_m >= away_m && o.end != world::End::LeftPlan;
        break;
    case task::Kind::Holds:
        went.job = o.held_m && o.heldShare > 0.8;
        break;
    case task::Kind::FollowsLine:
        went.job = o.farthest_m >= away_m;
        break;
    case task::Kind::StaysOnTable:
        went.job = o.moved && o.farthest_m >= 0.5 * away_m;
        break;
    }
    return went;
}

Result<Replay> replayOf(const Question &question, const Handle &handle, const Row &row,
                        task::Kind task, size_t place, std::uint64_t number)
{
    const auto places = Places::make(question, handle);
    if (!places)
        return tl::unexpected(places.error());
    SceneRuns runs(**places, row, task);
    if (const auto ok = runs.begin(); !ok)
        return tl::unexpected(ok.error());
    const auto as = runs.asDriven(place, number);
    if (!as)
        return tl::unexpected(as.error());
    Replay r{question.course, as->conditions, runs.seedOf(number)};
    r.course.program = std::make_shared<rules::Program>(
        with(*question.course.program, handle.value, handle.at[place]));
    r.course.floor = std::make_shared<floor::Floor>(as->floor);
    return r;
}

Result<Scene> SceneRuns::asDriven(size_t place, std::uint64_t number)
{
    const auto &q = m_places.question();
    auto scene = sceneOf(m_row, *q.course.floor, shared(), seedOf(number));
    if (!scene)
        return scene;
    if (!drive(place, number))
        return fail(Error::Kind::Conflict, say("value '{}'", q.value),
                    say("the program cannot be so"), say("choose another place"));
    scene->conditions = m_plan->conditions;
    scene->conditions.endAtContact = false;
    scene->conditions.afterRest_s = 0.0;
    auto &nose = scene->floor.start.nose; // the phase of the first ping
    nose.x_m -= m_setBack_m * m_start.looks.x;
    nose.y_m -= m_setBack_m * m_start.looks.y;
    return scene;
}

} // namespace badger::window
