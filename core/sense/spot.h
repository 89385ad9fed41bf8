// SPDX-License-Identifier: GPL-3.0-or-later
// How much of a round spot lies on a line?
#pragma once

namespace badger::sense
{

/// The share of a round spot that lies on the near side of a straight edge whose distance from the
/// spot's middle is `u` radii (negative: the middle is beyond it): 0 at -1 and below, 1/2 at 0, 1
/// at 1 and above. Source: the area of a circle's segment, 1/2 + (u √(1-u²) + asin u) / π; error
/// below 1e-6.
double coveredByEdge(double u);

/// The share of a spot that a straight band covers: a line of `width_m` whose middle runs at
/// `away_m` from the spot's. `diameter_m` of the spot, above 0.
double coveredByLine(double away_m, double width_m, double diameter_m);

} // namespace badger::sense
