// SPDX-License-Identifier: GPL-3.0-or-later
// A car without a board: which sensor drives which input, and what holds the others?
#pragma once

#include "core/wireup/conductors.h"

namespace badger::wireup
{

/// The digital module of each side drives the wheel of that side, so that it turns over light and
/// stands over dark: one that is high over light on the input that drives ahead, with the other
/// input at ground; one that is low over light on the input that drives back, with the other at the
/// logic supply. Enables that no jumper holds hang on that supply. An input that something drives
/// already is left out.
std::vector<Conductor> direct(const kit::Assembly &car);

/// The inputs that a plugged sensor drives there: each wants a resistor to ground.
std::vector<std::string> plugged(const kit::Assembly &car);

/// Why the sensors of this car cannot drive its wheels by themselves; empty where they can.
Say whyNotDirect(const kit::Assembly &car);

} // namespace badger::wireup
