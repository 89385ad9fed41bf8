// SPDX-License-Identifier: GPL-3.0-or-later
// The plain way to drive a car on a floor, to measure the events of world/ against: steps of a
// millisecond, a grid of the walls for contact, the library's sine and cosine. Pings are heard by
// the same code.
#pragma once

#include "core/world/board.h"
#include "core/world/runs.h"

#include <cmath>
#include <optional>

namespace badger::bench
{

using arena::Vec;
using oncar::none;

/// Which walls run through each square of a floor.
class WallGrid
{
public:
    explicit WallGrid(const arena::Arena &arena)
        : m_wide(static_cast<int>(arena.size.x / side_m) + 1),
          m_deep(static_cast<int>(arena.size.y / side_m) + 1),
          m_cells(static_cast<std::size_t>(m_wide * m_deep))
    {
        for (const auto &s : arena.segments)
            for (double along = 0.0; along <= s.length + side_m / 4; along += side_m / 4) {
                const Vec p = s.a + std::min(along, s.length) * s.along;
                auto &cell = m_cells[at(column(p.x), row(p.y))];
                if (cell.empty() || cell.back() != &s)
                    cell.push_back(&s);
            }
    }
    template <class Visit> void around(Vec p, double reach, Visit &&visit) const
    {
        for (int y = row(p.y - reach); y <= row(p.y + reach); ++y)
            for (int x = column(p.x - reach); x <= column(p.x + reach); ++x)
                for (const auto *s : m_cells[at(x, y)])
                    visit(*s);
    }

private:
    static constexpr double side_m = 0.25;
    std::size_t at(int x, int y) const { return static_cast<std::size_t>(y * m_wide + x); }
    int column(double x) const { return std::clamp(static_cast<int>(x / side_m), 0, m_wide - 1); }
    int row(double y) const { return std::clamp(static_cast<int>(y / side_m), 0, m_deep - 1); }
    int m_wide, m_deep;
    std::vector<std::vector<const arena::Segment *>> m_cells;
};

class MsWorld
{
public:
    MsWorld(const world::Plan &plan, const WallGrid &grid, std::uint64_t seed)
        : m_plan(plan), m_model(plan.on->model()), m_grid(grid), m_noise(seed), m_at(plan.start.at),
          m_heading(std::atan2(plan.start.looks.y, plan.start.looks.x)),
          m_pins(m_model.pins.size(), 0), m_pulses(m_model.pins.size(), 0.0),
          m_servos(m_model.servos.size(), 90.0)
    {
        for (const auto &r : m_model.rangers)
            m_rangers.push_back(sense::rangerAtStart(r.figures, m_noise));
    }

    std::uint64_t now_us() const { return m_now_us; }
    bool over() const { return double(m_now_us) * 1e-6 >= m_plan.conditions.lasts_s; }
    int touches() const { return m_touches; }
    void wait_us(std::uint64_t time_us)
    {
        m_now_us += time_us;
        for (; m_stepped_us + 1000 <= m_now_us && !over(); m_stepped_us += 1000)
            step();
    }
    void duty(int pin, int counts)
    {
        if (pin != none)
            m_pins[static_cast<std::size_t>(pin)] = counts;
    }
    void level(int pin, bool high) { duty(pin, high ? 255 : 0); }
    void pulse(int pin, double width_us)
    {
        m_pulses[static_cast<std::size_t>(pin)] = width_us;
        if (const int servo = m_model.pins[static_cast<std::size_t>(pin)].turns; servo != none)
            m_servos[static_cast<std::size_t>(servo)] = (width_us - 544.0) * 180.0 / 1856.0;
    }
    static double pulseOf(double angle_deg) { return 544.0 + angle_deg * 1856.0 / 180.0; }
    int read(int pin)
    {
        const int eye = m_model.pins[static_cast<std::size_t>(pin)].reads;
        const auto &e = m_model.eyes[static_cast<std::size_t>(eye)];
        const auto g = arena::groundAt(m_plan.arena, place(e.at), e.spot_m);
        const bool light = g.albedo > (floor::lightAlbedo + floor::darkAlbedo) / 2.0;
        return light == e.highOnLight;
    }
    int convert(int pin)
    {
        const int eye = m_model.pins[static_cast<std::size_t>(pin)].reads;
        const auto &e = m_model.eyes[static_cast<std::size_t>(eye)];
        const auto g = arena::groundAt(m_plan.arena, place(e.at), e.spot_m);
        const double light =
            (g.albedo - floor::darkAlbedo) / (floor::lightAlbedo - floor::darkAlbedo);
        return static_cast<int>(e.dark_counts + light * (e.light_counts - e.dark_counts) + 0.5);
    }
    rules::Command key() const { return rules::Command::None; }
    void entered(const machine::Mind &, const machine::Cause &) {}
    std::uint32_t ping(int trigger, int, std::uint32_t timeOut_us)
    {
        const auto r =
            static_cast<std::size_t>(m_model.pins[static_cast<std::size_t>(trigger)].triggers);
        const auto &ranger = m_model.rangers[r];
        double yaw = ranger.yaw_rad + m_heading;
        if (ranger.servo != none)
            yaw += (m_servos[static_cast<std::size_t>(ranger.servo)] - 90.0) * M_PI / 180.0;
        wait_us(12);
        const arena::Ear ear{place(ranger.at),
                             {std::cos(yaw), std::sin(yaw)},
                             ranger.height_m,
                             ranger.below_rad,
                             ranger.figures.cosHalfAngle};
        const auto heard = arena::hear(m_plan.arena, ear, ranger.hearing, double(m_now_us) * 1e-6,
                                       std::exp(1.5 * m_noise.bell() * 0.1151));
        const auto answer = sense::ping(ranger.figures, m_rangers[r], m_now_us,
                                        heard ? std::optional(heard->distance_m) : std::nullopt,
                                        timeOut_us, m_plan.sound_mps, m_noise);
        wait_us(answer.waited_us);
        return answer.echo_us;
    }

private:
    Vec place(Vec own) const
    {
        const double c = std::cos(m_heading), s = std::sin(m_heading);
        return m_at + Vec{own.x * c - own.y * s, own.x * s + own.y * c};
    }
    void drive()
    {
        const auto &w = m_model.wheels;
        std::size_t row = 0;
        std::array<int, 2> counts{255, 255};
        for (const auto &in : w.inputs) {
            const int acts =
                in.by == oncar::Input::By::Pin ? m_pins[static_cast<std::size_t>(in.of)] : 0;
            row = row * 2 + (acts > 0);
            for (std::size_t n = 0; n < 2; ++n)
                if (in.moves[n] && acts > 0)
                    counts[n] = std::min(counts[n], acts);
        }
        for (std::size_t n = 0; n < 2; ++n) {
            auto turn = w.rows[row].turn[n];
            if (w.enable[n] != none) {
                const int acts = m_pins[static_cast<std::size_t>(w.enable[n])];
                counts[n] = std::min(counts[n], acts);
                if (acts == 0)
                    turn = motion::Turn::Coast;
            }
            if (turn == motion::Turn::Forward || turn == motion::Turn::Backward) {
                const double to = w.speed_mps[n][static_cast<std::size_t>(counts[n])];
                m_v[n] += ((turn == motion::Turn::Forward ? to : -to) - m_v[n]) *
                          (1.0 - std::exp(-0.001 / w.rise_s));
            } else {
                const auto &roll = turn == motion::Turn::Brake ? w.brakeRoll : w.coastRoll;
                m_v[n] *= std::exp(-0.001 * roll.speed_mps / roll.distance_m);
                if (std::abs(m_v[n]) < 0.001)
                    m_v[n] = 0.0;
            }
        }
    }
    bool touches(const Vec *corners, std::size_t count, const arena::Segment &s) const
    {
        for (std::size_t i = 0; i < count; ++i) {
            const Vec p = corners[i], q = corners[(i + 1) % count];
            if (arena::cross(q - p, s.a - p) * arena::cross(q - p, s.b - p) < 0.0 &&
                arena::cross(s.along, p - s.a) * arena::cross(s.along, q - s.a) < 0.0)
                return true;
        }
        return false;
    }
    void step()
    {
        drive();
        const auto before = m_at;
        const double heading = m_heading;
        m_heading += (m_v[1] - m_v[0]) / m_model.wheels.track_m * 0.001;
        const double v = (m_v[0] + m_v[1]) / 2.0 * 0.001;
        m_at = m_at + Vec{v * std::cos(m_heading), v * std::sin(m_heading)};
        Vec corners[16];
        const auto &o = m_model.outline;
        const std::size_t count = std::min<std::size_t>(16, o.corners.size());
        for (std::size_t i = 0; i < count; ++i)
            corners[i] = place(o.corners[i]);
        const auto middle = place(o.middle);
        bool touched = false;
        m_grid.around(middle, o.radius, [&](const arena::Segment &s) {
            touched = touched || touches(corners, count, s);
        });
        if (touched) {
            m_touches += !m_touched;
            m_at = before;
            m_heading = heading;
        }
        m_touched = touched;
    }

    const world::Plan &m_plan;
    const oncar::CarModel &m_model;
    const WallGrid &m_grid;
    Noise m_noise;
    Vec m_at;
    double m_heading;
    double m_v[2] = {0.0, 0.0};
    std::vector<int> m_pins;
    std::vector<double> m_pulses;
    std::vector<double> m_servos;
    std::vector<sense::RangerState> m_rangers;
    std::uint64_t m_now_us = 0;
    std::uint64_t m_stepped_us = 0;
    int m_touches = 0;
    bool m_touched = false;
};

} // namespace badger::bench
