// SPDX-License-Identifier: GPL-3.0-or-later
// How far away is a surface that sends so much light back?
//
//     counts = A / (d + c)^p        p = 2, or free
//     counts = A · e^(−d / s)       for comparison
//
// fitted to one surface's readings by least squares in counts (the converter's rounding is equally
// large everywhere), and compared by what each says of a reading that it was not shown (each left
// out in turn). With p = 2 a distance is k / √R − c with k = √A. Source: inverse square law with an
// offset for what lies behind the part's face.
#pragma once

#include "core/base/derivation.h"
#include "core/base/result.h"

#include <optional>
#include <vector>

namespace badger::tune
{

enum class ReflectanceModel { InverseSquare, Power, Exponential };
inline constexpr int reflectanceModelCount = 3;
const char *name(ReflectanceModel model);

struct ReflectancePair {
    double distance_m = 0.0; ///< 0 to 2
    double counts = 0.0;     ///< 0 to 65535; the full scale is saturated, 0 is no light
};

struct FittedModel {
    ReflectanceModel model = ReflectanceModel::InverseSquare;
    double amplitude = 0.0; ///< A with distances in metres
    double offset_m = 0.0;  ///< c; of the exponential 0
    double exponent = 2.0;  ///< p; of the exponential 0
    double length_m = 0.0;  ///< s, of the exponential alone
    std::optional<double> offsetError_m;
    std::optional<double> exponentError;
    double heldOut_counts = 0.0; ///< root mean square error of readings that it was not shown
};

struct ReflectanceFit {
    FittedModel best;
    std::vector<FittedModel> compared; ///< those that could be fitted, the best first
    double k_m = 0.0;                  ///< A^(1/p): distance at one count, less c
    std::optional<double> kError_m;    ///< with p = 2
    double maxResidual_m = 0.0; ///< greatest error of the distances of the readings that were used
    double dark_counts = 0.0;   ///< that was taken off every reading
    double fullScale = 1023.0;
    /// Nearest distance that was saturated: readings of the full scale mean at most this far.
    std::optional<double> saturatedAt_m;
    double validFrom_m = 0.0; ///< the span of the readings that were used
    double validTo_m = 0.0;
    double oneCount_m = 0.0;          ///< what one count is at the far end
    std::vector<std::size_t> leftOut; ///< saturated or without light, from 0
    int used = 0;
};

/// Pairs in any order; several at one distance are fine. `dark_counts` is what the sensor reads
/// with nothing before it.
///
/// Of more than 200 readings the means of 200 equally large stretches are fitted.
///
/// The inverse square law is the best where its held-out error is no more than the converter's
/// rounding, half a count, and otherwise unless another one's is a fifth smaller: it has one figure
/// less to be wrong about. Refused: fewer than four usable pairs or fewer than three
/// distances (Missing), readings that grow with the distance (Malformed), values outside their
/// ranges (OutOfRange).
Result<ReflectanceFit> fitReflectance(const std::vector<ReflectancePair> &pairs,
                                      double dark_counts = 0.0, double fullScale = 1023.0);

/// Counts (dark ones not included) that a model says for a distance.
double countsAt(const FittedModel &model, double distance_m);

/// What a reading says of the distance.
struct Distance {
    enum class Kind {
        Inside,   ///< within the span that was measured
        Carried,  ///< beyond it: the law carried on
        AtMost,   ///< saturated: so far or nearer
        NoReading ///< no light: no number
    };
    Kind kind = Kind::NoReading;
    double m = 0.0;
};
Distance distanceOf(const ReflectanceFit &fit, double counts);

/// A surface that sends back `albedoRatio` (above 0) of what the calibrated one does, at
/// `distance_m`, is taken to be this far away: d + c grows by ratio^(−1/p). Not for the
/// exponential, where it grows by s · ln(1 / ratio).
double seenAt_m(const ReflectanceFit &fit, double distance_m, double albedoRatio);

Derivation whyReflectance(const ReflectanceFit &fit);

} // namespace badger::tune
