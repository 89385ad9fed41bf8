// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/window/ground.h"

#include "core/window/words.h"

namespace badger::window
{

namespace
{

template <class T> bool alike(const std::shared_ptr<const T> &a, const std::shared_ptr<const T> &b)
{
    return a && b && (a == b || *a == *b);
}

} // namespace

bool sameGround(const judge::Grounds &a, const judge::Grounds &b, const std::string &value)
{
    if (!a.car || !b.car || !a.program || !b.program)
        return false;
    return (a.car == b.car || (a.car->id == b.car->id && kit::sameDrive(*a.car, *b.car))) &&
           alike(a.floor, b.floor) && a.records == b.records && a.parts == b.parts &&
           (a.program == b.program || sameBut(*a.program, *b.program, value));
}

Question questionOf(const judge::Grounds &on, const parts::Catalogue &catalogue,
                    const std::string &value)
{
    Question q;
    q.course = {on.car, on.program, on.floor, on.records, catalogue, {}, {}};
    q.value = value;
    for (const auto &text : on.car->conditions)
        if (auto row = rowOf(text)) // a file whose conditions can't be read is not opened
            q.more.push_back(std::move(*row));
    return q;
}

kit::FoundWindow found(const Window &w, const std::string &date)
{
    kit::FoundWindow f;
    f.value = w.handle.value;
    f.limit = w.asked.limit;
    f.confidence = w.asked.confidence;
    f.runs = w.runs;
    f.date = date;
    f.floor = w.asked.course.floor->name;
    if (w.low)
        f.low = w.si(*w.low);
    if (w.high && !isOpenAbove(w))
        f.high = w.si(*w.high);
    const auto words = [&](const std::optional<size_t> &row, auto side) {
        if (!row || !(w.rows[*row].*side))
            return std::string();
        return english(say("{}: {}", w.rows[*row].row.label, (w.rows[*row].*side)->what));
    };
    f.below = words(w.lowRow, &RowAnswer::below);
    f.above = words(w.highRow, &RowAnswer::above);
    return f;
}

} // namespace badger::window
