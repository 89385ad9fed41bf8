// SPDX-License-Identifier: GPL-3.0-or-later
// What does a car become with a fix made, and what does the hand do for it?
#pragma once

#include "core/base/finding.h"
#include "core/kit/assembly.h"

namespace badger::edit
{

/// The car with a fix made, of whatever kind: wires, jumpers, cells, parts, places. Where wires
/// change the wiring has a new revision.
kit::Car applied(const kit::Assembly &car, const Fix &fix);

/// What a hand does. Of wires in sentences, "Move the wire's end from board.D5 to board.D6; its
/// other end stays on driver.ENA."; of parts and places "a MOSFET dual bridge as driver", "pack 15
/// mm further back".
Say words(const kit::Assembly &car, const Fix &fix);

} // namespace badger::edit
