// SPDX-License-Identifier: GPL-3.0-or-later
// Faultless cars: those of the demo, built on as people build on theirs.
#pragma once

#include "core/kit/assembly.h"

#include <vector>

namespace badger::campaign
{

/// `many` cars from `from` in turn, each with two to four things more: a fuse or a second switch in
/// the positive lead, a pack of its own behind a diode for the board, a second board, a light with
/// its resistor, a buzzer, a button, a second ranger, a divider. What is put in is right by the way
/// it is put in, not because a check says so.
std::vector<kit::Car> built(const std::vector<kit::Car> &from, const parts::Catalogue &catalogue,
                            int many, unsigned seed);

} // namespace badger::campaign
