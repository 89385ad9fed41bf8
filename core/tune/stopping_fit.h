// SPDX-License-Identifier: GPL-3.0-or-later
// How much of a stopping distance is reaction, and how much rolling?
//
//     taken = v · t + v² / (2 a)
//
// where `taken` is what a stop took of the threshold, the set-back and steady error already off.
// Two speeds tell the terms apart. Source: constant speed for a time, then a constant deceleration.
#pragma once

#include "core/base/result.h"

#include <optional>
#include <vector>

namespace badger::tune
{

struct StopRun {
    double speed_mps = 0.0; ///< above 0, up to 5
    double taken_m = 0.0;   ///< 0 to 20
};

struct StoppingFit {
    double reaction_s = 0.0;               ///< t
    double perSquare_s2_m = 0.0;           ///< 1 / (2a)
    std::optional<double> reactionError_s; ///< from three runs on
    std::optional<double> perSquareError_s2_m;
    double deviation_m = 0.0;
    std::optional<double> deceleration_mps2; ///< a; none where the second term is 0 or below
    int runs = 0;
};

/// Refused: fewer than two runs, or all at one speed (Missing), values outside their ranges
/// (OutOfRange), a taken distance that falls while the speed grows (Malformed).
Result<StoppingFit> fitStopping(const std::vector<StopRun> &runs);

} // namespace badger::tune
