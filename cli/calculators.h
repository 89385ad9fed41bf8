// SPDX-License-Identifier: GPL-3.0-or-later
// Calls that need no workshop file.
#pragma once

#include "cli/answer.h"

#include <string>

namespace badger::cli
{

/// Options as they were typed; empty where an optional one was not.
struct EchoOptions {
    std::string time;
    std::string air;
};
Result<Answer> echo(const EchoOptions &options);

struct StopBudgetOptions {
    std::string threshold, speed, loop, roll, error, setBack, age, actuation, want;
    int medianOf = 1;
};
Result<Answer> stopBudget(const StopBudgetOptions &options);

} // namespace badger::cli
