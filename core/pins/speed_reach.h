// SPDX-License-Identifier: GPL-3.0-or-later
// What becomes of the speed that a program asks of a wheel?
#pragma once

#include "core/kit/assembly.h"
#include "core/nets/drive_map.h"
#include "core/nets/nets.h"

#include <array>

namespace badger::pins
{

enum class SpeedBy {
    Duty, ///< its line is on a pin with PWM; also where nothing is wired yet
    Full, ///< its line is held high
    Steps ///< its pin has no PWM, or a library has taken it: nothing below half, else full
};

struct SpeedReach {
    SpeedBy by = SpeedBy::Duty;
    std::string line; ///< that carries the speed, "driver.ENA"; empty: not known
    std::string pin;  ///< "D4"; empty where no pin is on it
    bool operator==(const SpeedReach &) const = default;
};

/// Of the left and the right wheel. A driver without an enable takes the speed on the input that
/// makes the wheel go forward.
using Reach = std::array<SpeedReach, 2>;
Reach speedReach(const nets::Nets &nets);

/// The duty that comes out, in counts of 255, for 0 to 255 that were asked for. A pin without PWM
/// is high from 128 on.
int actingCounts(SpeedBy by, int asked);

} // namespace badger::pins
