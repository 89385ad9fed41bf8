// SPDX-License-Identifier: GPL-3.0-or-later
// How far do two round decks overlap?
#pragma once

#include "core/base/result.h"

namespace badger::mechanics
{

/// Area common to two discs of radius r whose centres are d apart:
/// 2 r² acos(d / 2r) − (d / 2) √(4 r² − d²). Zero from d = 2 r on. Radius above 0, d 0 or more.
/// Source: two circular segments.
Result<double> overlap_m2(double radius_m, double apart_m);

/// The distance of the centres at which that area is a share (0 to 1) of one disc. A half is at
/// 0.808 r.
Result<double> apartForShare_m(double radius_m, double share);

} // namespace badger::mechanics
