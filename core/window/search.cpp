// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/window/search.h"

#include "core/logbook/measured.h"
#include "core/window/helps.h"
#include "core/window/limits.h"
#include "core/window/row_search.h"

#include <algorithm>
#include <atomic>
#include <chrono>
#include <numeric>
#include <thread>

namespace badger::window
{

namespace
{

Result<void> inRange(const Question &q)
{
    const auto refuse = [](const char *where, Say what, Say mend) {
        return fail(Error::Kind::OutOfRange, where, std::move(what), std::move(mend));
    };
    if (!(q.limit > 0.0 && q.limit < 1.0))
        return refuse("--limit", say("a rate of none or of all cannot be shown by runs"),
                      say("choose more than 0 % and less than 100 %, 1 % for example"));
    if (!(q.limit >= 0.0005))
        return refuse("--limit", say("so small a rate needs tens of thousands of runs a place"),
                      say("choose 0.05 % or more"));
    if (!(q.confidence >= 0.5 && q.confidence <= 0.999))
        return refuse("--confidence", say("it is outside 50 to 99.9 %"),
                      say("choose 95 % for example"));
    if (!(q.share > 0.0 && q.share <= 0.999))
        return refuse("--share", say("it is outside 0 to 99.9 %"), say("choose 90 % for example"));
    if (!(q.want_m >= 0.0 && q.want_m <= 1.0))
        return refuse("--want", say("it is outside 0 to 1 m"), say("choose 5 cm for example"));
    return {};
}

/// What a measurement would be worth: one figure after the other as if it were known.
void narrow(Window &w, const std::function<bool(const Window &)> &tell)
{
    const auto &u =
        unmeasuredOf({*w.asked.course.car, w.asked.course.catalogue}, *w.asked.course.program);
    for (const bool speed : {true, false}) {
        const auto &range = speed ? u.speed : u.roll;
        if (range.low == range.high || w.asked.speedKnown || w.asked.rollKnown)
            continue;
        auto q = w.asked;
        q.rows = {w.rows[*w.lowRow].row};
        (speed ? q.speedKnown : q.rollKnown) = true;
        const auto one = search(std::move(q), [&](const Window &) { return !tell || tell(w); });
        if (one && one->done)
            w.narrower.push_back({speed ? say("speed") : say("roll-out"), one->low});
    }
}

/// The answer to a row that an earlier search has: whole, and to the same question.
const RowAnswer *answered(const Window *before, const Window &w, const Row &row)
{
    if (before == nullptr)
        return nullptr;
    const auto &a = before->asked;
    const auto &b = w.asked;
    if (a.value != b.value || before->handle.at != w.handle.at || a.limit != b.limit ||
        a.confidence != b.confidence || a.share != b.share || a.want_m != b.want_m ||
        a.noise != b.noise || a.speedKnown != b.speedKnown || a.rollKnown != b.rollKnown ||
        a.seed != b.seed)
        return nullptr;
    for (const auto &r : before->rows)
        if (r.done && sameRuns(r.row, row))
            return &r;
    return nullptr;
}

/// Rows without a place that holds: with what they would.
void help(Window &w, const std::function<bool(const Window &)> &tell)
{
    for (auto &row : w.rows) {
        const auto why = without(row, w.looks);
        if (row.row.off || !row.helps.empty() ||
            (why != Without::Fails && why != Without::NotShown))
            continue;
        bool on = true;
        int n = 0;
        row.helps = helpsFor(row, w.asked, w.handle, w.task, [&] {
            constexpr int often = 50;
            if (tell && ++n % often == 0)
                on = tell(w);
            return on;
        });
        if (!on)
            return;
    }
}

} // namespace

std::optional<size_t> bestOf(const RowAnswer &answer)
{
    constexpr double usualConfidence = 0.95;
    std::optional<size_t> best;
    double least = 2.0;
    for (size_t i = 0; i < answer.cells.size(); ++i) {
        const auto &c = answer.cells[i];
        if (c.runs == 0 || c.misses * 2 > c.runs)
            continue;
        // By the highest rate that the runs leave open: few runs show little.
        const double rate =
            logbook::contactRateBound(c.events, c.runs, usualConfidence).value_or(2.0);
        if (rate < least) {
            least = rate;
            best = i;
        }
    }
    return best;
}

Without without(const RowAnswer &answer, const Looks &looks)
{
    if (answer.low || !answer.done || answer.refused)
        return Without::Nothing;
    const auto open = [&](const Cell &c) {
        return c.runs > 0 && lowerBound(c.events, c.runs, looks.confidence) <= looks.limit;
    };
    const auto best = bestOf(answer);
    const auto isShown = [&](const Cell &c) {
        return c.tested && shown(looks, c.runs, c.events) == Shown::Yes;
    };
    if (best && isShown(answer.cells[*best]))
        return Without::Idle; // few enough fail there: it is the job that is not shown
    if (best && open(answer.cells[*best]))
        return Without::NotShown;
    return std::any_of(answer.cells.begin(), answer.cells.end(), open) ? Without::Idle
                                                                       : Without::Fails;
}

void combine(Window &w)
{
    w.low = w.high = std::nullopt;
    w.lowRow = w.highRow = std::nullopt;
    w.runs = 0;
    bool closed = false;
    for (size_t i = 0; i < w.rows.size(); ++i) {
        const auto &row = w.rows[i];
        w.runs += row.runs;
        if (!row.counts() || !row.done)
            continue;
        if (!row.low) {
            closed = true;
            w.lowRow = w.highRow = i;
            continue;
        }
        if (closed)
            continue;
        if (!w.lowRow || *row.low > *w.rows[*w.lowRow].low)
            w.lowRow = i;
        if (!w.highRow || *row.high < *w.rows[*w.highRow].high)
            w.highRow = i;
    }
    w.done = std::all_of(w.rows.begin(), w.rows.end(), [](const auto &r) { return r.done; });
    if (closed || !w.lowRow)
        return;
    const size_t low = *w.rows[*w.lowRow].low;
    const size_t high = *w.rows[*w.highRow].high;
    if (low <= high) {
        w.low = low;
        w.high = high;
    }
}

Result<Window> search(Question question, const std::function<bool(const Window &)> &tell,
                      const Window *before)
{
    if (const auto ok = inRange(question); !ok)
        return tl::unexpected(ok.error());
    const auto &program = *question.course.program;
    if (const auto ok = rules::complete(program); !ok)
        return tl::unexpected(ok.error());
    if (question.value.empty())
        question.value = firstValue(program);
    auto handle = handleOf(program, question.value);
    if (handle && question.step)
        handle = withStep(*handle, *question.step);
    if (!handle)
        return tl::unexpected(handle.error());
    Window w;
    w.handle = *handle;
    w.looks = looks(question.limit, question.confidence);
    w.asked = std::move(question);
    auto places = Places::make(w.asked, w.handle);
    if (!places)
        return tl::unexpected(places.error());
    const auto plan = world::planFor((*places)->now(), *w.asked.course.floor, {});
    if (!plan)
        return tl::unexpected(plan.error());
    w.task = task::taskOf(*plan);
    w.unmeasured = (*places)->unmeasured().names;
    if (w.asked.rows.empty())
        w.asked.rows = proposedFor(**places, w.task);
    for (auto &row : w.asked.more)
        w.asked.rows.push_back(std::move(row));
    w.asked.more.clear();
    std::vector<std::unique_ptr<RowSearch>> rows;
    for (const auto &row : w.asked.rows) {
        rows.push_back(
            std::make_unique<RowSearch>(**places, w.asked, row, w.task, w.handle.at.size()));
        const auto *known = answered(before, w, row);
        w.rows.push_back(known ? *known : rows.back()->answer());
        w.rows.back().row = row;
    }
    combine(w);
    // Stage by stage over all rows, so that a first rough picture of all comes first.
    std::atomic<bool> stopped = false;
    std::mutex mutex;
    const auto go = [&] { return !stopped.load(std::memory_order_relaxed); };
    std::vector<size_t> order(rows.size());
    std::iota(order.begin(), order.end(), size_t(0));
    std::vector<double> took_s(rows.size(), 0.0); ///< in the stage before
    for (int stage = 0; stage < 3 && go(); ++stage) {
        // Those that took longest so far come first: none is left for the end when the others are
        // done. What they answer does not depend on the order.
        std::stable_sort(order.begin(), order.end(),
                         [&](size_t a, size_t b) { return took_s[a] > took_s[b]; });
        std::atomic<size_t> next = 0;
        const auto work = [&] {
            for (size_t n = next++; n < rows.size() && go(); n = next++) {
                const size_t i = order[n];
                if (w.rows[i].done)
                    continue;
                const auto from = std::chrono::steady_clock::now();
                rows[i]->stage(go);
                const std::lock_guard lock(mutex);
                took_s[i] =
                    std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count();
                w.rows[i] = rows[i]->answer();
                combine(w);
                if (tell && !tell(w))
                    stopped = true;
            }
        };
        std::vector<std::thread> others;
        for (int t = 1; t < w.asked.threads; ++t)
            others.emplace_back(work);
        work();
        for (auto &t : others)
            t.join();
    }
    const bool sameLowRow = before && before->lowRow && w.lowRow &&
                            answered(before, w, w.rows[*w.lowRow].row) &&
                            sameRuns(before->rows[*before->lowRow].row, w.rows[*w.lowRow].row);
    if (sameLowRow)
        w.narrower = before->narrower;
    else if (go() && w.done && w.low && w.asked.noise)
        narrow(w, tell);
    if (go() && w.done)
        help(w, tell);
    return w;
}

Result<Replay> replay(const Window &window, size_t row, size_t place)
{
    const auto &answer = window.rows[row];
    return replayOf(window.asked, window.handle, answer.row, window.task, place,
                    answer.cells[place].worst);
}

std::vector<Say> notSimulated(const Window &window)
{
    std::vector<Say> all = {
        say("a second car, and people who walk in"), say("wet, dusty and sloping floors"),
        say("cells older than their sheet says"), say("loose parts, dirty sensors, worn wheels"),
        say("what nobody drew on the floor")};
    if (takesKeys(*window.asked.course.program))
        all.push_back(say("a driver who does anything but hold ahead"));
    return all;
}

} // namespace badger::window
