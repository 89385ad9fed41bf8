// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/window/helps.h"

#include "core/judge/budget.h"

#include <cmath>

namespace badger::window
{

namespace
{

constexpr int triedRuns = 150;

struct Change {
    Say what;
    rules::Program program;
};

std::vector<Change> changesOf(const rules::Program &program)
{
    std::vector<Change> all;
    constexpr double slower = 0.6;
    if (const auto *go = judge::goState(program))
        if (const auto *v = program.value(go->motion.left.speed); v && v->si) {
            const double counts = std::round(*v->si * slower);
            all.push_back({say("At '{}' {} instead of {}", v->name, units::number(counts, 3),
                               units::number(*v->si, 3)),
                           with(program, v->name, counts)});
        }
    const auto echo = [&](rules::NoEcho policy, const Say &what) {
        auto p = program;
        bool other = false;
        for (auto &r : p.readings)
            if (r.source == rules::Source::Ranger && r.noEcho != policy) {
                r.noEcho = policy;
                other = true;
            }
        if (other)
            all.push_back({what, std::move(p)});
    };
    echo(rules::NoEcho::Stop, say("If no echo stops it"));
    echo(rules::NoEcho::HoldLast, say("If no echo holds the last reading"));
    return all;
}

/// Where to try: the best place that was found, else where the program stands, and a higher one.
std::vector<size_t> triedPlaces(const RowAnswer &answer, const Handle &handle)
{
    const size_t now = handle.nearest(handle.now.value_or(handle.at[handle.at.size() / 2]));
    const size_t best = bestOf(answer).value_or(now);
    const size_t higher = best + (answer.cells.size() - best) / 2;
    return higher > best && higher < answer.cells.size() ? std::vector{best, higher}
                                                         : std::vector{best};
}

} // namespace

std::vector<RowAnswer::Help> helpsFor(const RowAnswer &answer, const Question &question,
                                      const Handle &handle, task::Kind task,
                                      const std::function<bool()> &go)
{
    std::vector<RowAnswer::Help> helps;
    const auto tried = triedPlaces(answer, handle);
    for (const auto &change : changesOf(*question.course.program)) {
        auto q = question;
        q.course.program = std::make_shared<rules::Program>(change.program);
        const auto places = Places::make(q, handle);
        if (!places)
            continue; // the car cannot run it so
        SceneRuns drive(**places, answer.row, task);
        if (!drive.begin())
            continue;
        for (const size_t place : tried) {
            int driven = 0, misses = 0;
            bool clear = true;
            for (; driven < triedRuns && clear && go(); ++driven) {
                const auto went = drive.drive(place, std::uint64_t(driven));
                clear = went && !went->event;
                misses += went && !went->job;
            }
            if (clear && driven == triedRuns && misses <= (1.0 - question.share) * triedRuns) {
                helps.push_back({change.what, place, driven});
                break;
            }
        }
    }
    return helps;
}

} // namespace badger::window
