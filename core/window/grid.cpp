// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/window/grid.h"

#include "core/logbook/measured.h"
#include "core/window/scene_run.h"

#include <algorithm>
#include <atomic>
#include <mutex>
#include <thread>

namespace badger::window
{

namespace
{

constexpr size_t cellsAcross = 16;
constexpr size_t cellsUp = 10;

/// So many of its places, evenly, with both ends.
Handle thinned(Handle h, size_t most)
{
    if (h.at.size() <= most)
        return h;
    std::vector<double> at;
    for (size_t i = 0; i < most; ++i)
        at.push_back(h.at[i * (h.at.size() - 1) / (most - 1)]);
    h.at = std::move(at);
    return h;
}

/// Rows that count and hold somewhere; else the floor that was chosen.
std::vector<Row> rowsOf(const Window &w)
{
    std::vector<Row> rows;
    for (const auto &row : w.rows)
        if (row.counts() && row.low)
            rows.push_back(row.row);
    if (rows.empty() && !w.rows.empty())
        rows.push_back(w.rows.front().row);
    return rows;
}

/// One line of cells: the second number is the same in all of them.
void driveLine(const Window &w, Grid &grid, size_t iy, const std::vector<Row> &rows, int each,
               const std::function<bool()> &go)
{
    auto q = w.asked;
    q.course.program =
        std::make_shared<rules::Program>(with(*q.course.program, grid.y.value, grid.y.at[iy]));
    const auto places = Places::make(q, grid.x);
    if (!places)
        return;
    for (const auto &row : rows) {
        SceneRuns runs(**places, row, w.task);
        if (!runs.begin())
            continue;
        for (size_t ix = 0; ix < grid.x.at.size(); ++ix)
            for (int n = 0; n < each; ++n) {
                if (!go())
                    return;
                const auto went = runs.drive(ix, std::uint64_t(n));
                if (!went)
                    break;
                auto &cell = grid.cells[iy * grid.x.at.size() + ix];
                ++cell.runs;
                cell.events += went->event;
                cell.misses += !went->job;
            }
    }
}

void addCurve(Grid &grid, const Window &w)
{
    const auto places = Places::make(w.asked, w.handle);
    if (!places)
        return;
    auto loop = edgeLoop((*places)->now(), *w.asked.course.floor);
    if (!loop)
        return;
    const bool gainAcross = grid.x.value == loop->gain && grid.y.value == loop->speed;
    if (!gainAcross && !(grid.y.value == loop->gain && grid.x.value == loop->speed))
        return;
    constexpr int steps = 60;
    const auto &gains = gainAcross ? grid.x.at : grid.y.at;
    for (int i = 0; i <= steps; ++i) {
        const double gain = gains.front() + (gains.back() - gains.front()) * i / steps;
        if (const auto top = topCount(*loop, gain))
            grid.curve.emplace_back(gainAcross ? gain : *top, gainAcross ? *top : gain);
    }
    grid.loop = std::move(loop);
}

} // namespace

State stateOf(const Grid &grid, const GridCell &cell)
{
    if (cell.runs == 0)
        return State::Open;
    if (cell.events > 0)
        return State::Touches;
    return cell.misses > (1.0 - grid.share) * cell.runs ? State::Idle : State::Holds;
}

std::vector<std::string> secondValues(const Window &w)
{
    std::vector<std::string> all;
    const auto &program = *w.asked.course.program;
    for (const auto &name : draggable(program))
        if (name != w.handle.value && handleOf(program, name))
            all.push_back(name);
    return all;
}

Result<Grid> gridOf(const Window &w, const std::string &second, int runsEach,
                    const std::function<bool(const Grid &)> &tell)
{
    if (second == w.handle.value)
        return fail(Error::Kind::Conflict, say("value '{}'", second),
                    say("it is on the first axis already"), say("name another"));
    const auto y = handleOf(*w.asked.course.program, second);
    if (!y)
        return tl::unexpected(y.error());
    if (runsEach < 1 || runsEach > 10000)
        return fail(Error::Kind::OutOfRange, say("runs of a cell"), say("it is outside 1 to 10000"),
                    say("choose 12 for example"));
    Grid grid;
    grid.x = thinned(w.handle, cellsAcross);
    grid.y = thinned(*y, cellsUp);
    grid.cells.resize(grid.x.at.size() * grid.y.at.size());
    grid.share = w.asked.share;
    const auto rows = rowsOf(w);
    for (const auto &row : rows)
        grid.rows.push_back(row.label);
    const int n = std::max(1, int(rows.size()));
    const int each = (runsEach + n - 1) / n;
    grid.runsEach = each * n;
    addCurve(grid, w);
    std::atomic<bool> stopped = false;
    std::atomic<size_t> next = 0;
    std::mutex mutex;
    const auto work = [&] {
        for (size_t iy = next++; iy < grid.y.at.size() && !stopped; iy = next++) {
            Grid line; // cells of its own while it is driven
            {
                const std::lock_guard lock(mutex);
                line = grid;
            }
            driveLine(w, line, iy, rows, each, [&] { return !stopped.load(); });
            const std::lock_guard lock(mutex);
            const auto from = long(iy * grid.x.at.size());
            std::copy_n(line.cells.begin() + from, grid.x.at.size(), grid.cells.begin() + from);
            if (tell && !tell(grid))
                stopped = true;
        }
    };
    std::vector<std::thread> others;
    for (int t = 1; t < w.asked.threads; ++t)
        others.emplace_back(work);
    work();
    for (auto &t : others)
        t.join();
    grid.done = !stopped;
    return grid;
}

double leftOpen(const Grid &grid)
{
    constexpr double confidence = 0.95;
    return logbook::contactRateBound(0, std::max(1, grid.runsEach), confidence).value_or(1.0);
}

std::vector<Say> wordsOf(const Grid &grid)
{
    long holding = 0;
    for (const auto &c : grid.cells)
        holding += stateOf(grid, c) == State::Holds;
    std::vector<Say> all = {
        say("{} of {} pairs of '{}' and '{}' hold in {} runs each, over: {}. A rough map: a cell "
            "without a failure leaves up to {} % open at 95 %.",
            holding, static_cast<long>(grid.cells.size()), grid.x.value, grid.y.value,
            static_cast<long>(grid.runsEach), joined(grid.rows, ", "),
            units::number(leftOpen(grid) * 100.0, 0))};
    if (grid.loop)
        for (auto &say : wordsOf(*grid.loop))
            all.push_back(std::move(say));
    return all;
}

} // namespace badger::window
