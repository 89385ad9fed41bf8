// SPDX-License-Identifier: GPL-3.0-or-later
// What happened in a run, in words: made of its indices on demand.
#pragma once

#include "core/base/say.h"
#include "core/world/trace.h"

namespace badger::world
{

/// Why a reading is not what stands there, "none: the crate stands 38° off; at 60 cm it is heard to
/// 17°"; empty where it is right.
Say why(const Plan &plan, const Ping &ping);
/// A word for a mark on a strip, "slanted".
const char *word(Wrong wrong);

/// "left front corner", "right side": the part of the car that touched.
Say partOf(const oncar::CarModel &car, arena::Vec onCar);
/// "ahead", "backing", "turning", "waiting".
const char *word(Phase phase);
/// "touches the crate with its left front corner at 0.21 m/s, turning, after 3.2 s"
Say words(const Plan &plan, const Touch &touch);

/// Why a mode was entered: the rule and the numbers it was met with, as machine::why().
Say why(const Plan &plan, const Step &step);

} // namespace badger::world
