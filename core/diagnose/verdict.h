// SPDX-License-Identifier: GPL-3.0-or-later
// Everything that is said of a car and its wires, complaint by complaint, and whether two cars are
// said the same of. A copy is tried by asking for its verdict, nowhere else.
#pragma once

#include "core/base/finding.h"
#include "core/kit/assembly.h"
#include "core/wiring/check.h"

#include <vector>

namespace badger::diagnose
{

struct Verdict {
    std::vector<Finding> complaints; ///< the most fundamental first
    bool ahead = false;              ///< for some pattern of its inputs the car goes straight ahead

    size_t count(Severity severity) const;
    /// Of a code, as severe at least as this.
    size_t count(const Finding &like) const;
    /// The same complaint, as severe at least, or a line of one that says it.
    const Finding *find(const Finding &complaint) const;
};

/// Which half of a car is asked.
enum class Of { Wires, Kit, Both };
/// A harness that is not finished is judged as it will be (wiring::finished()) where `car` is that.
Verdict verdictOf(const kit::Assembly &car, Of of);

/// The one sameness: of one code, and what the one shows first is among the places of the other. A
/// mission's gaps have one place and differ in what is missing.
bool isSame(const Finding &a, const Finding &b);

/// Something as severe as `severity` is said of the copy that was not said of the car, a limit
/// that was passed is passed by a tenth more, or a fuse or switch is gone round.
enum class Revealed {
    Nothing,
    Pins, ///< what is wrong with the map of pins may only show now, where less is wrong in all
    Codes ///< parts are others and their terminals have other names: complaints count by their
          ///< codes
};
bool isWorse(const Verdict &before, const Verdict &after, Severity severity, Revealed revealed);

} // namespace badger::diagnose
