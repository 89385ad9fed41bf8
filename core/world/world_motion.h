// SPDX-License-Identifier: GPL-3.0-or-later
// How the car of a run moves, touches and falls. Part of world.h, which includes it.
#pragma once

#include "core/world/world.h"

namespace badger::world
{

template <class R> void World<R>::apply()
{
    m_dirty = false;
    if (m_model.charge.usable_C > 0.0)
        discharge();
    const auto &w = m_model.wheels;
    size_t row = 0;
    std::array<int, 2> counts{255, 255};
    for (size_t k = 0; k < w.inputs.size(); ++k) {
        const auto &in = w.inputs[k];
        int level = 0;
        int acts = 255;
        if (in.by == oncar::Input::By::Pin) {
            const auto &p = m_model.pins[static_cast<size_t>(in.of)];
            const auto &s = m_pins[static_cast<size_t>(in.of)];
            if (p.pulses != none) {
                const double off = s.pulse_us > 0.0
                                       ? s.pulse_us - m_neutral_us[static_cast<size_t>(p.pulses)]
                                       : 0.0;
                acts =
                    std::min(255, static_cast<int>(std::abs(off) * 255.0 / w.fullPulse_us + 0.5));
                level = acts == 0 ? 0 : off > 0.0 ? 1 : -1;
            } else if (in.port) {
                acts = std::abs(s.counts);
                level = s.counts > 0 ? 1 : s.counts < 0 ? -1 : 0;
            } else {
                acts = pins::actingCounts(p.by, s.counts);
                level = acts > 0;
            }
        } else if (in.by == oncar::Input::By::Eye) {
            level = levelOf(in.of);
        } else {
            level = m_floats[k];
        }
        row = row * (in.threeWay ? 3 : 2) + static_cast<size_t>(level + (in.threeWay ? 1 : 0));
        for (size_t n = 0; n < 2; ++n)
            if (in.moves[n] && level != 0)
                counts[n] = std::min(counts[n], acts);
    }
    for (size_t n = 0; n < 2; ++n) {
        auto turn = row < w.rows.size() ? w.rows[row].turn[n] : motion::Turn::None;
        if (const int e = w.enable[n]; e != none) {
            const int acts = pins::actingCounts(m_model.pins[static_cast<size_t>(e)].by,
                                                m_pins[static_cast<size_t>(e)].counts);
            counts[n] = std::min(counts[n], acts);
            if (acts == 0 && (turn == motion::Turn::Forward || turn == motion::Turn::Backward ||
                              turn == motion::Turn::Brake))
                turn = motion::Turn::Coast;
        }
        command(n, turn, counts[n]);
    }
    if (m_swings)
        swing();
}

/// What wheel `n` is told to do, before a caster takes of it.
template <class R> double World<R>::wanted_mps(size_t n) const
{
    const bool back = m_turn[n] == motion::Turn::Backward;
    if (!back && m_turn[n] != motion::Turn::Forward)
        return 0.0;
    const auto &charge = m_model.charge;
    const double left =
        charge.usable_C <= 0.0
            ? 1.0
            : 1.0 - (1.0 - charge.emptyShare) * std::min(1.0, m_used_C / charge.usable_C);
    const double v =
        m_model.wheels.speed_mps[n][static_cast<size_t>(m_counts[n])] * m_speedFactor[n] * left;
    return back ? -v : v;
}

template <class R> void World<R>::drive(size_t n)
{
    m_laws[n] =
        Law::rise(m_laws[n].from_mps, wanted_mps(n) * m_caster.factor[n], m_model.wheels.rise_s);
    m_stuck = false;
}

/// What was taken from the cells since the last look.
template <class R> void World<R>::discharge()
{
    const auto &charge = m_model.charge;
    double amps = charge.rest_A;
    for (size_t n = 0; n < 2; ++n)
        amps += charge.motors_A[n] * m_counts[n] / 255.0;
    m_used_C += amps * (m_t - m_chargeAt_s);
    m_chargeAt_s = m_t;
    if (m_t - m_speedsAt_s < chargeEvery_s)
        return;
    m_speedsAt_s = m_t;
    for (size_t n = 0; n < 2; ++n)
        if (wanted_mps(n) != 0.0)
            drive(n);
}

/// The car is told to move another way: the caster swings round, and pulls it aside meanwhile. Its
/// wheel goes on as it rolled, so that the part of that across the new way pushes the pivot, which
/// turns the car. Right about, chance says to which side it falls.
template <class R> void World<R>::swing()
{
    m_swings = false;
    const double trail_m = m_model.caster.trail_m;
    const double l = wanted_mps(0), r = wanted_mps(1);
    if (trail_m <= 0.0 || (l == 0.0 && r == 0.0))
        return;
    auto &c = m_caster;
    const double all_m = casterTrails * trail_m;
    const auto now = c.left_m <= 0.0 ? c.to : [&] {
        const double share = 1.0 - c.left_m / all_m;
        const auto v = (1.0 - share) * c.rolls + share * c.to;
        const double length = arena::length(v);
        return length > 1e-6 ? (1.0 / length) * v : c.to;
    }();
    const arena::Vec moves{(l + r) / 2.0, (r - l) / m_model.wheels.track_m * m_model.caster.at_m};
    const double speed = arena::length(moves);
    c.rolls = now;
    c.to = speed > 0.0 ? (1.0 / speed) * moves : now;
    c.left_m = all_m;
    const double about = (1.0 - arena::dot(c.rolls, c.to)) / 2.0; // 0 as before, 1 right about
    const auto across = c.rolls - arena::dot(c.rolls, c.to) * c.to;
    double pulls = m_model.caster.at_m * across.y;
    if (about > 0.98)
        pulls = m_noisy ? m_noise.uniform() - 0.5 : 0.0;
    c.factor = {1.0, 1.0};
    if (pulls != 0.0 && about > 0.03) {
        const bool left = (pulls > 0.0) == (moves.x > 0.0);
        c.factor[left ? 0 : 1] = 1.0 - casterDrag * about;
    }
    for (size_t n = 0; n < 2; ++n)
        if (wanted_mps(n) != 0.0)
            drive(n);
}

/// The wheels have rolled on, on average so far.
template <class R> void World<R>::swung(double way_m)
{
    m_caster.left_m -= way_m;
    if (m_caster.left_m > 1e-9)
        return;
    m_caster.left_m = 0.0;
    const auto dragged = std::exchange(m_caster.factor, {1.0, 1.0});
    for (size_t n = 0; n < 2; ++n)
        if (dragged[n] != 1.0 && wanted_mps(n) != 0.0)
            drive(n);
}

template <class R> void World<R>::command(size_t n, motion::Turn turn, int counts)
{
    using motion::Turn;
    const bool drives = turn == Turn::Forward || turn == Turn::Backward;
    if (!drives)
        counts = 0;
    if (turn == m_turn[n] && counts == m_counts[n])
        return;
    m_turn[n] = turn;
    m_counts[n] = counts;
    m_stuck = false;
    m_swings = true;
    const auto &w = m_model.wheels;
    const double v = m_laws[n].from_mps;
    if (drives) {
        drive(n);
    } else {
        const auto &roll = turn == Turn::Brake || turn == Turn::Fights ? w.brakeRoll : w.coastRoll;
        const double distance = roll.distance_m * m_rollFactor;
        if (distance <= 0.0 || roll.speed_mps <= 0.0)
            m_laws[n] = Law::still();
        else if (roll.law == kit::RollLaw::Friction)
            m_laws[n] = Law::friction(v, roll.speed_mps * roll.speed_mps / (2.0 * distance));
        else
            m_laws[n] = Law::decay(v, distance / roll.speed_mps);
    }
    m_record.told({m_now_us, m_turn, m_counts});
}

/// What the recorder wants to see of the next `s` seconds.
template <class R> void World<R>::sample(double s)
{
    const double every_s = m_record.sampleEvery_s();
    if (every_s <= 0.0)
        return;
    for (; m_nextSample_s < m_t + s; m_nextSample_s += every_s) {
        const double t = m_nextSample_s - m_t;
        const auto f = fades(m_laws[0], m_laws[1], t);
        auto pose = m_pose;
        roll(pose, m_laws[0], m_laws[1], m_model.wheels.track_m, t, f);
        m_record.moment({static_cast<std::uint64_t>(m_nextSample_s * 1e6 + 0.5),
                         pose,
                         {m_laws[0].speed_mps(t, f.left), m_laws[1].speed_mps(t, f.right)}});
    }
}

/// How far the wheels rolled, on average.
template <class R> double World<R>::rollOn(double s)
{
    const auto fading = fades(m_laws[0], m_laws[1], s);
    const double way_m =
        (std::abs(m_laws[0].way_m(s, fading.left)) + std::abs(m_laws[1].way_m(s, fading.right))) /
        2.0;
    roll(m_pose, m_laws[0], m_laws[1], m_model.wheels.track_m, s, fading);
    const bool moved = !isStill();
    for (size_t n = 0; n < 2; ++n) {
        auto &l = m_laws[n];
        l = l.after(s, n == 0 ? fading.left : fading.right);
        if (l.lasts_s <= 1e-12)
            l = l.next();
    }
    m_t += s;
    if (moved && isStill())
        rested();
    return way_m;
}

template <class R> void World<R>::rested()
{
    m_record.rested(moment());
    const double after_s = m_plan.conditions.afterRest_s;
    if (!m_rested && after_s > 0.0)
        m_end_us = std::min(m_end_us, static_cast<std::uint64_t>((m_t + after_s) * 1e6));
    m_rested = true;
}

template <class R> void World<R>::advance(double until)
{
    const auto &w = m_model.wheels;
    const bool edge = !m_plan.arena.edge.empty();
    while (!m_over && until - m_t > 1e-12) {
        if (isStill() && m_moverSpeed == 0.0) {
            m_t = until;
            m_nextSample_s = std::max(m_nextSample_s, until);
            break;
        }
        double s = std::min(until - m_t, stride_s(m_laws[0], m_laws[1], w.track_m));
        if (m_pushes) {
            push(m_stuck ? s : std::min(s, pushStep_s));
            if (const double every_s = m_record.sampleEvery_s();
                every_s > 0.0 && m_t >= m_nextSample_s) {
                m_record.moment(moment());
                m_nextSample_s = m_t + every_s;
            }
        } else {
            const double own = fastest_mps(m_laws[0], m_laws[1], w.track_m, m_model.outline.reach);
            const double fastest = own + m_moverSpeed;
            if (fastest * s > m_room_m) {
                s = m_room_m / fastest;
                if (s < 1e-9) {
                    look();
                    continue;
                }
            }
            if (edge && own * s > m_edgeRoom_m) {
                s = m_edgeRoom_m / own;
                if (s < 1e-9) {
                    if (!checkEdge())
                        continue;
                    break;
                }
            }
            if (own * s > m_planRoom_m)
                s = std::max(m_planRoom_m, inside_m) / own;
            if (m_caster.left_m > 0.0 && own * s > m_caster.left_m)
                s = std::max(m_caster.left_m, swung_m) / own;
            sample(s);
            const double way_m = rollOn(s);
            if (m_caster.left_m > 0.0)
                swung(way_m);
            m_room_m -= fastest * s;
            m_edgeRoom_m -= own * s;
        }
        if (!m_over)
            checkPlan();
    }
}

/// What is nearest, and how far the car may go before it has to look again.
template <class R> void World<R>::look()
{
    const double clear_m = arena::clearance_m(m_plan.arena, m_model.outline, m_pose, m_t);
    if (clear_m > near_m) {
        m_record.clear(clear_m);
        m_room_m = clear_m - skin_m / 2.0;
        return;
    }
    const auto near = arena::nearest(m_plan.arena, m_model.outline, m_pose, m_t);
    m_record.nearest(near.distance_m, near.thing);
    if (near.distance_m <= skin_m)
        return touch(near);
    m_room_m = near.distance_m - skin_m / 2.0;
}

template <class R> void World<R>::touch(const arena::Near &near)
{
    const double v = (m_laws[0].from_mps + m_laws[1].from_mps) / 2.0;
    const double turn = (m_laws[1].from_mps - m_laws[0].from_mps) / m_model.wheels.track_m;
    Touch t;
    t.time_us = t.until_us = at_us();
    t.thing = near.thing;
    t.onCar = near.onCar;
    t.onFloor = near.onFloor;
    // A whole side against a face touches in its middle.
    constexpr double along_m = 1e-4;
    arena::Vec sum;
    int corners = 0;
    for (const auto &c : m_model.outline.corners) {
        const auto p = m_pose.at + arena::turned(c, m_pose.looks);
        if (arena::toThing_m(m_plan.arena, near.thing, p, m_t) < along_m) {
            sum = sum + c;
            ++corners;
        }
    }
    if (corners > 1) {
        t.onCar = (1.0 / corners) * sum;
        t.onFloor = m_pose.at + arena::turned(t.onCar, m_pose.looks);
    }
    const arena::Vec place{v - turn * near.onCar.y, turn * near.onCar.x};
    // Against what it touches, which may move itself.
    const auto its = arena::velocity(m_plan.arena, near.thing, m_t);
    t.speed_mps = arena::length(place - arena::turned(its, {m_pose.looks.x, -m_pose.looks.y}));
    const double spin = std::abs(turn) * m_model.wheels.track_m / 2.0;
    t.phase = std::abs(v) < still_mps && spin < still_mps ? Phase::Waiting
              : spin > std::abs(v)                        ? Phase::Turning
              : v > 0.0                                   ? Phase::Ahead
                                                          : Phase::Back;
    m_record.moment(moment());
    m_record.touch(t);
    if (m_plan.conditions.endAtContact)
        return end(End::Contact);
    m_pushes = true;
}

/// The wheels turn as told; the car goes where nothing bars its way: on, else turning on the spot,
/// else along without turning, else not at all.
template <class R> void World<R>::push(double s)
{
    if (m_stuck) { // steady wheels that moved nothing in the last step move nothing in the next
        m_t += s;
        m_record.touching(at_us());
        return;
    }
    const auto before = m_pose;
    const auto was = arena::nearest(m_plan.arena, m_model.outline, before, m_t);
    rollOn(s);
    const auto wanted = m_pose;
    arena::Near near;
    for (const auto &tried : {wanted, arena::Pose{before.at, wanted.looks},
                              arena::Pose{wanted.at, before.looks}, before}) {
        m_pose = tried;
        near = arena::nearest(m_plan.arena, m_model.outline, tried, m_t);
        if (near.distance_m > skin_m ||
            (near.distance_m > 0.0 && near.distance_m >= was.distance_m))
            break;
    }
    m_stuck = m_moverSpeed == 0.0 && m_laws[0].isSteady() && m_laws[1].isSteady() &&
              m_pose.at == before.at && m_pose.looks == before.looks;
    m_record.nearest(near.distance_m, near.thing);
    m_record.touching(at_us());
    if (near.distance_m < free_m)
        return;
    m_pushes = false;
    m_room_m = near.distance_m - skin_m / 2.0;
}

/// How far the nose may go before it can be off the plan; the run is over where it is.
template <class R> void World<R>::checkPlan()
{
    const auto nose = m_pose.at + m_model.axleToNose_m * m_pose.looks;
    const auto size = m_plan.arena.size;
    m_planRoom_m = std::min({nose.x, nose.y, size.x - nose.x, size.y - nose.y});
    if (m_planRoom_m < 0.0)
        end(End::LeftPlan);
}

/// True where the run is over: a wheel has passed the edge.
template <class R> bool World<R>::checkEdge()
{
    double least = 1e9;
    for (size_t n = 0; n < m_model.wheelsAt.size(); ++n) {
        const auto p = m_pose.at + arena::turned(m_model.wheelsAt[n], m_pose.looks);
        least = std::min(least, arena::toEdge_m(m_plan.arena, p));
        if (!arena::isOnTable(m_plan.arena, p)) {
            m_record.moment(moment());
            m_record.fell({at_us(), static_cast<int>(n), p});
            end(End::Fell);
            return true;
        }
    }
    m_edgeRoom_m = std::max(least, 1e-4);
    return false;
}

} // namespace badger::world
