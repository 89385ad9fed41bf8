// SPDX-License-Identifier: GPL-3.0-or-later
// How are volts and amps shown in what is said of a supply?
#pragma once

#include "core/units/quantity.h"

namespace badger::power
{

inline units::Quantity volts(double v)
{
    return units::quantity(v, units::Unit::Volt, 2);
}
inline units::Quantity amps(double a)
{
    return units::quantity(a, units::Unit::Ampere, 2);
}

} // namespace badger::power
