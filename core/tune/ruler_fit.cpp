// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/tune/ruler_fit.h"

#include "core/sense/ultrasonic.h"
#include "core/tune/stats.h"

#include <algorithm>
#include <cmath>

namespace badger::tune
{

using units::fixed;
using units::number;
using units::Unit;

namespace
{

constexpr double farthestObstacle_m = 10.0;
constexpr double slipAway_m = 0.03;
constexpr double slipShare = 0.1;
constexpr double slipDeviations = 8.0;
constexpr double pullsAway_m = 0.01;
constexpr int enoughPairs = 5;

Say rulerPlace()
{
    return say("ranger against ruler");
}

bool severalPlaces(const std::vector<double> &x)
{
    return std::any_of(x.begin(), x.end(), [&](double v) { return v != x.front(); });
}

struct Columns {
    std::vector<double> read, truth;
    std::vector<std::size_t> at;
};

} // namespace

std::optional<double> airFor_degC(double sound_mps)
{
    const double ratio = sound_mps / 331.3;
    const double air = (ratio * ratio - 1.0) * 273.15;
    return sense::speedOfSound_mps(air) ? std::optional(air) : std::nullopt;
}

/// The pairs that are no farther off the median line than chance explains; the others are rejected.
Columns withoutWild(const Columns &all, const StraightLine &robust,
                    const std::vector<RulerPair> &pairs, RulerFit &fit)
{
    Columns used;
    if (all.read.size() >= 4)
        for (size_t i = 0; i < all.read.size(); ++i) {
            const double away = std::abs(all.truth[i] - robust.slope * all.read[i] - robust.offset);
            if (away > slipAway_m && away > slipShare * all.truth[i] &&
                away > slipDeviations * robust.deviation) {
                fit.rejected.push_back({all.at[i], pairs[all.at[i]], Rejected::Wild});
                continue;
            }
            used.at.push_back(all.at[i]);
            used.read.push_back(all.read[i]);
            used.truth.push_back(all.truth[i]);
        }
    else
        used = all;
    return used;
}

/// How far each pair is off, and whether one of them pulls the line.
void addResiduals(RulerFit &fit, const Columns &used, const StraightLine &line,
                  const StraightLine &robust)
{
    double robustPull = 0.0;
    double farthest = -1.0;
    std::size_t pulls = 0;
    for (size_t i = 0; i < used.read.size(); ++i) {
        const double fitted = line.slope * used.read[i] + line.offset;
        const double residual = used.truth[i] - fitted;
        fit.used.push_back({used.at[i], used.truth[i], used.read[i], residual});
        fit.maxResidual_m = std::max(fit.maxResidual_m, std::abs(residual));
        const double median = robust.slope * used.read[i] + robust.offset;
        robustPull = std::max(robustPull, std::abs(median - fitted));
        if (std::abs(used.truth[i] - median) > farthest) {
            farthest = std::abs(used.truth[i] - median);
            pulls = used.at[i];
        }
    }
    if (robustPull > pullsAway_m && used.read.size() >= 4)
        fit.robust = RulerFit::Robust{robust.slope, robust.offset, pulls};
}

/// The pairs that have an echo; those that have none are rejected.
Result<Columns> usable(const std::vector<RulerPair> &pairs, RulerFit &fit)
{
    Columns all;
    for (size_t i = 0; i < pairs.size(); ++i) {
        const auto &p = pairs[i];
        const bool badTrue = !(p.true_m > 0.0 && p.true_m <= farthestObstacle_m);
        if (badTrue || (p.read_m && !(*p.read_m >= 0.0 && *p.read_m <= 10.0 * farthestObstacle_m)))
            return fail(Error::Kind::OutOfRange, rulerPlace(),
                        say("pair {}: {} is no distance that a ranger measures",
                            static_cast<long>(i + 1),
                            fixed(badTrue ? p.true_m : *p.read_m, Unit::Centimetre, 1)),
                        say("write distances above 0 and up to {}",
                            units::quantity(farthestObstacle_m, Unit::Metre)));
        if (!p.read_m || *p.read_m <= 0.0) {
            fit.rejected.push_back({i, p, Rejected::NoEcho});
            continue;
        }
        all.at.push_back(i);
        all.read.push_back(*p.read_m);
        all.truth.push_back(p.true_m);
    }
    return all;
}

Result<RulerFit> fitRuler(const std::vector<RulerPair> &pairs,
                          std::optional<double> assumedAir_degC)
{
    RulerFit fit;
    auto sorted = usable(pairs, fit);
    if (!sorted)
        return tl::unexpected(sorted.error());
    const auto &all = *sorted;
    const auto tooFew = [&] {
        return fail(Error::Kind::Missing, rulerPlace(),
                    say("{} usable {0|pair|pairs}; a line needs two at different distances",
                        static_cast<long>(all.read.size())),
                    say("measure at five distances or more, a flat board square before it"));
    };
    if (all.read.size() < 2)
        return tooFew();
    if (!severalPlaces(all.truth))
        return fail(Error::Kind::Malformed, rulerPlace(), say("all pairs are at one distance"),
                    say("measure at five distances or more, from near to far"));
    if (!severalPlaces(all.read))
        return fail(Error::Kind::Malformed, rulerPlace(),
                    say("the same was read at every distance: it does not see the board"),
                    say("look at what stands in its way, and at its wires"));
    const auto robust = robustLine(all.read, all.truth);
    const auto used = withoutWild(all, robust, pairs, fit);
    if (used.read.size() < 2 || !severalPlaces(used.read) || !severalPlaces(used.truth))
        return tooFew();
    std::sort(fit.rejected.begin(), fit.rejected.end(),
              [](const RejectedPair &a, const RejectedPair &b) { return a.at < b.at; });
    const auto line = straightLine(used.read, used.truth);
    if (line.slope <= 0.0)
        return fail(Error::Kind::Malformed, rulerPlace(),
                    say("readings fall while the distance grows"),
                    say("look whether the columns are exchanged"));
    fit.slope = line.slope;
    fit.offset_m = line.offset;
    fit.slopeError = line.slopeError;
    fit.offsetError_m = line.offsetError;
    fit.deviation_m = line.deviation;
    fit.isThin = used.read.size() < enoughPairs;
    const auto [near, far] = std::minmax_element(used.truth.begin(), used.truth.end());
    fit.from_m = *near;
    fit.to_m = *far;
    addResiduals(fit, used, line, robust);
    if (assumedAir_degC) {
        const auto assumed = sense::speedOfSound_mps(*assumedAir_degC);
        if (!assumed)
            return tl::unexpected(assumed.error());
        fit.sound_mps = fit.slope * *assumed;
        fit.air_degC = airFor_degC(*fit.sound_mps);
        if (fit.air_degC && fit.slopeError)
            fit.airError_K = 4.0 * (273.15 + *fit.air_degC) * *fit.slopeError / fit.slope;
    }
    return fit;
}

Derivation whyRuler(const RulerFit &fit)
{
    Derivation d;
    double sumRead = 0.0;
    double sumTrue = 0.0;
    for (const auto &p : fit.used) {
        sumRead += p.read_m;
        sumTrue += p.true_m;
    }
    const auto n = static_cast<double>(fit.used.size());
    const double meanRead = sumRead / n;
    const double meanTrue = sumTrue / n;
    double xx = 0.0;
    double xy = 0.0;
    for (const auto &p : fit.used) {
        xx += (p.read_m - meanRead) * (p.read_m - meanRead);
        xy += (p.read_m - meanRead) * (p.true_m - meanTrue);
    }
    const auto cm = [](double m) { return fixed(m, Unit::Centimetre, 2); };
    d.title = say("what a reading really means");
    d.result = say("true = {} · read + {}", number(fit.slope, 4), cm(fit.offset_m));
    d.steps.push_back({say("pairs"),
                       number(n, 0),
                       say("{} left out", static_cast<long>(fit.rejected.size())),
                       {}});
    d.steps.push_back({say("means"), say("read {}, true {}", cm(meanRead), cm(meanTrue)), {}, {}});
    d.steps.push_back({say("slope"), number(fit.slope, 4),
                       say("Σ (read − mean)(true − mean) / Σ (read − mean)² = {} / {} cm²",
                           number(xy * 1e4, 2), number(xx * 1e4, 2)),
                       say("least squares")});
    d.steps.push_back({say("offset"),
                       cm(fit.offset_m),
                       say("{} − {} · {}", cm(meanTrue), number(fit.slope, 4), cm(meanRead)),
                       {}});
    d.steps.push_back(
        {say("largest residual"), cm(fit.maxResidual_m), say("true less fitted"), {}});
    if (fit.sound_mps)
        d.steps.push_back({say("sound"),
                           fixed(*fit.sound_mps, Unit::MetrePerSecond, 1),
                           say("slope × the speed that the readings were made with"),
                           {}});
    return d;
}

} // namespace badger::tune
