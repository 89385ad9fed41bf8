// SPDX-License-Identifier: GPL-3.0-or-later
// How are lengths shown in what is judged?
#pragma once

#include "core/units/quantity.h"

namespace badger::judge
{

/// In a sentence: as many digits as it needs, one after the point at most.
inline units::Quantity cm(double m)
{
    return units::quantity(m, units::Unit::Centimetre, 1);
}
/// In a sum, whose digits stand under each other.
inline units::Quantity cmInSum(double m, int decimals = 2)
{
    return units::fixed(m, units::Unit::Centimetre, decimals);
}

} // namespace badger::judge
