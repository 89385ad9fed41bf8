// SPDX-License-Identifier: GPL-3.0-or-later
// How a car's motors, wires and cells become the wheels of a run. Private to oncar.
#pragma once

#include "core/circuit/car_network.h"
#include "core/machine/machine.h"
#include "core/oncar/car_model.h"

namespace badger::oncar
{

/// What the part's sheet says typically; else a choice of the caller.
inline double typical(const parts::Part &part, const char *key, double unless)
{
    const auto *f = part.figure(key);
    return f ? f->typical : unless;
}

/// By the motion table of the wires. `known`: the model so far, with its pins and eyes. Fails with
/// Missing where nothing says how fast the car goes or how far it rolls.
Result<Wheels> wheelsOf(const nets::Nets &nets, const motion::MotionTable &motion,
                        const machine::CarFacts &facts, const CarModel &known);

/// `rest`: the network while nothing moves.
Charge chargeOf(const kit::Assembly &car, const circuit::CarNetwork &network,
                const circuit::Answer &rest);

} // namespace badger::oncar
