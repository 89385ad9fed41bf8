// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/tune/stats.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace badger::tune
{

double medianOf(std::vector<double> values)
{
    const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::nth_element(values.begin(), middle, values.end());
    if (values.size() % 2 == 1)
        return *middle;
    return (*middle + *std::max_element(values.begin(), middle)) / 2.0;
}

Spread spreadOf(std::span<const double> values)
{
    Spread s;
    s.count = static_cast<int>(values.size());
    s.mean = std::accumulate(values.begin(), values.end(), 0.0) / s.count;
    double squares = 0.0;
    for (const double v : values)
        squares += (v - s.mean) * (v - s.mean);
    s.deviation = s.count > 1 ? std::sqrt(squares / (s.count - 1)) : 0.0;
    const auto [least, most] = std::minmax_element(values.begin(), values.end());
    s.least = *least;
    s.most = *most;
    s.median = medianOf({values.begin(), values.end()});
    return s;
}

double robustDeviation(std::span<const double> values)
{
    const double middle = medianOf({values.begin(), values.end()});
    std::vector<double> away;
    away.reserve(values.size());
    for (const double v : values)
        away.push_back(std::abs(v - middle));
    return 1.4826 * medianOf(std::move(away));
}

double normalBelow(double z)
{
    return 0.5 * std::erfc(-z / std::sqrt(2.0));
}

StraightLine straightLine(std::span<const double> x, std::span<const double> y)
{
    const auto n = static_cast<double>(x.size());
    const double meanX = std::accumulate(x.begin(), x.end(), 0.0) / n;
    const double meanY = std::accumulate(y.begin(), y.end(), 0.0) / n;
    double xx = 0.0;
    double xy = 0.0;
    for (size_t i = 0; i < x.size(); ++i) {
        xx += (x[i] - meanX) * (x[i] - meanX);
        xy += (x[i] - meanX) * (y[i] - meanY);
    }
    StraightLine line;
    line.slope = xy / xx;
    line.offset = meanY - line.slope * meanX;
    if (x.size() < 3)
        return line;
    double squares = 0.0;
    for (size_t i = 0; i < x.size(); ++i) {
        const double left = y[i] - line.slope * x[i] - line.offset;
        squares += left * left;
    }
    line.deviation = std::sqrt(squares / (n - 2.0));
    line.slopeError = line.deviation / std::sqrt(xx);
    line.offsetError = line.deviation * std::sqrt(1.0 / n + meanX * meanX / xx);
    return line;
}

StraightLine robustLine(std::span<const double> allX, std::span<const double> allY)
{
    constexpr size_t most = 600;
    std::vector<double> x;
    std::vector<double> y;
    const size_t count = std::min(most, allX.size());
    for (size_t i = 0; i < count; ++i) {
        const size_t at = i * allX.size() / count;
        x.push_back(allX[at]);
        y.push_back(allY[at]);
    }
    std::vector<double> slopes;
    for (size_t i = 0; i < x.size(); ++i)
        for (size_t j = i + 1; j < x.size(); ++j)
            if (x[i] != x[j])
                slopes.push_back((y[j] - y[i]) / (x[j] - x[i]));
    if (slopes.empty()) // every one that was asked stands at one x: the whole is asked plainly
        return straightLine(allX, allY);
    StraightLine line;
    line.slope = medianOf(std::move(slopes));
    std::vector<double> left;
    for (size_t i = 0; i < x.size(); ++i)
        left.push_back(y[i] - line.slope * x[i]);
    line.offset = medianOf(left);
    line.deviation = robustDeviation(left);
    return line;
}

} // namespace badger::tune
