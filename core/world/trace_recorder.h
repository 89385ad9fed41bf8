// SPDX-License-Identifier: GPL-3.0-or-later
// A recorder that keeps everything of a run, for whoever wants to look at it.
#pragma once

#include "core/world/runs.h"

#include <utility>

namespace badger::world
{

/// Keeps everything.
class TraceRecorder
{
public:
    static constexpr double sampleEvery_s() { return 0.02; }
    static constexpr bool judges() { return true; }
    explicit TraceRecorder(const Plan &plan, std::uint64_t seed) : m_plan(plan)
    {
        m_trace.seed = seed;
    }
    void moment(const Moment &m)
    {
        if (!m_trace.path.empty() && m_trace.path.back().time_us >= m.time_us) {
            if (m_trace.path.back().time_us == m.time_us)
                m_trace.path.back() = m;
            return;
        }
        m_trace.path.push_back(m);
        const auto near = arena::nearest(m_plan.arena, m_plan.on->model().outline, m.pose,
                                         static_cast<double>(m.time_us) * 1e-6);
        nearest(near.distance_m, near.thing);
    }
    void rested(const Moment &m)
    {
        if (!m_trace.rested)
            m_trace.rested = m;
        moment(m);
    }
    void ping(const Ping &p) { m_trace.pings.push_back(p); }
    void change(const Change &c) { m_trace.changes.push_back(c); }
    void told(const Told &t)
    {
        // Both wheels are told in one go.
        if (!m_trace.told.empty() && m_trace.told.back().time_us == t.time_us)
            m_trace.told.back() = t;
        else
            m_trace.told.push_back(t);
    }
    void step(std::uint64_t time_us, const machine::Mind &mind, const machine::Cause &cause)
    {
        m_trace.steps.push_back({time_us, cause, mind, static_cast<int>(m_trace.pings.size()) - 1});
    }
    void touch(const Touch &t)
    {
        if (!m_trace.touches.empty() && m_trace.touches.back().thing == t.thing &&
            t.time_us - m_trace.touches.back().until_us < touchesAgain_us)
            m_trace.touches.back().until_us = t.time_us;
        else
            m_trace.touches.push_back(t);
    }
    void touching(std::uint64_t time_us) { m_trace.touches.back().until_us = time_us; }
    void fell(const Fell &f) { m_trace.fell = f; }
    void nearest(double distance_m, int thing)
    {
        if (distance_m < m_trace.nearest_m) {
            m_trace.nearest_m = distance_m <= skin_m ? 0.0 : distance_m;
            m_trace.nearestThing = thing;
        }
    }
    void clear(double) {} // each moment looks closer
    void over(End how, std::uint64_t time_us)
    {
        m_trace.end = how;
        m_trace.end_us = time_us;
    }
    Trace take() { return std::move(m_trace); }

private:
    const Plan &m_plan;
    Trace m_trace;
};

} // namespace badger::world
