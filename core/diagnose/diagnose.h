// SPDX-License-Identifier: GPL-3.0-or-later
// What is wrong with a car, by its causes, and what may be done about each?
#pragma once

#include "core/base/finding.h"
#include "core/kit/assembly.h"

#include <functional>
#include <vector>

namespace badger::diagnose
{

/// The findings of a car's wires: one a cause, with what vanishes with it as its lines, and its
/// mend where that may be offered (safe.h); then what no slip explains. A cause that stands behind
/// others is offered with their mends. Of a half-drawn harness the first says what comes next, and
/// no wire is moved that may be right. A fraction of a second: not for the interface thread.
/// `stop`, where there is one, is asked between two copies: what is not explained by then stands
/// for itself.
std::vector<Finding> wires(const kit::Assembly &car, const std::function<bool()> &stop = {});

/// The same findings of the kit and the wires with the ways out that were tried: another part, one
/// more, another place, another note. Those that have a fix already keep it.
std::vector<Finding> withWaysOut(const kit::Assembly &car, std::vector<Finding> findings,
                                 const std::function<bool()> &stop = {});

/// All ways out of one finding, the least first; see withWaysOut().
std::vector<Fix> waysOut(const kit::Assembly &car, const Finding &finding);

} // namespace badger::diagnose
