// SPDX-License-Identifier: GPL-3.0-or-later
// May a change of a car be offered to a hand?
#pragma once

#include "core/base/finding.h"
#include "core/kit/assembly.h"
#include "core/nets/nets.h"

#include <set>
#include <string>

namespace badger::diagnose
{

/// No limit is passed in any state of the network, under every pattern of outputs, that was not
/// passed before; no supply or ground ends on a signal's output, a pin or a motor's wire where none
/// was; nothing gets its supply past a fuse or switch that stood in its way; no supply input is led
/// to another source than the kit names for it; and what was on a source's conductors still is.
/// Slow: for what would be offered.
bool isSafe(const kit::Assembly &before, const Fix &fix, const kit::Assembly &after);

/// Supply inputs that are joined to a source or an output, whichever way round, and whose part's
/// ground is joined to a source on another conductor; and feeds and motors that are wired as the
/// kit states them, "switch.IN from pack.PLUS", "left.A on driver.A": a change that takes one out
/// of this mends nothing, though all that burns is silent without its supply.
std::set<std::string> fedInputs(const nets::Nets &nets);

} // namespace badger::diagnose
