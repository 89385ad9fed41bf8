// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/workshop_commands.h"

#include "cli/workshop_pick.h"
#include "core/judge/judge.h"
#include "core/judge/tune_sums.h"

#include <fmt/format.h>

namespace badger::cli
{

namespace
{

Json stepsJson(const Derivation &d)
{
    auto steps = Json::array();
    for (const auto &s : d.steps)
        steps.push_back({{"name", s.name}, {"value", s.value}, {"how", s.how}, {"from", s.from}});
    return steps;
}

} // namespace

Result<Answer> measured(const std::string &file, const std::string &carName)
{
    const auto o = open(file);
    if (!o)
        return tl::unexpected(o.error());
    const auto cars = carsNamed(*o, carName);
    if (!cars)
        return tl::unexpected(cars.error());
    Answer a;
    a.json = {{"measurements", Json::array()}};
    for (const auto *car : *cars) {
        const kit::Assembly assembly(*car, o->catalogue);
        const auto j = judge::judge(o->workshop, assembly, nullptr, judge::Runs::Later);
        const auto *program = o->workshop.program(car->program);
        a.text += car->name + "\n";
        for (const auto &i : j.tune.items) {
            const auto where = english(judge::placeOf(i));
            if (!i.record) {
                if (i.needed)
                    a.text += fmt::format("  {}: not measured yet\n", where);
                continue;
            }
            const auto why = judge::whyRecord(*i.record, assembly, program);
            const auto &v = i.verdict;
            a.text += fmt::format("  {}: {}{}\n", where, english(v.sentence),
                                  v.toDo.empty() ? "" : " " + english(v.toDo));
            auto stale = Json::array();
            for (const auto &s : i.stale)
                stale.push_back(s);
            if (!i.stale.empty())
                a.text += fmt::format("    it was measured {}\n", joined(i.stale, ", "));
            a.why += fmt::format("{}, {}, {}\n{}", car->name, where, judge::wordsOf(*i.record),
                                 why.steps.empty() ? "" : derivationText(why));
            a.json["measurements"].push_back({{"car", car->name},
                                              {"id", i.record->id.text},
                                              {"what", tune::key(i.what)},
                                              {"part", i.instance},
                                              {"says", v.sentence},
                                              {"usable", v.good},
                                              {"to_do", v.toDo},
                                              {"stale", stale},
                                              {"result", why.result},
                                              {"steps", stepsJson(why)}});
        }
    }
    return a;
}

} // namespace badger::cli
