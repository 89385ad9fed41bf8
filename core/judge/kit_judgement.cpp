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

namespace
{

/// Is a line like this among them? Two that begin with the same terminal are alike: the volts of
/// the wires and of the tree differ in the last digit.
bool says(const std::vector<Say> &lines, const Say &line)
{
    const auto begin = [](const Say &s) {
        const auto text = english(s);
        return text.substr(0, text.find(' '));
    };
    return std::any_of(lines.begin(), lines.end(),
                       [&](const Say &other) { return begin(other) == begin(line); });
}

} // namespace

std::vector<Finding> withWires(std::vector<Finding> kit, const std::vector<Finding> &wires)
{
    // "driver.VS" of "node:driver.VS" and of "terminal:driver.VS".
    const auto placeOf = [](const Finding &f) { return f.places.front().name; };
    for (auto f : wires) {
        const auto where = english(f.where) + " ";
        std::erase_if(kit, [&](const Finding &k) {
            const bool same =
                k.code == f.code &&
                (placeOf(k) == placeOf(f) || where.find(placeOf(k) + " ") != std::string::npos);
            // What only the kit knows to follow from it stays said.
            for (const auto &line : k.then)
                if (same && !says(f.then, line))
                    f.then.push_back(line);
            return same;
        });
        kit.push_back(std::move(f));
    }
    return kit;
}

} // namespace badger::judge
