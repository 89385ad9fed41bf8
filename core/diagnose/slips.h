// SPDX-License-Identifier: GPL-3.0-or-later
// What may a hand have done, so that this is complained of; and what undoes it?
//
// One generator for every complaint: it asks where, not what for. The edits are small ones of a
// hand, around the places of the complaint.
#pragma once

#include "core/base/finding.h"
#include "core/kit/assembly.h"

#include <vector>

namespace badger::diagnose
{

struct Slip {
    enum class Kind {
        Turned,    ///< two terminals of one part are exchanged: leads, a plug
        Exchanged, ///< the wires of two parts' terminals are
        Shifted,   ///< a plug sits one hole off
        TooMany,   ///< a wire that does not belong there
        Misplaced, ///< a wire's end
        Lacking,   ///< a wire
        Jumper,
        Noted, ///< the program's pins
        Cells  ///< their number
    };
    Kind kind = Kind::TooMany;
    Fix fix;      ///< what undoes it
    int cost = 1; ///< how much a hand would have to have gone astray: the least first
};

/// Around the places of all these complaints, each once, in the order of their cost; bounded. Only
/// wires that are among `drawn` are moved or taken off.
std::vector<Slip> slips(const kit::Assembly &car, const std::vector<const Finding *> &complaints,
                        const std::vector<kit::Wire> &drawn);

} // namespace badger::diagnose
