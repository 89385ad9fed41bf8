// SPDX-License-Identifier: GPL-3.0-or-later
// Walking a program's rules and readings. Private to the judgement.
#pragma once

#include "core/rules/program.h"

namespace badger::judge
{

/// Each condition, of the rules that hold everywhere first, then state by state.
template <class Visit> void eachCondition(const rules::Program &program, Visit visit)
{
    const auto walk = [&](const std::vector<rules::Rule> &rules) {
        for (const auto &rule : rules)
            for (const auto &c : rule.when)
                visit(c);
    };
    walk(program.everywhere);
    for (const auto &state : program.states)
        walk(state.rules);
}

} // namespace badger::judge
