// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/window/search.h"

#include "core/window/limits.h"
#include "core/window/scene_run.h"

#include <algorithm>
#include <atomic>
#include <map>
#include <set>
#include <thread>

namespace badger::window
{

namespace
{

/// Rough runs have numbers from here on: the claim's own are never among them.
constexpr std::uint64_t roughFrom = 1000000;
constexpr int roughRuns = 16; ///< at each wide place
constexpr int nearRuns = 150; ///< at places near an end
constexpr size_t widePlaces = 16;
constexpr size_t mostWide = 64; ///< where the wide ones find nothing
/// Places of the claim: each of this many at an end, then ever wider between.
constexpr size_t eachAtEnd = 2;

/// The search of one row, in stages.
class RowSearch
{
public:
    RowSearch(Places &places, const Question &question, const Looks &looks, const Row &row,
              task::Kind task, size_t count)
        : m_question(question), m_looks(looks), m_runs(places, row, task), m_places(places)
    {
        m_answer.row = row;
        m_answer.cells.resize(count);
    }

    const RowAnswer &answer() const { return m_answer; }

    /// One stage further; `go` is asked between runs.
    template <class Go> void stage(const Go &go)
    {
        switch (m_stage++) {
        case 0:
            if (auto ok = m_runs.begin(); !ok) {
                m_answer.refused = ok.error();
                m_answer.done = true;
                return;
            }
            m_answer.gated = m_runs.gate_m().has_value();
            wide(go);
            break;
        case 1:
            narrow(go);
            break;
        default:
            claim(go);
            m_answer.done = true;
        }
    }

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

    size_t count() const { return m_answer.cells.size(); }

    template <class Go> const Rough &rough(size_t place, int runs, const Go &go)
    {
        auto &r = m_rough[place];
        r.asked = true;
        auto &cell = m_answer.cells[place];
        for (; r.runs < runs && r.events == 0 && r.possible && go();) {
            const auto went = m_runs.drive(place, roughFrom + std::uint64_t(r.runs));
            if (!went) {
                r.possible = false;
                break;
            }
            ++r.runs;
            ++m_answer.runs;
            r.events += went->event;
            r.misses += !went->job;
            if (went->event)
                cell.worst = roughFrom + std::uint64_t(r.runs) - 1;
        }
        if (!cell.tested) {
            cell.runs = r.runs;
            cell.events = r.events;
            cell.misses = r.misses;
        }
        return r;
    }

    template <class Go> void wide(const Go &go)
    {
        m_rough.resize(count());
        for (size_t places = widePlaces;; places *= 2) {
            for (size_t i = 0; i < places; ++i)
                rough(std::min(count() - 1, (2 * i + 1) * count() / (2 * places)), roughRuns, go);
            const bool any = std::any_of(m_rough.begin(), m_rough.end(),
                                         [](const Rough &r) { return r.isGood(); });
            if (any || places >= mostWide || places >= count())
                break;
        }
        // The longest stretch of good places among those that were asked.
        size_t from = 0, to = 0, best = 0;
        bool open = false;
        for (size_t i = 0; i < count(); ++i) {
            if (!m_rough[i].asked)
                continue;
            if (!m_rough[i].isGood()) {
                open = false;
                continue;
            }
            if (!open)
                from = i;
            open = true;
            to = i;
            if (to - from + 1 > best) {
                best = to - from + 1;
                m_first = from;
                m_last = to;
            }
        }
        m_found = best > 0;
        paintRoughly();
    }

    /// Where the good stretch ends, by halving with more runs.
    template <class Go> void narrow(const Go &go)
    {
        if (!m_found)
            return;
        const auto good = [&](size_t place) { return rough(place, nearRuns, go).isGood(); };
        size_t low = m_first; // good
        size_t bad = low;     // one below the last that is known not to be good, plus one
        while (bad > 0 && !(m_rough[bad - 1].asked && !m_rough[bad - 1].isGood()))
            --bad;
        while (low > bad) {
            const size_t middle = bad + (low - bad) / 2;
            if (good(middle))
                low = middle;
            else
                bad = middle + 1;
        }
        size_t high = m_last;
        size_t over = high; // the last that may still be good
        while (over + 1 < count() && !(m_rough[over + 1].asked && !m_rough[over + 1].isGood()))
            ++over;
        while (high < over) {
            const size_t middle = high + (over - high + 1) / 2;
            if (good(middle))
                high = middle;
            else
                over = middle - 1;
        }
        m_first = low;
        m_last = high;
        paintRoughly();
    }

    /// The places of the claim, from the highest down: at the upper end each of a few, then ever
    /// nearer to the lower end, where each counts; below it until one fails.
    std::vector<size_t> order() const
    {
        size_t top = m_last;
        while (top + 1 < count() && top < m_last + 1 && m_rough[top + 1].possible &&
               (!m_rough[top + 1].asked || m_rough[top + 1].isClear()))
            ++top;
        std::set<size_t> set = {top};
        const bool ends = m_last + 1 < count(); // not at the ruler's end
        for (size_t below = 0; ends && below < eachAtEnd; ++below)
            if (m_last >= m_first + below)
                set.insert(m_last - below);
        for (size_t above = 1; m_first + above < top; above += 1 + above / 3)
            set.insert(m_first + above);
        for (size_t below = 0; below <= eachAtEnd && below <= m_first; ++below)
            set.insert(m_first - below);
        return {set.rbegin(), set.rend()};
    }

    template <class Go> Shown claimAt(size_t place, const Go &go)
    {
        auto &cell = m_answer.cells[place];
        cell = {};
        cell.tested = true;
        auto nearest_m = 1e9;
        m_early = 0;
        auto is = Shown::Open;
        for (std::uint64_t n = 0; is == Shown::Open && go(); ++n) {
            const auto went = m_runs.drive(place, n);
            if (!went)
                return Shown::Never;
            ++cell.runs;
            ++m_answer.runs;
            cell.events += went->event;
            cell.misses += !went->job;
            if (cell.runs <= m_looks.after.front())
                m_early += !went->job;
            const bool worse =
                went->event ? cell.events == 1 : cell.events == 0 && went->nearest_m < nearest_m;
            if (worse) {
                cell.worst = n;
                nearest_m = went->nearest_m;
            }
            is = shown(m_looks, cell.runs, cell.events);
        }
        m_missesEarly[place] = m_early;
        return is;
    }

    template <class Go> void claim(const Go &go)
    {
        if (!m_found) { // what happens where the program stands now
            const auto &h = m_places.handle();
            const size_t now = h.nearest(h.now.value_or(h.at[h.at.size() / 2]));
            rough(now, nearRuns, go);
            finish(now, {});
            return;
        }
        const int allowed =
            mostMisses(m_looks.after.front(), m_question.share, m_question.confidence);
        const auto places = order();
        std::optional<size_t> low;
        std::optional<size_t> failed;
        for (const size_t place : places) {
            const auto is = claimAt(place, go);
            if (is != Shown::Yes) {
                failed = place;
                break;
            }
            m_answer.cells[place].state = State::Holds;
            low = place;
        }
        if (!low) {
            finish(failed, {});
            return;
        }
        // The job, from the lower end up.
        std::optional<size_t> high;
        std::optional<size_t> idle;
        for (auto it = places.rbegin(); it != places.rend(); ++it) {
            if (*it < *low)
                continue;
            if (m_missesEarly[*it] > allowed) {
                idle = *it;
                break;
            }
            high = *it;
        }
        for (const size_t place : places)
            if (place >= *low && (!high || place > *high))
                m_answer.cells[place].state = State::Idle;
        if (!high) { // its job is done nowhere where it is clear
            finish(failed, idle);
            return;
        }
        m_answer.low = low;
        m_answer.high = high;
        for (size_t i = *low; i <= *high; ++i)
            m_answer.cells[i].state = State::Holds;
        finish(failed, idle);
    }

    /// Paints what was not tested, and says what ends it.
    void finish(std::optional<size_t> below, std::optional<size_t> above)
    {
        auto &a = m_answer;
        if (below)
            a.below = limitAt(*below);
        if (above)
            a.above = limitAt(*above);
        if (a.low && !a.below && *a.low > 0)
            a.below = limitAt(*a.low - 1);
        paintRoughly();
    }

    Limit limitAt(size_t place)
    {
        Limit limit;
        limit.at = place;
        const auto &cell = m_answer.cells[place];
        if (cell.events > 0) {
            const auto went = m_runs.drive(place, cell.worst);
            if (went) {
                limit.touch = went->touch;
                limit.lost = went->lost;
                limit.fell = went->fell;
            }
        }
        explain(limit, m_runs, m_answer.row, m_places);
        return limit;
    }

    /// Places that carry no runs of the claim: as the nearest asked ones on both sides agree.
    void paintRoughly()
    {
        auto &cells = m_answer.cells;
        const auto seen = [&](size_t i) -> std::optional<State> {
            const auto &c = cells[i];
            if (m_answer.low && m_answer.high && i >= *m_answer.low && i <= *m_answer.high)
                return State::Holds;
            if (c.runs == 0)
                return std::nullopt;
            if (lowerBound(c.events, c.runs, m_question.confidence) > m_looks.limit)
                return State::Touches;
            if (c.tested && c.state != State::Open)
                return c.state;
            if (c.events == 0 && c.misses * 2 > c.runs)
                return State::Idle;
            return State::Open;
        };
        std::vector<std::optional<State>> known;
        for (size_t i = 0; i < cells.size(); ++i)
            known.push_back(seen(i));
        std::vector<std::optional<State>> left(known), right(known);
        for (size_t i = 1; i < cells.size(); ++i)
            if (!left[i])
                left[i] = left[i - 1];
        for (size_t i = cells.size() - 1; i-- > 0;)
            if (!right[i])
                right[i] = right[i + 1];
        for (size_t i = 0; i < cells.size(); ++i) {
            // Beyond the outermost places that were asked it goes on as there.
            const auto a = left[i] ? left[i] : right[i];
            const auto b = right[i] ? right[i] : left[i];
            cells[i].state = a && a == b ? *a : State::Open;
        }
    }

    const Question &m_question;
    const Looks &m_looks;
    SceneRuns m_runs;
    Places &m_places;
    RowAnswer m_answer;
    std::vector<Rough> m_rough;
    std::map<size_t, int> m_missesEarly; ///< within the runs of the first look
    int m_early = 0;
    int m_stage = 0;
    bool m_found = false;
    size_t m_first = 0, m_last = 0; ///< the good stretch, roughly
};

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
    if (!(q.share > 0.0 && q.share < 1.0))
        return refuse("--share", say("it is outside 0 to 100 %"), say("choose 90 % for example"));
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

} // namespace

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

Result<Window> search(Question question, const std::function<bool(const Window &)> &tell)
{
    if (const auto ok = inRange(question); !ok)
        return tl::unexpected(ok.error());
    const auto &program = *question.course.program;
    if (const auto ok = rules::complete(program); !ok)
        return tl::unexpected(ok.error());
    if (question.value.empty())
        question.value = firstValue(program);
    const auto handle = handleOf(program, question.value);
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
    std::vector<std::unique_ptr<RowSearch>> rows;
    for (const auto &row : w.asked.rows) {
        rows.push_back(std::make_unique<RowSearch>(**places, w.asked, w.looks, row, w.task,
                                                   w.handle.at.size()));
        w.rows.push_back(rows.back()->answer());
    }
    // Stage by stage over all rows, so that a first rough picture of all comes first.
    std::atomic<bool> stopped = false;
    std::mutex mutex;
    const auto go = [&] { return !stopped.load(std::memory_order_relaxed); };
    for (int stage = 0; stage < 3 && go(); ++stage) {
        std::atomic<size_t> next = 0;
        const auto work = [&] {
            for (size_t i = next++; i < rows.size() && go(); i = next++) {
                if (!rows[i]->answer().done)
                    rows[i]->stage(go);
                const std::lock_guard lock(mutex);
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
    if (go() && w.done && w.low && w.asked.noise)
        narrow(w, tell);
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
