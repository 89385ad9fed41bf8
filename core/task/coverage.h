// SPDX-License-Identifier: GPL-3.0-or-later
// Over how much of the floor has the car been?
#pragma once

#include "core/world/trace.h"

namespace badger::task
{

/// The share, 0 to 1, of the floor that the car can stand on over which some part of it has been.
/// The floor is looked at in squares of 5 cm; a square can be stood on where a round car of half
/// this one's width gets from the start, without touching or passing the edge.
double coverage(const world::Plan &plan, const world::Trace &trace);

} // namespace badger::task
