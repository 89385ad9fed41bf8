// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/workshop_commands.h"

#include "cli/workshop_pick.h"
#include "core/judge/stale.h"

#include <fmt/format.h>

namespace badger::cli
{

Result<Answer> stale(const std::string &file, const std::string &carName)
{
    const auto o = open(file);
    if (!o)
        return tl::unexpected(o.error());
    const auto cars = carsNamed(*o, carName);
    if (!cars)
        return tl::unexpected(cars.error());
    Answer a;
    a.json = {{"cars", Json::array()}};
    for (const auto *car : *cars) {
        const kit::Assembly assembly(*car, o->catalogue);
        const auto j = judge::judge(o->workshop, assembly, nullptr, judge::Runs::Later);
        auto list = Json::array();
        std::vector<std::vector<Say>> rows;
        for (const auto &thing :
             judge::staleThings(j, assembly, workshop::missionFloorName(o->workshop, *car))) {
            auto reasons = Json::array();
            for (const auto &r : thing.reasons)
                reasons.push_back(r);
            list.push_back({{"kind", judge::name(thing.kind)},
                            {"what", thing.what},
                            {"reasons", reasons},
                            {"where", judge::name(thing.place)}});
            rows.push_back({say("{}.", static_cast<long>(rows.size() + 1)), thing.what,
                            joined(thing.reasons, "; "), judge::name(thing.place)});
        }
        a.json["cars"].push_back({{"car", car->name}, {"redo", list}});
        a.text += rows.empty()
                      ? fmt::format("{}: everything rests on what is there\n", car->name)
                      : fmt::format("{}: do again, in this order\n", car->name) + aligned(rows);
        a.why += fmt::format("{}: {} records, {} steps of first power, {} trials compared with the "
                             "car as it is\n",
                             car->name, j.tune.items.size(), car->walk.size(),
                             j.measured.size() + j.older.size());
    }
    return a;
}

} // namespace badger::cli
