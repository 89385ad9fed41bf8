// SPDX-License-Identifier: GPL-3.0-or-later
// Which other part of the catalogue, or which one less, mends what no wire can?
//
// It is made on a copy and everything is judged again, parts and wires: the finding has to be gone,
// nothing new may be as severe, no limit of the network may be passed more often, and a car that
// went ahead has to go on doing so. What does not stand that is not named. Another driver's
// terminals are called otherwise: wires go to those of the same job (role, channel, place), and one
// for which there is no such job comes off.
#pragma once

#include "core/base/finding.h"
#include "core/kit/assembly.h"

#include <functional>
#include <string>
#include <vector>

namespace badger::edit
{

/// The same other part in these places.
struct Swap {
    std::vector<std::string> instances; ///< "driver", or each motor
    std::string part;                   ///< of the catalogue; empty: they come off
};
kit::Car applied(const kit::Assembly &car, const Swap &swap);

/// Those that mend it: another driver, other motors, cells, regulator, switch or fuse, or one motor
/// a channel, as its code asks for; at most three of each kind. A millisecond each: not for the
/// interface thread.
std::vector<Swap> swapsFor(const kit::Assembly &car, const Finding &finding);

/// What such a mend says: "Tried on a copy: as driver a MOSFET dual bridge; ...".
Say words(const kit::Assembly &car, const std::vector<Swap> &swaps);

/// The findings that have no fix, with what was tried as their mend where something mends them.
/// `stop`, where there is one, is asked between two findings.
std::vector<Finding> withSwaps(const kit::Assembly &car, std::vector<Finding> findings,
                               const std::function<bool()> &stop = {});

} // namespace badger::edit
