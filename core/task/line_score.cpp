// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/task/line_score.h"

#include <algorithm>

namespace badger::task
{

namespace
{

/// The eyes that look down at the floor.
struct Strip {
    arena::Vec middle;
    double half_m = 0.0; ///< from the middle to the outermost
    double spot_m = 0.0;
    bool any = false;
};

Strip stripOf(const oncar::CarModel &car)
{
    Strip s;
    double low = 1e9, high = -1e9, x = 0.0;
    int n = 0;
    for (const auto &e : car.eyes) {
        if (e.kind == oncar::Eye::Kind::Button || e.kind == oncar::Eye::Kind::Light || e.level)
            continue;
        low = std::min(low, e.at.y);
        high = std::max(high, e.at.y);
        x += e.at.x;
        s.spot_m = std::max(s.spot_m, e.spot_m);
        ++n;
    }
    if (n == 0)
        return s;
    s.any = true;
    s.middle = {x / n, (low + high) / 2.0};
    s.half_m = (high - low) / 2.0;
    return s;
}

} // namespace

void scoreLine(const world::Plan &plan, const world::Trace &trace, Score &to)
{
    const auto strip = stripOf(plan.on->model());
    const auto &tracks = plan.arena.tracks;
    if (!strip.any || tracks.empty())
        return;
    const auto &program = plan.on->program();
    const bool lane = tracks.size() == 2 && tracks[0].closed && tracks[1].closed && program.from &&
                      program.from->name == "lane";
    constexpr double forGood_s = 0.15; ///< a shorter one is a gap or a crossing
    constexpr double beyond_m = 0.02;  ///< nearer, a follower is still on its way back
    bool lost = false;
    double lostFor_s = 0.0;
    double travelled = 0.0;
    double lastAlong = -1.0;
    int lastTrack = -1;
    std::uint64_t last_us = 0;
    for (const auto &m : trace.path) {
        const auto p = m.pose.at + arena::turned(strip.middle, m.pose.looks);
        const auto on = arena::onTrack(plan.arena, p);
        const auto &track = tracks[static_cast<size_t>(on.track)];
        double away = std::abs(on.away_m);
        double most = strip.half_m + track.width / 2.0 + strip.spot_m / 2.0;
        if (lane) {
            arena::Arena one;
            std::array<double, 2> to2{};
            for (size_t t = 0; t < 2; ++t) {
                one.tracks = {tracks[t]};
                to2[t] = std::abs(arena::onTrack(one, p).away_m);
            }
            away = std::abs(to2[0] - to2[1]) / 2.0;
            most = strip.half_m + track.width / 2.0 + strip.spot_m / 2.0;
        }
        const double dt = double(m.time_us - last_us) * 1e-6;
        last_us = m.time_us;
        if (away > most + beyond_m) {
            lostFor_s += dt;
            if (!lost && lostFor_s >= forGood_s) {
                lost = true;
                to.losses.push_back({m.time_us, on.along_m, on.track, false});
            }
        } else {
            if (lost)
                to.losses.back().found = true;
            lost = false;
            lostFor_s = 0.0;
            to.sawLine = true;
            to.swing_m = std::max(to.swing_m, away);
        }
        if (track.round && on.track == lastTrack) {
            double step = on.along_m - lastAlong;
            if (step > track.length / 2.0)
                step -= track.length;
            else if (step < -track.length / 2.0)
                step += track.length;
            if (std::abs(step) < 0.2) // a jump at a crossing is no way
                travelled += step / track.length;
        }
        lastTrack = on.track;
        lastAlong = on.along_m;
    }
    to.laps = std::abs(travelled);
}

} // namespace badger::task
