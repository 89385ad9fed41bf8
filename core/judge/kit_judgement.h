// SPDX-License-Identifier: GPL-3.0-or-later
// Will these parts work together, and for how long?
#pragma once

#include "core/base/finding.h"
#include "core/kit/assembly.h"
#include "core/kit/balance.h"
#include "core/kit/mission.h"
#include "core/power/report.h"
#include "core/sense/cover.h"

#include <optional>
#include <vector>

namespace badger::judge
{

/// Everything the program has to say about a car's parts.
struct KitJudgement {
    Findings findings; ///< of the build, what the rangers see, and the steps of making it
    Findings build;    ///< of mission and power; like the next, they rest on the build alone
    Findings places;   ///< where the parts sit
    power::Report power;
    kit::Balance balance;
    std::vector<kit::Need> needs;
    kit::PinBudget pins;
    std::vector<sense::RangerCover> covers;
};

/// Asks again only what can change with the threshold and the car's ticks, for a car that is built
/// as the judgement's was.
void renewKit(KitJudgement &judgement, const kit::Assembly &car, std::optional<double> threshold_m);

/// What is said of a car's parts and of its wires: where both say the same of one place, the wires,
/// which are nearer to the truth than what was meant.
std::vector<Finding> withWires(std::vector<Finding> kit, const std::vector<Finding> &wires);

/// `threshold_m` is the program's stop threshold where there is one.
KitJudgement judgeKit(const kit::Assembly &car, std::optional<double> threshold_m);

} // namespace badger::judge
