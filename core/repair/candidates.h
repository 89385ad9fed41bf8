// SPDX-License-Identifier: GPL-3.0-or-later
// What could a hand try? Candidates only: repair.h says which of them are offered.
#pragma once

#include "core/base/finding.h"
#include "core/kit/assembly.h"

#include <vector>

namespace badger::repair
{

/// Ends exchanged, a wire taken off, an end moved to where one is missing, a wire put in, a jumper
/// put on or taken off: around the terminals that the finding names; more or fewer cells in a pack.
/// `all` are the car's findings: they say where something is missing.
std::vector<Fix> candidates(const kit::Assembly &car, const Finding &finding,
                            const std::vector<Finding> &all);

} // namespace badger::repair
