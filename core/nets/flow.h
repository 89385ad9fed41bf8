// SPDX-License-Identifier: GPL-3.0-or-later
// What flows through each wire, rail and pin?
//
// Each consumer's current is led back to its source along the wires. Where a net has more than one
// way, the nearest is taken: a wire may carry less, never more than is said of the ways together.
// Consumers whose figures are missing count nothing here; the kit's power tree names them.
#pragma once

#include "core/nets/nets.h"

namespace badger::nets
{

struct Flow {
    size_t wire = 0; ///< index into the car's wires
    double running_A = 0.0;
    double stalled_A = 0.0;
};
/// Every wire that carries a supply's current, out or back, or a motor's.
std::vector<Flow> flows(const Nets &nets);

/// What a board's pin gives to lights and buzzers.
struct PinLoad {
    std::string pin;
    std::string what; ///< "lamp"
    double amps_A = 0.0;
};
std::vector<PinLoad> pinLoads(const Nets &nets);

struct RailLoad {
    std::string terminal; ///< "board.5V"
    double running_A = 0.0;
    double limit_A = 0.0;
};
/// Supply outputs that are alive and whose limit is known.
std::vector<RailLoad> railLoads(const Nets &nets);

/// The least current that a jumper of the catalogue takes; empty where none says.
std::optional<double> thinnestJumper_A(const parts::Catalogue &catalogue);

} // namespace badger::nets
