// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/window/row_search.h"

#include "core/window/limits.h"

#include <algorithm>
#include <set>

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

/// Of two ways each spends half of the error.
Looks looksOf(const Question &q, bool bothWays)
{
    return looks(q.limit, bothWays ? 0.5 * (1.0 + q.confidence) : q.confidence);
}

/// After so many runs the job can be shown although it was missed once, on either of two ways.
int leastForJob(const Question &q)
{
    int runs = 1;
    while (mostMisses(runs, q.share, 0.5 * (1.0 + q.confidence)) < 1)
        ++runs;
    return runs;
}

} // namespace

RowSearch::RowSearch(Places &places, const Question &question, const Row &row, task::Kind task,
                     size_t count)
    : m_question(question), m_runs(places, row, task), m_places(places)
{
    m_answer.row = row;
    m_answer.cells.resize(count);
}

void RowSearch::stage(const Go &go)
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

const RowSearch::Rough &RowSearch::rough(size_t place, int runs, const Go &go)
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

void RowSearch::wide(const Go &go)
{
    m_rough.resize(count());
    for (size_t places = widePlaces;; places *= 2) {
        for (size_t i = 0; i < places; ++i)
            rough(std::min(count() - 1, (2 * i + 1) * count() / (2 * places)), roughRuns, go);
        const bool any =
            std::any_of(m_rough.begin(), m_rough.end(), [](const Rough &r) { return r.isGood(); });
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
void RowSearch::narrow(const Go &go)
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

/// Does it touch above the good stretch? Else its job or the ruler ends it there.
bool RowSearch::endsByTouchAbove() const
{
    return m_last + 1 < count() && m_rough[m_last + 1].asked && m_rough[m_last + 1].possible &&
           !m_rough[m_last + 1].isClear();
}

/// From the highest down, or from the middle: each of a few at the upper end, then ever nearer to
/// the lower end, where each counts; below it until one fails.
std::vector<size_t> RowSearch::downwards() const
{
    const bool middle = endsByTouchAbove();
    const size_t top = middle ? m_first + (m_last - m_first) / 2 : m_last;
    std::set<size_t> set = {top};
    const bool ends = !middle && m_last + 1 < count(); // not at the ruler's end
    for (size_t below = 0; ends && below < eachAtEnd; ++below)
        if (m_last >= m_first + below)
            set.insert(m_last - below);
    // Where the job ends it, few runs said where: the claim may need a place well below.
    for (size_t below = eachAtEnd; ends && m_last >= m_first + below; below += below)
        set.insert(m_last - below);
    for (size_t above = 1; m_first + above < top; above += 1 + above / 3)
        set.insert(m_first + above);
    for (size_t below = 0; below <= eachAtEnd && below <= m_first; ++below)
        set.insert(m_first - below);
    return {set.rbegin(), set.rend()};
}

/// From above a place to the upper end of the good stretch, and beyond it until one fails.
std::vector<size_t> RowSearch::upwards(size_t from) const
{
    std::set<size_t> set;
    for (size_t below = 1; m_last >= from + 1 + below; below += 1 + below / 3)
        set.insert(m_last - below);
    for (size_t above = 0; above <= eachAtEnd && m_last + above < count(); ++above)
        if (m_last + above > from)
            set.insert(m_last + above);
    return {set.begin(), set.end()};
}

Shown RowSearch::claimAt(size_t place, const Looks &looks, const Go &go)
{
    auto &cell = m_answer.cells[place];
    cell = {};
    cell.tested = true;
    auto nearest_m = 1e9;
    auto is = Shown::Open;
    for (std::uint64_t n = 0; is == Shown::Open && go(); ++n) {
        const auto went = m_runs.drive(place, n);
        if (!went)
            return Shown::Never;
        ++cell.runs;
        ++m_answer.runs;
        cell.events += went->event;
        cell.misses += !went->job;
        if (cell.runs <= m_early)
            m_missesEarly[place] += !went->job;
        const bool worse =
            went->event ? cell.events == 1 : cell.events == 0 && went->nearest_m < nearest_m;
        if (worse) {
            cell.worst = n;
            nearest_m = went->nearest_m;
        }
        is = shown(looks, cell.runs, cell.events);
    }
    // Where few runs are enough for the touches, the job asks for some more.
    for (int n = cell.runs; is == Shown::Yes && n < m_early && go(); ++n) {
        const auto went = m_runs.drive(place, std::uint64_t(n));
        m_missesEarly[place] += !went || !went->job;
        ++m_answer.runs;
    }
    return is;
}

void RowSearch::claim(const Go &go)
{
    if (!m_found) { // what happens where the program stands now
        const auto &h = m_places.handle();
        const size_t now = h.nearest(h.now.value_or(h.at[h.at.size() / 2]));
        rough(now, nearRuns, go);
        finish(now, {});
        return;
    }
    const bool bothWays = endsByTouchAbove();
    const auto looks = looksOf(m_question, bothWays);
    m_early = std::max(looks.after.front(), leastForJob(m_question));
    std::vector<size_t> held;
    const auto walk = [&](const std::vector<size_t> &places) -> std::optional<size_t> {
        for (const size_t place : places) {
            if (claimAt(place, looks, go) != Shown::Yes)
                return place;
            m_answer.cells[place].state = State::Holds;
            held.push_back(place);
        }
        return std::nullopt;
    };
    const auto down = downwards();
    const auto failedBelow = walk(down);
    std::optional<size_t> failedAbove;
    if (bothWays && !held.empty())
        failedAbove = walk(upwards(down.front()));
    if (held.empty())
        return finish(failedBelow, {});
    std::sort(held.begin(), held.end());
    const auto job = claimJob(held);
    m_answer.low = job.low;
    m_answer.high = job.high;
    auto above = job.idleAbove ? job.idleAbove : failedAbove;
    // Else what ends it above is the first place that was not tried: there its job is not done.
    if (!above && job.high && *job.high + 1 < count())
        above = *job.high + 1;
    finish(job.idleBelow ? job.idleBelow : failedBelow, above);
}

/// The job among the places that are clear: from the lower end of the rough stretch up to the first
/// place where it is not done, and alike down where places below it are clear; then each of the two
/// ways spends half of its error.
RowSearch::Job RowSearch::claimJob(const std::vector<size_t> &held)
{
    // From the middle of the rough stretch both ways: at its ends the job is near its limit, and a
    // place that just fails there would end the sequence before it began.
    auto begin = std::lower_bound(held.begin(), held.end(), m_first + (m_last - m_first) / 2);
    if (begin == held.end())
        --begin;
    const bool bothWays = begin != held.begin();
    const double confidence =
        bothWays ? 0.5 * (1.0 + m_question.confidence) : m_question.confidence;
    const int allowed = mostMisses(m_early, m_question.share, confidence);
    Job job;
    const auto done = [&](size_t place) { return m_missesEarly[place] <= allowed; };
    for (auto it = begin; it != held.end() && !job.idleAbove; ++it) {
        if (!done(*it)) {
            job.idleAbove = *it;
            continue;
        }
        job.high = *it;
        if (!job.low)
            job.low = *it;
    }
    for (auto it = begin; it != held.begin() && !job.idleBelow;) {
        --it;
        if (!done(*it))
            job.idleBelow = *it;
        else
            job.low = *it;
        if (!job.high && job.low)
            job.high = *it;
    }
    for (const size_t place : held)
        if (!job.high || place > *job.high || place < *job.low)
            m_answer.cells[place].state = State::Idle;
    if (job.low)
        for (size_t i = *job.low; i <= *job.high; ++i)
            m_answer.cells[i].state = State::Holds;
    return job;
}

/// Paints what was not tested, and says what ends it.
void RowSearch::finish(std::optional<size_t> below, std::optional<size_t> above)
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

Limit RowSearch::limitAt(size_t place)
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
            if (went->touch)
                limit.drivesOn = drivesOn(m_runs, cell.worst);
            if (went->lost)
                limit.lostAt = lostAt(m_runs, cell.worst);
        }
    }
    explain(limit, m_runs, m_answer.row, m_places);
    return limit;
}

/// Places that carry no runs of the claim: as the nearest asked ones on both sides agree.
void RowSearch::paintRoughly()
{
    auto &cells = m_answer.cells;
    const auto seen = [&](size_t i) -> std::optional<State> {
        const auto &c = cells[i];
        if (m_answer.low && m_answer.high && i >= *m_answer.low && i <= *m_answer.high)
            return State::Holds;
        if (c.runs == 0)
            return std::nullopt;
        if (lowerBound(c.events, c.runs, m_question.confidence) > m_question.limit)
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

} // namespace badger::window
