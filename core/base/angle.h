// SPDX-License-Identifier: GPL-3.0-or-later
// Angles are kept in radians; people type and read degrees.
#pragma once

#include <numbers>

namespace badger
{

/// One degree in rad: times it makes radians, by it makes degrees.
inline constexpr double degree = std::numbers::pi / 180.0;

} // namespace badger
