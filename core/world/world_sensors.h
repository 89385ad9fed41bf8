// SPDX-License-Identifier: GPL-3.0-or-later
// What the sensors of a run say. Part of world.h, which includes it.
#pragma once

#include "core/world/world.h"

namespace badger::world
{

template <class R> arena::Ear World<R>::earOf(const oncar::Ranger &r) const
{
    auto axis = m_axes[static_cast<size_t>(&r - m_model.rangers.data())];
    if (r.servo != none) {
        const auto &s = m_model.servos[static_cast<size_t>(r.servo)];
        const auto d = exact::sineCosine(r.yaw_rad + (stands_deg(r.servo) - 90.0 + s.horn_deg) *
                                                         exact::pi / 180.0);
        axis = {d.cosine, d.sine};
    }
    return {m_pose.at + arena::turned(r.at, m_pose.looks), arena::turned(axis, m_pose.looks),
            r.height_m, r.below_rad, r.figures.cosHalfAngle};
}

template <class R> std::uint32_t World<R>::ping(int trigger, int echo, std::uint32_t timeOut_us)
{
    constexpr std::uint64_t trigger_us = 12;         // 2 us low, 10 us high
    constexpr std::uint64_t longestHeld_us = 250000; // the board waits for no line longer
    const int r = trigger == none ? none : m_model.pins[static_cast<size_t>(trigger)].triggers;
    const int e = echo == none ? none : m_model.pins[static_cast<size_t>(echo)].echoes;
    if (r == none || e != r || !m_model.rangers[static_cast<size_t>(r)].powered) {
        wait_us(trigger_us + timeOut_us); // a line on which nothing comes
        return 0;
    }
    const auto &ranger = m_model.rangers[static_cast<size_t>(r)];
    auto &own = m_rangers[static_cast<size_t>(r)];
    if (sense::isHeld(own.state, m_now_us)) {
        wait_us(std::min(own.state.lineBusyUntil_us - m_now_us, longestHeld_us));
        if (sense::isHeld(own.state, m_now_us))
            return 0;
    }
    wait_us(trigger_us);
    const auto ear = earOf(ranger);
    const double t_s = static_cast<double>(m_now_us) * 1e-6;
    constexpr double perDecibel = 0.11512925464970229; // ln 10 / 20
    const double loud = m_noisy ? exact::exp(1.5 * m_noise.bell() * perDecibel) : 1.0;
    auto heard = own.ears.hear(m_plan.arena, ear, ranger.hearing, t_s, loud);
    Ping p;
    p.ranger = r;
    for (size_t k = 0; k < m_rangers.size(); ++k) {
        const auto &other = m_rangers[k];
        if (k == static_cast<size_t>(r) || !other.has || m_now_us - other.sent_us > 40000)
            continue;
        const auto from = arena::overhear(m_plan.arena, other.sent, ear, ranger.hearing, t_s);
        if (!from)
            continue;
        const double since_m =
            static_cast<double>(m_now_us - other.sent_us) * 1e-6 * m_plan.sound_mps / 2.0;
        const double seems_m = from->distance_m - since_m;
        if (seems_m > 0.0 && (!heard || seems_m < heard->distance_m)) {
            heard = *from;
            heard->distance_m = seems_m;
            p.wrong = Wrong::Crosstalk;
            p.by = static_cast<int>(k);
        }
    }
    own.sent = ear;
    own.sent_us = m_now_us;
    own.has = true;
    p.sent_us = m_now_us;
    p.from = {ear.at, ear.axis};
    if (ranger.servo != none) {
        p.asked_deg = m_servos[static_cast<size_t>(ranger.servo)].to_deg;
        p.stood_deg = stands_deg(ranger.servo);
    }
    const auto answer = sense::ping(m_figures[static_cast<size_t>(r)], own.state, m_now_us,
                                    heard ? std::optional(heard->distance_m) : std::nullopt,
                                    timeOut_us, m_plan.sound_mps, m_noise);
    p.echo_us = answer.echo_us;
    p.done_us = m_now_us + answer.waited_us;
    if (answer.echo_us > 0)
        p.read_m = static_cast<double>(answer.echo_us) * 1e-6 * m_plan.sound_mps / 2.0;
    if (m_record.judges())
        judge(p, ranger, ear, heard, timeOut_us, heard.has_value() && answer.echo_us == 0);
    if (answer.wild)
        p.wrong = Wrong::Wild;
    if (!over())
        m_record.ping(p);
    wait_us(answer.waited_us);
    return answer.echo_us;
}

/// Is a reading what stands there, and if not, why?
template <class R>
void World<R>::judge(Ping &p, const oncar::Ranger &r, const arena::Ear &ear,
                     const std::optional<arena::Echo> &echo, std::uint32_t timeOut_us,
                     bool lost) const
{
    // Farther apart than this and a tenth, a reading is not what a ruler would say.
    constexpr double mayDiffer_m = 0.04;
    const double t_s = static_cast<double>(m_now_us) * 1e-6;
    const auto ahead = arena::nearestInBeam(m_plan.arena, ear, t_s);
    const double waits_m = timeOut_us * 1e-6 * m_plan.sound_mps / 2.0;
    if (ahead)
        p.true_m = ahead->distance_m;
    if (echo) {
        p.thing = echo->thing;
        p.place = echo->place;
        p.turn = echo->turn;
        p.heard = echo->by;
    }
    if (p.wrong == Wrong::Crosstalk && p.read_m >= 0.0)
        return;
    p.wrong = Wrong::Right;
    if (std::abs(p.asked_deg - p.stood_deg) > 1.0) {
        p.wrong = Wrong::Moving;
        return;
    }
    // A line that was held as long as a ranger holds it without an echo reads huge: that is none.
    const bool silent = p.read_m < 0.0 || p.read_m > r.hearing.reach_m() * 1.2;
    if (silent) {
        if (!ahead || ahead->distance_m > std::min(waits_m, m_plan.cares_m))
            return;
        p.thing = ahead->thing;
        p.slant_rad = ahead->slant_rad;
        p.wrong = lost && echo && echo->distance_m <= waits_m ? Wrong::Lost
                  : ahead->round                              ? Wrong::Thin
                  : ahead->echo < 0.9                         ? Wrong::Soft
                                                              : Wrong::Slanted;
        if (p.wrong == Wrong::Slanted) // not far off, but where it would answer there is no wall
            if (const auto heard = r.hearing.widest_rad(ahead->distance_m, ahead->echo);
                heard && ahead->slant_rad < *heard)
                p.wrong = Wrong::Ends;
        return;
    }
    if (echo && echo->distance_m < m_figures[static_cast<size_t>(p.ranger)].deadZone_m) {
        p.wrong = Wrong::DeadZone;
        return;
    }
    if (echo && echo->by == arena::By::Floor) {
        p.wrong = Wrong::FloorEcho;
        return;
    }
    if (!ahead || ahead->distance_m > m_plan.cares_m ||
        p.read_m < ahead->distance_m + mayDiffer_m + 0.1 * ahead->distance_m)
        return;
    p.by = echo && echo->by == arena::By::TwoFaces ? echo->other
           : echo && echo->by == arena::By::Mirror ? echo->other
                                                   : -1;
    p.wrong = p.by >= 0 ? Wrong::Roundabout : Wrong::Behind;
    if (p.wrong == Wrong::Behind)
        p.by = ahead->thing;
    p.slant_rad = ahead->slant_rad;
}

template <class R> int World<R>::levelOf(int eye)
{
    const auto &e = m_model.eyes[static_cast<size_t>(eye)];
    if (!e.powered)
        return tell(eye, 0);
    if (e.kind == oncar::Eye::Kind::Button)
        return tell(eye, e.highOnLight ? 0 : 1); // nobody presses it during a run
    if (e.kind != oncar::Eye::Kind::Digital)
        return countsOf(eye) > sense::mostCounts / 2;
    const auto ground = arena::groundAt(m_plan.arena, placeOf(e), e.spot_m);
    const double light =
        (ground.albedo - floor::darkAlbedo) / (floor::lightAlbedo - floor::darkAlbedo);
    auto &s = m_eyes[static_cast<size_t>(eye)];
    const double edge = !s.asked ? 0.5 : s.light ? 0.5 - hysteresis / 2.0 : 0.5 + hysteresis / 2.0;
    s.light = light > edge;
    s.asked = true;
    return tell(eye, s.light == e.highOnLight);
}

template <class R> int World<R>::countsOf(int eye)
{
    const auto &e = m_model.eyes[static_cast<size_t>(eye)];
    if (!e.powered)
        return tell(eye, 0);
    const double noise = m_noisy ? e.noise_counts * m_noise.bell() : 0.0;
    double counts = 0.0;
    if (e.kind == oncar::Eye::Kind::Light) {
        const auto ground = arena::groundAt(m_plan.arena, placeOf(e), 0.01);
        const double lux = leastLux * exact::exp(ground.ambient * exact::log(mostLux / leastLux));
        counts = sense::lightCounts(sense::lightResistance_ohm({}, lux), partner_ohm);
    } else if (e.level) {
        counts = levelCounts(e);
    } else if (e.kind == oncar::Eye::Kind::Digital) {
        return levelOf(eye) * sense::mostCounts;
    } else {
        const auto ground = arena::groundAt(m_plan.arena, placeOf(e), e.spot_m);
        const double light =
            (ground.albedo - floor::darkAlbedo) / (floor::lightAlbedo - floor::darkAlbedo);
        counts = e.dark_counts + light * (e.light_counts - e.dark_counts);
    }
    return tell(eye,
                static_cast<int>(std::clamp(counts + noise, 0.0, double(sense::mostCounts)) + 0.5));
}

/// Of a sensor that looks along the floor: the count that its calibration has at the distance of
/// what stands before it; that of the farthest where nothing does.
template <class R> int World<R>::levelCounts(const oncar::Eye &e) const
{
    const auto d = exact::sineCosine(e.yaw_rad);
    constexpr double cosTen = 0.984807753012208;
    const auto ahead = arena::nearestInBeam(
        m_plan.arena,
        {placeOf(e), arena::turned(arena::Vec{d.cosine, d.sine}, m_pose.looks), 0.0, 0.0, cosTen},
        static_cast<double>(m_now_us) * 1e-6);
    int best = 0;
    double least = 1e9;
    double far = -1.0;
    for (int counts = 0; counts < static_cast<int>(e.distance_m.size()); ++counts) {
        const double at = e.distance_m[static_cast<size_t>(counts)];
        if (!(at == at))
            continue;
        const bool nothing = !ahead || ahead->distance_m > std::max(e.range_m, 0.05) * 2.5;
        const double off = nothing ? -at : std::abs(at - ahead->distance_m);
        if (far < 0.0 || off < least) {
            far = 0.0;
            least = off;
            best = counts;
        }
    }
    return best;
}

} // namespace badger::world
