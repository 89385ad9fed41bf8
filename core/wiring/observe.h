// SPDX-License-Identifier: GPL-3.0-or-later
// What does the network of a wired car show to be wrong with its supplies and levels?
//
// Each complaint is observed by itself, with its places and what it rests on; none knows another,
// and none says why it is so: that is for the diagnosis.
#pragma once

#include "core/base/finding.h"
#include "core/circuit/strain.h"

#include <vector>

namespace badger::wiring
{

/// Of the limits that are passed and of what is open, apart or joined twice. The first place is
/// where it shows; the others are where it may come from: the way up to the source of what
/// starves, what else is on the conductor.
/// Codes: those of supplyRules().
std::vector<Finding> observed(const circuit::CarNetwork &net, const circuit::Looked &looked);

/// How much of what is behind it does not show as it is: most behind a short, less behind two
/// sources on one conductor, least behind a supply that is the wrong way round or too high; 0: it
/// shows.
int hides(const Finding &complaint);

} // namespace badger::wiring
