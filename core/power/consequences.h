// SPDX-License-Identifier: GPL-3.0-or-later
// Which findings of the supply follow from another one?
#pragma once

#include "core/power/check.h"

namespace badger::power
{

/// The findings with those that follow from another as its lines: a rail that is not held, and what
/// hangs on it, from the input that is too low; a rail's limit and its regulator's heat from the
/// servo without which they would be kept; and more of the kind. Nothing is left out.
std::vector<Finding> withRoots(std::vector<Finding> findings, const Report &report);

} // namespace badger::power
