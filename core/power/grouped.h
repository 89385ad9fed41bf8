// SPDX-License-Identifier: GPL-3.0-or-later
// Which findings of a supply are one?
#pragma once

#include "core/power/check.h"

namespace badger::power
{

/// What follows from another finding stands among its lines. That is read off the tree and the
/// evidence, whatever the checks are called:
/// - too few volts follow from too few nearer to the source, and from a source or a rail there that
///   is asked for more than it gives;
/// - a limit that is passed follows from a part that does not belong on that branch, where it would
///   be kept without what that part takes; and from another one that is passed at the same place;
/// - too many volts of a signal follow from too many at its part.
/// Nothing stands below what is less severe.
std::vector<Finding> grouped(std::vector<Finding> findings, const Report &report);

} // namespace badger::power
