// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/tune_calculators.h"

#include "cli/csv_file.h"
#include "cli/reading.h"
#include "cli/units_said.h"
#include "core/logbook/measured.h"
#include "core/tune/moves.h"
#include "core/tune/reflectance_fit.h"
#include "core/tune/ruler_fit.h"
#include "core/tune/surfaces.h"

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

namespace
{

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
                            {"reading_cm", orNull(r.pair.read_m, 100.0)},
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
              {"offset_error_cm", orNull(fit->offsetError_m, 100.0)},
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

/// `wildRow`: of the file, where one reading pulls.
Json surfacesJson(const tune::Surfaces &s, const tune::ErrorRates &rates,
                  std::optional<std::size_t> wildRow)
{
    Json json = {{"threshold", s.threshold},
                 {"margin", s.margin},
                 {"separable", s.isSeparable},
                 {"mean_light", s.light.mean},
                 {"mean_dark", s.dark.mean},
                 {"deviation_light", s.light.deviation},
                 {"deviation_dark", s.dark.deviation},
                 {"light_reads_high", s.lightReadsHigh},
                 {"d_prime", orNull(s.dPrime)},
                 {"statistical_threshold", orNull(s.statistical)},
                 {"error_light", rates.light},
                 {"error_dark", rates.dark},
                 {"contrast", orNull(s.contrast)},
                 {"hysteresis", orNull(s.hysteresis)},
                 {"saturated", s.lightSaturated || s.darkSaturated},
                 {"is_thin", s.isThin}};
    json["wild"] = s.wild ? Json({{"surface", s.wild->light ? "light" : "dark"},
                                  {"reading", s.wild->reading},
                                  {"row", *wildRow},
                                  {"margin_without", s.wild->marginWithout}})
                          : Json(nullptr);
    return json;
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
    std::optional<std::size_t> wildRow;
    if (s->wild)
        wildRow = (s->wild->light ? lightRows : darkRows)[s->wild->at];
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
                              *wildRow, units::plain(s->wild->marginWithout, 1));
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
    a.json = surfacesJson(*s, rates, wildRow);
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
              {"k_error", orNull(fit->kError_m, 100.0)},
              {"c_error_cm", orNull(fit->best.offsetError_m, 100.0)},
              {"length_cm", power ? Json(nullptr) : Json(fit->best.length_m * 100.0)},
              {"max_residual_cm", fit->maxResidual_m * 100.0},
              {"saturated_at", fit->saturatedAt_m ? Json(fit->fullScale) : Json(nullptr)},
              {"saturated_at_cm", orNull(fit->saturatedAt_m, 100.0)},
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

} // namespace badger::cli
