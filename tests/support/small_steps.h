// SPDX-License-Identifier: GPL-3.0-or-later
// A second account of a run, to hold world/ against: the same pins, sensors and chance, but the car
// is moved by steps of 0.05 ms that know no closed form, and what it touches is found by every
// point of its outline and every wall. Slow, and simple enough to be believed.
#pragma once

#include "core/world/trace.h"

namespace badger::test
{

/// The whole run of a seed.
world::Trace bySmallSteps(const world::Plan &plan, std::uint64_t seed);

} // namespace badger::test
