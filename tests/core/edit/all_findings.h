// SPDX-License-Identifier: GPL-3.0-or-later
// Everything that is said of a car's parts and wires.
#pragma once

#include "core/judge/kit_judgement.h"
#include "core/wiring/check.h"

namespace badger::test
{

inline std::vector<Finding> allOf(const kit::Assembly &car)
{
    auto all = judge::judgeKit(car, std::nullopt).findings.findings;
    if (!car->wires.empty())
        for (auto &f : wiring::check(car).findings)
            all.push_back(std::move(f));
    return all;
}

} // namespace badger::test
