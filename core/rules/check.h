// SPDX-License-Identifier: GPL-3.0-or-later
// Is anything wrong with this program, whatever car it runs on?
#pragma once

#include "core/base/check.h"
#include "core/rules/program.h"

#include <map>
#include <string>

namespace badger::rules
{

/// What the checks need to know of the ranger behind a reading.
struct RangerFacts {
    double deadZone_m = 0.0;
    double range_m = 0.0;
    double noEchoHold_s = 0.0;
    double looks_rad = 0.0;     ///< against the car's own way, to the left positive
    double halfAngle_rad = 0.0; ///< of its beam
};

/// Every rule about the program's figures: values and policies unset, thresholds inside the dead
/// zone or beyond the limit, pings too close, prints that slow the pass, whole numbers. What is
/// decided at each reading is machine/check.h's. Findings point at "value:NAME", "policy:READING"
/// or "reading:READING".
///
/// `rangers` are the facts behind each reading, by the reading's name; what rests on the facts of a
/// reading that has none is neither found nor fine.
Findings check(const Program &program, const std::map<std::string, RangerFacts> &rangers);

/// What each of these checks is called and says, for the list of findings.
std::vector<CheckLine> checkLines();

} // namespace badger::rules
