// SPDX-License-Identifier: GPL-3.0-or-later
// The numbers of a grown tree, read off the solved network of its car.
#pragma once

#include "core/circuit/car_network.h"
#include "core/kit/assembly.h"
#include "core/power/tree.h"

namespace badger::power
{

/// Volts that differ by less are the same: rounding and leaks.
inline constexpr double differs_V = 0.05;

/// Where a state stands among a node's eighteen.
size_t stateIndex(State state);

/// Fills in every state of every node, and names what is missing for it. `network` is that of the
/// car with what is stated and not wired (circuit::withStatedWires); the worst case has the volts
/// of Figures::Least and the amps of Figures::Greedy. Where the network has no answer, no volts are
/// known and no amps.
void readOff(Tree &tree, const kit::Assembly &car, const circuit::CarNetwork &network);

} // namespace badger::power
