// SPDX-License-Identifier: GPL-3.0-or-later
// What can be wrong with a car, put in on purpose?
//
// A fault changes the car as it is built (its wires, its parts) or what a run makes of it (a wheel
// that is slower, a servo that is late). The drawing and the program do not know of it. Several go
// together. Runs, tests, and practice read the same list.
#pragma once

#include "core/kit/assembly.h"
#include "core/oncar/car_model.h"

#include <functional>
#include <string>
#include <string_view>
#include <vector>

namespace badger::faults
{

struct Fault {
    std::string code; ///< "left-leads-swapped"
    const char *what; ///< "the left motor's leads are swapped"
    /// Changes the car; false: it has no such part or wire, and nothing has changed. Empty: not of
    /// the build.
    std::function<bool(kit::Car &, const parts::Catalogue &)> build{};
    /// Changes the car of a run; false as above. Empty: not of the run.
    std::function<bool(oncar::CarModel &)> run{};
};

const std::vector<Fault> &all();
const Fault *find(std::string_view code);

/// The car with faults in it, and what is to be done to its model. Fails with Missing for a code
/// that is none (naming those that are) and with Conflict for one that this car cannot have.
struct Put {
    kit::Car car;
    std::vector<const Fault *> ofRun;
    bool changesBuild = false;
};
Result<Put> put(const std::vector<std::string> &codes, const kit::Car &car,
                const parts::Catalogue &catalogue);

} // namespace badger::faults
