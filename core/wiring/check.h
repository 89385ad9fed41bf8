// SPDX-License-Identifier: GPL-3.0-or-later
// Is anything wrong with this car's wires?
//
// Each rule is a function of its own with a stable code; a rule that finds nothing is named among
// what was checked and is fine. Rules about supplies and grounds stand in check_supply.cpp, rules
// about what a pin can do in check_pins.cpp, rules about what a signal meets in check_signal.cpp,
// rules about the wires themselves in check_wires.cpp.
#pragma once

#include "core/base/check.h"
#include "core/circuit/levels.h"
#include "core/circuit/strain.h"
#include "core/kit/assembly.h"
#include "core/motion/motion.h"
#include "core/nets/nets.h"
#include "core/pins/planner.h"

#include <vector>

namespace badger::wiring
{

/// What a rule looks at.
struct Look {
    const kit::Assembly &car;
    const nets::Nets &nets;
    const circuit::CarNetwork &network;
    const circuit::Looked &looked;
    const std::vector<Finding> &observed; ///< of supplies and levels
    const std::vector<circuit::InputLevel> &levels;
    const motion::MotionTable &motion;
    const std::vector<std::string> &served; ///< nets::boardSignals()
    const pins::PinProblem &problem;
};

using CheckRule = Check<Look>;

const std::vector<CheckRule> &supplyRules();
const std::vector<CheckRule> &pinRules();
const std::vector<CheckRule> &signalRules();
const std::vector<CheckRule> &motionRules();
const std::vector<CheckRule> &wireRules();

/// All rules on one car. A car without any part has nothing to check and gets no sentence.
Findings check(const kit::Assembly &car);

/// The same, with what was read on the way and other questions rest on.
struct Judged {
    std::vector<Finding> complaints; ///< each by itself, the most fundamental first
    /// The same as grouped() shows them, and what is fine. A harness that is not finished has one
    /// finding more, harness-unfinished, with what would go once it is as its lines.
    Findings findings;
    motion::MotionTable motion;
    std::vector<kit::Wire> missing; ///< of an unfinished harness
};
Judged judged(const nets::Nets &nets);
/// The complaints alone, of the car as it is wired, finished or not: for copies that are tried.
Judged complained(const nets::Nets &nets);
/// Is it of the map of pins, which the program decides as much as the wires?
bool isOfPins(const Finding &finding);

/// Board pins on the line of a terminal, "board.D5".
std::vector<std::string> pinsAt(const Look &look, const std::string &terminal);

/// What each of these checks is called and says, for the list of findings.
std::vector<CheckLine> checkLines();

} // namespace badger::wiring
