// SPDX-License-Identifier: GPL-3.0-or-later
// Which other part of the catalogue, which one more or less, or which other place on the deck mends
// what no wire can?
//
// It is made on a copy and everything is judged again, parts and wires: the finding has to be gone,
// nothing new may be as severe, no limit of the network may be passed more often, and a car that
// went ahead has to go on doing so. What does not stand that is not named.
#pragma once

#include "core/base/finding.h"
#include "core/kit/assembly.h"

#include <functional>
#include <vector>

namespace badger::edit
{

/// Those that mend it, as its code asks for: other parts (at most three of each kind), one motor a
/// channel, what a mission lacks, the shortest way to another place. A millisecond or two each: not
/// for the interface thread.
std::vector<Fix> waysOut(const kit::Assembly &car, const Finding &finding);

/// The findings that have no fix, with the ways out that were tried as `others` and as their mend,
/// where something mends them. `stop`, where there is one, is asked between two findings. The
/// copies that are tried are bounded; a finding whose ways could not be tried any more says so.
std::vector<Finding> withWaysOut(const kit::Assembly &car, std::vector<Finding> findings,
                                 const std::function<bool()> &stop = {});

} // namespace badger::edit
