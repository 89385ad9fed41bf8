// SPDX-License-Identifier: GPL-3.0-or-later
// The whole harness that kit and program ask for, made at once: its wires with their reasons, the
// small parts and jumpers it needs; or why there is none and what would free it.
//
// Nothing is asked that kit or program already say: supplies by the feeds, links in the positive
// lead, motors by their channels, signals by the pins of the program, else by the planner. What is
// wired already stays, right or wrong; a wire that is wrong is named, and what would hang beside it
// waits for its mend.
#pragma once

#include "core/base/finding.h"
#include "core/kit/assembly.h"
#include "core/pins/planner.h"
#include "core/wireup/joining.h"
#include "core/wireup/wrong.h"

#include <optional>
#include <string>
#include <vector>

namespace badger::wireup
{

/// A part that the harness brings, or something noted of one.
struct Brought {
    std::string id;
    std::string partId;
    Say why;
};

struct Proposal {
    kit::Car car;   ///< with all of it; where it is impossible, as it was
    kit::Car ready; ///< with its parts and notes, before the first new wire
    std::vector<NewWire> wires;
    std::vector<Brought> parts;
    std::vector<std::string> jumpers; ///< put on, "driver.EN1"
    std::vector<Say> noted; ///< feeds, channels, resistors and pins that were not said yet
    std::vector<kit::Wire> kept;
    std::vector<WrongWire> wrong;
    std::vector<kit::Wire> waiting; ///< for the mend of a wrong one: not in `car`
    /// Above advice, of the wires and the supply of `car`.
    std::vector<Finding> left;

    struct Impossible {
        Say why;
        std::vector<pins::WayOut> frees;
    };
    std::optional<Impossible> impossible;

    bool complete() const { return !impossible && waiting.empty() && wrong.empty(); }
    bool empty() const { return wires.empty() && parts.empty() && jumpers.empty(); }
};

/// A fraction of a second; not for every frame.
Proposal proposal(const kit::Car &car, const parts::Catalogue &catalogue);

/// The part of a proposal that wires one module: its wires and those by which they reach what
/// gives, with the parts among them. The car of the answer has no others.
Proposal moduleOf(const Proposal &whole, const parts::Catalogue &catalogue,
                  const std::string &module);

/// The first `count` wires, in the order in which a hand lays them: supplies, ground, motors,
/// signals.
Proposal firstOf(const Proposal &whole, const parts::Catalogue &catalogue, size_t count);

} // namespace badger::wireup
