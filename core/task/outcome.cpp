// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/task/outcome.h"

#include "core/task/figures.h"
#include "core/task/line_score.h"
#include "core/world/runs.h"

#include <algorithm>

namespace badger::task
{

/// Keeps figures alone.
class FigureRecorder
{
public:
    FigureRecorder(const world::Plan &plan, Kind kind) : m_plan(plan), m_line(plan), m_held(plan)
    {
        m_score.kind = kind;
        const bool along = kind == Kind::FollowsLine || kind == Kind::StaysOnTable ||
                           (kind == Kind::Holds && m_held.byEyes());
        m_every_s = along ? 0.02 : 0.0; // as a trace does
    }

    double sampleEvery_s() const { return m_every_s; }
    bool judges() const { return m_score.kind == Kind::Holds && m_held.byRangers(); }

    void begin()
    {
        m_out = {};
        m_line.begin();
        m_held.begin();
        m_last = {};
        m_any = false;
    }
    void moment(const world::Moment &m)
    {
        m_out.farthest_m =
            std::max(m_out.farthest_m, arena::length(m.pose.at - m_plan.start.at));
        m_out.moved |= m.wheels_mps[0] != 0.0 || m.wheels_mps[1] != 0.0;
        if (m_every_s <= 0.0)
            return;
        // As a trace keeps them: the last of one time counts.
        if (m_any && m.time_us > m_last.time_us)
            take(m_last);
        if (!m_any || m.time_us >= m_last.time_us)
            m_last = m;
        m_any = true;
    }
    void rested(const world::Moment &m)
    {
        m_out.moved = true;
        if (!m_out.rest_s) {
            Score s;
            atRest(m_plan, m, s);
            m_out.rest_s = s.rest_s;
            m_out.gap_m = s.gap_m;
            m_out.gapThing = s.gapThing;
        }
        moment(m);
    }
    void ping(const world::Ping &p)
    {
        if (judges())
            m_held.take(p);
    }
    void change(const world::Change &) {}
    void told(const world::Told &) {}
    void step(std::uint64_t, const machine::Mind &, const machine::Cause &) {}
    void touch(const world::Touch &t)
    {
        const bool again = m_out.first && m_touch.thing == t.thing &&
                           t.time_us - m_touch.until_us < world::touchesAgain_us;
        if (!again) {
            ++m_out.touches;
            if (!m_out.first)
                m_out.first = t;
            m_touch = t;
        }
        m_touch.until_us = t.time_us;
    }
    void touching(std::uint64_t time_us) { m_touch.until_us = time_us; }
    void fell(const world::Fell &f) { m_out.fell = f; }
    void nearest(double distance_m, int)
    {
        m_out.nearest_m = std::min(m_out.nearest_m, distance_m <= world::skin_m ? 0.0 : distance_m);
    }
    void clear(double distance_m) { m_out.nearest_m = std::min(m_out.nearest_m, distance_m); }
    void over(world::End how, std::uint64_t time_us)
    {
        m_out.end = how;
        m_out.end_us = time_us;
    }

    Outcome take()
    {
        if (m_any)
            take(m_last);
        auto &s = m_score;
        s.rest_s = m_out.rest_s;
        s.held_m = s.spread_m = std::nullopt;
        s.heldShare = 0.0;
        if (s.kind == Kind::Holds)
            m_held.put(s);
        s.sawLine = m_line.sawLine();
        s.toEdge_m = m_out.toEdge_m;
        m_out.held_m = s.held_m;
        m_out.spread_m = s.spread_m;
        m_out.heldShare = s.heldShare;
        m_out.losses = m_line.losses();
        if (m_out.losses > 0) {
            m_out.lastLoss = m_line.loss();
            m_out.lastLoss->found = !m_line.isLost();
        }
        m_out.laps = m_line.laps();
        m_out.swing_m = m_line.swing_m();
        const bool clean = m_out.touches == 0 && !m_out.fell && m_out.moved &&
                           (s.kind != Kind::FollowsLine || m_out.losses == 0);
        m_out.good = isGood(s, clean, m_out.end);
        return m_out;
    }

private:
    void take(const world::Moment &m)
    {
        switch (m_score.kind) {
        case Kind::FollowsLine:
            m_line.take(m);
            break;
        case Kind::Holds:
            m_held.take(m);
            break;
        case Kind::StaysOnTable:
            if (!m_plan.arena.edge.empty())
                m_out.toEdge_m = std::min(m_out.toEdge_m.value_or(1e9), wheelToEdge_m(m_plan, m));
            break;
        case Kind::Stops:
        case Kind::KeepsMoving:
            break;
        }
    }

    const world::Plan &m_plan;
    Score m_score; ///< of the task's kind
    Outcome m_out;
    LineFollowed m_line;
    Held m_held;
    world::Touch m_touch;
    world::Moment m_last;
    bool m_any = false;
    double m_every_s = 0.0;
};

struct Outcomes::Inside {
    FigureRecorder recorder;
    world::Runs<FigureRecorder> runs;

    Inside(const world::Plan &plan, Kind kind) : recorder(plan, kind), runs(plan, recorder) {}
};

Outcomes::Outcomes(const world::Plan &plan, std::optional<Kind> kind)
    : m_inside(std::make_unique<Inside>(plan, kind ? *kind : taskOf(plan)))
{
}

Outcomes::~Outcomes() = default;

Outcome Outcomes::of(std::uint64_t seed)
{
    m_inside->recorder.begin();
    m_inside->runs.drive(seed);
    return m_inside->recorder.take();
}

} // namespace badger::task
