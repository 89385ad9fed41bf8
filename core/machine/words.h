// SPDX-License-Identifier: GPL-3.0-or-later
// Why did a machine do that, in words?
//
// Made on demand from indices: the program that the machine was lowered from has the names.
#pragma once

#include "core/machine/runner.h"

namespace badger::machine
{

/// A condition as it stands, "ahead ≤ 32 cm"; "right > left + 3 cm".
Say words(const rules::Program &program, const rules::Condition &condition);

/// The conditions of a rule, "ahead ≤ 32 cm and 'side' is left"; empty where it has none.
Say words(const rules::Program &program, const rules::Rule &rule);

/// A reading as it is kept, "ahead 29"; "ahead none".
Say heldWords(const rules::Program &program, const Machine &machine, const Mind &mind, int sensor);

/// The rule behind a branch, and the state it stands in: -1 for those that hold everywhere.
struct RuleAt {
    const rules::Rule *rule = nullptr;
    int mode = -1;
};
RuleAt ruleAt(const rules::Program &program, const Machine &machine, int branch);

/// Why a mode was entered: "29 ≤ 32, rule 'near'".
Say why(const rules::Program &program, const Machine &machine, const Mind &mind,
        const Cause &cause);

} // namespace badger::machine
