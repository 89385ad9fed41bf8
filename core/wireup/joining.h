// SPDX-License-Identifier: GPL-3.0-or-later
// With which wires does what has to be joined become one, when some of it is wired already?
//
// The fewest: a conductor of n pieces takes n - 1 wires, and one more for each rail that has to
// stand between because there are fewer holes than ends (a tree exists where the free holes of its
// pieces are at least 2 (n - 1), and each has one). What is wired stays.
#pragma once

#include "core/wireup/conductors.h"

#include <vector>

namespace badger::wireup
{

/// Wires that a terminal takes: of a hole what the catalogue says; a board's header, a plug and a
/// leg take one; a driver's screws and rows, a source's leads and a link's ends two; a row of a
/// rail ten where it says no number. Choices of ours, but for those of the catalogue.
int holesOf(const parts::Part &part, const parts::Terminal &terminal);

struct NewWire {
    kit::Wire wire; ///< without a colour
    Conductor::Kind kind = Conductor::Kind::Signal;
    std::string line; ///< of its conductor
    std::string module;
    Say why;
    int behind =
        -1; ///< index of the wire by which its near end hangs on what gives; -1: it is there
};

struct Joining {
    std::vector<NewWire> wires;
    /// Ends that hang on another conductor than theirs already: nothing was joined to them.
    std::vector<std::string> elsewhere;
    std::vector<std::string> crowded; ///< terminals that get more wires than they have holes
    /// A conductor wants a rail and the car has none that is free: nothing was joined of it.
    std::vector<Conductor> wantRail;
};

/// In the order of the conductors. Terminals that the car lacks are left out.
Joining joining(const kit::Assembly &car, const std::vector<Conductor> &conductors);

} // namespace badger::wireup
