// SPDX-License-Identifier: GPL-3.0-or-later
// Ranger against ruler: what does a reading really mean?
//
//     true = slope · read + offset
//
// by least squares over pairs of a distance by ruler and what was read there. A slope other than 1
// is the sound's speed (the air's temperature) or a wrong factor in the program; an offset is where
// the module measures from. Source: ordinary least squares, true on read, because the fit is used
// to turn readings into distances.
#pragma once

#include "core/base/derivation.h"
#include "core/base/result.h"

#include <optional>
#include <vector>

namespace badger::tune
{

struct RulerPair {
    double true_m = 0.0;          ///< by ruler, above 0, up to 10
    std::optional<double> read_m; ///< none: nothing came back; 0 is taken for none, too
};

enum class Rejected {
    NoEcho, ///< nothing came back
    Wild    ///< far from what all others say
};

struct RejectedPair {
    std::size_t at = 0; ///< which pair, from 0
    RulerPair pair;
    Rejected why = Rejected::NoEcho;
};

struct FittedPair {
    std::size_t at = 0;
    double true_m = 0.0;
    double read_m = 0.0;
    double residual_m = 0.0; ///< true less fitted
};

struct RulerFit {
    double slope = 1.0;
    double offset_m = 0.0;
    std::optional<double> slopeError; ///< standard errors, from three pairs on
    std::optional<double> offsetError_m;
    double deviation_m = 0.0; ///< of the residuals
    double maxResidual_m = 0.0;
    std::vector<FittedPair> used;
    std::vector<RejectedPair> rejected;
    double from_m = 0.0; ///< the span that was measured: outside it a reading is carried on
    double to_m = 0.0;
    bool isThin = false; ///< fewer than five pairs
    /// The median line, where it differs from the fit by more than a centimetre within the span:
    /// one point pulls.
    struct Robust {
        double slope = 1.0;
        double offset_m = 0.0;
        std::size_t pulls = 0; ///< which pair lies farthest from it
    };
    std::optional<Robust> robust;
    /// What the slope says of the air, where it is known for which air the readings were made:
    /// sound speed = slope · the assumed one. A temperature only within -40 to 60 degrees.
    std::optional<double> sound_mps;
    std::optional<double> air_degC;
    /// Two standard errors of it: 2 · 2 (273.15 + T) · error of the slope / slope.
    std::optional<double> airError_K;
};

/// A pair is wild where it lies farther from the median line than 3 cm, a tenth of its distance,
/// and eight robust deviations. `assumedAir_degC`: with which air the readings were turned from
/// echo times into distances; empty where that is not known.
///
/// Refused: fewer than two usable pairs (Missing), all at one distance, a slope of 0 or below
/// (Malformed: the columns are most likely exchanged), a distance outside its range (OutOfRange).
Result<RulerFit> fitRuler(const std::vector<RulerPair> &pairs,
                          std::optional<double> assumedAir_degC = {});

/// Why that slope and offset, as a person would say it at a whiteboard.
Derivation whyRuler(const RulerFit &fit);

/// The air's temperature at which sound travels so fast; empty outside -40 to 60 degrees.
std::optional<double> airFor_degC(double sound_mps);

} // namespace badger::tune
