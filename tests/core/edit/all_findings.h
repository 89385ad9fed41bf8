// SPDX-License-Identifier: GPL-3.0-or-later
// Everything that is said of a car's parts and wires.
#pragma once

#include "core/judge/kit_judgement.h"
#include "core/wiring/check.h"

namespace badger::test
{

inline std::vector<Finding> allOf(const kit::Assembly &car)
{
    auto kit = judge::judgeKit(car, std::nullopt).findings.findings;
    return car->wires.empty() ? kit : judge::withWires(kit, wiring::check(car).findings);
}

} // namespace badger::test
