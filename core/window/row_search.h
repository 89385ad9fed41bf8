// SPDX-License-Identifier: GPL-3.0-or-later
// The search of one row, in stages: roughly at wide places, by halving near the ends, then the
// claim. Private to window/.
//
// The claim's places are tested in an order that is fixed before its first run, from rough runs
// that it does not use. Where the job or the ruler ends the row above, it is one sequence from the
// highest place down to the first that fails. Where touches end it above, too, it begins in the
// middle and goes down and then up, each way to the first that fails, and each way (the middle with
// both) spends half of the error: a wrong end needs the first wrong place of one of the two ways to
// be called shown, and the two together have what the confidence leaves.
#pragma once

#include "core/window/scene_run.h"

#include <functional>
#include <map>

namespace badger::window
{

class RowSearch
{
public:
    /// All of them outlive it. `count`: places of the handle.
    RowSearch(Places &places, const Question &question, const Row &row, task::Kind task,
              std::size_t count);

    const RowAnswer &answer() const { return m_answer; }

    /// One stage further; `go` is asked between runs.
    using Go = std::function<bool()>;
    void stage(const Go &go);

private:
    struct Rough {
        bool asked = false;
        bool possible = true;
        int runs = 0, events = 0, misses = 0;
        bool isGood() const
        {
            return asked && possible && events == 0 && runs > 0 && misses * 8 <= runs;
        }
        bool isClear() const { return asked && possible && events == 0; }
    };

    std::size_t count() const { return m_answer.cells.size(); }
    const Rough &rough(std::size_t place, int runs, const Go &go);
    void wide(const Go &go);
    void narrow(const Go &go);
    std::vector<std::size_t> downwards() const;
    std::vector<std::size_t> upwards(std::size_t from) const;
    bool endsByTouchAbove() const;
    Shown claimAt(std::size_t place, const Looks &looks, const Go &go);
    void claim(const Go &go);
    struct Job {
        std::optional<std::size_t> low, high;            ///< where it is done
        std::optional<std::size_t> idleBelow, idleAbove; ///< the first place where it is not
    };
    Job claimJob(const std::vector<std::size_t> &held);
    void finish(std::optional<std::size_t> below, std::optional<std::size_t> above);
    Limit limitAt(std::size_t place);
    void paintRoughly();

    const Question &m_question;
    SceneRuns m_runs;
    Places &m_places;
    RowAnswer m_answer;
    std::vector<Rough> m_rough;
    int m_early = 0;                          ///< runs of a place by which the job is judged
    std::map<std::size_t, int> m_missesEarly; ///< within them
    int m_stage = 0;
    bool m_found = false;
    std::size_t m_first = 0, m_last = 0; ///< the good stretch, roughly
};

} // namespace badger::window
