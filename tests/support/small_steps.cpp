// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/small_steps.h"

#include "core/sense/light.h"
#include "core/sense/reflectance.h"
#include "core/world/trace_recorder.h"
#include "support/closest.h"

#include <cmath>

namespace badger::test
{

namespace
{

using arena::Vec;
using oncar::none;

class SmallSteps
{
public:
    static constexpr double step_s = 5e-5;

    SmallSteps(const world::Plan &plan, world::TraceRecorder &record)
        : m_plan(plan), m_model(plan.on->model()), m_record(record)
    {
    }

    void begin(std::uint64_t seed)
    {
        m_noise = Noise(seed);
        m_at = m_plan.start.at;
        m_heading = std::atan2(m_plan.start.looks.y, m_plan.start.looks.x);
        const auto &w = m_model.wheels;
        const double all = share(m_model.speedSpread);
        for (size_t n = 0; n < 2; ++n) {
            m_factor[n] = all * share(m_model.wheelSpread);
            m_neutral_us[n] = w.neutral_us[n];
            if (noisy())
                m_neutral_us[n] += w.neutralSpread_us[n] * m_noise.bell();
        }
        m_rollFactor = share(m_model.rollSpread);
        m_used_C = m_plan.conditions.chargeUsed * m_model.charge.usable_C;
        for (const auto &r : m_model.rangers) {
            auto figures = r.figures;
            if (!noisy())
                figures.error_m = figures.noise_m = figures.lostEchoShare = figures.wildShare =
                    figures.deadZoneSpread = 0.0;
            m_rangers.push_back({figures, sense::rangerAtStart(figures, m_noise), {}, -1e9});
        }
        m_servos.resize(m_model.servos.size());
        m_pins.resize(m_model.pins.size());
        m_light.assign(m_model.eyes.size(), -1);
        for (const auto &in : w.inputs)
            m_floats.push_back(in.by == oncar::Input::By::Floating && m_noise.uniform() < 0.5);
        m_free_m = distance(m_at, m_heading).away_m;
        m_record.moment(moment());
    }

    std::uint64_t now_us() const { return m_now_us; }
    bool over() const { return m_over || m_now_us >= end_us(); }
    void wait_us(std::uint64_t time_us)
    {
        if (m_told)
            apply();
        else
            refresh();
        m_now_us += time_us;
        const double until = double(std::min(m_now_us, end_us())) * 1e-6;
        while (!m_over && until - m_t > 1e-12)
            step(std::min(step_s, until - m_t));
    }
    void duty(int pin, int counts)
    {
        if (pin == none)
            return;
        m_pins[size_t(pin)].counts = counts;
        m_told = true;
    }
    void level(int pin, bool high) { duty(pin, high ? 255 : 0); }
    void pulse(int pin, double width_us)
    {
        if (pin == none)
            return;
        m_pins[size_t(pin)].pulse_us = width_us;
        m_told = true;
        if (const int s = m_model.pins[size_t(pin)].turns; s != none)
            m_servos[size_t(s)] = {stands_deg(s), (width_us - 544.0) * 180.0 / 1856.0,
                                   double(m_now_us) * 1e-6};
    }
    static double pulseOf(double angle_deg) { return 544.0 + angle_deg * 1856.0 / 180.0; }
    int read(int pin)
    {
        if (pin != none && m_model.pins[size_t(pin)].reads != none)
            return levelOf(m_model.pins[size_t(pin)].reads);
        if (pin != none && m_model.pins[size_t(pin)].rest != none)
            return m_model.pins[size_t(pin)].rest;
        return m_noise.uniform() < 0.5;
    }
    int convert(int pin)
    {
        if (pin != none && m_model.pins[size_t(pin)].reads != none)
            return countsOf(m_model.pins[size_t(pin)].reads);
        if (pin != none && m_model.pins[size_t(pin)].rest != none)
            return m_model.pins[size_t(pin)].rest * 1023;
        return int(m_noise.uniform() * 1023);
    }
    std::uint32_t ping(int trigger, int echo, std::uint32_t timeOut_us);
    rules::Command key() const
    {
        auto held = rules::Command::None;
        for (const auto &k : m_plan.conditions.keys)
            if (k.time_us <= m_now_us)
                held = k.key;
        return held;
    }
    void wiresDecide()
    {
        m_told = true;
        wait_us(1000);
    }
    void entered(const machine::Mind &mind, const machine::Cause &cause)
    {
        if (!over())
            m_record.step(m_now_us, mind, cause);
    }
    void finish()
    {
        m_record.moment(moment());
        m_record.over(m_ended, m_over ? m_overAt_us : std::min(m_now_us, end_us()));
    }

private:
    struct Pin {
        int counts = 0;
        double pulse_us = 0.0;
    };
    struct Servo {
        double from_deg = 90.0, to_deg = 90.0, since_s = 0.0;
    };
    struct RangerState {
        sense::RangerFigures figures;
        sense::RangerState state;
        arena::Ear sent;
        double sent_us;
    };
    /// What a wheel does: nears a speed, or slows down.
    struct Wheel {
        motion::Turn turn = motion::Turn::None;
        int counts = 0;
        double v = 0.0;
        bool drives = false;
        double to = 0.0;
        double tau_s = 0.0;       ///< slows down in proportion to its speed; 0: it does not
        double brakes_mps2 = 0.0; ///< slows down steadily
    };

    bool noisy() const { return m_plan.conditions.noise; }
    std::uint64_t end_us() const { return std::uint64_t(m_plan.conditions.lasts_s * 1e6); }
    double share(double spread)
    {
        return noisy() ? std::max(0.1, 1.0 + spread * m_noise.bell()) : 1.0;
    }
    Vec floorOf(Vec own, Vec at, double heading) const
    {
        const double c = std::cos(heading), s = std::sin(heading);
        return at + Vec{own.x * c - own.y * s, own.x * s + own.y * c};
    }
    Vec floorOf(Vec own) const { return floorOf(own, m_at, m_heading); }
    std::uint64_t at_us() const { return std::uint64_t(m_t * 1e6 + 0.5); }
    world::Moment moment() const
    {
        return {at_us(),
                {m_at, {std::cos(m_heading), std::sin(m_heading)}},
                {m_wheels[0].v, m_wheels[1].v}};
    }

    // ---- the wires

    void apply()
    {
        m_told = false;
        refresh();
        const auto &w = m_model.wheels;
        size_t row = 0;
        int counts[2] = {255, 255};
        for (size_t k = 0; k < w.inputs.size(); ++k) {
            const auto &in = w.inputs[k];
            int level = 0, acts = 255;
            switch (in.by) {
            case oncar::Input::By::Pin: {
                const auto &p = m_model.pins[size_t(in.of)];
                const auto &s = m_pins[size_t(in.of)];
                double signedActs = 0.0;
                if (p.pulses != none && s.pulse_us > 0.0)
                    signedActs =
                        (s.pulse_us - m_neutral_us[size_t(p.pulses)]) * 255.0 / w.fullPulse_us;
                else if (p.pulses == none && in.port)
                    signedActs = s.counts;
                else if (p.pulses == none)
                    signedActs = pins::actingCounts(p.by, s.counts);
                acts = int(std::min(255.0, std::floor(std::abs(signedActs) + 0.5)));
                level = acts == 0 ? 0 : signedActs > 0.0 ? 1 : -1;
                break;
            }
            case oncar::Input::By::Eye:
                level = levelOf(in.of);
                break;
            case oncar::Input::By::Floating:
                level = m_floats[k];
                break;
            }
            row = in.threeWay ? row * 3 + size_t(level + 1) : row * 2 + size_t(level);
            for (size_t n = 0; n < 2; ++n)
                if (level != 0 && in.moves[n])
                    counts[n] = std::min(counts[n], acts);
        }
        for (size_t n = 0; n < 2; ++n) {
            auto turn = row < w.rows.size() ? w.rows[row].turn[n] : motion::Turn::None;
            if (w.enable[n] != none) {
                const int acts = pins::actingCounts(m_model.pins[size_t(w.enable[n])].by,
                                                    m_pins[size_t(w.enable[n])].counts);
                counts[n] = std::min(counts[n], acts);
                using motion::Turn;
                if (acts == 0 &&
                    (turn == Turn::Forward || turn == Turn::Backward || turn == Turn::Brake))
                    turn = Turn::Coast;
            }
            tell(n, turn, counts[n]);
        }
        if (m_casterAsked)
            caster();
    }
    /// Speeds follow the charge, looked at as often as world/ does.
    void refresh()
    {
        if (m_model.charge.usable_C <= 0.0 || m_t - m_speedsAt_s < world::chargeEvery_s)
            return;
        m_speedsAt_s = m_t;
        for (size_t n = 0; n < 2; ++n)
            m_wheels[n].to = wanted(n);
    }
    double wanted(size_t n) const
    {
        const auto &wheel = m_wheels[n];
        if (!wheel.drives)
            return 0.0;
        const auto &c = m_model.charge;
        const double gone = c.usable_C > 0.0 ? std::min(1.0, m_used_C / c.usable_C) : 0.0;
        return m_model.wheels.speed_mps[n][size_t(wheel.counts)] * m_factor[n] *
               (1.0 - gone * (1.0 - c.emptyShare)) *
               (wheel.turn == motion::Turn::Backward ? -1.0 : 1.0);
    }
    /// By angles: where the caster's wheel rolls in the car's frame, and where it has to.
    void caster()
    {
        m_casterAsked = false;
        if (m_model.caster.trail_m <= 0.0 || (wanted(0) == 0.0 && wanted(1) == 0.0))
            return;
        const double all_m = world::casterTrails * m_model.caster.trail_m;
        if (m_casterLeft_m > 0.0) {
            const double share = 1.0 - m_casterLeft_m / all_m;
            const Vec v = (1.0 - share) * Vec{std::cos(m_casterFrom), std::sin(m_casterFrom)} +
                          share * Vec{std::cos(m_casterTo), std::sin(m_casterTo)};
            m_casterFrom = std::hypot(v.x, v.y) > 1e-6 ? std::atan2(v.y, v.x) : m_casterTo;
        } else {
            m_casterFrom = m_casterTo;
        }
        const double ahead = (wanted(0) + wanted(1)) / 2.0;
        const double aside = (wanted(1) - wanted(0)) / m_model.wheels.track_m * m_model.caster.at_m;
        m_casterTo = ahead == 0.0 && aside == 0.0 ? m_casterFrom : std::atan2(aside, ahead);
        m_casterLeft_m = all_m;
        const double off = m_casterFrom - m_casterTo;
        const double about = (1.0 - std::cos(off)) / 2.0;
        // The part of the old direction across the new one: sin(off), to the new one's left.
        double pulls = m_model.caster.at_m * std::sin(off) * std::cos(m_casterTo);
        if (about > 0.98)
            pulls = noisy() ? m_noise.uniform() - 0.5 : 0.0;
        m_drag[0] = m_drag[1] = 1.0;
        if (std::abs(pulls) > 1e-15 && about > 0.03)
            m_drag[(pulls > 0.0) == (ahead > 0.0) ? 0 : 1] = 1.0 - world::casterDrag * about;
        for (size_t n = 0; n < 2; ++n)
            m_wheels[n].to = wanted(n);
    }
    void tell(size_t n, motion::Turn turn, int counts)
    {
        using motion::Turn;
        auto &wheel = m_wheels[n];
        const auto &w = m_model.wheels;
        const bool drives = turn == Turn::Forward || turn == Turn::Backward;
        if (turn == wheel.turn && (drives ? counts : 0) == wheel.counts)
            return;
        m_casterAsked = true;
        wheel = {turn, drives ? counts : 0, wheel.v, drives, 0.0, 0.0, 0.0};
        if (drives) {
            wheel.to = wanted(n);
        } else {
            const auto &roll =
                turn == Turn::Brake || turn == Turn::Fights ? w.brakeRoll : w.coastRoll;
            const double way_m = roll.distance_m * m_rollFactor;
            if (way_m <= 0.0 || roll.speed_mps <= 0.0)
                wheel.v = 0.0;
            else if (roll.law == kit::RollLaw::Friction)
                wheel.brakes_mps2 = roll.speed_mps * roll.speed_mps / (2.0 * way_m);
            else
                wheel.tau_s = way_m / roll.speed_mps;
        }
        m_record.told({m_now_us,
                       {m_wheels[0].turn, m_wheels[1].turn},
                       {m_wheels[0].counts, m_wheels[1].counts}});
    }

    // ---- motion

    double after(const Wheel &w, double to, double dt) const
    {
        if (w.drives) { // the trapezoid of v' = (to - v) / rise
            const double k = dt / m_model.wheels.rise_s / 2.0;
            const double v = ((1.0 - k) * w.v + 2.0 * k * to) / (1.0 + k);
            return to == 0.0 && std::abs(v) < 0.001 ? 0.0 : v;
        }
        if (w.brakes_mps2 > 0.0)
            return std::abs(w.v) <= w.brakes_mps2 * dt
                       ? 0.0
                       : w.v - std::copysign(w.brakes_mps2 * dt, w.v);
        if (w.tau_s <= 0.0 || std::abs(w.v) < 0.001)
            return 0.0;
        const double k = dt / w.tau_s / 2.0;
        return w.v * (1.0 - k) / (1.0 + k);
    }
    void step(double dt)
    {
        const bool moved = m_wheels[0].v != 0.0 || m_wheels[1].v != 0.0;
        double way[2];
        double amps = m_model.charge.rest_A;
        for (size_t n = 0; n < 2; ++n) {
            amps += m_model.charge.motors_A[n] * m_wheels[n].counts / 255.0;
            const double v = after(m_wheels[n], m_wheels[n].to * m_drag[n], dt);
            way[n] = (m_wheels[n].v + v) / 2.0 * dt;
            m_wheels[n].v = v;
        }
        m_t += dt;
        m_used_C += amps * dt;
        const double turned = (way[1] - way[0]) / m_model.wheels.track_m;
        const double middle = m_heading + turned / 2.0;
        const Vec to = m_at + ((way[0] + way[1]) / 2.0) * Vec{std::cos(middle), std::sin(middle)};
        if (m_pushes) {
            push(to, m_heading + turned);
        } else {
            m_at = to;
            m_heading += turned;
            m_casterLeft_m -= (std::abs(way[0]) + std::abs(way[1])) / 2.0;
            if (m_casterLeft_m <= 0.0)
                m_drag[0] = m_drag[1] = 1.0;
            // No point of the car has come farther.
            m_free_m -= std::abs(way[0] + way[1]) / 2.0 + std::abs(turned) * m_model.outline.reach +
                        moversWay_m(dt);
            if (m_free_m <= world::skin_m)
                look();
        }
        if (moved && m_wheels[0].v == 0.0 && m_wheels[1].v == 0.0)
            m_record.rested(moment());
        if (m_t >= m_nextSample_s) {
            m_record.moment(moment());
            m_nextSample_s += 0.02;
        }
        if (!m_over)
            edges();
    }
    void push(Vec to, double heading)
    {
        const Vec fromAt = m_at;
        const double from = m_heading;
        const double was_m = distance(fromAt, from).away_m;
        struct Try {
            Vec at;
            double heading;
        };
        Close near;
        for (const auto &t :
             {Try{to, heading}, Try{fromAt, heading}, Try{to, from}, Try{fromAt, from}}) {
            m_at = t.at;
            m_heading = t.heading;
            near = distance(m_at, m_heading);
            if (near.away_m > world::skin_m || (near.away_m > 0.0 && near.away_m >= was_m))
                break;
        }
        m_record.nearest(near.away_m, near.thing);
        m_record.touching(at_us());
        if (near.away_m >= world::free_m) {
            m_pushes = false;
            m_free_m = near.away_m;
        }
    }
    void look()
    {
        const auto near = distance(m_at, m_heading);
        m_record.nearest(near.away_m, near.thing);
        m_free_m = near.away_m;
        if (near.away_m > world::skin_m)
            return;
        const double v = (m_wheels[0].v + m_wheels[1].v) / 2.0;
        const double spin = (m_wheels[1].v - m_wheels[0].v) / 2.0;
        world::Touch t;
        t.time_us = t.until_us = at_us();
        t.thing = near.thing;
        t.onCar = near.onCar;
        t.onFloor = near.onFloor;
        t.speed_mps = std::max(std::abs(m_wheels[0].v), std::abs(m_wheels[1].v));
        t.phase = std::abs(v) < 0.001 && std::abs(spin) < 0.001 ? world::Phase::Waiting
                  : std::abs(spin) > std::abs(v)                ? world::Phase::Turning
                  : v > 0.0                                     ? world::Phase::Ahead
                                                                : world::Phase::Back;
        m_record.moment(moment());
        m_record.touch(t);
        if (m_plan.conditions.endAtContact)
            return end(world::End::Contact);
        m_pushes = true;
    }
    void edges()
    {
        if (!m_plan.arena.edge.empty())
            for (size_t n = 0; n < m_model.wheelsAt.size(); ++n) {
                const Vec p = floorOf(m_model.wheelsAt[n]);
                if (arena::isOnTable(m_plan.arena, p))
                    continue;
                m_record.moment(moment());
                m_record.fell({at_us(), int(n), p});
                return end(world::End::Fell);
            }
        const Vec nose = floorOf({m_model.axleToNose_m, 0.0});
        if (nose.x < 0.0 || nose.y < 0.0 || nose.x > m_plan.arena.size.x ||
            nose.y > m_plan.arena.size.y)
            end(world::End::LeftPlan);
    }
    void end(world::End how)
    {
        m_over = true;
        m_ended = how;
        m_overAt_us = at_us();
    }

    // ---- what is how far away

    double moversWay_m(double dt) const
    {
        double most = 0.0;
        for (const auto &m : m_plan.arena.movers)
            most = std::max(most, std::hypot(m.v.x, m.v.y));
        return most * dt;
    }
    Close distance(Vec at, double heading) const { return closest(m_plan, at, heading, m_t); }

    // ---- sensors

    double stands_deg(int servo) const
    {
        const auto &s = m_servos[size_t(servo)];
        const double may =
            (double(m_now_us) * 1e-6 - s.since_s) / m_model.servos[size_t(servo)].sPerDegree;
        return s.from_deg + std::clamp(s.to_deg - s.from_deg, -may, may);
    }
    int levelOf(int eye)
    {
        const auto &e = m_model.eyes[size_t(eye)];
        if (!e.powered)
            return tell(eye, 0);
        if (e.kind == oncar::Eye::Kind::Button)
            return tell(eye, !e.highOnLight);
        if (e.kind != oncar::Eye::Kind::Digital)
            return countsOf(eye) > 511;
        const double lit = lightUnder(e);
        int &was = m_light[size_t(eye)];
        const double half = world::hysteresis / 2.0;
        was = lit > (was < 0 ? 0.5 : was == 1 ? 0.5 - half : 0.5 + half);
        return tell(eye, (was == 1) == e.highOnLight);
    }
    double lightUnder(const oncar::Eye &e) const
    {
        return (arena::groundAt(m_plan.arena, floorOf(e.at), e.spot_m).albedo - floor::darkAlbedo) /
               (floor::lightAlbedo - floor::darkAlbedo);
    }
    int countsOf(int eye)
    {
        const auto &e = m_model.eyes[size_t(eye)];
        if (!e.powered)
            return tell(eye, 0);
        const double noise = noisy() ? e.noise_counts * m_noise.bell() : 0.0;
        double counts = 0.0;
        if (e.kind == oncar::Eye::Kind::Light)
            counts = sense::lightCounts(
                sense::lightResistance_ohm(
                    {}, world::leastLux *
                            std::pow(world::mostLux / world::leastLux,
                                     arena::groundAt(m_plan.arena, floorOf(e.at), 0.01).ambient)),
                world::partner_ohm);
        else if (e.level)
            counts = levelCounts(e);
        else if (e.kind == oncar::Eye::Kind::Digital)
            return levelOf(eye) * 1023;
        else
            counts = e.dark_counts + lightUnder(e) * (e.light_counts - e.dark_counts);
        return tell(eye, int(std::clamp(counts + noise, 0.0, 1023.0) + 0.5));
    }
    /// The count whose calibrated distance is nearest to what stands there.
    int levelCounts(const oncar::Eye &e) const
    {
        const double yaw = e.yaw_rad + m_heading;
        const auto ahead = arena::nearestInBeam(
            m_plan.arena,
            {floorOf(e.at), {std::cos(yaw), std::sin(yaw)}, 0.0, 0.0, std::cos(M_PI / 18.0)}, m_t);
        const bool there = ahead && ahead->distance_m <= std::max(e.range_m, 0.05) * 2.5;
        int best = 0;
        double least = 1e18;
        for (size_t n = 0; n < e.distance_m.size(); ++n) {
            if (std::isnan(e.distance_m[n]))
                continue;
            const double off =
                there ? std::abs(e.distance_m[n] - ahead->distance_m) : -e.distance_m[n];
            if (off < least) {
                least = off;
                best = int(n);
            }
        }
        return best;
    }
    int tell(int eye, int value)
    {
        if (!m_over)
            m_record.change({m_now_us, eye, value});
        return value;
    }

    const world::Plan &m_plan;
    const oncar::CarModel &m_model;
    world::TraceRecorder &m_record;
    Noise m_noise{0};
    Vec m_at;
    double m_heading = 0.0;
    double m_factor[2] = {1.0, 1.0};
    double m_neutral_us[2] = {1500.0, 1500.0};
    double m_rollFactor = 1.0;
    double m_used_C = 0.0;
    double m_speedsAt_s = 0.0;
    bool m_casterAsked = false;
    double m_casterFrom = 0.0, m_casterTo = 0.0; ///< rad
    double m_casterLeft_m = 0.0;
    double m_drag[2] = {1.0, 1.0};
    Wheel m_wheels[2];
    std::vector<RangerState> m_rangers;
    std::vector<Servo> m_servos;
    std::vector<Pin> m_pins;
    std::vector<int> m_light; ///< what each eye last saw; -1: nothing yet
    std::vector<char> m_floats;
    bool m_told = true;
    std::uint64_t m_now_us = 0;
    double m_t = 0.0;
    double m_free_m = 0.0; ///< within which nothing stands
    double m_nextSample_s = 0.02;
    bool m_pushes = false;
    bool m_over = false;
    world::End m_ended = world::End::Time;
    std::uint64_t m_overAt_us = 0;
};

std::uint32_t SmallSteps::ping(int trigger, int echo, std::uint32_t timeOut_us)
{
    const int r = trigger == none ? none : m_model.pins[size_t(trigger)].triggers;
    const int e = echo == none ? none : m_model.pins[size_t(echo)].echoes;
    if (r == none || e != r || !m_model.rangers[size_t(r)].powered) {
        wait_us(12 + timeOut_us);
        return 0;
    }
    const auto &ranger = m_model.rangers[size_t(r)];
    auto &own = m_rangers[size_t(r)];
    if (own.state.lineBusyUntil_us > m_now_us) {
        wait_us(std::min<std::uint64_t>(own.state.lineBusyUntil_us - m_now_us, 250000));
        if (own.state.lineBusyUntil_us > m_now_us)
            return 0;
    }
    wait_us(12);
    double yaw = m_heading + ranger.yaw_rad;
    if (ranger.servo != none)
        yaw += (stands_deg(ranger.servo) - 90.0 + m_model.servos[size_t(ranger.servo)].horn_deg) *
               M_PI / 180.0;
    const arena::Ear ear{floorOf(ranger.at),
                         {std::cos(yaw), std::sin(yaw)},
                         ranger.height_m,
                         ranger.below_rad,
                         ranger.figures.cosHalfAngle};
    const double now_s = double(m_now_us) * 1e-6;
    const double loud = noisy() ? std::pow(10.0, 1.5 * m_noise.bell() / 20.0) : 1.0;
    const auto own_m = arena::hear(m_plan.arena, ear, ranger.hearing, now_s, loud);
    std::optional<double> heard_m;
    if (own_m)
        heard_m = own_m->distance_m;
    for (size_t k = 0; k < m_rangers.size(); ++k) {
        const double since_us = double(m_now_us) - m_rangers[k].sent_us;
        if (k == size_t(r) || since_us > 40000.0)
            continue;
        if (const auto from =
                arena::overhear(m_plan.arena, m_rangers[k].sent, ear, ranger.hearing, now_s))
            if (const double seems_m = from->distance_m - since_us * 1e-6 * m_plan.sound_mps / 2.0;
                seems_m > 0.0 && seems_m < heard_m.value_or(1e9))
                heard_m = seems_m;
    }
    own.sent = ear;
    own.sent_us = double(m_now_us);
    world::Ping p;
    p.ranger = r;
    p.sent_us = m_now_us;
    p.from = {ear.at, ear.axis};
    if (const auto ahead = arena::nearestInBeam(m_plan.arena, ear, now_s))
        p.true_m = ahead->distance_m;
    const auto answer = sense::ping(own.figures, own.state, m_now_us, heard_m, timeOut_us,
                                    m_plan.sound_mps, m_noise);
    p.echo_us = answer.echo_us;
    p.done_us = m_now_us + answer.waited_us;
    if (!over())
        m_record.ping(p);
    wait_us(answer.waited_us);
    return answer.echo_us;
}

} // namespace

world::Trace bySmallSteps(const world::Plan &plan, std::uint64_t seed)
{
    world::TraceRecorder recorder(plan, seed);
    SmallSteps steps(plan, recorder);
    steps.begin(seed);
    world::ProgramBoard<SmallSteps> board(*plan.on, steps);
    board.begin();
    std::optional<machine::Runner> runner;
    if (plan.on->model().board) {
        runner.emplace(plan.on->machine(), board);
        runner->start();
    }
    while (!steps.over())
        if (runner)
            runner->pass();
        else
            steps.wiresDecide();
    steps.finish();
    return recorder.take();
}

} // namespace badger::test
