// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/tune/moves.h"

#include "core/base/angle.h"
#include "core/tune/stats.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace badger::tune
{

using units::fixed;
using units::number;
using units::quantity;
using units::Unit;

namespace
{

tl::unexpected<Error> outside(Say where, Say what, Say mend)
{
    return fail(Error::Kind::OutOfRange, std::move(where), std::move(what), std::move(mend));
}

bool within(double value, double least, double most)
{
    return value >= least && value <= most;
}

} // namespace

Result<TurnFit> fitTurn(const std::vector<TurnPair> &turns)
{
    const auto where = say("turns");
    if (turns.empty())
        return fail(Error::Kind::Missing, where, say("no turn was measured"),
                    say("turn for two different times and measure both angles"));
    std::vector<double> times;
    std::vector<double> angles;
    for (const auto &t : turns) {
        if (!(t.time_s > 0.0 && t.time_s <= 60.0))
            return outside(where,
                           say("{} is no time of a turn", quantity(t.time_s, Unit::Millisecond)),
                           say("write a time above 0 and up to 60 s"));
        if (!(t.angle_rad > 0.0 && t.angle_rad <= 40.0 * std::numbers::pi))
            return outside(where,
                           say("{} is no angle of a turn", quantity(t.angle_rad, Unit::Degree, 1)),
                           say("write how far it turned, above 0 degrees, to whichever side"));
        times.push_back(t.time_s);
        angles.push_back(t.angle_rad);
    }
    TurnFit fit;
    fit.turns = static_cast<int>(turns.size());
    const auto [shortest, longest] = std::minmax_element(times.begin(), times.end());
    fit.shortest_s = *shortest;
    fit.longest_s = *longest;
    if (*shortest == *longest) {
        fit.rate_rad_s = spreadOf(angles).mean / *shortest;
        return fit;
    }
    const auto line = straightLine(times, angles);
    if (line.slope <= 0.0)
        return fail(Error::Kind::Malformed, where, say("it turned less in the longer time"),
                    say("measure again, with a full pack and a clear floor"));
    fit.rate_rad_s = line.slope;
    fit.dead_s = -line.offset / line.slope;
    fit.rateError_rad_s = line.slopeError;
    if (line.offsetError)
        fit.deadError_s = *line.offsetError / line.slope;
    return fit;
}

double timeFor_s(const TurnFit &fit, double angle_rad)
{
    return angle_rad / fit.rate_rad_s + fit.dead_s.value_or(0.0);
}

Result<Straightness> straightness(const DriftRun &run)
{
    const auto where = say("drift");
    const auto cm = [](double m) { return quantity(m, Unit::Centimetre, 1); };
    if (!(run.length_m > 0.0 && run.length_m <= 50.0))
        return outside(where, say("the run is {} long", cm(run.length_m)),
                       say("write how far it drove, above 0 and up to 50 m"));
    if (!(run.track_m > 0.0 && run.track_m <= 1.0))
        return outside(where, say("the track is {}", cm(run.track_m)),
                       say("write the distance between the wheels' middles, up to 1 m"));
    if (!(std::abs(run.end_m) <= run.length_m) ||
        (run.half_m && !(std::abs(*run.half_m) <= run.length_m)))
        return outside(where, say("it went farther aside than along"),
                       say("measure over a shorter run"));
    constexpr double smallShare = 0.05;
    const double L = run.length_m;
    const double bend = run.half_m ? run.end_m - 2.0 * *run.half_m : run.end_m;
    Straightness s;
    const double small = run.half_m ? 4.0 * bend / (L * L) : 2.0 * bend / (L * L);
    s.smallAngle = 1.0 - run.track_m * std::abs(small);
    const double widest = std::max(std::abs(run.end_m), std::abs(run.half_m.value_or(0.0)));
    if (widest <= smallShare * L && run.track_m * std::abs(small) <= smallShare) {
        s.curvature_1_m = small;
        s.slowOverFast = s.smallAngle;
        return s;
    }
    s.exactArc = true;
    double curvature = 2.0 * run.end_m / (L * L + run.end_m * run.end_m);
    if (run.half_m) {
        // Circle through start, (L/2, y_half) and (L, y): 4 · area over the three sides.
        const double h = *run.half_m;
        const double a = std::hypot(L / 2.0, h);
        const double b = std::hypot(L / 2.0, run.end_m - h);
        const double c = std::hypot(L, run.end_m);
        curvature = L * bend / (a * b * c);
    }
    s.curvature_1_m = curvature;
    const double share = std::abs(curvature) * run.track_m / 2.0;
    if (share >= 1.0)
        return outside(where, say("it turned about a point between its own wheels"),
                       say("one wheel does not drive: look at that first"));
    s.slowOverFast = (1.0 - share) / (1.0 + share);
    return s;
}

double trimmedCounts(double counts, double deadBand_counts, double slowOverFast)
{
    return deadBand_counts + (counts - deadBand_counts) * slowOverFast;
}

Result<double> dwell_s(double angle_rad, double for60_s, double settle_s)
{
    const auto where = say("dwell");
    if (!within(angle_rad, 0.0, 2.0 * std::numbers::pi + 1e-9))
        return outside(where, say("{} is no step of a servo", quantity(angle_rad, Unit::Degree, 1)),
                       say("write 0 to 360 degrees"));
    if (!(for60_s > 0.0 && for60_s <= 10.0))
        return outside(where, say("{} for 60 degrees", quantity(for60_s, Unit::Second)),
                       say("write the servo's own figure, as 0.12s/60deg"));
    if (!within(settle_s, 0.0, 10.0))
        return outside(where, say("{} of settling", quantity(settle_s, Unit::Millisecond)),
                       say("write 0 to 10 s"));
    return angle_rad / (60.0 * degree) * for60_s + settle_s;
}

Result<SweepDwell> sweepDwell(double from_rad, double to_rad, int looks, double for60_s,
                              double settle_s)
{
    if (looks < 2 || looks > 181)
        return outside(say("sweep"), say("{} looks", looks), say("write 2 to 181"));
    const double whole = std::abs(to_rad - from_rad);
    const auto step = dwell_s(whole / (looks - 1), for60_s, settle_s);
    const auto back = dwell_s(whole, for60_s, settle_s);
    if (!step || !back)
        return tl::unexpected((step ? back : step).error());
    return SweepDwell{*step, *back, (looks - 1) * *step + *back};
}

const char *name(TrimmerAdvice advice)
{
    constexpr std::array<const char *, 4> names = {"turn-down", "turn-up", "right", "inverted"};
    return names[static_cast<size_t>(advice)];
}

TrimmerAdvice trimmerAdvice(bool onLight, bool onDark)
{
    if (onLight == onDark)
        return onLight ? TrimmerAdvice::TurnDown : TrimmerAdvice::TurnUp;
    return onLight ? TrimmerAdvice::Right : TrimmerAdvice::Inverted;
}

Say words(TrimmerAdvice advice)
{
    switch (advice) {
    case TrimmerAdvice::TurnDown:
        return say("Too sensitive: turn it down until its light goes out over the dark surface.");
    case TrimmerAdvice::TurnUp:
        return say("Not sensitive enough: turn it back until its light comes on over the light "
                   "surface.");
    case TrimmerAdvice::Right:
        return say("Right: its light is on over the light surface and out over the dark one.");
    case TrimmerAdvice::Inverted:
        break;
    }
    return say("Its light is on over the dark surface only: its sense is inverted, or the surfaces "
               "were exchanged.");
}

Result<TrimmerSetting> trimmerSetting(double light, double dark, double supply_V)
{
    const auto where = say("trimmer");
    if (!within(light, 0.0, 1.0) || !within(dark, 0.0, 1.0))
        return outside(where, say("a position is outside the trimmer's turn"),
                       say("write positions as shares of its turn, 0 to 1"));
    if (light == dark)
        return fail(Error::Kind::Conflict, where,
                    say("its light changes at the same position over both surfaces"),
                    say("lower or shade the sensor, or change the floor"));
    const double position = (light + dark) / 2.0;
    return TrimmerSetting{position, std::abs(light - dark) / 2.0, position * supply_V};
}

} // namespace badger::tune
