// SPDX-License-Identifier: GPL-3.0-or-later
// Why this number? Its arithmetic, in the order a person would say it at a whiteboard.
#pragma once

#include "core/base/say.h"

#include <vector>

namespace badger
{

/// One step of a sum: "− drop of the driver", "2 V", "1.8 to 3.2 V for this kind".
struct Step {
    Say name;  ///< what it is
    Say value; ///< with its sign and unit, "− 2 V"
    Say how;   ///< the arithmetic, "0.5 A × 0.18 ohm"; may be empty
    Say from;  ///< where its values come from; may be empty

    bool operator==(const Step &) const = default;
};

struct Derivation {
    Say title;  ///< "volts at the left motor, nominal, running"
    Say result; ///< "5.2 V"
    std::vector<Step> steps;
    Say aside; ///< the worst case beside the typical one, or the other way round

    bool operator==(const Derivation &) const = default;
};

} // namespace badger
