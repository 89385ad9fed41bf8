// SPDX-License-Identifier: GPL-3.0-or-later
// Which gate of the work is open, and what comes next?
#pragma once

#include "core/judge/judge.h"
#include "core/kit/assembly.h"

namespace badger::judge
{

/// The gates of a judgement whose other parts are there, in working order.
std::array<Gate, stations.size()> gatesOf(const Judgement &judgement, const kit::Car &car);

/// The gate that rests on the simulated runs.
Gate floorGate(const Judgement &judgement);

/// The one thing to do now: what burns first, then build, wires, first power, program, runs.
NextStep nextStep(const Judgement &judgement, const kit::Assembly &car);

} // namespace badger::judge
