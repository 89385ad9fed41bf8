// SPDX-License-Identifier: GPL-3.0-or-later
// What would this car take for what its program leaves open?
#pragma once

#include "core/base/say.h"
#include "core/kit/assembly.h"
#include "core/rules/program.h"

#include <string>
#include <vector>

namespace badger::judge
{

/// A number that a program leaves open, with one that suits the car.
struct ProposedValue {
    enum class What { Value, Limit, Air };
    What what = What::Value;
    std::string name; ///< of the value; of the reading whose farthest distance or air it is
    double si = 0.0;  ///< metres, seconds, a PWM count; degrees Celsius of air
    Say how;          ///< how it is shown, "130", "38 cm"
    Say why;          ///< one clause with its sum
};

/// For every speed, dwell of a servo, farthest reading and air that is open, and for the distance
/// that stops the car; in that order, each resting on those before it. What nobody can reckon from
/// parts and wires (policies, turns that were not measured, words) is left out.
///
/// - Speed: twice the count up to which the wheels do not turn (half of all where none is known),
/// at
///   most what the motors may have with fresh cells.
/// - Dwell: the widest way between two angles at the slowest of the servo's kind, and a settling
///   time. Source: s/60° of the maker's figure; 50 ms are a choice of ours.
/// - Farthest reading: 2 m or what the ranger reaches; air: 20 °C. Choices of ours.
/// - Pause after a pass that pings: 60 ms. A choice of ours: late echoes are gone by then.
/// - Stop distance: the least of the stopping budget for the wanted gap, else for none, and 5 cm.
///   Not of a car that turns there: its corner needs more.
std::vector<ProposedValue> proposedValues(const kit::Assembly &car, const rules::Program &program);

/// The program with those taken; values are marked as suggested, not yet chosen by a person.
rules::Program withProposed(rules::Program program, const std::vector<ProposedValue> &all);

} // namespace badger::judge
