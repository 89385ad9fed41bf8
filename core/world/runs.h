// SPDX-License-Identifier: GPL-3.0-or-later
// Runs of one plan, one after the other.
//
// A recorder is told what happens: moment(), rested(), ping(), change(), told(), step(), touch(),
// touching(), fell(), nearest(), clear(), over(); and asked sampleEvery_s(), 0 where events are
// enough, and judges(), whether readings are to be held against what stands there.
#pragma once

#include "core/world/board.h"
#include "core/world/world.h"

namespace badger::world
{

/// Of one thread. Plan and recorder have to outlive it. Nothing is allocated after the first run.
template <class Recorder> class Runs
{
public:
    Runs(const Plan &plan, Recorder &recorder) : m_world(plan, recorder), m_board(*plan.on, m_world)
    {
        if (plan.on->model().board)
            m_runner.emplace(plan.on->machine(), m_board);
    }
    Runs(const Runs &) = delete;
    Runs &operator=(const Runs &) = delete;

    void drive(std::uint64_t seed)
    {
        m_world.begin(seed);
        m_board.begin();
        if (m_runner)
            m_runner->start();
        while (!m_world.over())
            if (m_runner)
                m_runner->pass();
            else
                m_world.wiresDecide();
        m_world.finish();
    }

private:
    World<Recorder> m_world;
    ProgramBoard<World<Recorder>> m_board;
    std::optional<machine::Runner> m_runner;
};

/// A touch of the same thing sooner than this after the last is the same touch.
inline constexpr std::uint64_t touchesAgain_us = 300000;

} // namespace badger::world
