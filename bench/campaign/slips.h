// SPDX-License-Identifier: GPL-3.0-or-later
// Slips of a hand, drawn: two on one car, and one in a harness that is half drawn.
#pragma once

#include "core/kit/assembly.h"

namespace badger::campaign
{

struct SlipCounts {
    int all = 0;      ///< in which each slip makes something worse by itself
    int named = 0;    ///< both are spoken of by a finding that is more than advice
    int silent = 0;   ///< neither is
    int restored = 0; ///< taken one after the other, what is offered makes the car as it was
    int fixes = 0;
    int unsafe = 0; ///< pass a limit, or make more worse than was and undo no slip

    // Of prefixes:
    int unfinished = 0;
    int blamed = 0;  ///< with an error though nothing is wrong but that more than three wires are
                     ///< not there yet
    int offered = 0; ///< with a mend that moves a wire or takes one off
};

/// `many` pairs on the cars in turn; `show` of each kind of failing are printed.
SlipCounts pairsOn(const std::vector<kit::Car> &cars, const parts::Catalogue &catalogue, int many,
                   unsigned seed, int show);
/// Every prefix of every harness in the order of its wires, alone and with one slip in a wire that
/// is drawn.
SlipCounts prefixesOf(const std::vector<kit::Car> &cars, const parts::Catalogue &catalogue,
                      int every, unsigned seed, int show);

} // namespace badger::campaign
