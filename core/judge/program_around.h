// SPDX-License-Identifier: GPL-3.0-or-later
// What does a car know about the pieces of a program?
#pragma once

#include "core/base/pieces.h"
#include "core/boardcode/board_code.h"
#include "core/kit/assembly.h"
#include "core/oncar/program_on_car.h"
#include "core/regions/check.h"
#include "core/sentences/rewrite.h"
#include "core/tune/record.h"
#include "core/workshop/workshop.h"

namespace badger::judge
{

/// How long a servo takes to stand still once it is there. A choice of ours for small servos.
inline constexpr double servoSettles_s = 0.05;

/// Of each reading whose ranger is on the car: its figures. A ranger that has no place yet looks
/// ahead.
std::map<std::string, rules::RangerFacts> rangerFacts(const kit::Assembly &car,
                                                      const rules::Program &program);

/// The records of one car, in the order in which they were taken.
Pieces<tune::Record> recordsOf(const workshop::Workshop &workshop, const kit::Car &car);

using oncar::carFacts;

/// What the board program of a car is written with, in its program's own style and without
/// warnings.
boardcode::Writing writing(const workshop::Workshop &workshop, const kit::Assembly &car,
                           const rules::Program &program);

/// The sensors of a car that a program could read, in the order in which they are fitted: rangers,
/// infrared modules and the outputs of strips, reflectance and light sensors.
std::vector<sentences::Readable> readable(const kit::Assembly &car);

/// The facts for regions::check(): the parts' figures, and over them what was measured. Speeds are
/// those of the counts that the program asks for.
regions::Around around(const kit::Assembly &car, const rules::Program &program,
                       const Pieces<tune::Record> &records);

} // namespace badger::judge
