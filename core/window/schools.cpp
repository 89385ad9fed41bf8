// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/window/schools.h"

#include "core/logbook/measured.h"
#include "core/window/scene_run.h"

#include <algorithm>
#include <cmath>

namespace badger::window
{

namespace
{

constexpr double z = 1.959964; // of 95 %
constexpr size_t leastTimed = 10;

rules::Program standing(const rules::Program &program, rules::Wheels wheels)
{
    auto p = program;
    for (auto &s : p.states)
        if (rules::actOf(s.motion) == rules::Act::Stand)
            s.motion.wheels = wheels;
    return p;
}

template <class Change> rules::Program ranging(const rules::Program &program, Change change)
{
    auto p = program;
    for (auto &r : p.readings)
        if (r.source == rules::Source::Ranger)
            change(r);
    return p;
}

} // namespace

std::vector<School> schoolsOf(const rules::Program &program)
{
    using rules::NoEcho;
    using rules::Wheels;
    std::vector<School> all = {
        {say("braking in place of coasting"), standing(program, Wheels::Brake)},
        {say("coasting in place of braking"), standing(program, Wheels::Coast)}};
    for (const int n : {1, 3, 5})
        all.push_back(
            {n == 1 ? say("one reading in place of a median") : say("the median of {} readings", n),
             ranging(program, [&](rules::Reading &r) { r.medianOf = n; })});
    for (const auto &[policy, what] : {std::pair(NoEcho::Clear, say("no echo counts as clear")),
                                       {NoEcho::Stop, say("no echo stops it")},
                                       {NoEcho::HoldLast, say("no echo holds the last reading")}})
        all.push_back(
            {what, ranging(program, [&, p = policy](rules::Reading &r) { r.noEcho = p; })});
    all.erase(std::remove_if(all.begin(), all.end(),
                             [&](const School &s) { return s.program == program; }),
              all.end());
    return all;
}

Paired paired(int both, int onlyFirst, int onlySecond, int neither)
{
    Paired p;
    p.runs = both + onlyFirst + onlySecond + neither;
    p.both = both;
    p.onlyFirst = onlyFirst;
    p.onlySecond = onlySecond;
    if (p.runs == 0)
        return p;
    const double n = p.runs;
    const auto first = logbook::wilson(both + onlyFirst, p.runs);
    const auto second = logbook::wilson(both + onlySecond, p.runs);
    const double p1 = (both + onlyFirst) / n, p2 = (both + onlySecond) / n;
    // How the two go together: a phi coefficient, corrected for continuity where it is positive.
    const double a = both, b = onlyFirst, c = onlySecond, d = neither;
    const double under = (a + b) * (c + d) * (a + c) * (b + d);
    double cross = a * d - b * c;
    if (cross > 0.0)
        cross = std::max(cross - n / 2.0, 0.0);
    const double phi = under > 0.0 ? cross / std::sqrt(under) : 0.0;
    const auto width = [&](double x, double y) {
        return std::sqrt(std::max(0.0, x * x - 2.0 * phi * x * y + y * y));
    };
    p.low = p.difference() - width(p2 - second->low, first->high - p1);
    p.high = p.difference() + width(second->high - p2, p1 - first->low);
    return p;
}

std::vector<Compared> compareSchools(const Window &w, int runsEach, const std::function<bool()> &go)
{
    std::vector<Compared> all;
    const auto &h = w.handle;
    const size_t place = h.nearest(h.now.value_or(h.at[h.at.size() / 2]));
    const auto asItIs = Places::make(w.asked, h);
    if (!asItIs)
        return all;
    for (const auto &school : schoolsOf(*w.asked.course.program)) {
        auto q = w.asked;
        q.course.program = std::make_shared<rules::Program>(school.program);
        Compared compared{school.what, {}, {}};
        const auto places = Places::make(q, h);
        if (!places) {
            compared.refused = places.error();
            all.push_back(std::move(compared));
            continue;
        }
        int counts[2][2] = {};
        std::vector<double> later;
        for (const auto &row : w.rows) {
            if (row.row.off || row.refused)
                continue;
            SceneRuns one(**asItIs, row.row, w.task), two(**places, row.row, w.task);
            if (!one.begin() || !two.begin())
                continue;
            for (int n = 0; n < runsEach; ++n) {
                if (go && !go())
                    return all;
                const auto a = one.drive(place, std::uint64_t(n));
                const auto b = two.drive(place, std::uint64_t(n));
                if (!a || !b)
                    break;
                ++counts[a->event][b->event];
                if (!a->event && !b->event)
                    later.push_back(b->end_s - a->end_s);
            }
        }
        auto &p = compared.pairs;
        p = paired(counts[1][1], counts[1][0], counts[0][1], counts[0][0]);
        if (later.size() >= leastTimed) {
            const double n = double(later.size());
            double sum = 0.0, squares = 0.0;
            for (const double t : later)
                sum += t;
            for (const double t : later)
                squares += (t - sum / n) * (t - sum / n);
            const double half = z * std::sqrt(squares / (n - 1.0) / n);
            p.later_s = sum / n;
            p.laterLow_s = sum / n - half;
            p.laterHigh_s = sum / n + half;
        }
        all.push_back(std::move(compared));
    }
    return all;
}

Say wordsOf(const Compared &compared)
{
    if (compared.refused)
        return say("{}: {}", compared.what, compared.refused->what);
    const auto &p = compared.pairs;
    const auto percent = [](double share) { return units::number(std::abs(share) * 100.0, 2); };
    const auto counts =
        say("{} of {} fail, {} as it is", p.both + p.onlySecond, p.runs, p.both + p.onlyFirst);
    auto words = !p.isShown()  ? say("{}: {}; no difference shown.", compared.what, counts)
                 : p.low > 0.0 ? say("{}: {} ({} to {} % more).", compared.what, counts,
                                     percent(p.low), percent(p.high))
                               : say("{}: {} ({} to {} % fewer).", compared.what, counts,
                                     percent(p.high), percent(p.low));
    if (p.later_s && (*p.laterLow_s > 0.0 || *p.laterHigh_s < 0.0) && std::abs(*p.later_s) >= 0.01)
        words = joined(
            {words,
             *p.later_s > 0.0
                 ? say("It ends {} later.", units::quantity(*p.later_s, units::Unit::Second, 2))
                 : say("It ends {} sooner.", units::quantity(-*p.later_s, units::Unit::Second, 2))},
            " ");
    return words;
}

} // namespace badger::window
