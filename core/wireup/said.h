// SPDX-License-Identifier: GPL-3.0-or-later
// What a harness rests on and the kit does not say yet: feeds, links in the lead, channels, a
// light's resistor.
#pragma once

#include "core/kit/car.h"
#include "core/wireup/proposal.h"

namespace badger::wireup
{

/// Says on the car what can be said: an input that nothing is said to feed gets the first supply in
/// its window; a fuse or a switch that feeds nothing is put into the positive lead, the fuse first,
/// where no wire is there yet; a motor gets a channel, its side's where that has one; a light the
/// next standard resistor; without a board the enables their jumpers. What was noted and put on is
/// added to `proposal`; what cannot be said makes it impossible.
void sayTheRest(kit::Car &car, const parts::Catalogue &catalogue, Proposal &proposal);

} // namespace badger::wireup
