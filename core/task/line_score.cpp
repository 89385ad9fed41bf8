// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/task/line_score.h"

#include <algorithm>

namespace badger::task
{

LineFollowed::LineFollowed(const world::Plan &plan) : m_plan(plan)
{
    double low = 1e9, high = -1e9, x = 0.0;
    int n = 0;
    for (const auto &e : plan.on->model().eyes) {
        if (e.kind == oncar::Eye::Kind::Button || e.kind == oncar::Eye::Kind::Light || e.level)
            continue;
        low = std::min(low, e.at.y);
        high = std::max(high, e.at.y);
        x += e.at.x;
        m_spot_m = std::max(m_spot_m, e.spot_m);
        ++n;
    }
    const auto &tracks = plan.arena.tracks;
    if (n == 0 || tracks.empty())
        return;
    m_any = true;
    m_middle = {x / n, (low + high) / 2.0};
    m_half_m = (high - low) / 2.0;
    const auto &program = plan.on->program();
    m_lane = tracks.size() == 2 && tracks[0].closed && tracks[1].closed && program.from &&
             program.from->name == "lane";
}

void LineFollowed::begin()
{
    m_lost = m_sawLine = false;
    m_losses = 0;
    m_loss = {};
    m_lostFor_s = m_travelled = m_swing_m = 0.0;
    m_lastAlong = -1.0;
    m_lastTrack = -1;
    m_last_us = 0;
}

void LineFollowed::take(const world::Moment &m)
{
    constexpr double forGood_s = 0.15; ///< a shorter one is a gap or a crossing
    constexpr double beyond_m = 0.02;  ///< nearer, a follower is still on its way back
    if (!m_any)
        return;
    const auto p = m.pose.at + arena::turned(m_middle, m.pose.looks);
    const auto on = arena::onTrack(m_plan.arena, p);
    const auto &track = m_plan.arena.tracks[static_cast<size_t>(on.track)];
    double away = std::abs(on.away_m);
    if (m_lane)
        away = std::abs(std::abs(arena::onTrack(m_plan.arena, 0, p).away_m) -
                        std::abs(arena::onTrack(m_plan.arena, 1, p).away_m)) /
               2.0;
    const double dt = double(m.time_us - m_last_us) * 1e-6;
    m_last_us = m.time_us;
    if (away > m_half_m + track.width / 2.0 + m_spot_m / 2.0 + beyond_m) {
        m_lostFor_s += dt;
        if (!m_lost && m_lostFor_s >= forGood_s) {
            m_lost = true;
            m_loss = {m.time_us, on.along_m, on.track, false};
            ++m_losses;
        }
    } else {
        m_lost = false;
        m_lostFor_s = 0.0;
        m_sawLine = true;
        m_swing_m = std::max(m_swing_m, away);
    }
    if (track.round && on.track == m_lastTrack) {
        double step = on.along_m - m_lastAlong;
        if (step > track.length / 2.0)
            step -= track.length;
        else if (step < -track.length / 2.0)
            step += track.length;
        if (std::abs(step) < 0.2) // a jump at a crossing is no way
            m_travelled += step / track.length;
    }
    m_lastTrack = on.track;
    m_lastAlong = on.along_m;
}

double LineFollowed::laps() const
{
    return std::abs(m_travelled);
}

void scoreLine(const world::Plan &plan, const world::Trace &trace, Score &to)
{
    LineFollowed line(plan);
    for (const auto &m : trace.path) {
        const bool was = line.isLost();
        line.take(m);
        if (line.isLost() && !was)
            to.losses.push_back(line.loss());
        if (was && !line.isLost())
            to.losses.back().found = true;
    }
    to.sawLine = line.sawLine();
    to.swing_m = line.swing_m();
    to.laps = line.laps();
}

} // namespace badger::task
