// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/sense/ultrasonic.h"
#include "core/units/quantity.h"
#include "core/world/runs.h"
#include "core/world/trace_recorder.h"

#include <bit>

namespace badger::world
{

Result<Plan> planFor(const oncar::ProgramOnCar &on, const floor::Floor &floor,
                     const Conditions &conditions)
{
    if (!(conditions.lasts_s >= 0.1 && conditions.lasts_s <= 600.0))
        return fail(Error::Kind::OutOfRange, "run",
                    say("{} s is outside 100 ms to 600 s", units::number(conditions.lasts_s, 3)),
                    say("choose a time inside that range"));
    if (!(conditions.chargeUsed >= 0.0 && conditions.chargeUsed <= 1.0))
        return fail(Error::Kind::OutOfRange, "run", say("the used charge is outside 0 to 1"),
                    say("choose a share inside that range"));
    for (size_t i = 1; i < conditions.keys.size(); ++i)
        if (conditions.keys[i].time_us < conditions.keys[i - 1].time_us)
            return fail(Error::Kind::Malformed, "keys", say("their times do not rise"),
                        say("put them in order"));
    auto arena = arena::compile(floor);
    if (!arena)
        return tl::unexpected(arena.error());
    const auto sound = sense::speedOfSound_mps(floor.air_degC);
    if (!sound)
        return tl::unexpected(sound.error());
    Plan plan;
    plan.on = &on;
    plan.arena = std::move(*arena);
    plan.sound_mps = *sound;
    plan.conditions = conditions;
    const auto d = exact::sineCosine(floor.start.heading_rad);
    plan.start.looks = {d.cosine, d.sine};
    if (conditions.reversed) // on the same spot
        plan.start.looks = {-d.cosine, -d.sine};
    for (const auto &v : on.program().values)
        if (v.kind == rules::ValueKind::Distance && v.si)
            plan.cares_m = std::max(plan.cares_m, 1.5 * *v.si);
    const auto &model = on.model();
    plan.start.at = arena::Vec{floor.start.nose.x_m, floor.start.nose.y_m} -
                    model.axleToNose_m * arena::Vec{d.cosine, d.sine};
    const auto where = say("floor '{}', start", floor.name);
    const auto near = arena::nearest(plan.arena, model.outline, plan.start, 0.0);
    if (near.distance_m <= skin_m)
        return fail(Error::Kind::Conflict, where,
                    say("the car would stand in {}", plan.arena.name(near.thing)),
                    say("move the start, or what is there"));
    for (const auto &w : model.wheelsAt)
        if (!arena::isOnTable(plan.arena, plan.start.at + arena::turned(w, plan.start.looks)))
            return fail(Error::Kind::Conflict, where, say("a wheel would stand beyond the edge"),
                        say("move the start onto the table"));
    return plan;
}

Trace drive(const Plan &plan, std::uint64_t seed)
{
    TraceRecorder recorder(plan, seed);
    Runs(plan, recorder).drive(seed);
    return recorder.take();
}

Moment at(const Trace &trace, std::uint64_t time_us)
{
    const auto after =
        std::lower_bound(trace.path.begin(), trace.path.end(), time_us,
                         [](const Moment &m, std::uint64_t t) { return m.time_us < t; });
    if (after == trace.path.begin())
        return trace.path.front();
    if (after == trace.path.end())
        return trace.path.back();
    const auto &a = *std::prev(after);
    const auto &b = *after;
    const double s = double(time_us - a.time_us) / double(b.time_us - a.time_us);
    auto looks = a.pose.looks + s * (b.pose.looks - a.pose.looks);
    looks = (1.0 / std::max(1e-9, arena::length(looks))) * looks;
    return {time_us,
            {a.pose.at + s * (b.pose.at - a.pose.at), looks},
            {a.wheels_mps[0] + s * (b.wheels_mps[0] - a.wheels_mps[0]),
             a.wheels_mps[1] + s * (b.wheels_mps[1] - a.wheels_mps[1])}};
}

std::uint64_t fingerprint(const Trace &trace)
{
    std::uint64_t hash = 14695981039346656037ULL; // FNV-1a over the bits
    const auto mix = [&](std::uint64_t bits) {
        for (int i = 0; i < 64; i += 8) {
            hash ^= (bits >> i) & 0xFF;
            hash *= 1099511628211ULL;
        }
    };
    for (const auto &m : trace.path) {
        mix(m.time_us);
        for (const double d : {m.pose.at.x, m.pose.at.y, m.pose.looks.x, m.pose.looks.y,
                               m.wheels_mps[0], m.wheels_mps[1]})
            mix(std::bit_cast<std::uint64_t>(d));
    }
    for (const auto &p : trace.pings) {
        mix(p.sent_us);
        mix(p.echo_us);
    }
    for (const auto &c : trace.changes) {
        mix(c.time_us);
        mix(static_cast<std::uint64_t>(c.value));
    }
    return hash;
}

} // namespace badger::world
