// SPDX-License-Identifier: GPL-3.0-or-later
// How a car becomes the numbers of a run. Private to oncar.
#pragma once

#include "core/oncar/program_on_car.h"

#include <functional>

namespace badger::oncar
{

/// Does a reflectance sensor look along the floor, at a wall or a hand, and not down at it?
using LooksLevel = std::function<bool(const std::string &instance)>;

/// Fails with Missing where a sensor has no place, or nothing says how fast the car goes or how far
/// it rolls.
Result<CarModel> makeModel(const nets::Nets &nets, const circuit::CarNetwork &network,
                           const motion::MotionTable &motion, const Pieces<tune::Record> &records,
                           const machine::CarFacts &facts, const LooksLevel &looksLevel);

} // namespace badger::oncar
