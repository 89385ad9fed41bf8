// SPDX-License-Identifier: GPL-3.0-or-later
// What is noted of a car and may be noted otherwise, once it is done: a light's resistor, cells of
// one kind, what feeds an input?
#pragma once

#include "core/edit/way_candidates.h"

namespace badger::edit
{

/// The least standard resistor in series with a light on this car. By the law, at the volts that
/// the pin has while nothing loads it: what a rail sags to under too bright a light says nothing
/// about the resistor that the light needs. 10 ohm where a figure is missing.
double leastResistor_ohm(const kit::Assembly &car, const std::string &light);

/// By the finding's code; nothing for another one.
std::vector<WayCandidates> notedWays(const kit::Assembly &car, const Finding &finding);

} // namespace badger::edit
