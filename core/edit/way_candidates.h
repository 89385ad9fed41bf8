// SPDX-License-Identifier: GPL-3.0-or-later
// Which exchanges, moves and additions of parts are worth a try against a finding?
#pragma once

#include "core/base/finding.h"
#include "core/kit/assembly.h"

#include <vector>

namespace badger::edit
{

/// Of one kind and, of moves, from the least way to the longest: the first few that mend are
/// enough. `enough` says how many.
struct WayCandidates {
    std::vector<Fix> fixes;
    int enough = 3;
};
/// By the finding's code; nothing for a code that no part mends.
std::vector<WayCandidates> wayCandidates(const kit::Assembly &car, const Finding &finding);

} // namespace badger::edit
