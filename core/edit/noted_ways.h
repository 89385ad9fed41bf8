// SPDX-License-Identifier: GPL-3.0-or-later
// What is noted of a car and may be noted otherwise, once it is done: a light's resistor, cells of
// one kind, what feeds an input?
#pragma once

#include "core/edit/way_candidates.h"

namespace badger::edit
{

/// By the finding's code; nothing for another one.
std::vector<WayCandidates> notedWays(const kit::Assembly &car, const Finding &finding);

} // namespace badger::edit
