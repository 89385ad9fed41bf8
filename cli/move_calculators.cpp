// SPDX-License-Identifier: GPL-3.0-or-later
// What a car does when it is told to move: dwell, straightness, turns, runs.
#include "cli/csv_file.h"
#include "cli/reading.h"
#include "cli/tune_calculators.h"
#include "cli/units_said.h"
#include "core/logbook/measured.h"
#include "core/tune/moves.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace badger::cli
{

using units::Dimension;
using units::fixed;
using units::number;
using units::quantity;
using units::Unit;
using Column = tune::WantedColumn;

Result<Answer> dwell(const DwellOptions &o)
{
    Reading r;
    const double angle = r.take(o.angle, Dimension::Angle, "--angle");
    const auto slash = o.speed.find('/');
    if (slash == std::string::npos)
        return fail(Error::Kind::Malformed, "--speed", say("'{}' names no angle", o.speed),
                    say("write the time and its angle, as 0.12s/60deg"));
    const double time = r.take(o.speed.substr(0, slash), Dimension::Time, "--speed");
    const double per = r.take(o.speed.substr(slash + 1), Dimension::Angle, "--speed");
    const double settle = r.takeIfGiven(o.settle, Dimension::Time, "--settle");
    if (r.error())
        return tl::unexpected(*r.error());
    if (!(per > 0.0))
        return fail(Error::Kind::OutOfRange, "--speed", say("the angle is not above 0"),
                    say("write the time and its angle, as 0.12s/60deg"));
    const double for60_s = time * 60.0 * degree / per;
    const auto dwell = tune::dwell_s(angle, for60_s, settle);
    if (!dwell)
        return tl::unexpected(dwell.error());
    Answer a;
    a.text =
        fmt::format("{} until it points there and rests\n", quantity(*dwell, Unit::Millisecond, 1));
    a.why = fmt::format("{} × {} / 60° + {} = {}\n", quantity(angle, Unit::Degree, 1),
                        quantity(for60_s, Unit::Second), quantity(settle, Unit::Millisecond, 1),
                        quantity(*dwell, Unit::Millisecond, 1));
    a.json = {{"dwell_ms", *dwell * 1000.0}};
    return a;
}

Result<Answer> straightness(const StraightnessOptions &o)
{
    Reading r;
    tune::DriftRun run;
    run.end_m = r.take(o.drift, Dimension::Length, "--drift");
    if (!o.driftHalf.empty())
        run.half_m = r.take(o.driftHalf, Dimension::Length, "--drift-half");
    run.length_m = r.take(o.length, Dimension::Length, "--length");
    run.track_m = r.take(o.track, Dimension::Length, "--track");
    if (r.error())
        return tl::unexpected(*r.error());
    const auto s = tune::straightness(run);
    if (!s)
        return tl::unexpected(s.error());
    Answer a;
    a.text = fmt::format("slow/fast = {:.4f}: slow the wheel opposite the drift to that share\n",
                         s->slowOverFast);
    if (s->exactArc)
        a.text += "the drift is beyond the small-angle form: reckoned on the circle itself\n";
    const auto curvature = s->curvature_1_m == 0.0
                               ? std::string("straight")
                               : fmt::format("R = {:.2f} m", 1.0 / s->curvature_1_m);
    a.why =
        s->exactArc ? fmt::format("{}; (R − b/2) / (R + b/2) = {:.4f}; 1 − b/R would say {:.4f}\n",
                                  curvature, s->slowOverFast, s->smallAngle)
        : run.half_m
            ? fmt::format("1/R = 4 × ({} − 2 × {}) / {}², {}; 1 − b/R = {:.4f}\n", cm(run.end_m, 1),
                          cm(*run.half_m, 1), cm(run.length_m, 1), curvature, s->slowOverFast)
            : fmt::format("1 − 2 × {} × {} / {}² = {:.4f}; {}\n", cm(run.track_m, 1),
                          cm(std::abs(run.end_m), 1), cm(run.length_m, 1), s->slowOverFast,
                          curvature);
    a.json = {{"slow_over_fast", s->slowOverFast},
              {"curvature_1_m", s->curvature_1_m},
              {"exact_arc", s->exactArc},
              {"small_angle_form", s->smallAngle}};
    return a;
}

Result<Answer> turn(const TurnOptions &o)
{
    if (o.time2.empty() != o.angle2.empty())
        return fail(Error::Kind::Missing, o.time2.empty() ? "--time2" : "--angle2",
                    say("a second turn needs both its time and its angle"),
                    say("give the other one, too"));
    Reading r;
    std::vector<tune::TurnPair> pairs = {
        {r.take(o.time, Dimension::Time, "--time"), r.take(o.angle, Dimension::Angle, "--angle")}};
    if (!o.time2.empty())
        pairs.push_back({r.take(o.time2, Dimension::Time, "--time2"),
                         r.take(o.angle2, Dimension::Angle, "--angle2")});
    if (r.error())
        return tl::unexpected(*r.error());
    const auto fit = tune::fitTurn(pairs);
    if (!fit)
        return tl::unexpected(fit.error());
    const double rate = fit->rate_rad_s / degree;
    Answer a;
    a.text = fmt::format("{:.1f} degrees a second, {:.2f} ms a degree", rate, 1000.0 / rate);
    a.text += fit->dead_s ? fmt::format(", after {} of dead time\n",
                                        quantity(*fit->dead_s, Unit::Millisecond, 0))
                          : std::string(": one duration, so that the dead time is in it\n");
    const bool turnsOn = fit->dead_s.value_or(0.0) < 0.0;
    if (turnsOn)
        a.text += "a dead time below zero: it turns on after the command has ended\n";
    auto times = Json::array();
    for (const int angle : {45, 90, 180}) {
        const double time_s = tune::timeFor_s(*fit, angle * degree);
        const bool carried = time_s < fit->shortest_s || time_s > fit->longest_s;
        times.push_back(
            {{"angle_deg", angle}, {"time_ms", time_s * 1000.0}, {"extrapolated", carried}});
        a.text += fmt::format("{} degrees: {}{}\n", angle, quantity(time_s, Unit::Millisecond, 0),
                              carried ? ", beyond what was measured" : "");
    }
    a.why =
        fit->dead_s
            ? fmt::format("({} − {}) / ({} − {}) = {:.1f} deg/s; {} − {} / {:.1f} deg/s = {}\n",
                          quantity(pairs[1].angle_rad, Unit::Degree, 1),
                          quantity(pairs[0].angle_rad, Unit::Degree, 1),
                          quantity(pairs[1].time_s, Unit::Millisecond, 0),
                          quantity(pairs[0].time_s, Unit::Millisecond, 0), rate,
                          quantity(pairs[0].time_s, Unit::Millisecond, 0),
                          quantity(pairs[0].angle_rad, Unit::Degree, 1), rate,
                          quantity(*fit->dead_s, Unit::Millisecond, 1))
            : fmt::format("{} / {} = {:.1f} deg/s\n", quantity(pairs[0].angle_rad, Unit::Degree, 1),
                          quantity(pairs[0].time_s, Unit::Millisecond, 0), rate);
    a.json = {{"deg_per_s", rate},
              {"ms_per_deg", 1000.0 / rate},
              {"dead_time_ms", orNull(fit->dead_s, 1000.0)},
              {"one_point", !fit->dead_s.has_value()},
              {"turns_on_after", turnsOn},
              {"turn_times", times}};
    return a;
}

Result<Answer> runs(const RunsOptions &o)
{
    if (!(o.confidence >= 50.0 && o.confidence <= 99.9))
        return fail(Error::Kind::OutOfRange, "--confidence",
                    say("{} % is outside its range", number(o.confidence, 2)),
                    say("write 50 to 99.9"));
    const auto bound = logbook::contactRateBound(o.contacts, o.of, o.confidence / 100.0);
    if (!bound)
        return tl::unexpected(bound.error());
    const auto wilson = logbook::wilson(o.contacts, o.of);
    if (!wilson)
        return tl::unexpected(wilson.error());
    Answer a;
    a.text = fmt::format("{} contacts in {} runs: below {:.3f} % with {} % confidence\n"
                         "shown as {:.2f} % to {:.2f} %\n",
                         o.contacts, o.of, *bound * 100.0, units::plain(o.confidence, 2),
                         wilson->low * 100.0, wilson->high * 100.0);
    a.why = fmt::format("the rate at which at most {} contacts in {} runs have a chance of {} %\n",
                        o.contacts, o.of, units::plain(100.0 - o.confidence, 2));
    a.json = {{"upper_bound", *bound}, {"wilson_low", wilson->low}, {"wilson_high", wilson->high}};
    return a;
}

} // namespace badger::cli
