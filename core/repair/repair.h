// SPDX-License-Identifier: GPL-3.0-or-later
// Which change of wires or cells mends a finding?
//
// A fix is an edit of the car. Each candidate is made on a copy and the copy is judged again: the
// finding has to be gone, nothing new may be as severe, a car that went ahead has to go on doing
// so, and no limit may be passed in any state of the network that was not passed before. Of those
// that stand the test, and that a hand would do (no supply led to a motor's wires, none taken off a
// part that the finding does not speak of), the one is offered that leaves the least that is wrong,
// and of these the one with the fewest changes. Where none stands it, there is no fix, and the
// finding's own words say what to look at.
#pragma once

#include "core/base/finding.h"
#include "core/kit/assembly.h"

#include <functional>
#include <optional>
#include <vector>

namespace badger::repair
{

/// The car with the fix made.
kit::Car applied(kit::Car car, const Fix &fix);

/// What the hand does: "Move the wire's end from board.D5 to board.D6; its other end stays on
/// driver.ENA." Nothing for an empty fix.
Say words(const Fix &fix);

/// Tries the candidates for one finding of this car's wires or supply. A fraction of a second: not
/// for the interface thread.
std::optional<Fix> fixFor(const kit::Assembly &car, const Finding &finding);

/// Every finding of the wires with its fix where there is one; what its mend says is then made from
/// the fix.
/// `stop`, where there is one, is asked between two findings: the rest then comes back as it was.
std::vector<Finding> withFixes(const kit::Assembly &car, std::vector<Finding> findings,
                               const std::function<bool()> &stop = {});

} // namespace badger::repair
