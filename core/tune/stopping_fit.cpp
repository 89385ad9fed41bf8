// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/tune/stopping_fit.h"

#include <algorithm>
#include <cmath>

namespace badger::tune
{

using units::quantity;
using units::Unit;

Result<StoppingFit> fitStopping(const std::vector<StopRun> &runs)
{
    const auto where = say("speed and stopping");
    for (const auto &r : runs)
        if (!(r.speed_mps > 0.0 && r.speed_mps <= 5.0) || !(r.taken_m >= 0.0 && r.taken_m <= 20.0))
            return fail(Error::Kind::OutOfRange, where,
                        say("{} taken at {} is no stop of a small car",
                            quantity(r.taken_m, Unit::Centimetre, 1),
                            quantity(r.speed_mps, Unit::MetrePerSecond, 2)),
                        say("write a speed above 0 and up to 5 m/s, and 0 to 20 m"));
    const bool several = std::any_of(runs.begin(), runs.end(), [&](const StopRun &r) {
        return r.speed_mps != runs.front().speed_mps;
    });
    if (!several)
        return fail(Error::Kind::Missing, where,
                    say("one speed does not tell reaction from rolling"),
                    say("run it at two speeds or more"));
    // Two unknowns without a constant: normal equations of v and v².
    double v2 = 0.0;
    double v3 = 0.0;
    double v4 = 0.0;
    double vs = 0.0;
    double v2s = 0.0;
    for (const auto &r : runs) {
        const double v = r.speed_mps;
        v2 += v * v;
        v3 += v * v * v;
        v4 += v * v * v * v;
        vs += v * r.taken_m;
        v2s += v * v * r.taken_m;
    }
    const double det = v2 * v4 - v3 * v3;
    StoppingFit fit;
    fit.runs = static_cast<int>(runs.size());
    fit.reaction_s = (vs * v4 - v2s * v3) / det;
    fit.perSquare_s2_m = (v2 * v2s - v3 * vs) / det;
    double squares = 0.0;
    double fastest = 0.0;
    for (const auto &r : runs) {
        const double v = r.speed_mps;
        const double left = r.taken_m - v * fit.reaction_s - v * v * fit.perSquare_s2_m;
        squares += left * left;
        fastest = std::max(fastest, v);
    }
    if (fit.reaction_s + 2.0 * fastest * fit.perSquare_s2_m < 0.0)
        return fail(Error::Kind::Malformed, where, say("it took less at the higher speed"),
                    say("look whether the columns are exchanged, and run again"));
    if (runs.size() > 2) {
        const double variance = squares / static_cast<double>(runs.size() - 2);
        fit.deviation_m = std::sqrt(variance);
        fit.reactionError_s = std::sqrt(variance * v4 / det);
        fit.perSquareError_s2_m = std::sqrt(variance * v2 / det);
    }
    if (fit.perSquare_s2_m > 0.0)
        fit.deceleration_mps2 = 1.0 / (2.0 * fit.perSquare_s2_m);
    return fit;
}

} // namespace badger::tune
