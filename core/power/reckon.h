// SPDX-License-Identifier: GPL-3.0-or-later
// The numbers of a grown tree: amps from the leaves up, then volts from the source down.
#pragma once

#include "core/kit/assembly.h"
#include "core/power/tree.h"

#include <map>
#include <string>

namespace badger::power
{

/// Where a state stands among a node's eighteen.
size_t stateIndex(State state);

/// What a motor draws while it is held, by instance: its sheet says it at its rated volts, and it
/// is what the volts that reach it drive through its winding.
using StallAmps = std::map<std::string, double>;

/// Fills in one state of every node, and names what is missing for it. A motor that `stalls` does
/// not name draws what its sheet says.
void reckon(Tree &tree, const kit::Assembly &car, State state, const StallAmps &stalls = {});

} // namespace badger::power
