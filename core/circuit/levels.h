// SPDX-License-Identifier: GPL-3.0-or-later
// What does each input see, and which outputs does it follow?
#pragma once

#include "core/circuit/car_network.h"

#include <vector>

namespace badger::circuit
{

/// One input of a part: a direction, an enable, a trigger, a signal.
struct InputLevel {
    size_t member = 0;
    Seen rest = Seen::Open;      ///< while every output is low
    std::vector<size_t> follows; ///< outputs that make it high, one at a time
};

/// Pull-ups, pull-downs, dividers, jumpers and ties are in it: it is read off the solved network.
/// Nominal cells, nothing moves.
std::vector<InputLevel> inputLevels(const CarNetwork &net);

} // namespace badger::circuit
