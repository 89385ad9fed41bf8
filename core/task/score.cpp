// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/task/score.h"

#include "core/base/exact_math.h"
#include "core/task/coverage.h"
#include "core/task/figures.h"
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
        m_to.sides = sidesTaken(m_plan, m_trace);
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
                m_to.toEdge_m = std::min(m_to.toEdge_m.value_or(1e9), wheelToEdge_m(m_plan, m));
        m_to.good =
            isGood(m_to, m_trace.touches.empty() && !m_trace.fell && m_to.moved, m_trace.end);
        return std::move(m_to);
    }

private:
    void moving()
    {
        const auto &path = m_trace.path;
        if (m_trace.rested) {
            m_to.moved = true;
            atRest(m_plan, *m_trace.rested, m_to);
        }
        for (size_t i = 0; i < path.size(); ++i) {
            m_to.moved |= !isStill(path[i]);
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
        double lastWay_m = 0.0;
        size_t next = 1;
        double way_m = 0.0; // up to the moment before `next`
        const auto wayAt = [&](std::uint64_t t) {
            const auto &path = m_trace.path;
            for (; next < path.size() && path[next].time_us <= t; ++next)
                way_m += arena::length(path[next].pose.at - path[next - 1].pose.at);
            return way_m + arena::length(world::at(m_trace, t).pose.at - path[next - 1].pose.at);
        };
        const auto until = [&](std::uint64_t t) {
            const double s = double(t - last) * 1e-6;
            const double way = wayAt(t);
            m_to.blind_s = std::max(m_to.blind_s, s);
            if (way - lastWay_m > m_to.blind_m) {
                m_to.blind_m = way - lastWay_m;
                m_to.blindAt_us = last;
                m_to.blindWay_s = s;
            }
            last = t;
            lastWay_m = way;
        };
        for (const auto &p : m_trace.pings)
            until(std::max(last, p.done_us));
        until(std::max(last, m_trace.end_us));
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
        Held held(m_plan);
        for (const auto &p : m_trace.pings)
            held.take(p);
        for (const auto &m : m_trace.path)
            held.take(m);
        held.put(m_to);
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

bool isGood(const Score &s, bool clean, world::End end)
{
    const bool stayed = end != world::End::LeftPlan;
    switch (s.kind) {
    case Kind::Stops:
        return clean && s.rest_s.has_value();
    case Kind::KeepsMoving:
        return clean && stayed;
    case Kind::Holds:
        return clean && s.held_m && s.heldShare > 0.8 && stayed;
    case Kind::FollowsLine:
        return clean && s.sawLine && s.losses.empty() && stayed;
    case Kind::StaysOnTable:
        return clean && s.toEdge_m && stayed;
    }
    return false;
}

Score score(const Plan &plan, const Trace &trace, std::optional<Kind> kind)
{
    return Scoring(plan, trace, kind ? *kind : taskOf(plan)).score();
}

} // namespace badger::task
