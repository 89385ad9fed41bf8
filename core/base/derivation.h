// SPDX-License-Identifier: GPL-3.0-or-later
// Why this number? Its arithmetic, in the order a person would say it at a whiteboard.
#pragma once

#include <string>
#include <vector>

namespace badger
{

/// One step of a sum: "− drop of the driver", "2 V", "1.8 to 3.2 V for this kind".
struct Step {
    std::string name;  ///< what it is
    std::string value; ///< with its sign and unit, "− 2 V"
    std::string how;   ///< the arithmetic, "0.5 A × 0.18 ohm"; may be empty
    std::string from;  ///< where its values come from; may be empty

    bool operator==(const Step &) const = default;
};

struct Derivation {
    std::string title;  ///< "volts at the left motor, nominal, running"
    std::string result; ///< "5.2 V"
    std::vector<Step> steps;
    std::string aside; ///< the worst case beside the typical one, or the other way round

    bool operator==(const Derivation &) const = default;
};

} // namespace badger
