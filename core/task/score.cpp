// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/task/score.h"

#include "core/base/exact_math.h"
#include "core/task/coverage.h"
#include "core/task/line_score.h"
#include "core/world/rolling.h"

#include <algorithm>
#include <array>

namespace badger::task
{

using rules::Source;
using world::Plan;
using world::Trace;

namespace
{

constexpr std::array<const char *, kindCount> kinds = {"stops", "keeps-moving", "holds", "line",
                                                       "table"};

struct Family {
    std::string_view name;
    Kind kind;
};
constexpr Family families[] = {{"halt", Kind::Stops},           {"retreat", Kind::Stops},
                               {"keep-station", Kind::Holds},   {"wall-hold", Kind::Holds},
                               {"hand-follow", Kind::Holds},    {"table-edge", Kind::StaysOnTable},
                               {"straddle", Kind::FollowsLine}, {"edge-glide", Kind::FollowsLine},
                               {"lane", Kind::FollowsLine},     {"edge-zigzag", Kind::FollowsLine},
                               {"direct", Kind::FollowsLine}};

bool isStill(const world::Moment &m)
{
    return m.wheels_mps[0] == 0.0 && m.wheels_mps[1] == 0.0;
}

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

class Scoring
{
public:
    Scoring(const Plan &plan, const Trace &trace, Kind kind) : m_plan(plan), m_trace(trace)
    {
        m_to.kind = kind;
    }

    Score score()
    {
        moving();
        blind();
        timed();
        m_to.nearest_m = m_trace.nearest_m;
        for (size_t i = 0; i < m_trace.pings.size(); ++i)
            if (m_trace.pings[i].wrong != world::Wrong::Right)
                m_to.wrong.push_back(i);
        for (const auto &t : m_trace.touches)
            m_to.stuck_s += double(t.until_us - t.time_us) * 1e-6;
        if (!m_plan.arena.segments.empty() || !m_plan.arena.edge.empty())
            m_to.coverage = coverage(m_plan, m_trace);
        if (m_to.kind == Kind::Holds)
            holds();
        if (m_to.kind == Kind::FollowsLine)
            scoreLine(m_plan, m_trace, m_to);
        if (!m_plan.arena.edge.empty())
            for (const auto &m : m_trace.path)
                for (const auto &w : m_plan.on->model().wheelsAt) {
                    const auto p = m.pose.at + arena::turned(w, m.pose.looks);
                    const double away =
                        arena::isOnTable(m_plan.arena, p) ? arena::toEdge_m(m_plan.arena, p) : 0.0;
                    m_to.toEdge_m = std::min(m_to.toEdge_m.value_or(1e9), away);
                }
        m_to.good = isGood();
        return std::move(m_to);
    }

private:
    bool isGood() const
    {
        const bool clean = m_trace.touches.empty() && !m_trace.fell && m_to.moved;
        switch (m_to.kind) {
        case Kind::Stops:
            return clean && m_to.rest_s.has_value();
        case Kind::KeepsMoving:
            return clean && m_trace.end != world::End::LeftPlan;
        case Kind::Holds:
            return clean && m_to.held_m && m_to.heldShare > 0.8 &&
                   m_trace.end != world::End::LeftPlan;
        case Kind::FollowsLine:
            return clean && m_to.sawLine && m_to.losses.empty() &&
                   m_trace.end != world::End::LeftPlan;
        case Kind::StaysOnTable:
            return clean && m_to.toEdge_m && m_trace.end != world::End::LeftPlan;
        }
        return false;
    }

    void moving()
    {
        const auto &path = m_trace.path;
        for (size_t i = 0; i < path.size(); ++i) {
            if (!isStill(path[i]))
                m_to.moved = true;
            else if (m_to.moved && !m_to.rest_s)
                rest(path[i]);
            if (i == 0)
                continue;
            const double s = double(path[i].time_us - path[i - 1].time_us) * 1e-6;
            m_to.driven_m += arena::length(path[i].pose.at - path[i - 1].pose.at);
            if (path[i].wheels_mps[0] > world::still_mps &&
                path[i].wheels_mps[1] > world::still_mps)
                m_to.ahead_s += s;
        }
        if (m_trace.end_us > 0)
            m_to.mean_mps = m_to.driven_m / (double(m_trace.end_us) * 1e-6);
    }

    void rest(const world::Moment &m)
    {
        m_to.rest_s = double(m.time_us) * 1e-6;
        const auto nose = m.pose.at + m_plan.on->model().axleToNose_m * m.pose.looks;
        const auto hit = straightAhead(m_plan.arena, nose, m.pose.looks, *m_to.rest_s);
        if (hit.thing < 0)
            return;
        m_to.gap_m = hit.distance_m;
        m_to.gapThing = hit.thing;
    }

    double way_m(std::uint64_t from, std::uint64_t to) const
    {
        double sum = 0.0;
        auto last = world::at(m_trace, from).pose.at;
        for (const auto &m : m_trace.path)
            if (m.time_us > from && m.time_us < to) {
                sum += arena::length(m.pose.at - last);
                last = m.pose.at;
            }
        return sum + arena::length(world::at(m_trace, to).pose.at - last);
    }

    void blind()
    {
        if (m_trace.pings.empty())
            return;
        std::uint64_t last = 0;
        const auto until = [&](std::uint64_t t) {
            const double s = double(t - last) * 1e-6;
            if (s > m_to.blind_s) {
                m_to.blind_s = s;
                m_to.blindAt_us = last;
            }
        };
        for (const auto &p : m_trace.pings) {
            until(p.done_us);
            last = p.done_us;
        }
        until(std::max(last, m_trace.end_us));
        m_to.blind_m = way_m(m_to.blindAt_us,
                             m_to.blindAt_us + static_cast<std::uint64_t>(m_to.blind_s * 1e6));
    }

    static double angle(arena::Vec from, arena::Vec to)
    {
        return std::atan2(arena::cross(from, to), arena::dot(from, to));
    }

    /// The heading's change between two times, turns beyond half a turn included.
    double turned_rad(std::uint64_t from, std::uint64_t to) const
    {
        double sum = 0.0;
        auto last = world::at(m_trace, from).pose.looks;
        for (const auto &m : m_trace.path)
            if (m.time_us > from && m.time_us < to) {
                sum += angle(last, m.pose.looks);
                last = m.pose.looks;
            }
        return sum + angle(last, world::at(m_trace, to).pose.looks);
    }

    void timed()
    {
        const auto &machine = m_plan.on->machine();
        const auto &steps = m_trace.steps;
        for (size_t i = 0; i + 1 < steps.size(); ++i) {
            const auto &mode = machine.modes[static_cast<size_t>(steps[i].mind.mode)];
            using Turn = machine::WheelOrder::Kind;
            if (!mode.hold.is || mode.left.kind != Turn::Turn || mode.right.kind != Turn::Turn)
                continue;
            const int l = mode.left.counts;
            const int r = mode.right.counts;
            if (l == 0 && r == 0)
                continue;
            Timed t;
            t.time_us = steps[i].time_us;
            t.mode = steps[i].mind.mode;
            t.turns = l != r;
            const auto from = steps[i].time_us;
            const auto end = steps[i + 1].time_us;
            const auto next = i + 2 < steps.size() ? steps[i + 2].time_us : m_trace.end_us;
            const auto done = [&](std::uint64_t to) {
                return t.turns ? turned_rad(from, to) : way_m(from, to);
            };
            t.done = done(end);
            t.settled = done(std::max(end, next));
            if (t.turns && mode.hold.length == rules::Length::PerDegree) {
                double asked_deg = mode.hold.angle_deg;
                if (mode.hold.scan >= 0)
                    asked_deg = steps[i].mind.held[static_cast<size_t>(mode.hold.scan)].angle_deg -
                                machine::ahead_deg;
                t.asked = std::abs(asked_deg) * exact::pi / 180.0 * (t.done < 0.0 ? -1.0 : 1.0);
            }
            m_to.timed.push_back(t);
        }
    }

    void holds()
    {
        constexpr std::uint64_t settles_us = 3000000;
        double sum = 0.0, squares = 0.0;
        int n = 0, asked = 0;
        const auto take = [&](std::optional<double> m) {
            ++asked;
            if (!m)
                return;
            sum += *m;
            squares += *m * *m;
            ++n;
        };
        // By the rangers that look ahead; else by a sensor that looks along the floor.
        const auto &car = m_plan.on->model();
        const double reach_m = m_plan.cares_m;
        for (const auto &p : m_trace.pings) {
            const auto &r = car.rangers[static_cast<size_t>(p.ranger)];
            if (p.sent_us > settles_us && std::abs(r.yaw_rad) < kit::aheadWithin_rad)
                take(p.true_m >= 0.0 && p.true_m <= reach_m ? std::optional(p.true_m)
                                                            : std::nullopt);
        }
        for (const auto &e : car.eyes)
            for (const auto &m : m_trace.path)
                if (e.level && m.time_us > settles_us) {
                    const auto d = exact::sineCosine(e.yaw_rad);
                    const auto hit =
                        straightAhead(m_plan.arena, m.pose.at + arena::turned(e.at, m.pose.looks),
                                      arena::turned(arena::Vec{d.cosine, d.sine}, m.pose.looks),
                                      double(m.time_us) * 1e-6);
                    take(hit.thing >= 0 && hit.distance_m <= e.range_m * 2.5
                             ? std::optional(hit.distance_m)
                             : std::nullopt);
                }
        if (n == 0)
            return;
        m_to.heldShare = double(n) / asked;
        m_to.held_m = sum / n;
        m_to.spread_m = std::sqrt(std::max(0.0, squares / n - *m_to.held_m * *m_to.held_m));
    }

    const Plan &m_plan;
    const Trace &m_trace;
    Score m_to;
};

} // namespace

const char *word(Kind kind)
{
    return kinds[static_cast<size_t>(kind)];
}

std::optional<Kind> kindOf(std::string_view text)
{
    for (size_t i = 0; i < kinds.size(); ++i)
        if (text == kinds[i])
            return static_cast<Kind>(i);
    return std::nullopt;
}

Kind taskOf(const Plan &plan)
{
    const auto &program = plan.on->program();
    if (program.from)
        for (const auto &f : families)
            if (program.from->name == f.name)
                return f.kind;
    bool echo = false;
    for (const auto &r : program.readings)
        echo |= rules::isEcho(r);
    if (!echo && !plan.arena.tracks.empty())
        return Kind::FollowsLine;
    if (!echo && !plan.arena.edge.empty())
        return Kind::StaysOnTable;
    for (const auto &s : program.states) {
        const auto act = rules::actOf(s.motion);
        if (act == rules::Act::Turn || act == rules::Act::Back)
            return Kind::KeepsMoving;
    }
    return program.from ? Kind::KeepsMoving : Kind::Stops;
}

Score score(const Plan &plan, const Trace &trace, std::optional<Kind> kind)
{
    return Scoring(plan, trace, kind ? *kind : taskOf(plan)).score();
}

} // namespace badger::task
