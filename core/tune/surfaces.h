// SPDX-License-Identifier: GPL-3.0-or-later
// Where is the line between two surfaces, or two lights, when a sensor gives counts?
//
// Two clouds of readings. The worst-case threshold stands half way between the nearest two of them;
// the statistical one where both clouds, taken as normal, are equally many deviations away:
//
//     T = (mean_high · s_low + mean_low · s_high) / (s_low + s_high)
//     d' = (mean_high − mean_low) / √((s_high² + s_low²) / 2)
//
// Source: signal detection with two normal clouds.
#pragma once

#include "core/base/derivation.h"
#include "core/base/result.h"
#include "core/tune/stats.h"

#include <optional>
#include <vector>

namespace badger::tune
{

/// One reading that stands between the clouds.
struct WildReading {
    bool light = false; ///< of which surface
    std::size_t at = 0; ///< which of its readings, from 0
    double reading = 0.0;
    double marginWithout = 0.0;
};

struct Surfaces {
    Spread light;
    Spread dark;
    bool lightReadsHigh = true;        ///< by the means
    double threshold = 0.0;            ///< half way between the nearest two readings
    double margin = 0.0;               ///< from there to either; negative: the clouds overlap
    bool isSeparable = false;          ///< margin above 0
    std::optional<double> statistical; ///< none unless both clouds have a spread
    std::optional<double> dPrime;      ///< none where neither has one
    std::optional<double> contrast; ///< (high − low) / (high + low) of the means; none: no light
    double noise = 0.0;             ///< from reading to reading, the larger of both
    /// Two thresholds, one for each way: six times the noise apart, at the least a count either
    /// way; none where the clouds leave no room for that.
    std::optional<double> hysteresis;
    bool isThin = false; ///< fewer than five readings on a surface
    /// A surface at the converter's end: more light there would read the same, so that its cloud is
    /// no measure of it. At least a fifth of its readings are 1023, or 0.
    bool lightSaturated = false;
    bool darkSaturated = false;
    /// The one reading that spoils it: without it the clouds would be apart. Where they are apart
    /// with it, one far from its own cloud that takes more than half of the margin.
    std::optional<WildReading> wild;
};

/// Readings in counts, in the order in which they were taken, finite, 0 to 65535. Refused: a
/// surface without readings (Missing), a reading outside (OutOfRange).
Result<Surfaces> separate(const std::vector<double> &light, const std::vector<double> &dark);

/// Predicted share of readings on the wrong side of a threshold, each cloud taken as normal. With
/// no spread it is 0 or 1; on the threshold itself one half.
struct ErrorRates {
    double light = 0.0;
    double dark = 0.0;
};
ErrorRates errorRates(const Surfaces &surfaces, double threshold);

/// (reading − dark) / (light − dark) of the means: 0 on dark, 1 on light. None where they are
/// equal.
std::optional<double> normalised(const Surfaces &surfaces, double reading);

/// The same sensor elsewhere: by how much each mean moved, and whether a threshold still parts the
/// clouds there.
struct Drift {
    double light = 0.0;
    double dark = 0.0;
    double marginThere =
        0.0; ///< of `threshold` to the nearest reading there; negative: it does not
};
Drift drift(const Surfaces &here, const Surfaces &there, double threshold);

Derivation whySurfaces(const Surfaces &surfaces);

} // namespace badger::tune
