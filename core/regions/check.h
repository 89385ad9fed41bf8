// SPDX-License-Identifier: GPL-3.0-or-later
// Is anything wrong with what a program decides, and with what it does then?
//
// Holes and overlaps are read from the exact cells of its modes; everything else from the lowered
// modes, and the loops from playing the program before a world that stands still.
#pragma once

#include "core/base/check.h"
#include "core/regions/exact.h"
#include "core/rules/check.h"

#include <map>
#include <optional>

namespace badger::regions
{

/// What the car knows about a program's pieces; what is not there is not checked.
struct Around {
    std::map<std::string, rules::RangerFacts> rangers; ///< by reading
    struct Servo {
        double sPerDegree_s = 0.0; ///< at its slowest
        double settle_s = 0.0;
    };
    std::map<std::string, Servo> servos; ///< by instance
    /// What a digital sensor puts out on light, by reading: measured, or by its part.
    struct Level {
        int light = 1;
        bool measured = false;
    };
    std::map<std::string, Level> lightLevels;
    /// What an analogue sensor gave over one surface, in counts.
    struct Surface {
        double mean = 0.0;
        double deviation = 0.0;
    };
    struct Surfaces {
        Surface light;
        Surface dark;
    };
    std::map<std::string, Surfaces> surfaces{}; ///< measured, by reading
    std::optional<double> leftTurn_deg_s;       ///< measured, at the program's turn speed
    std::optional<double> rightTurn_deg_s;
    std::optional<double> speed_mps; ///< of the state that goes ahead
    CarFacts facts;
};

/// Every check of a program for itself. `program` is not broken; while something is unset only what
/// does not need it is checked. Findings carry the readings at which they happen.
Findings check(const rules::Program &program, const Around &around);
/// The same of a program that was lowered already, with `around.facts`.
Findings check(const Exact &exact, const Around &around);

/// What each of these checks is called and says, for the list of findings.
std::vector<CheckLine> checkLines();

} // namespace badger::regions
