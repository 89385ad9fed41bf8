// SPDX-License-Identifier: GPL-3.0-or-later
// How did a run go, where only that is asked? For thousands of runs of one plan.
//
// The run is the same to the bit as the traced one of its seed, and so is every figure that both
// have; nothing is kept of its way, and nothing is allocated after the first run.
#pragma once

#include "core/task/score.h"

#include <memory>

namespace badger::task
{

struct Outcome {
    bool good = false; ///< the task was met
    bool moved = false;
    world::End end = world::End::Time;
    std::uint64_t end_us = 0;
    int touches = 0;
    std::optional<world::Touch> first; ///< touch
    std::optional<world::Fell> fell;
    std::optional<double> rest_s; ///< as in Score
    std::optional<double> gap_m;
    int gapThing = -1;
    /// Least clearance as often as the engine looked: within 5 cm of a thing that of the outline,
    /// farther off no more than that.
    double nearest_m = 1e9;
    double farthest_m = 0.0; ///< of the axle's middle from where it started
    int losses = 0; ///< of a line
    std::optional<Loss> lastLoss;
    double laps = 0.0;
    double swing_m = 0.0;
    std::optional<double> held_m;
    std::optional<double> spread_m;
    double heldShare = 0.0;
    std::optional<double> toEdge_m;
};

/// Drives and scores, of one thread.
class Outcomes
{
public:
    /// The plan has to outlive it. `kind`: else taskOf().
    explicit Outcomes(const world::Plan &plan, std::optional<Kind> kind = {});
    ~Outcomes();
    Outcome of(std::uint64_t seed);

private:
    struct Inside;
    std::unique_ptr<Inside> m_inside;
};

} // namespace badger::task
