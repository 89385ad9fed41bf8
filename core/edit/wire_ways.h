// SPDX-License-Identifier: GPL-3.0-or-later
// Which small change beside the signals is worth a try: one more small part among the wires, an end
// in a free hole, another colour?
#pragma once

#include "core/edit/way_candidates.h"

namespace badger::edit
{

/// By the finding's code: a fuse or a switch behind its source, a divider before a pin, a pull-down
/// at an input, every ground of a chip, free holes for what is crowded into one, colours. Nothing
/// for another code, or where the finding names no wire or terminal of this car.
std::vector<WayCandidates> wireWays(const kit::Assembly &car, const Finding &finding);

/// Where one more part finds room beside another: the nearest place within a hand's breadth that
/// brings no new finding of the build. `id` is what it will be called. Nothing where all is full
/// there, or where the other has no place.
std::optional<Fix::Move> placeBeside(const kit::Assembly &car, const std::string &id,
                                     const std::string &partId, const kit::Instance &other);

} // namespace badger::edit
