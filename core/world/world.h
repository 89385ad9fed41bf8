// SPDX-License-Identifier: GPL-3.0-or-later
// The physical side of one run, as pins and time. Private to world/.
//
// Whoever drives the pins (a lowered program, an emulated chip, the wires of a car without a board)
// asks for time and levels; the world moves on meanwhile. It goes from event to event: between two of
// them wheels, heading and place are closed forms (rolling.h). Nothing is touched within the
// clearance to the nearest thing, so that is looked for again only when the car may have used it up.
// The recorder decides what a run costs.
#pragma once

#include "core/base/exact_math.h"
#include "core/base/noise.h"
#include "core/sense/light.h"
#include "core/sense/reflectance.h"
#include "core/world/rolling.h"
#include "core/world/trace.h"

#include <algorithm>

namespace badger::world
{

using oncar::none;

inline constexpr double skin_m = 1e-6;        ///< nearer is touching
inline constexpr double free_m = 0.002;       ///< farther is free again
inline constexpr double pushStep_s = 0.002;   ///< while the way is barred
inline constexpr double sampleEvery_s = 0.02; ///< moments of a trace
/// A comparator's hysteresis, as a share of the way from dark to light. A choice of ours.
inline constexpr double hysteresis = 0.08;
/// A light resistor at a window and behind curtains, and its partner, as the stand-in's.
inline constexpr double leastLux = 20.0;
inline constexpr double mostLux = 2000.0;
inline constexpr double partner_ohm = 2200.0;

template <class Recorder> class World
{
public:
    World(const Plan &plan, std::uint64_t seed, Recorder &recorder)
        : m_plan(plan), m_model(plan.on->model()), m_record(recorder), m_noise(seed),
          m_noisy(plan.conditions.noise), m_pose(plan.start)
    {
        const auto &w = m_model.wheels;
        const double all = share(m_model.speedSpread);
        for (size_t n = 0; n < 2; ++n) {
            m_speedFactor[n] = all * share(m_model.wheelSpread);
            m_neutral_us[n] = w.neutral_us[n] + (m_noisy ? w.neutralSpread_us[n] * m_noise.bell() : 0.0);
        }
        m_rollFactor = share(m_model.rollSpread);
        for (const auto &r : m_model.rangers) {
            auto figures = r.figures;
            if (!m_noisy)
                figures.error_m = figures.noise_m = figures.lostEchoShare = 0.0;
            m_figures.push_back(figures);
            m_rangers.push_back({sense::rangerAtStart(figures, m_noise), {}, 0, false});
        }
        m_servos.resize(m_model.servos.size());
        m_pins.resize(m_model.pins.size());
        m_eyes.resize(m_model.eyes.size());
        for (const auto &in : w.inputs)
            m_floats.push_back(in.by == oncar::Input::By::Floating && m_noise.uniform() < 0.5);
        for (const auto &m : plan.arena.movers)
            m_moverSpeed = std::max(m_moverSpeed, arena::length(m.v));
        m_end_us = static_cast<std::uint64_t>(plan.conditions.lasts_s * 1e6);
        look();
        m_record.moment(moment());
        m_nextSample_s = sampleEvery_s;
    }

    // ---- time

    std::uint64_t now_us() const { return m_now_us; }
    bool over() const { return m_over || m_now_us >= m_end_us; }
    void wait_us(std::uint64_t time_us)
    {
        if (m_dirty)
            apply();
        m_now_us += time_us;
        if (!m_over)
            advance(static_cast<double>(std::min(m_now_us, m_end_us)) * 1e-6);
    }

    // ---- pins

    void duty(int pin, int counts)
    {
        if (pin == none)
            return;
        m_pins[static_cast<size_t>(pin)].counts = counts;
        m_dirty = true;
    }
    void level(int pin, bool high) { duty(pin, high ? 255 : 0); }
    /// Of a servo: a pulse in microseconds, again and again.
    void pulse(int pin, double width_us)
    {
        if (pin == none)
            return;
        m_pins[static_cast<size_t>(pin)].pulse_us = width_us;
        m_dirty = true;
        const int servo = m_model.pins[static_cast<size_t>(pin)].turns;
        if (servo != none)
            turn(servo, angleOf(width_us));
    }
    int read(int pin)
    {
        const auto *p = pin == none ? nullptr : &m_model.pins[static_cast<size_t>(pin)];
        if (p && p->reads != none)
            return levelOf(p->reads);
        return p && p->rest != none ? p->rest : m_noise.uniform() < 0.5;
    }
    int convert(int pin)
    {
        const auto *p = pin == none ? nullptr : &m_model.pins[static_cast<size_t>(pin)];
        if (p && p->reads != none)
            return countsOf(p->reads);
        return p && p->rest != none ? p->rest * sense::mostCounts
                                    : static_cast<int>(m_noise.uniform() * sense::mostCounts);
    }
    /// A trigger, and how long the echo line is then high; 0: it was not, within the time-out.
    std::uint32_t ping(int trigger, int echo, std::uint32_t timeOut_us);

    static double pulseOf(double angle_deg) { return 544.0 + angle_deg * (2400.0 - 544.0) / 180.0; }
    static double angleOf(double pulse_us) { return (pulse_us - 544.0) * 180.0 / (2400.0 - 544.0); }

    rules::Command key() const
    {
        rules::Command held = rules::Command::None;
        for (const auto &k : m_plan.conditions.keys)
            if (k.time_us <= m_now_us)
                held = k.key;
        return held;
    }
    /// What the sensors say goes straight to the wheels.
    void wiresDecide()
    {
        m_dirty = true;
        wait_us(1000);
    }

    Recorder &recorder() { return m_record; }
    void finish()
    {
        m_record.moment(moment());
        m_record.over(m_ended, std::min({m_now_us, m_overAt_us, m_end_us}));
    }

private:
    struct PinState {
        int counts = 0;
        double pulse_us = 0.0; ///< 0: none
    };
    struct ServoState {
        double from_deg = 90.0; ///< where it was when it was sent
        double to_deg = 90.0;
        double since_s = 0.0;
    };
    struct RangerState {
        sense::RangerState state;
        arena::Ear sent;
        std::uint64_t sent_us = 0;
        bool has = false;
    };
    struct EyeState {
        bool light = true;
        bool asked = false;
        int told = -1;
    };

    double share(double spread)
    {
        return m_noisy ? std::max(0.1, 1.0 + spread * m_noise.bell()) : 1.0;
    }
    Moment moment() const
    {
        return {static_cast<std::uint64_t>(m_t * 1e6 + 0.5), m_pose,
                {m_laws[0].from_mps, m_laws[1].from_mps}};
    }
    std::uint64_t at_us() const { return static_cast<std::uint64_t>(m_t * 1e6 + 0.5); }

    // ---- motion

    bool isStill() const
    {
        return m_laws[0].kind == Law::Kind::Still && m_laws[1].kind == Law::Kind::Still;
    }
    void apply();
    void command(size_t wheel, motion::Turn turn, int counts);
    void advance(double until_s);
    void rollOn(double s);
    void look();
    void touch(const arena::Near &near);
    void push(double s);
    bool checkEdge();
    void end(End how)
    {
        m_over = true;
        m_ended = how;
        m_overAt_us = at_us();
    }

    // ---- sensors

    void turn(int servo, double angle_deg)
    {
        auto &s = m_servos[static_cast<size_t>(servo)];
        s.from_deg = stands_deg(servo);
        s.to_deg = angle_deg;
        s.since_s = static_cast<double>(m_now_us) * 1e-6;
    }
    double stands_deg(int servo) const
    {
        const auto &s = m_servos[static_cast<size_t>(servo)];
        const double way = s.to_deg - s.from_deg;
        const double turned = (static_cast<double>(m_now_us) * 1e-6 - s.since_s) /
                              m_model.servos[static_cast<size_t>(servo)].sPerDegree;
        return turned >= std::abs(way) ? s.to_deg : s.from_deg + (way < 0.0 ? -turned : turned);
    }
    arena::Ear earOf(const oncar::Ranger &r) const;
    void judge(Ping &p, const oncar::Ranger &r, const arena::Ear &ear,
               const std::optional<arena::Echo> &echo, std::uint32_t timeOut_us, bool lost) const;
    arena::Vec placeOf(const oncar::Eye &e) const
    {
        return m_pose.at + arena::turned(e.at, m_pose.looks);
    }
    int levelOf(int eye);
    int countsOf(int eye);
    int levelCounts(const oncar::Eye &e) const;
    int tell(int eye, int value)
    {
        auto &s = m_eyes[static_cast<size_t>(eye)];
        if (s.told != value && !m_over)
            m_record.change({m_now_us, eye, value});
        s.told = value;
        return value;
    }

    const Plan &m_plan;
    const oncar::CarModel &m_model;
    Recorder &m_record;
    Noise m_noise;
    bool m_noisy;
    arena::Pose m_pose;
    std::array<double, 2> m_speedFactor{1.0, 1.0};
    std::array<double, 2> m_neutral_us{};
    double m_rollFactor = 1.0;
    std::vector<sense::RangerFigures> m_figures;
    std::vector<RangerState> m_rangers;
    std::vector<ServoState> m_servos;
    std::vector<PinState> m_pins;
    std::vector<EyeState> m_eyes;
    std::vector<bool> m_floats;
    double m_moverSpeed = 0.0;

    std::array<Law, 2> m_laws{Law::still(), Law::still()};
    std::array<motion::Turn, 2> m_turn{motion::Turn::None, motion::Turn::None};
    std::array<int, 2> m_counts{0, 0};
    bool m_dirty = true;
    std::uint64_t m_now_us = 0;
    std::uint64_t m_end_us = 0;
    double m_t = 0.0;     ///< to which the car was moved, seconds
    double m_room_m = 0.0; ///< that may be driven before the next look for things
    double m_edgeRoom_m = 0.0;
    double m_nextSample_s = 0.0;
    bool m_pushes = false;
    bool m_over = false;
    End m_ended = End::Time;
    std::uint64_t m_overAt_us = ~std::uint64_t(0);
};

// ---- motion

template <class R> void World<R>::apply()
{
    m_dirty = false;
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
                acts = std::min(255, static_cast<int>(std::abs(off) * 255.0 / w.fullPulse_us + 0.5));
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
    const auto &w = m_model.wheels;
    const double v = m_laws[n].from_mps;
    if (drives) {
        const double to = w.speed_mps[n][static_cast<size_t>(counts)] * m_speedFactor[n];
        m_laws[n] = Law::rise(v, turn == Turn::Forward ? to : -to, w.rise_s);
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

template <class R> void World<R>::rollOn(double s)
{
    roll(m_pose, m_laws[0], m_laws[1], m_model.wheels.track_m, s);
    const bool moved = !isStill();
    for (auto &l : m_laws) {
        l = l.after(s);
        if (l.lasts_s <= 1e-12)
            l = l.next();
    }
    m_t += s;
    if (moved && isStill())
        m_record.moment(moment());
}

template <class R> void World<R>::advance(double until)
{
    const auto &w = m_model.wheels;
    const bool edge = !m_plan.arena.edge.empty();
    while (!m_over && until - m_t > 1e-12) {
        if (isStill() && m_moverSpeed == 0.0) {
            m_t = until;
            break;
        }
        double s = std::min(until - m_t, stride_s(m_laws[0], m_laws[1], w.track_m));
        if (R::traces)
            s = std::min(s, std::max(1e-4, m_nextSample_s - m_t));
        if (m_pushes) {
            push(std::min(s, pushStep_s));
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
            rollOn(s);
            m_room_m -= fastest * s;
            m_edgeRoom_m -= own * s;
        }
        if (R::traces && m_t >= m_nextSample_s - 1e-9) {
            m_record.moment(moment());
            m_nextSample_s = m_t + sampleEvery_s;
        }
        const auto nose = m_pose.at + m_model.axleToNose_m * m_pose.looks;
        const auto size = m_plan.arena.size;
        if (!m_over && (nose.x < 0.0 || nose.y < 0.0 || nose.x > size.x || nose.y > size.y))
            end(End::LeftPlan);
    }
}

/// What is nearest, and how far the car may go before it has to look again.
template <class R> void World<R>::look()
{
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
    const arena::Vec place{v - turn * near.onCar.y, turn * near.onCar.x};
    t.speed_mps = arena::length(place);
    const double spin = std::abs(turn) * m_model.wheels.track_m / 2.0;
    t.phase = std::abs(v) < still_mps && spin < still_mps ? Phase::Waiting
              : spin > std::abs(v)                       ? Phase::Turning
              : v > 0.0                                  ? Phase::Ahead
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
    const auto before = m_pose;
    const auto was = arena::nearest(m_plan.arena, m_model.outline, before, m_t);
    rollOn(s);
    const auto wanted = m_pose;
    arena::Near near;
    for (const auto &tried : {wanted, arena::Pose{before.at, wanted.looks},
                              arena::Pose{wanted.at, before.looks}, before}) {
        m_pose = tried;
        near = arena::nearest(m_plan.arena, m_model.outline, tried, m_t);
        if (near.distance_m > skin_m || (near.distance_m > 0.0 && near.distance_m >= was.distance_m))
            break;
    }
    m_record.nearest(near.distance_m, near.thing);
    m_record.touching(at_us());
    if (near.distance_m < free_m)
        return;
    m_pushes = false;
    m_room_m = near.distance_m - skin_m / 2.0;
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

// ---- sensors

template <class R> arena::Ear World<R>::earOf(const oncar::Ranger &r) const
{
    double yaw = r.yaw_rad;
    arena::Vec at = r.at;
    if (r.servo != none) {
        const auto &s = m_model.servos[static_cast<size_t>(r.servo)];
        const double turned = (stands_deg(r.servo) - 90.0 + s.horn_deg) * exact::pi / 180.0;
        yaw += turned;
        const auto d = exact::sineCosine(turned);
        const auto fixed = exact::sineCosine(r.yaw_rad);
        const arena::Vec arm = r.turnAt_m * arena::Vec{fixed.cosine, fixed.sine};
        at = at - arm + arena::turned(arm, {d.cosine, d.sine});
    }
    const auto d = exact::sineCosine(yaw);
    return {m_pose.at + arena::turned(at, m_pose.looks),
            arena::turned(arena::Vec{d.cosine, d.sine}, m_pose.looks), r.height_m, r.below_rad,
            r.figures.cosHalfAngle};
}

template <class R>
std::uint32_t World<R>::ping(int trigger, int echo, std::uint32_t timeOut_us)
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
    auto heard = arena::hear(m_plan.arena, ear, ranger.hearing, t_s, loud);
    Ping p;
    p.ranger = r;
    for (size_t k = 0; k < m_rangers.size(); ++k) {
        const auto &other = m_rangers[k];
        if (k == static_cast<size_t>(r) || !other.has || m_now_us - other.sent_us > 40000)
            continue;
        const auto from =
            arena::overhear(m_plan.arena, other.sent, ear, ranger.hearing, t_s);
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
    const auto answer = sense::ping(
        m_figures[static_cast<size_t>(r)], own.state, m_now_us,
        heard ? std::optional(heard->distance_m) : std::nullopt, timeOut_us, m_plan.sound_mps,
        m_noise);
    p.echo_us = answer.echo_us;
    p.done_us = m_now_us + answer.waited_us;
    if (answer.echo_us > 0)
        p.read_m = static_cast<double>(answer.echo_us) * 1e-6 * m_plan.sound_mps / 2.0;
    if constexpr (R::traces)
        judge(p, ranger, ear, heard, timeOut_us, heard.has_value() && answer.echo_us == 0);
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
        if (!ahead || ahead->distance_m > waits_m || ahead->distance_m > r.hearing.reach_m())
            return;
        p.thing = ahead->thing;
        p.slant_rad = ahead->slant_rad;
        p.wrong = lost && echo && echo->distance_m <= waits_m ? Wrong::Lost
                  : ahead->round                                ? Wrong::Thin
                  : ahead->echo < 0.9                           ? Wrong::Soft
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
    if (!ahead || p.read_m < ahead->distance_m + mayDiffer_m + 0.1 * ahead->distance_m)
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
    return tell(eye, static_cast<int>(std::clamp(counts + noise, 0.0, double(sense::mostCounts)) + 0.5));
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
