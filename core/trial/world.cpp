// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trial/world.h"

#include "core/base/named.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <cstdlib>

namespace badger::trial
{

using rules::WheelCommand;
using Kind = WheelCommand::Kind;

namespace
{

constexpr std::uint64_t longestStep_us = 1000;
constexpr std::uint64_t sampleEvery_us = 10000;
constexpr std::uint64_t restForGood_us = 1000000;
constexpr double still_mps = 0.001;   ///< slower than this a wheel counts as still
constexpr double touching_m = 0.0001; ///< nearer than this the front touches

double share(Noise &noise, double spread)
{
    return std::max(0.1, 1.0 + spread * noise.bell());
}

/// A cheap no: the wall's box lies farther from the axle than any corner of the car.
bool isFar(const floor::Wall &wall, floor::Point from, double reach_m)
{
    return std::max(wall.from.x_m, wall.to.x_m) < from.x_m - reach_m ||
           std::min(wall.from.x_m, wall.to.x_m) > from.x_m + reach_m ||
           std::max(wall.from.y_m, wall.to.y_m) < from.y_m - reach_m ||
           std::min(wall.from.y_m, wall.to.y_m) > from.y_m + reach_m;
}

} // namespace

World::World(const Setup &setup, double sound_mps, std::uint64_t seed)
    : m_setup(setup), m_sound_mps(sound_mps), m_noise(seed)
{
    const double speed = share(m_noise, setup.car.speedSpread);
    m_left.speeds_mps = &setup.car.speed_mps[0];
    m_right.speeds_mps = &setup.car.speed_mps[1];
    m_left.factor = speed * share(m_noise, setup.car.wheelSpread);
    m_right.factor = speed * share(m_noise, setup.car.wheelSpread);
    m_rollFactor = share(m_noise, setup.car.rollSpread);
    for (const auto &r : setup.car.rangers)
        m_rangers.push_back(
            {sense::rangerAtStart(r.figures, m_noise), floor::direction(r.mount.yaw_rad)});
    m_looks = floor::direction(setup.floor.start.heading_rad);
    const auto nose = setup.floor.start.nose;
    const double back = setup.car.geometry.axleToNose_m;
    m_axle = {nose.x_m - back * m_looks.x, nose.y_m - back * m_looks.y};
    m_trial.seed = seed;
    m_trial.path.push_back(pose());
    m_nextSample_us = sampleEvery_us;
}

floor::Point World::at(double ahead_m, double left_m) const
{
    return {m_axle.x_m + ahead_m * m_looks.x - left_m * m_looks.y,
            m_axle.y_m + ahead_m * m_looks.y + left_m * m_looks.x};
}

Pose World::pose() const
{
    return {m_now_us, at(m_setup.car.geometry.axleToNose_m, 0.0), m_looks,
            (m_left.speed_mps + m_right.speed_mps) / 2.0};
}

double World::next_mps(WheelState &wheel, double dt_s) const
{
    const double v = wheel.speed_mps;
    if (wheel.command.kind == Kind::Turn) {
        const int counts = wheel.command.pwm_counts;
        const double target =
            std::copysign((*wheel.speeds_mps)[static_cast<size_t>(std::abs(counts))] * wheel.factor,
                          static_cast<double>(counts));
        return v + (target - v) * std::min(1.0, dt_s / m_setup.car.rise_s);
    }
    const auto &roll =
        wheel.command.kind == Kind::Brake ? m_setup.car.brakeRoll : m_setup.car.coastRoll;
    const double distance = roll.distance_m * m_rollFactor;
    const double magnitude = std::abs(v);
    double slower = 0.0;
    if (distance > 0.0 && roll.law == kit::RollLaw::Friction)
        slower = magnitude - roll.speed_mps * roll.speed_mps / (2.0 * distance) * dt_s;
    else if (distance > 0.0)
        slower = magnitude - magnitude * std::min(1.0, dt_s * roll.speed_mps / distance);
    return slower < still_mps ? 0.0 : std::copysign(slower, v);
}

void World::step(double dt_s)
{
    const double left = next_mps(m_left, dt_s);
    const double right = next_mps(m_right, dt_s);
    // Mean of the speeds before and after: exact for a constant deceleration.
    const double l_m = (m_left.speed_mps + left) / 2.0 * dt_s;
    const double r_m = (m_right.speed_mps + right) / 2.0 * dt_s;
    m_left.speed_mps = left;
    m_right.speed_mps = right;
    const double turn_rad = (r_m - l_m) / m_setup.car.geometry.track_m;
    const auto middle = floor::turned(m_looks, turn_rad / 2.0);
    const double way_m = (l_m + r_m) / 2.0;
    m_axle = {m_axle.x_m + way_m * middle.x, m_axle.y_m + way_m * middle.y};
    m_looks = floor::turned(m_looks, turn_rad);
}

void World::look()
{
    const double half = m_setup.car.geometry.width_m / 2.0;
    const double front = m_setup.car.geometry.axleToNose_m;
    const double rear = front - m_setup.car.geometry.length_m;
    const auto nearLeft = at(front, half);
    const auto nearRight = at(front, -half);
    const double reach = std::max(front, m_setup.car.geometry.length_m) + half;
    for (const auto &wall : m_setup.floor.walls) {
        if (isFar(wall, m_axle, reach))
            continue;
        const bool sides = floor::clearance_m(wall, nearLeft, at(rear, half)) == 0.0 ||
                           floor::clearance_m(wall, nearRight, at(rear, -half)) == 0.0;
        if (!sides && floor::clearance_m(wall, nearLeft, nearRight) > touching_m)
            continue;
        m_over = true;
        m_trial.outcome = Outcome::Contact;
        m_trial.contactWall = wall.name;
        m_trial.contactSpeed_mps = std::abs(pose().speed_mps);
    }
    const bool still = m_left.speed_mps == 0.0 && m_right.speed_mps == 0.0;
    m_moved = m_moved || !still;
    if (!still)
        m_stillSince_us = m_now_us;
    const auto nose = at(front, 0.0);
    if (!m_over && m_moved && still && m_now_us - m_stillSince_us >= restForGood_us) {
        m_over = true;
        m_trial.outcome = Outcome::Stopped;
    } else if (!m_over && (nose.x_m < 0.0 || nose.y_m < 0.0 || nose.x_m > m_setup.floor.width_m ||
                           nose.y_m > m_setup.floor.depth_m)) {
        m_over = true;
        m_trial.outcome = Outcome::LeftFloor;
    }
    if (m_now_us >= m_nextSample_us || m_over) {
        m_trial.path.push_back(pose());
        while (m_nextSample_us <= m_now_us)
            m_nextSample_us += sampleEvery_us;
    }
}

void World::wait_us(std::uint64_t time_us)
{
    const auto end_us = m_now_us + time_us;
    while (m_now_us < end_us && !m_over) {
        auto chunk = std::min(longestStep_us, end_us - m_now_us);
        if (m_commandPending && m_commandAt_us <= m_now_us) {
            m_left.command = m_nextLeft;
            m_right.command = m_nextRight;
            m_commandPending = false;
        }
        if (m_commandPending)
            chunk = std::min(chunk, m_commandAt_us - m_now_us);
        step(static_cast<double>(chunk) * 1e-6);
        m_now_us += chunk;
        look();
    }
    m_now_us = std::max(m_now_us, end_us);
}

std::uint32_t World::ping_us(std::string_view ranger, std::uint32_t timeOut_us)
{
    constexpr std::uint64_t trigger_us = 12;         // 2 us low, 10 us high
    constexpr std::uint64_t longestHeld_us = 250000; // the board waits for no line longer
    const auto &car = m_setup.car;
    const auto *model = named(car.rangers, ranger);
    assert(model && "a firmware pings only rangers of its setup");
    auto &[state, mounted] = m_rangers[static_cast<size_t>(model - car.rangers.data())];
    if (sense::isHeld(state, m_now_us)) {
        wait_us(std::min(state.lineBusyUntil_us - m_now_us, longestHeld_us));
        if (sense::isHeld(state, m_now_us))
            return 0;
    }
    wait_us(trigger_us);
    Ping ping;
    ping.sent_us = m_now_us;
    ping.from = pose();
    const auto looks = floor::turnedBy(m_looks, mounted);
    const auto from = at(car.geometry.axleToNose_m - model->mount.setBack_m, model->mount.offset_m);
    if (const auto heard =
            floor::nearestHeard(m_setup.floor, from, looks, model->figures.cosHalfAngle)) {
        ping.true_m = heard->distance_m;
        ping.foot = heard->foot;
    }
    const auto answer =
        sense::ping(model->figures, state, m_now_us, ping.true_m, timeOut_us, m_sound_mps, m_noise);
    m_trial.pings.push_back(ping);
    wait_us(answer.waited_us);
    return answer.echo_us;
}

void World::drive(WheelCommand left, WheelCommand right)
{
    const auto turns = [](const WheelCommand &l, const WheelCommand &r) {
        return l.kind == Kind::Turn || r.kind == Kind::Turn;
    };
    const bool drove =
        m_commandPending ? turns(m_nextLeft, m_nextRight) : turns(m_left.command, m_right.command);
    if (turns(left, right))
        m_trial.deciding = -1;
    else if (drove)
        m_trial.deciding = m_decisive;
    m_nextLeft = left;
    m_nextRight = right;
    m_commandPending = true;
    m_commandAt_us =
        m_now_us + static_cast<std::uint64_t>(std::llround(m_setup.car.actuation_s * 1e6));
}

void World::print(std::string_view text, int baud)
{
    constexpr double buffer = 64.0;
    const double character_us = 1e7 / baud; // 10 bits
    const double queued_us = std::max(0.0, m_sendQueue_us - static_cast<double>(m_now_us));
    const double needs_us = static_cast<double>(text.size()) * character_us;
    const double over_us = queued_us + needs_us - buffer * character_us;
    m_sendQueue_us = static_cast<double>(m_now_us) + queued_us + needs_us;
    if (over_us > 0.0)
        wait_us(static_cast<std::uint64_t>(std::ceil(over_us)));
}

void World::note(const rules::Decision &decision)
{
    assert(m_decided < m_trial.pings.size());
    if (decision.decisive)
        m_decisive = static_cast<int>(m_decided);
    auto &ping = m_trial.pings[m_decided++];
    ping.decision = decision;
    ping.decided = true;
    ping.decided_us = m_now_us;
}

Trial World::result() const
{
    auto trial = m_trial;
    if (!m_over)
        trial.outcome = m_moved ? Outcome::StillDriving : Outcome::NeverMoved;
    const double half = m_setup.car.geometry.width_m / 2.0;
    const double front = m_setup.car.geometry.axleToNose_m;
    std::optional<double> least;
    for (const auto &wall : m_setup.floor.walls) {
        const double gap = floor::clearance_m(wall, at(front, half), at(front, -half));
        least = std::min(least.value_or(gap), gap);
    }
    trial.gap_m = trial.outcome == Outcome::Contact ? 0.0 : least.value_or(0.0);
    trial.end_s = static_cast<double>(m_now_us) * 1e-6;
    if (trial.path.back().time_us < m_now_us)
        trial.path.push_back(pose());
    return trial;
}

} // namespace badger::trial
