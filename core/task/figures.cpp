// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/task/figures.h"

#include "core/base/exact_math.h"

#include <algorithm>

namespace badger::task
{

namespace
{

constexpr std::uint64_t settles_us = 3000000; ///< until then a distance is still being found

/// How far a ray from a place goes until it meets something.
struct Hit {
    double distance_m = 1e9;
    int thing = -1;
};
Hit straightAhead(const arena::Arena &arena, arena::Vec from, arena::Vec looks, double time_s)
{
    const auto ahead = arena::nearestInBeam(arena, {from, looks, 0.0, 0.0, 1.0 - 1e-12}, time_s);
    return ahead ? Hit{ahead->distance_m, ahead->thing} : Hit{};
}

} // namespace

void atRest(const world::Plan &plan, const world::Moment &m, Score &to)
{
    to.rest_s = double(m.time_us) * 1e-6;
    const auto nose = m.pose.at + plan.on->model().axleToNose_m * m.pose.looks;
    const auto hit = straightAhead(plan.arena, nose, m.pose.looks, *to.rest_s);
    if (hit.thing < 0)
        return;
    to.gap_m = hit.distance_m;
    to.gapThing = hit.thing;
}

double wheelToEdge_m(const world::Plan &plan, const world::Moment &m)
{
    double least = 1e9;
    for (const auto &w : plan.on->model().wheelsAt) {
        const auto p = m.pose.at + arena::turned(w, m.pose.looks);
        least =
            std::min(least, arena::isOnTable(plan.arena, p) ? arena::toEdge_m(plan.arena, p) : 0.0);
    }
    return least;
}

Held::Held(const world::Plan &plan) : m_plan(plan)
{
    const auto &car = plan.on->model();
    for (const auto &r : car.rangers)
        m_rangers |= std::abs(r.yaw_rad) < kit::aheadWithin_rad;
    for (const auto &e : car.eyes)
        m_eyes |= e.level;
}

void Held::begin()
{
    m_sum = m_squares = 0.0;
    m_n = m_asked = 0;
}

void Held::take(std::optional<double> distance_m)
{
    ++m_asked;
    if (!distance_m)
        return;
    m_sum += *distance_m;
    m_squares += *distance_m * *distance_m;
    ++m_n;
}

void Held::take(const world::Ping &p)
{
    const auto &r = m_plan.on->model().rangers[static_cast<size_t>(p.ranger)];
    if (p.sent_us > settles_us && std::abs(r.yaw_rad) < kit::aheadWithin_rad)
        take(p.true_m >= 0.0 && p.true_m <= m_plan.cares_m ? std::optional(p.true_m)
                                                           : std::nullopt);
}

void Held::take(const world::Moment &m)
{
    if (!m_eyes || m.time_us <= settles_us)
        return;
    for (const auto &e : m_plan.on->model().eyes) {
        if (!e.level)
            continue;
        const auto d = exact::sineCosine(e.yaw_rad);
        const auto hit = straightAhead(m_plan.arena, m.pose.at + arena::turned(e.at, m.pose.looks),
                                       arena::turned(arena::Vec{d.cosine, d.sine}, m.pose.looks),
                                       double(m.time_us) * 1e-6);
        take(hit.thing >= 0 && hit.distance_m <= e.range_m * 2.5 ? std::optional(hit.distance_m)
                                                                 : std::nullopt);
    }
}

void Held::put(Score &to) const
{
    if (m_n == 0)
        return;
    to.heldShare = double(m_n) / m_asked;
    to.held_m = m_sum / m_n;
    to.spread_m = std::sqrt(std::max(0.0, m_squares / m_n - *to.held_m * *to.held_m));
}

} // namespace badger::task
