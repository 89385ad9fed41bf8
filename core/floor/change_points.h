// SPDX-License-Identifier: GPL-3.0-or-later
// Which points of a floor go along? Private to floor/.
#pragma once

#include "core/floor/change.h"

namespace badger::floor
{

/// Every point that goes along when the whole thing is moved.
std::vector<Point *> pointsOf(Floor &floor, const Handle &handle);
/// The points that one grip draws.
std::vector<Point *> pointsOfGrip(Floor &floor, const Handle &handle);

} // namespace badger::floor
