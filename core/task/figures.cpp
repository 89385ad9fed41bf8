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

bool isLonger(const Side &s)
{
    constexpr double open_m = 1e9;
    const double taken = (s.left ? s.left_m : s.right_m).value_or(open_m);
    const double other = (s.left ? s.right_m : s.left_m).value_or(open_m);
    return taken > other - sidesAlike_m;
}

std::vector<Side> sidesTaken(const world::Plan &plan, const world::Trace &trace)
{
    constexpr double aside = 0.2588; // sine of 15 degrees
    constexpr double same = 0.9986;  // cosine of 3 degrees: one direction
    using Order = machine::WheelOrder::Kind;
    std::vector<Side> all;
    size_t first = 0; // ping since the last such turn
    for (const auto &step : trace.steps) {
        const auto &mode = plan.on->machine().modes[static_cast<size_t>(step.mind.mode)];
        const bool turns = mode.left.kind == Order::Turn && mode.right.kind == Order::Turn &&
                           mode.left.counts != mode.right.counts;
        if (!turns || step.cause.kind != machine::Cause::Kind::Branch || step.ping < 0)
            continue;
        const auto car = world::at(trace, step.time_us).pose.looks;
        Side side{step.time_us, mode.left.counts < mode.right.counts, 0.0, 0.0};
        std::array<bool, 2> looked{};
        constexpr size_t looksBack = 200; // pings
        const auto end = static_cast<size_t>(step.ping) + 1;
        first = std::max(first, end - std::min(end, looksBack));
        for (size_t i = first; i < end; ++i) {
            const auto &p = trace.pings[i];
            bool newest = true;
            for (size_t k = i + 1; k < end; ++k)
                newest &= arena::dot(trace.pings[k].from.looks, p.from.looks) < same;
            const double to = arena::cross(car, p.from.looks);
            if (!newest || std::abs(to) < aside)
                continue;
            auto &way_m = to > 0.0 ? side.left_m : side.right_m;
            looked[to > 0.0 ? 0 : 1] = true;
            if (p.true_m < 0.0)
                way_m = std::nullopt;
            else if (way_m)
                way_m = std::max(*way_m, p.true_m);
        }
        first = end;
        if (looked[0] && looked[1])
            all.push_back(side);
    }
    return all;
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
