// SPDX-License-Identifier: GPL-3.0-or-later
// Which slips of a hand explain what is complained of?
//
// A cause is the smallest set of edits without which complaints vanish: each slip that the
// generator can think of is undone on a copy, the copy is judged, and the one that leaves the least
// that is wrong is taken; then the next one, on that copy. What vanishes with a cause stands below
// it in lines. What vanishes with none stands for itself, so that a second fault is never hidden
// and one fault never told twice.
#pragma once

#include "core/diagnose/slips.h"
#include "core/diagnose/verdict.h"

#include <functional>

namespace badger::diagnose
{

struct Cause {
    std::vector<Slip> slips;       ///< one; two where neither explains anything alone
    std::vector<Finding> vanished; ///< the most fundamental first
    std::vector<Slip> others;      ///< that would explain as much, at no higher cost
    bool behind = false;           ///< it shows only once the causes before it are mended
};

struct Causes {
    std::vector<Cause> causes;
    std::vector<Finding> unexplained;
};

/// Of the wires of a car. `drawn` are those that may be moved or taken off; on a half-drawn harness
/// the car is the finished one, and `drawn` what is there.
Causes causesOf(const kit::Assembly &car, const std::vector<kit::Wire> &drawn,
                const std::function<bool()> &stop = {});

/// All changes of a cause as one.
Fix fixOf(const Cause &cause);
/// One change after the other as one: what the second takes off again, the first does not put in.
Fix both(Fix first, const Fix &second);

} // namespace badger::diagnose
