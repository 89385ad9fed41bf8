// SPDX-License-Identifier: GPL-3.0-or-later
// Which wires of a half-drawn harness join what does not belong together?
//
// Kit and program say of nearly every terminal to which conductor it belongs. A wire between two
// that belong to different ones is wrong, whatever a meter says of it; rails, resistors, dividers
// and pins belong to what is wired to them, and an input that may be tied to a supply or to ground
// does so without a word.
#pragma once

#include "core/wireup/conductors.h"

#include <vector>

namespace badger::wireup
{

/// A wire that is there and does not belong.
struct WrongWire {
    kit::Wire wire;
    Say what; ///< "ranger.TRIG is joined to the ground."
};

/// Between two conductors, past a fuse or a switch, between two pins of a board, from a motor or a
/// supply above what a pin takes to a pin; and of a signal to a pin that cannot serve it, or that
/// serves another one already.
std::vector<WrongWire> wrongWires(const kit::Assembly &car);

} // namespace badger::wireup
