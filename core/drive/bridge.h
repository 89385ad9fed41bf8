// SPDX-License-Identifier: GPL-3.0-or-later
// How many volts does a driver keep for itself?
#pragma once

#include "core/base/result.h"
#include "core/base/say.h"
#include "core/kit/car.h"

#include <string>

namespace badger::drive
{

struct BridgeDrop {
    double volts_V = 0.0;
    Say how; ///< "0.5 A × 0.4 ohm", "1.8 V + 0.2 A × 1.4 ohm"; empty where one figure is all
};

/// Drop of one channel at a current, 0 A or more. A MOSFET bridge has a resistance (`on_ohm`):
/// drop = I R. A bipolar one keeps `drop_V` with little current and more as the current grows:
/// drop = V0 + I `drop_ohm`, a straight line between the two ends of its sheet's curve; without
/// that figure the drop is taken as it stands. Missing where the part has neither.
Result<BridgeDrop> bridgeDrop(const parts::Part &driver, double current_A,
                              kit::Bound bound = kit::Bound::Typical);

/// A figure a computation needs. Missing where the part lacks it, naming part and figure.
Result<double> figureOf(const parts::Part &part, const char *key,
                        kit::Bound bound = kit::Bound::Typical);

} // namespace badger::drive
