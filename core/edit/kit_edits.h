// SPDX-License-Identifier: GPL-3.0-or-later
// How are parts put on a car, taken off and exchanged, so that nothing is left dangling?
#pragma once

#include "core/kit/assembly.h"

#include <string>

namespace badger::edit
{

/// Puts a part on the car with a free id made from its kind, the side that still lacks a motor, a
/// free driver channel, proposed feeds, and one cell row for a pack. The new instance's id; empty
/// where the catalogue has no such part.
std::string addPart(kit::Car &car, const parts::Catalogue &catalogue, const std::string &partId);

/// The driver's channel for one more motor of a side, "driver.A": that of the motors there, else one
/// that drives nothing; empty where there is none.
std::string freeChannel(const kit::Assembly &car, kit::Side side);

/// What a change of parts took along.
struct Taken {
    int wires = 0;
    int pins = 0;
    int feeds = 0;
};

/// Takes a part off, with its wires, its program pins and every feed, channel or ride that names
/// it. With the board go all pins of the program.
Taken removePart(kit::Car &car, const parts::Catalogue &catalogue, const std::string &instance);

/// Exchanges a part for another of the catalogue: place, side, label and what else fits are kept;
/// wires, pins, jumpers and feeds go to the terminals of the same job (same_job.h) and come off
/// where there is none; feeds for its own are proposed.
Taken exchangePart(kit::Car &car, const parts::Catalogue &catalogue, const std::string &instance,
                   const std::string &partId);

/// "2 wires and 1 pin of the program came off with it"; empty where nothing did.
Say words(const Taken &taken);

} // namespace badger::edit
