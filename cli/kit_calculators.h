// SPDX-License-Identifier: GPL-3.0-or-later
// Calculators of the kit station that need no workshop file.
#pragma once

#include "cli/answer.h"

#include <string>

namespace badger::cli
{

/// Options as they were typed; empty where an optional one was not.
struct BeamOptions {
    std::string halfAngle, sweep, width, at;
};
Result<Answer> beam(const BeamOptions &options);

struct HornOptions {
    int teeth = 0;
    std::string error;
};
Result<Answer> horn(const HornOptions &options);

struct LedOptions {
    std::string supply, forward, current;
};
Result<Answer> led(const LedOptions &options);

struct RegulatorOptions {
    std::string in, out, current, drop;
};
Result<Answer> regulator(const RegulatorOptions &options);

struct DividerOptions {
    std::string in, top, bottom;
};
Result<Answer> divider(const DividerOptions &options);

struct DutyOptions {
    std::string supply, drop, rated;
};
Result<Answer> duty(const DutyOptions &options);

} // namespace badger::cli
