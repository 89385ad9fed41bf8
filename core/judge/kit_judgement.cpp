// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/judge/kit_judgement.h"

#include "core/mechanics/build.h"
#include "core/power/check.h"

namespace badger::judge
{

KitJudgement judgeKit(const kit::Car &car, const parts::Catalogue &catalogue,
                      std::optional<double> threshold_m)
{
    KitJudgement j;
    j.power = power::report(car, catalogue);
    j.balance = kit::balance(car, catalogue);
    j.needs = kit::needs(car, catalogue);
    j.pins = kit::pinBudget(car, catalogue);
    j.covers = sense::covers(car, catalogue);
    j.findings.add(kit::checkMission(car, catalogue));
    j.findings.add(power::check(car, catalogue, j.power));
    j.findings.add(sense::checkSight(car, catalogue, threshold_m));
    j.findings.add(kit::checkBuild(car, catalogue));
    j.findings.add(mechanics::checkSteps(car, catalogue));
    return j;
}

} // namespace badger::judge
