// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/tune/surfaces.h"

#include <algorithm>
#include <cmath>

namespace badger::tune
{

using units::number;

namespace
{

constexpr int enough = 5;
constexpr double hysteresisNoises = 6.0;
constexpr double converterEnd = 1023.0;
constexpr double strayDeviations = 8.0;
constexpr double strayCounts = 50.0;
constexpr double saturatedShare = 0.2;

/// Deviation from one reading to the next, drift left out: that of the differences, over √2.
double noiseOf(const std::vector<double> &values)
{
    if (values.size() < 3)
        return 0.0;
    double squares = 0.0;
    for (size_t i = 1; i < values.size(); ++i)
        squares += (values[i] - values[i - 1]) * (values[i] - values[i - 1]);
    return std::sqrt(squares / (2.0 * static_cast<double>(values.size() - 1)));
}

double marginOf(const Spread &high, const Spread &low)
{
    return (high.least - low.most) / 2.0;
}

std::vector<double> without(std::vector<double> values, size_t at)
{
    values.erase(values.begin() + static_cast<std::ptrdiff_t>(at));
    return values;
}

/// Which end of a cloud looks at the other one.
size_t innermost(const std::vector<double> &values, bool isHigh)
{
    const auto at = isHigh ? std::min_element(values.begin(), values.end())
                           : std::max_element(values.begin(), values.end());
    return static_cast<size_t>(at - values.begin());
}

} // namespace

Result<Surfaces> separate(const std::vector<double> &light, const std::vector<double> &dark)
{
    for (const auto *readings : {&light, &dark}) {
        const bool isLight = readings == &light;
        if (readings->empty())
            return fail(Error::Kind::Missing, isLight ? say("light") : say("dark"),
                        say("there is no reading of this surface"),
                        say("take five or more on each, moving the car a little between them"));
        for (size_t i = 0; i < readings->size(); ++i)
            if (!((*readings)[i] >= 0.0 && (*readings)[i] <= mostCounts))
                return fail(Error::Kind::OutOfRange, isLight ? say("light") : say("dark"),
                            say("reading {} is {}: no number of counts", static_cast<long>(i + 1),
                                number((*readings)[i], 2)),
                            say("write counts as the board gives them, 0 to 1023"));
    }
    Surfaces s;
    s.light = spreadOf(light);
    s.dark = spreadOf(dark);
    s.lightReadsHigh = s.light.mean >= s.dark.mean;
    const auto &high = s.lightReadsHigh ? s.light : s.dark;
    const auto &low = s.lightReadsHigh ? s.dark : s.light;
    s.threshold = (high.least + low.most) / 2.0;
    s.margin = marginOf(high, low);
    s.isSeparable = s.margin > 0.0;
    s.isThin = light.size() < enough || dark.size() < enough;
    const double both = high.deviation + low.deviation;
    if (high.deviation > 0.0 && low.deviation > 0.0)
        s.statistical = (high.mean * low.deviation + low.mean * high.deviation) / both;
    if (both > 0.0)
        s.dPrime = (high.mean - low.mean) /
                   std::sqrt((high.deviation * high.deviation + low.deviation * low.deviation) / 2);
    const auto atItsEnd = [](const std::vector<double> &readings) {
        const auto count = std::count(readings.begin(), readings.end(), converterEnd);
        return static_cast<double>(count) >= saturatedShare * static_cast<double>(readings.size());
    };
    s.lightSaturated = atItsEnd(light);
    s.darkSaturated = atItsEnd(dark);
    if (high.mean + low.mean > 0.0)
        s.contrast = (high.mean - low.mean) / (high.mean + low.mean);
    s.noise = std::max(noiseOf(light), noiseOf(dark));
    const double band = std::max(2.0, hysteresisNoises * s.noise);
    if (s.isSeparable && band < 2.0 * s.margin)
        s.hysteresis = band;
    for (const bool isLight : {true, false}) {
        const auto &mine = isLight ? light : dark;
        if (mine.size() < 3)
            continue;
        const bool isHigh = isLight == s.lightReadsHigh;
        const auto at = innermost(mine, isHigh);
        const auto rest = without(mine, at);
        const auto left = spreadOf(rest);
        const double margin = isHigh ? marginOf(left, low) : marginOf(high, left);
        // Clouds that are apart anyway: one reading far from its own that takes more than half of
        // the margin pulls the line all the same.
        const bool pulls = margin > 2.0 * s.margin &&
                           std::abs(mine[at] - left.median) >
                               std::max(strayCounts, strayDeviations * robustDeviation(rest));
        if (margin > 0.0 && (!s.isSeparable || pulls) &&
            (!s.wild || margin > s.wild->marginWithout))
            s.wild = WildReading{isLight, at, mine[at], margin};
    }
    return s;
}

ErrorRates errorRates(const Surfaces &s, double threshold)
{
    const auto below = [&](const Spread &cloud) {
        if (cloud.deviation > 0.0)
            return normalBelow((threshold - cloud.mean) / cloud.deviation);
        return cloud.mean < threshold ? 1.0 : cloud.mean > threshold ? 0.0 : 0.5;
    };
    const double light = below(s.light);
    const double dark = below(s.dark);
    return s.lightReadsHigh ? ErrorRates{light, 1.0 - dark} : ErrorRates{1.0 - light, dark};
}

std::optional<double> normalised(const Surfaces &s, double reading)
{
    if (s.light.mean == s.dark.mean)
        return std::nullopt;
    return (reading - s.dark.mean) / (s.light.mean - s.dark.mean);
}

Drift drift(const Surfaces &here, const Surfaces &there, double threshold)
{
    Drift d{there.light.mean - here.light.mean, there.dark.mean - here.dark.mean, 0.0};
    const auto &high = here.lightReadsHigh ? there.light : there.dark;
    const auto &low = here.lightReadsHigh ? there.dark : there.light;
    d.marginThere = std::min(high.least - threshold, threshold - low.most);
    return d;
}

Derivation whySurfaces(const Surfaces &s)
{
    const auto &high = s.lightReadsHigh ? s.light : s.dark;
    const auto &low = s.lightReadsHigh ? s.dark : s.light;
    const auto n = [](double v) { return number(v, 1); };
    Derivation d;
    d.title = say("the line between both surfaces");
    d.result = n(s.threshold);
    d.steps.push_back({say("nearest two readings"),
                       say("{} and {}", n(high.least), n(low.most)),
                       s.lightReadsHigh ? say("least on light, greatest on dark")
                                        : say("least on dark, greatest on light"),
                       {}});
    d.steps.push_back({say("threshold"), n(s.threshold),
                       say("({} + {}) / 2", n(high.least), n(low.most)), say("worst case")});
    d.steps.push_back(
        {say("margin"), n(s.margin), say("({} − {}) / 2", n(high.least), n(low.most)), {}});
    if (s.statistical && s.dPrime) {
        d.steps.push_back({say("statistical threshold"), n(*s.statistical),
                           say("({} · {} + {} · {}) / ({} + {})", n(high.mean), n(low.deviation),
                               n(low.mean), n(high.deviation), n(low.deviation), n(high.deviation)),
                           say("both clouds as many deviations away")});
        d.steps.push_back({say("d′"),
                           n(*s.dPrime),
                           say("({} − {}) / √(({}² + {}²) / 2)", n(high.mean), n(low.mean),
                               n(high.deviation), n(low.deviation)),
                           {}});
    }
    if (s.hysteresis)
        d.steps.push_back({say("hysteresis"),
                           n(*s.hysteresis),
                           say("6 × {} from reading to reading", n(s.noise)),
                           {}});
    return d;
}

} // namespace badger::tune
