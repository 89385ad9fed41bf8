// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/judge/kit_judgement.h"

#include "core/kit/check.h"
#include "core/mechanics/build.h"
#include "core/power/check.h"

#include <algorithm>

namespace badger::judge
{

KitJudgement judgeKit(const kit::Assembly &car, std::optional<double> threshold_m)
{
    KitJudgement j;
    j.power = power::report(car);
    j.balance = kit::balance(car);
    j.needs = kit::needs(car);
    j.pins = kit::pinBudget(car);
    j.covers = sense::covers(car);
    j.build.add(kit::checkMission(car));
    j.build.add(power::check(car, j.power));
    j.places = kit::checkBuild(car);
    renewKit(j, car, threshold_m);
    return j;
}

void renewKit(KitJudgement &j, const kit::Assembly &car, std::optional<double> threshold_m)
{
    j.findings = j.build;
    j.findings.add(sense::checkSight(car, threshold_m));
    j.findings.add(j.places);
    j.findings.add(mechanics::checkSteps(car));
}

std::vector<Finding> withWires(std::vector<Finding> kit, const std::vector<Finding> &wires)
{
    // "driver.VS" of "node:driver.VS" and of "terminal:driver.VS".
    const auto isAt = [](const Finding &f, const std::string &place) {
        return std::any_of(f.places.begin(), f.places.end(),
                           [&](const Spot &spot) { return spot.name == place; });
    };
    for (auto f : wires) {
        std::erase_if(kit, [&](const Finding &k) {
            const bool same =
                k.code == f.code && !k.places.empty() && isAt(f, k.places.front().name);
            // What only the kit knows to follow from it stays said.
            for (const auto &line : k.then)
                if (same && std::find(f.then.begin(), f.then.end(), line) == f.then.end())
                    f.then.push_back(line);
            return same;
        });
        kit.push_back(std::move(f));
    }
    return kit;
}

} // namespace badger::judge
