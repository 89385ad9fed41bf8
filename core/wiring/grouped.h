// SPDX-License-Identifier: GPL-3.0-or-later
// Which complaints may have one cause, as far as can be seen without trying?
#pragma once

#include "core/base/finding.h"
#include "core/nets/nets.h"

#include <vector>

namespace badger::wiring
{

/// The complaints in their order with each that overlaps an earlier one as its line: they share a
/// place, a part that is neither board, rail nor source, or a signal's line. The first is then as
/// severe as the worst of them. An advice stands for itself. Nothing is left out. This is for the
/// moment of the edit: what is really one cause, the diagnosis tells by trying.
std::vector<Finding> grouped(std::vector<Finding> complaints, const nets::Nets &nets);

} // namespace badger::wiring
