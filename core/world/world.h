// SPDX-License-Identifier: GPL-3.0-or-later
// The physical side of a run, as pins and time. Private to world/.
//
// Whoever drives the pins (a lowered program, an emulated chip, the wires of a car without a board)
// asks for time and levels; the world moves on meanwhile. It goes from event to event: between two
// of them wheels, heading and place are closed forms (rolling.h). Nothing is touched within the
// clearance to the nearest thing, so that is looked for again only when the car may have used it
// up. The recorder decides what a run costs: it says how often it wants to see the car between
// events, and whether readings are to be judged; neither changes a bit of the run.
//
// A world drives one run after the other and allocates nothing once it was made.
#pragma once

#include "core/base/exact_math.h"
#include "core/base/noise.h"
#include "core/sense/light.h"
#include "core/sense/reflectance.h"
#include "core/world/rolling.h"
#include "core/world/trace.h"

#include <algorithm>
#include <utility>

namespace badger::world
{

using oncar::none;

inline constexpr double skin_m = 1e-6;      ///< nearer is touching
inline constexpr double free_m = 0.002;     ///< farther is free again
inline constexpr double pushStep_s = 0.002; ///< while the way is barred
/// So far the nose may be beyond the plan before a run ends.
inline constexpr double inside_m = 1e-4;
/// Nearer than this the outline itself is looked at, and not the circle round it.
inline constexpr double near_m = 0.05;
/// A comparator's hysteresis, as a share of the way from dark to light. A choice of ours.
inline constexpr double hysteresis = 0.08;
/// While a swivel caster swings right round it takes so much of the speed of the wheel towards
/// which it pulls, over so many of its trails. Choices of ours until a car's own bend is measured.
inline constexpr double casterDrag = 0.08;
inline constexpr double casterTrails = 3.0;
inline constexpr double swung_m = 1e-5; ///< so far it may be beyond its way
/// As often, at least, what is left of the charge is looked at.
inline constexpr double chargeEvery_s = 5.0;
/// A light resistor at a window and behind curtains, and its partner, as the stand-in's.
inline constexpr double leastLux = 20.0;
inline constexpr double mostLux = 2000.0;
inline constexpr double partner_ohm = 2200.0;

template <class Recorder> class World
{
public:
    World(const Plan &plan, Recorder &recorder)
        : m_plan(plan), m_model(plan.on->model()), m_record(recorder),
          m_noisy(plan.conditions.noise)
    {
        m_figures.reserve(m_model.rangers.size());
        m_rangers.reserve(m_model.rangers.size());
        m_servos.reserve(m_model.servos.size());
        m_pins.reserve(m_model.pins.size());
        m_eyes.reserve(m_model.eyes.size());
        m_floats.reserve(m_model.wheels.inputs.size());
        for (const auto &r : m_model.rangers) {
            const auto d = exact::sineCosine(r.yaw_rad);
            m_axes.push_back({d.cosine, d.sine});
        }
        for (const auto &m : plan.arena.movers)
            m_moverSpeed = std::max(m_moverSpeed, arena::length(m.v));
        m_lasts_us = static_cast<std::uint64_t>(plan.conditions.lasts_s * 1e6);
    }

    /// The car at its start again, with the chance of another run.
    void begin(std::uint64_t seed)
    {
        m_noise = Noise(seed);
        m_pose = m_plan.start;
        m_laws = {Law::still(), Law::still()};
        m_caster = {};
        m_used_C = m_plan.conditions.chargeUsed * m_model.charge.usable_C;
        m_chargeAt_s = m_speedsAt_s = 0.0;
        m_swings = false;
        m_turn = {motion::Turn::None, motion::Turn::None};
        m_counts = {0, 0};
        m_dirty = true;
        m_now_us = 0;
        m_t = m_edgeRoom_m = 0.0;
        m_pushes = m_stuck = m_over = false;
        m_ended = End::Time;
        m_overAt_us = ~std::uint64_t(0);
        m_end_us = m_lasts_us;
        m_rested = false;
        const auto &w = m_model.wheels;
        const auto &drawn = m_plan.conditions.drawn;
        const double all = share(m_model.speedSpread);
        for (size_t n = 0; n < 2; ++n) {
            m_speedFactor[n] =
                all * share(m_model.wheelSpread) * drawn.speed * drawn.wheels[n];
            m_neutral_us[n] =
                w.neutral_us[n] + (m_noisy ? w.neutralSpread_us[n] * m_noise.bell() : 0.0);
        }
        m_rollFactor = share(m_model.rollSpread) * drawn.roll;
        m_figures.clear();
        m_rangers.clear();
        for (const auto &r : m_model.rangers) {
            const auto figures = m_noisy ? r.figures : r.figures.withoutChance();
            m_figures.push_back(figures);
            m_rangers.push_back({sense::rangerAtStart(figures, m_noise), {}, {}, 0, false});
        }
        m_servos.assign(m_model.servos.size(), {});
        m_pins.assign(m_model.pins.size(), {});
        m_eyes.assign(m_model.eyes.size(), {});
        m_floats.clear();
        for (const auto &in : w.inputs)
            m_floats.push_back(in.by == oncar::Input::By::Floating && m_noise.uniform() < 0.5);
        look();
        checkPlan();
        m_record.moment(moment());
        m_nextSample_s = m_record.sampleEvery_s();
    }

    // ---- time

    std::uint64_t now_us() const { return m_now_us; }
    bool over() const { return m_over || m_now_us >= m_end_us; }
    void wait_us(std::uint64_t time_us)
    {
        if (m_dirty)
            apply();
        else if (m_model.charge.usable_C > 0.0 && m_t - m_speedsAt_s >= chargeEvery_s)
            discharge();
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

    void entered(const machine::Mind &mind, const machine::Cause &cause)
    {
        if (!over())
            m_record.step(m_now_us, mind, cause);
    }
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
        arena::Listening ears;
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
        return {static_cast<std::uint64_t>(m_t * 1e6 + 0.5),
                m_pose,
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
    void drive(size_t wheel);
    double wanted_mps(size_t wheel) const;
    void discharge();
    void swing();
    void swung(double way_m);
    void rested();
    void advance(double until_s);
    double rollOn(double s);
    void sample(double s);
    void look();
    void touch(const arena::Near &near);
    void push(double s);
    bool checkEdge();
    void checkPlan();
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
    Noise m_noise{0};
    bool m_noisy;
    arena::Pose m_pose;
    std::array<double, 2> m_speedFactor{1.0, 1.0};
    std::array<double, 2> m_neutral_us{};
    double m_rollFactor = 1.0;
    double m_used_C = 0.0;
    double m_chargeAt_s = 0.0; ///< up to which it is counted
    double m_speedsAt_s = 0.0; ///< when the speeds were last made of it
    bool m_swings = false;     ///< the wheels were told something else
    /// The swivel caster, in the car's own frame.
    struct Caster {
        arena::Vec rolls{1.0, 0.0};             ///< where it rolled to before the last command
        arena::Vec to{1.0, 0.0};                ///< where it swings to
        double left_m = 0.0;                    ///< way of the wheels until it is there
        double side = 0.0;                      ///< above 0: it pulls the car to the left
        std::array<double, 2> factor{1.0, 1.0}; ///< what it leaves of the wheels' speeds
    } m_caster;
    std::vector<sense::RangerFigures> m_figures;
    std::vector<RangerState> m_rangers;
    std::vector<ServoState> m_servos;
    std::vector<PinState> m_pins;
    std::vector<EyeState> m_eyes;
    std::vector<char> m_floats;
    std::vector<arena::Vec> m_axes; ///< of the rangers, as mounted
    double m_moverSpeed = 0.0;

    std::array<Law, 2> m_laws{Law::still(), Law::still()};
    std::array<motion::Turn, 2> m_turn{motion::Turn::None, motion::Turn::None};
    std::array<int, 2> m_counts{0, 0};
    bool m_dirty = true;
    std::uint64_t m_now_us = 0;
    std::uint64_t m_lasts_us = 0;
    std::uint64_t m_end_us = 0;
    bool m_rested = false;
    double m_t = 0.0;      ///< to which the car was moved, seconds
    double m_room_m = 0.0; ///< that may be driven before the next look for things
    double m_edgeRoom_m = 0.0;
    double m_planRoom_m = 0.0;
    double m_nextSample_s = 0.0;
    bool m_pushes = false;
    bool m_stuck = false; ///< and in vain
    bool m_over = false;
    End m_ended = End::Time;
    std::uint64_t m_overAt_us = ~std::uint64_t(0);
};

} // namespace badger::world

#include "core/world/world_motion.h"
#include "core/world/world_sensors.h"
