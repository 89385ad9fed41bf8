// SPDX-License-Identifier: GPL-3.0-or-later
// The first power walk: what to look at and what to measure before and while a newly wired car
// gets its first power, in order, each with what is expected and what it means where it is not so.
#pragma once

#include "core/base/say.h"
#include "core/kit/assembly.h"

#include <optional>
#include <string>
#include <vector>

namespace badger::firstpower
{

enum class Measure {
    Look,  ///< it is as said, or it is not
    Ohms,  ///< cells out
    Volts, ///< cells in, nothing moves
    Length ///< a ranger's reading before a flat target
};

struct Step {
    std::string key; ///< "volts:board.5V"; what the car's walk entries hold
    Say title;       ///< "Volts at board.5V"
    Say text;        ///< what the hand does
    Say caution;
    Say fails; ///< what it means when it is not as expected, and what to look at next
    Measure measure = Measure::Look;
    std::optional<double> low;  ///< SI; none: no lower bound
    std::optional<double> high; ///< none: no upper bound
    Say expected;               ///< "6.9 V to 8.4 V", "more than 100 ohm"
    bool powered = false;       ///< the cells are in from here on
};

/// The steps that this car's parts and wires call for: shorts, grounds, polarity, then volts at
/// every rail, lights, each motor alone, servos, rangers, line sensors, emitters, outputs.
std::vector<Step> walk(const kit::Assembly &car);

enum class Verdict { Open, Right, Wrong };
/// Open without an entry. A value outside the bounds is Wrong, and so is a look that was not so.
Verdict judge(const Step &step, const kit::WalkEntry *entry);
/// The car's entry for a step, or null; an entry of an earlier wiring revision counts no more.
const kit::WalkEntry *entryOf(const kit::Car &car, const std::string &key);

/// Ohms that a meter shows as "OL", over its range.
inline constexpr double overRange_ohm = 1e9;

struct Progress {
    int steps = 0;
    int right = 0;
    int wrong = 0;
    /// The first step that is wrong, else the first that is open; -1 where all are right.
    int at = -1;
};
/// A wrong step stops the walk: what follows would be done with the fault in the car.
Progress progress(const kit::Car &car, const std::vector<Step> &steps);

} // namespace badger::firstpower
