// SPDX-License-Identifier: GPL-3.0-or-later
// A car as it is meant to be wired.
#pragma once

#include "core/kit/assembly.h"

namespace badger::circuit
{

/// The car with a wire for every feed and every driver's channel that is stated and not wired yet,
/// and the grounds of what has none joined to the first source's minus. What is wired stays as it
/// is, right or wrong.
kit::Car withStatedWires(const kit::Assembly &car);

} // namespace badger::circuit
