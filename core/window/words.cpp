// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/window/words.h"

#include "core/units/quantity.h"

#include <algorithm>
#include <cmath>

namespace badger::window
{

using rules::ValueKind;
using task::Kind;
using units::Unit;

const char *word(State state)
{
    constexpr const char *words[] = {"open", "touches", "holds", "idle"};
    return words[static_cast<size_t>(state)];
}

bool isOpenAbove(const Window &w)
{
    return w.high && *w.high + 1 == w.handle.at.size();
}

Say placeOf(const Window &w, double si)
{
    switch (w.handle.kind) {
    case ValueKind::Distance:
        return say("{}", units::quantity(si, Unit::Centimetre, 3));
    case ValueKind::Duration:
        return say("{}", units::quantity(si, Unit::Millisecond, 3));
    case ValueKind::Angle:
        return say("{}°", units::number(si, 3));
    default:
        return say("{}", units::number(si, 3));
    }
}

namespace
{

Say rate(double share)
{
    return say("{} %", units::number(share * 100.0, 3));
}

long counted(const Window &w)
{
    return std::count_if(w.rows.begin(), w.rows.end(),
                         [](const RowAnswer &r) { return r.counts(); });
}

} // namespace

Say headline(const Window &w)
{
    const auto &car = w.asked.course.car->name;
    if (!w.done)
        return say("Looking for the values of '{}' that hold.", w.handle.value);
    if (w.low) {
        const auto what = w.task == Kind::Stops         ? say("stops clear of everything")
                          : w.task == Kind::KeepsMoving ? say("keeps moving and touches nothing")
                          : w.task == Kind::Holds       ? say("holds its distance")
                          : w.task == Kind::FollowsLine ? say("keeps the line")
                                                        : say("stays on the table");
        if (isOpenAbove(w))
            return say("From {} up {} {} on {}.", placeOf(w, w.si(*w.low)), car, what,
                       w.asked.course.floor->name);
        if (*w.low == *w.high)
            return say("At {} alone {} {} on {}.", placeOf(w, w.si(*w.low)), car, what,
                       w.asked.course.floor->name);
        return say("Between {} and {} {} {} on {}.", placeOf(w, w.si(*w.low)),
                   placeOf(w, w.si(*w.high)), car, what, w.asked.course.floor->name);
    }
    if (!w.lowRow)
        return say("No condition could be driven: there is no window.");
    const auto &low = w.rows[*w.lowRow];
    const auto &high = w.rows[*w.highRow];
    if (&low == &high || !low.low || !high.high)
        return say("No value of '{}' holds: {} closes the window.", w.handle.value, low.row.label);
    return say("No window: {} is needed for {}, {} allows {}.", placeOf(w, w.si(*low.low)),
               low.row.label, high.row.label, placeOf(w, w.si(*high.high)));
}

Say claimOf(const Window &w)
{
    if (!w.low || !w.lowRow)
        return say("Asked for: at most {} of runs that touch, at {}.", rate(w.asked.limit),
                   rate(w.asked.confidence));
    const auto &row = w.rows[*w.lowRow];
    const auto &cell = row.cells[*w.low];
    const auto conditions = counted(w);
    std::vector<Say> apart;
    for (const auto &r : w.rows)
        if (r.done && !r.row.off && !r.refused && !r.counts())
            apart.push_back(say("{} ({})", r.row.label, wordsWithout(w, r)));
    auto claim =
        cell.tested
            ? say("At most {0} of runs fail, at {1}, under {2} {2|condition|conditions}: {3} of "
                  "{4} at {5} ({6}). The job is done in {7} at least.",
                  rate(w.asked.limit), rate(w.asked.confidence), conditions,
                  static_cast<long>(cell.events), static_cast<long>(cell.runs),
                  placeOf(w, w.si(*w.low)), row.row.label, rate(w.asked.share))
            : say("At most {0} of runs fail, at {1}, under {2} {2|condition|conditions}. The "
                  "job is done in {3} at least.",
                  rate(w.asked.limit), rate(w.asked.confidence), conditions, rate(w.asked.share));
    if (!apart.empty())
        claim = joined({claim, say("Apart from it: {}.", joined(apart, ", "))}, " ");
    return claim;
}

Say wordOf(const Window &w, const RowAnswer &row, State state)
{
    switch (state) {
    case State::Open:
        return say("open");
    case State::Touches:
        return w.task == Kind::FollowsLine    ? say("loses the line")
               : w.task == Kind::StaysOnTable ? say("falls")
                                              : say("touches");
    case State::Holds:
        return w.task == Kind::Stops         ? say("stops clear")
               : w.task == Kind::KeepsMoving ? say("keeps clear")
               : w.task == Kind::Holds       ? say("holds")
               : w.task == Kind::FollowsLine ? say("keeps the line")
                                             : say("stays on");
    case State::Idle:
        break;
    }
    return row.gated               ? say("stays outside")
           : w.task == Kind::Stops ? say("stands off")
                                   : say("does not get on");
}

Say wordsWithout(const Window &w, const RowAnswer &row)
{
    switch (without(row, w.looks)) {
    case Without::Nothing:
        break;
    case Without::NotShown: {
        const size_t at = *bestOf(row);
        const auto &cell = row.cells[at];
        return say("not shown: {} of {} fail at {}", cell.events, cell.runs, placeOf(w, w.si(at)));
    }
    case Without::Fails:
        return say("no value helps");
    case Without::Idle:
        return say("where it is clear it does not do its job");
    }
    return {};
}

std::vector<Say> helps(const Window &w, const RowAnswer &row)
{
    std::vector<Say> all;
    for (const auto &h : row.helps)
        all.push_back(
            say("{} none of {} runs fails at {}.", h.what, h.runs, placeOf(w, w.si(h.place))));
    return all;
}

std::vector<Say> lineOf(const Window &w, const RowAnswer &row)
{
    std::vector<Say> line = {row.row.label};
    if (row.refused) {
        line.push_back(say("cannot occur: {}", row.refused->what));
        return line;
    }
    if (!row.low) {
        line.push_back(row.done ? wordsWithout(w, row) : say("open"));
        if (row.below)
            line.push_back(row.below->what);
        else if (row.above)
            line.push_back(row.above->what);
        return line;
    }
    line.push_back(*row.high + 1 == w.handle.at.size()
                       ? say("from {} up", placeOf(w, w.si(*row.low)))
                       : say("{} to {}", placeOf(w, w.si(*row.low)), placeOf(w, w.si(*row.high))));
    const auto &cell = row.cells[*row.low];
    line.push_back(say("{} of {}", static_cast<long>(cell.events), static_cast<long>(cell.runs)));
    line.push_back(row.below ? say("below: {}", row.below->what) : Say());
    line.push_back(row.above ? say("above: {}", row.above->what) : Say());
    return line;
}

std::vector<Say> narrowing(const Window &w)
{
    auto all = w.narrower;
    std::stable_sort(all.begin(), all.end(), [](const auto &a, const auto &b) {
        return a.low.value_or(1000) < b.low.value_or(1000);
    });
    std::vector<Say> words;
    for (const auto &n : all)
        if (n.low && w.low && *n.low < *w.low)
            words.push_back(say("With its {} measured, and typical, it would begin at {}, not {}.",
                                n.figure, placeOf(w, w.si(*n.low)), placeOf(w, w.si(*w.low))));
        else
            words.push_back(say("Measuring its {} would not lower it.", n.figure));
    return words;
}

Say advice(const Window &w)
{
    if (!w.low || !w.handle.now)
        return {};
    const double now = *w.handle.now;
    // A little above the lowest where nothing ends it above, else the middle.
    constexpr size_t spare = 3;
    const size_t up = *w.low + std::max(spare, *w.low / 7);
    const size_t choose = isOpenAbove(w) ? std::min(up, *w.high) : (*w.low + *w.high) / 2;
    const auto mend = say("Choose {}.", placeOf(w, w.si(choose)));
    if (now < w.si(*w.low))
        return say("{} is not in it: {} needs {}. {}", placeOf(w, now), w.rows[*w.lowRow].row.label,
                   placeOf(w, w.si(*w.low)), mend);
    if (now > w.si(*w.high))
        return say("{} is not in it: {} allows {}. {}", placeOf(w, now),
                   w.rows[*w.highRow].row.label, placeOf(w, w.si(*w.high)), mend);
    return say("Leave it at {}.", placeOf(w, now));
}

} // namespace badger::window
