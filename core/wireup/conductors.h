// SPDX-License-Identifier: GPL-3.0-or-later
// What has to be joined on a car so that it is wired as its kit and program say?
//
// A conductor is a set of terminals that are to be one piece of copper: a supply with all it feeds,
// the common ground, a motor's lead with its output, a signal with its pin. How many wires make it
// one, and which, is asked elsewhere (joining.h).
#pragma once

#include "core/base/say.h"
#include "core/kit/assembly.h"
#include "core/pins/planner.h"

#include <string>
#include <vector>

namespace badger::wireup
{

/// A terminal that hangs on a conductor.
struct End {
    std::string terminal;
    std::string module;  ///< the instance that the wire is for
    Say why;             ///< one clause: "it is fed by the switch"
    bool strong = false; ///< the motors' current flows through it
};

struct Conductor {
    enum class Kind { Supply, Ground, Motor, Signal };
    Kind kind = Kind::Signal;
    std::vector<End> ends; ///< what gives, or what the others are led to, first
    std::string line{};    ///< of a signal: whose, also behind a divider: its wires have one colour
};

/// A lead of a motor with the output it belongs on.
struct Lead {
    std::string motor;  ///< the instance
    std::string lead;   ///< "left.A"
    std::string output; ///< "driver.OUT1"
};

/// Both leads of each motor whose channel is stated: on the left A on the first output of the
/// channel, on the right B, so that one level drives both ahead; where motors of the side have
/// wires already, as most of those.
std::vector<Lead> leadsOf(const kit::Assembly &car);

/// Everything that feeds, channels and grounds say, and a pin for each signal as planned; a divider
/// that is said to follow a signal stands between. Without a board the sensors drive the inputs of
/// their side. Supplies first, then ground, motors, signals.
/// What shares a terminal with one before it is part of that one; `besides` are joined, too.
std::vector<Conductor> conductors(const kit::Assembly &car, const pins::PinPlan &plan,
                                  const std::vector<Conductor> &besides = {});

} // namespace badger::wireup
