// SPDX-License-Identifier: GPL-3.0-or-later
// The numbers of a grown tree: amps from the leaves up, then volts from the source down.
#pragma once

#include "core/kit/assembly.h"
#include "core/power/tree.h"

namespace badger::power
{

/// Where a state stands among a node's eighteen.
size_t stateIndex(State state);

/// Fills in one state of every node, and names what is missing for it.
void reckon(Tree &tree, const kit::Assembly &car, State state);

} // namespace badger::power
