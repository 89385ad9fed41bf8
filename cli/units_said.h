// SPDX-License-Identifier: GPL-3.0-or-later
// How the calculators say lengths and reckon angles.
#pragma once

#include "core/units/quantity.h"

#include <numbers>

namespace badger::cli
{

/// Of one degree, in radians.
inline constexpr double degree = std::numbers::pi / 180.0;

/// A length in metres, said in centimetres.
inline units::Quantity cm(double m, int decimals = 2)
{
    return units::fixed(m, units::Unit::Centimetre, decimals);
}

} // namespace badger::cli
