// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/tune_calculators.h"

#include "cli/csv_file.h"
#include "cli/reading.h"
#include "core/logbook/measured.h"
#include "core/tune/moves.h"
#include "core/tune/reflectance_fit.h"
#include "core/tune/ruler_fit.h"
#include "core/tune/surfaces.h"

#include <cmath>
#include <fmt/format.h>
#include <numbers>

namespace badger::cli
{

using units::Dimension;
using units::fixed;
using units::number;
using units::quantity;
using units::Unit;
using Column = tune::WantedColumn;

namespace
{

constexpr double degree = std::numbers::pi / 180.0;

units::Quantity cm(double m, int decimals = 2)
{
    return fixed(m, Unit::Centimetre, decimals);
}

/// Rows that could not be used stand under the answer, and in its JSON.
void addBadRows(Answer &a, const tune::CsvColumns &rows)
{
    auto list = Json::array();
    for (const auto &b : rows.bad) {
        list.push_back({{"row", b.row}, {"column", b.column}, {"what", b.what}});
        a.text += fmt::format("row {} is left out: {}{}\n", b.row,
                              b.column.empty() ? std::string{} : b.column + ": ", b.what);
    }
    if (rows.badCount > rows.bad.size())
        a.text += fmt::format("and {} more\n", rows.badCount - rows.bad.size());
    if (rows.beyond > 0)
        a.text +=
            fmt::format("{} rows beyond the first {} are not used\n", rows.beyond, tune::mostRows);
    a.json["bad_rows"] = list;
    a.json["rows_beyond"] = rows.beyond;
}

template <class T> Json orNull(const std::optional<T> &value)
{
    return value ? Json(*value) : Json(nullptr);
}

} // namespace

Result<Answer> rulerFit(const RulerFitOptions &o)
{
    std::optional<double> air;
    if (!o.air.empty()) {
        const auto value = units::parse(o.air, Dimension::Temperature, "--air");
        if (!value)
            return tl::unexpected(value.error());
        air = *value;
    }
    const auto rows = csvFile(o.csv, {{"true", Column::Kind::Length, {}, false},
                                      {"reading", Column::Kind::Length, {}, true}});
    if (!rows)
        return tl::unexpected(rows.error());
    std::vector<tune::RulerPair> pairs;
    for (size_t i = 0; i < rows->rows.size(); ++i)
        pairs.push_back({*rows->columns[0][i], rows->columns[1][i]});
    const auto fit = tune::fitRuler(pairs, air);
    if (!fit)
        return tl::unexpected(fit.error());
    Answer a;
    a.text = fmt::format("true = {:.4f} × read {} {}; largest residual {} over {} to {}\n",
                         fit->slope, fit->offset_m < 0 ? "−" : "+", cm(std::abs(fit->offset_m)),
                         cm(fit->maxResidual_m), cm(fit->from_m, 1), cm(fit->to_m, 1));
    if (fit->isThin)
        a.text += fmt::format("thin: {} pairs; five or more are asked\n", fit->used.size());
    auto rejected = Json::array();
    for (const auto &r : fit->rejected) {
        const char *why = r.why == tune::Rejected::NoEcho ? "no echo" : "wild";
        rejected.push_back({{"row", rows->rows[r.at]},
                            {"true_cm", r.pair.true_m * 100.0},
                            {"reading_cm", badger::cli::orNull(r.pair.read_m, 100.0)},
                            {"why", why}});
        a.text += fmt::format("row {} at {} is left out: {}\n", rows->rows[r.at],
                              cm(r.pair.true_m, 1), why);
    }
    if (fit->robust)
        a.text += fmt::format("row {} pulls: without its weight true = {:.4f} × read + {}\n",
                              rows->rows[fit->robust->pulls], fit->robust->slope,
                              cm(fit->robust->offset_m));
    if (fit->air_degC)
        a.text +=
            fmt::format("the readings say {} of air\n", fixed(*fit->air_degC, Unit::Celsius, 1));
    a.why = derivationText(tune::whyRuler(*fit));
    a.json = {{"slope", fit->slope},
              {"offset_cm", fit->offset_m * 100.0},
              {"slope_error", orNull(fit->slopeError)},
              {"offset_error_cm", badger::cli::orNull(fit->offsetError_m, 100.0)},
              {"max_residual_cm", fit->maxResidual_m * 100.0},
              {"from_cm", fit->from_m * 100.0},
              {"to_cm", fit->to_m * 100.0},
              {"is_thin", fit->isThin},
              {"rejected", rejected},
              {"implied_air_C", orNull(fit->air_degC)},
              {"implied_speed_of_sound_m_s", orNull(fit->sound_mps)}};
    a.json["robust"] =
        fit->robust
            ? Json({{"slope", fit->robust->slope}, {"offset_cm", fit->robust->offset_m * 100.0}})
            : Json(nullptr);
    addBadRows(a, *rows);
    return a;
}

Result<Answer> surfaces(const SurfacesOptions &o)
{
    const auto rows = csvFile(o.csv, {{"surface", Column::Kind::Word, {"light", "dark"}, false},
                                      {"reading", Column::Kind::Number, {}, false}});
    if (!rows)
        return tl::unexpected(rows.error());
    std::vector<double> light;
    std::vector<double> dark;
    std::vector<std::size_t> lightRows;
    std::vector<std::size_t> darkRows;
    for (size_t i = 0; i < rows->rows.size(); ++i) {
        const bool isLight = *rows->columns[0][i] == 0.0;
        (isLight ? light : dark).push_back(*rows->columns[1][i]);
        (isLight ? lightRows : darkRows).push_back(rows->rows[i]);
    }
    const auto s = tune::separate(light, dark);
    if (!s)
        return tl::unexpected(s.error());
    const auto rates = tune::errorRates(*s, s->threshold);
    Answer a;
    if (s->isSeparable)
        a.text = fmt::format("threshold {}, {} to either side; {} is above it\n",
                             units::plain(s->threshold, 1), units::plain(s->margin, 1),
                             s->lightReadsHigh ? "light" : "dark");
    else
        a.text = fmt::format("not separable: the clouds overlap by {}\n",
                             units::plain(-2.0 * s->margin, 1));
    if (s->wild)
        a.text += fmt::format("one reading pulls: {} on {}, row {}; without it {} to either "
                              "side\n",
                              units::plain(s->wild->reading, 1), s->wild->light ? "light" : "dark",
                              (s->wild->light ? lightRows : darkRows)[s->wild->at],
                              units::plain(s->wild->marginWithout, 1));
    else if (!s->isSeparable)
        a.text += "lower the sensor, shade it, or change the floor, and measure again\n";
    if (s->statistical)
        a.text +=
            fmt::format("by the clouds' spread {}; d′ {}; predicted errors {} % on light, {} "
                        "% on dark\n",
                        units::plain(*s->statistical, 1), units::plain(*s->dPrime, 1),
                        units::plain(rates.light * 100.0, 3), units::plain(rates.dark * 100.0, 3));
    if (s->lightSaturated || s->darkSaturated)
        a.text += fmt::format("the {} surface reads the converter's end: what lies beyond is not "
                              "seen\n",
                              s->lightSaturated ? "light" : "dark");
    if (s->isThin)
        a.text += "thin: five or more readings a surface are asked\n";
    a.why = derivationText(tune::whySurfaces(*s));
    a.json = {{"threshold", s->threshold},
              {"margin", s->margin},
              {"separable", s->isSeparable},
              {"mean_light", s->light.mean},
              {"mean_dark", s->dark.mean},
              {"deviation_light", s->light.deviation},
              {"deviation_dark", s->dark.deviation},
              {"light_reads_high", s->lightReadsHigh},
              {"d_prime", orNull(s->dPrime)},
              {"statistical_threshold", orNull(s->statistical)},
              {"error_light", rates.light},
              {"error_dark", rates.dark},
              {"contrast", orNull(s->contrast)},
              {"hysteresis", orNull(s->hysteresis)},
              {"saturated", s->lightSaturated || s->darkSaturated},
              {"is_thin", s->isThin}};
    a.json["wild"] = s->wild ? Json({{"surface", s->wild->light ? "light" : "dark"},
                                     {"reading", s->wild->reading},
                                     {"row", (s->wild->light ? lightRows : darkRows)[s->wild->at]},
                                     {"margin_without", s->wild->marginWithout}})
                             : Json(nullptr);
    addBadRows(a, *rows);
    return a;
}

Result<Answer> reflectanceFit(const ReflectanceFitOptions &o)
{
    const auto rows = csvFile(o.csv, {{"distance", Column::Kind::Length, {}, false},
                                      {"reading", Column::Kind::Number, {}, false}});
    if (!rows)
        return tl::unexpected(rows.error());
    std::vector<tune::ReflectancePair> pairs;
    for (size_t i = 0; i < rows->rows.size(); ++i)
        pairs.push_back({*rows->columns[0][i], *rows->columns[1][i]});
    const auto fit = tune::fitReflectance(pairs, o.dark);
    if (!fit)
        return tl::unexpected(fit.error());
    Answer a;
    const auto why = tune::whyReflectance(*fit);
    a.text = fmt::format("{}; good from {} to {}, largest error {}\n", why.result,
                         cm(fit->validFrom_m, 1), cm(fit->validTo_m, 1), cm(fit->maxResidual_m));
    if (fit->saturatedAt_m)
        a.text += fmt::format("the full scale means {} at most\n",
                              cm(tune::distanceOf(*fit, fit->fullScale).m, 1));
    a.text += fmt::format("one count is {} at the far end\n", cm(fit->oneCount_m));
    auto leftOut = Json::array();
    for (const auto i : fit->leftOut) {
        leftOut.push_back(rows->rows[i]);
        a.text += fmt::format("row {} is left out: {}\n", rows->rows[i],
                              pairs[i].counts >= fit->fullScale ? "saturated" : "no light");
    }
    a.why = derivationText(why);
    const bool power = fit->best.model != tune::ReflectanceModel::Exponential;
    auto compared = Json::array();
    for (const auto &m : fit->compared)
        compared.push_back({{"model", tune::name(m.model)}, {"held_out_counts", m.heldOut_counts}});
    a.json = {{"model", tune::name(fit->best.model)},
              {"k", power ? Json(fit->k_m * 100.0) : Json(nullptr)},
              {"c_cm", power ? Json(fit->best.offset_m * 100.0) : Json(nullptr)},
              {"p", power ? Json(fit->best.exponent) : Json(nullptr)},
              {"k_error", badger::cli::orNull(fit->kError_m, 100.0)},
              {"c_error_cm", badger::cli::orNull(fit->best.offsetError_m, 100.0)},
              {"length_cm", power ? Json(nullptr) : Json(fit->best.length_m * 100.0)},
              {"max_residual_cm", fit->maxResidual_m * 100.0},
              {"saturated_at", fit->saturatedAt_m ? Json(fit->fullScale) : Json(nullptr)},
              {"saturated_at_cm", badger::cli::orNull(fit->saturatedAt_m, 100.0)},
              {"valid_from_cm", fit->validFrom_m * 100.0},
              {"valid_to_cm", fit->validTo_m * 100.0},
              {"one_count_at_far_end_cm", fit->oneCount_m * 100.0},
              {"left_out_rows", leftOut},
              {"compared", compared}};
    addBadRows(a, *rows);
    return a;
}

Result<Answer> trimmer(const TrimmerOptions &o)
{
    const auto advice = tune::trimmerAdvice(o.onLight == "on", o.onDark == "on");
    Answer a;
    a.text = fmt::format("{}\n", tune::words(advice));
    a.why = fmt::format("over light: {}, over dark: {}\n", o.onLight, o.onDark);
    a.json = {{"advice", tune::name(advice)}};
    return a;
}

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
              {"dead_time_ms", badger::cli::orNull(fit->dead_s, 1000.0)},
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
