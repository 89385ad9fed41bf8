// SPDX-License-Identifier: GPL-3.0-or-later
// From this exercise to the next: what the car needs besides, and how its pins change with the
// fewest wires moved.
#pragma once

#include "core/kit/assembly.h"
#include "core/pins/planner.h"
#include "core/revisions/history.h"

namespace badger::edit
{

struct NextExercise {
    kit::Car car;                     ///< as it will be
    std::vector<std::string> added;   ///< instances that the behaviour needs and the car lacked
    std::vector<std::string> idle;    ///< sensors and servos that it does not use; they stay
    std::vector<std::string> cleared; ///< of those, whose signal wires had to go
    pins::PinPlan plan;
    revisions::Rebuild rebuild;
};

/// Plans the car for a behaviour of kit/mission.h. Parts it lacks are fitted, with wires for their
/// supply and ground; then the pins are planned anew from where the wires are. What the behaviour
/// does not use keeps its wires unless they are in the way. Where no map exists `plan` says why and
/// the steps are empty.
///
/// Fails with Missing for an unknown behaviour, and where a need can be met by no part.
Result<NextExercise> nextExercise(const kit::Assembly &car, const std::string &behaviour);

/// Wires for the supply and the ground of a fitted part, from its feeds and to a free ground of the
/// board, else to the pack's minus. None for terminals that are wired.
std::vector<kit::Wire> supplyWires(const kit::Assembly &car, const std::string &instance);

} // namespace badger::edit
