// SPDX-License-Identifier: GPL-3.0-or-later
// Will something burn, sag, reset or run wild with these parts on this supply?
//
// Each rule is a function of its own with a stable code, listed in docs/findings.md. Rules about
// sources and rails stand in check_supply.cpp, rules about motors and drivers in check_motors.cpp,
// rules about what hangs on pins in check_parts.cpp.
#pragma once

#include "core/base/check.h"
#include "core/kit/assembly.h"
#include "core/power/report.h"

namespace badger::power
{

struct Look {
    const kit::Assembly &car;
    const Report &report;

    const parts::Part &part(const Node &node) const
    {
        return *car.part(*car->instance(node.instance));
    }
};

using CheckRule = Check<Look>;

const std::vector<CheckRule> &sourceRules();
const std::vector<CheckRule> &motorRules();
const std::vector<CheckRule> &partRules();

/// All rules. A car without any part has nothing to check and gets no sentence.
Findings check(const kit::Assembly &car, const Report &report);

/// The state people mean when they say nothing else.
inline constexpr State nominalRunning{kit::Charge::Nominal, Load::Running, Case::Typical};

/// What each of these checks is called and says, for the list of findings.
std::vector<CheckLine> checkLines();

} // namespace badger::power
