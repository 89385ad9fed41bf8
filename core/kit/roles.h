// SPDX-License-Identifier: GPL-3.0-or-later
// Which sensor of a car plays which role in a behaviour?
#pragma once

#include "core/kit/assembly.h"

#include <map>

namespace badger::kit
{

/// The instances that a behaviour can be made with, by role:
///
/// - "ranger": the one that looks most nearly ahead, "left-ranger" and "right-ranger": those that
///   look most to a side, "servo": what carries a ranger
/// - "eye": the reflectance sensor, or the light one
/// - "left-eye", "right-eye": the digital infrared sensors that sit outermost; "edge": the foremost
///   of them
/// - "outer-left" to "outer-right": the pairs of a strip, "strip.OUT1" to "strip.OUT4", seen from
///   behind the car
///
/// A role that no part plays is not in it.
std::map<std::string, std::string> roles(const Assembly &car);

} // namespace badger::kit
