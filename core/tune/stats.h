// SPDX-License-Identifier: GPL-3.0-or-later
// Small statistics that several calibrations share.
#pragma once

#include <optional>
#include <span>
#include <vector>

namespace badger::tune
{

/// The greatest count that an analogue pin of any board gives: 16 bits.
inline constexpr double mostCounts = 65535.0;

/// Of at least one value; the deviation is that of a sample, 0 for one value.
struct Spread {
    int count = 0;
    double mean = 0.0;
    double deviation = 0.0;
    double least = 0.0;
    double most = 0.0;
    double median = 0.0;
};
Spread spreadOf(std::span<const double> values);

/// The middle one, or the mean of the two in the middle. At least one value.
double medianOf(std::vector<double> values);

/// Median of the distances from the median, times 1.4826: the deviation that a normal scatter would
/// have, whatever a few wild values do. At least one value.
double robustDeviation(std::span<const double> values);

/// Share of a normal scatter below `z` deviations from its mean.
double normalBelow(double z);

/// y = slope x + offset by least squares, with standard errors of both.
struct StraightLine {
    double slope = 0.0;
    double offset = 0.0;
    std::optional<double> slopeError;  ///< from three points on
    std::optional<double> offsetError; ///< from three points on
    double deviation = 0.0;            ///< of the residuals, from three points on
};
/// Two points or more, not all at one x: the caller's duty.
StraightLine straightLine(std::span<const double> x, std::span<const double> y);

/// The same by the median of all slopes between two points, and the median of what is left
/// (Theil and Sen): up to 29 % of the points may be wild. Of more than 600 points 600 evenly spread
/// ones are asked. Two points or more, not all at one x.
StraightLine robustLine(std::span<const double> x, std::span<const double> y);

} // namespace badger::tune
