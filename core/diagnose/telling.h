// SPDX-License-Identifier: GPL-3.0-or-later
// Two mends explain a fault equally well: what tells them apart?
#pragma once

#include "core/kit/assembly.h"

namespace badger::diagnose
{

/// One sentence: the first pattern of outputs for which the car goes otherwise after the one than
/// after the other, or that either makes the same of it. Both are cars with the same parts.
Say toldApartBy(const kit::Assembly &first, const kit::Assembly &second);

} // namespace badger::diagnose
