// SPDX-License-Identifier: GPL-3.0-or-later
// What does the loop's own arithmetic say of a program that glides along an edge?
//
// Source: tune/line_bench.h, psi' = -K (y + L psi), y' = v psi with the motors' lag and a pass of
// the program as delay. It knows a straight edge and small errors; corners are the runs' business.
#pragma once

#include "core/floor/bends.h"
#include "core/oncar/program_on_car.h"
#include "core/tune/line_bench.h"

#include <optional>
#include <string>
#include <vector>

namespace badger::window
{

struct EdgeLoop {
    std::string gain; ///< the values of the program, by name
    std::string speed;
    tune::Edge edge; ///< of the car as it is, with the program's own gain and speed
    tune::EdgeFollowing now;
    std::optional<floor::Bend> bend; ///< the tightest of the floor's lines
    /// The least gain with which the swing is damped well (0.7) and the wheels turn as tightly as
    /// that bend asks, and the greatest speed that keeps 30 degrees of phase margin with it; as
    /// values of the program. Above 1 no gain turns so tightly: it is 1 then.
    double advisedGain = 0.0;
    bool tooTight = false;
    double advisedDamping = 0.0;
    std::optional<double> advisedTop_mps;
    std::optional<double> advisedTop; ///< in counts
    std::vector<double> speed_mps;    ///< of the wheels, by count
};

/// Empty where no state steers by the share of a spot that looks down ahead of the axle, or where a
/// value is not set.
std::optional<EdgeLoop> edgeLoop(const oncar::ProgramOnCar &on, const floor::Floor &floor);

/// The greatest count that keeps the margin at a gain; empty: none does.
std::optional<double> topCount(const EdgeLoop &loop, double gain);

/// "damping 0.52, phase margin 41°, of which 30° are asked ..."; with its lengths and times.
std::vector<Say> wordsOf(const EdgeLoop &loop);

} // namespace badger::window
