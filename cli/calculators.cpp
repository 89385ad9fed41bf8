// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/calculators.h"

#include "core/drive/stopping.h"
#include "core/sense/ultrasonic.h"
#include "core/units/quantity.h"

#include <fmt/format.h>

namespace badger::cli
{

using units::Dimension;
using units::fixed;
using units::quantity;
using units::Unit;

Result<Answer> echo(const EchoOptions &options)
{
    const auto time_s = units::parse(options.time, Dimension::Time, "--time");
    if (!time_s)
        return tl::unexpected(time_s.error());
    const auto air_degC = units::parse(options.air, Dimension::Temperature, "--air");
    if (!air_degC)
        return tl::unexpected(air_degC.error());
    const auto sound = sense::speedOfSound_mps(*air_degC);
    if (!sound)
        return tl::unexpected(sound.error());
    const auto distance = sense::echoDistance_m(*time_s * 1e6, *air_degC);
    if (!distance)
        return tl::unexpected(distance.error());
    Answer a;
    a.text = fmt::format("{}  (sound travels at {})\n", fixed(*distance, Unit::Centimetre, 2),
                         fixed(*sound, Unit::MetrePerSecond, 2));
    a.why =
        fmt::format("c = 331.3 × √(1 + {} / 273.15) = {}\nd = c × t / 2 = {} × {} / 2 = {}\n",
                    units::plain(*air_degC, 2), fixed(*sound, Unit::MetrePerSecond, 2),
                    fixed(*sound, Unit::MetrePerSecond, 2), quantity(*time_s, Unit::Microsecond),
                    fixed(*distance, Unit::Centimetre, 2));
    a.json = {{"distance_cm", *distance * 100.0}, {"speed_of_sound_m_s", *sound}};
    return a;
}

namespace
{

/// Reads an option into a field; an option that was not given leaves its default.
Result<void> take(const std::string &text, Dimension dimension, const char *name, double &field)
{
    if (text.empty())
        return {};
    const auto value = units::parse(text, dimension, name);
    if (!value)
        return tl::unexpected(value.error());
    field = *value;
    return {};
}

Result<drive::StopSetup> setupOf(const StopBudgetOptions &o)
{
    drive::StopSetup s;
    s.medianOf = o.medianOf;
    for (auto r : {take(o.threshold, Dimension::Length, "--threshold", s.threshold_m),
                   take(o.speed, Dimension::Speed, "--speed", s.speed_mps),
                   take(o.loop, Dimension::Time, "--loop", s.loop_s),
                   take(o.roll, Dimension::Length, "--roll", s.rollOut_m),
                   take(o.error, Dimension::Length, "--error", s.sensorError_m),
                   take(o.setBack, Dimension::Length, "--set-back", s.setBack_m),
                   take(o.age, Dimension::Time, "--age", s.age_s),
                   take(o.actuation, Dimension::Time, "--actuation", s.actuation_s)})
        if (!r)
            return tl::unexpected(r.error());
    return s;
}

} // namespace

Result<Answer> stopBudget(const StopBudgetOptions &options)
{
    const auto setup = setupOf(options);
    if (!setup)
        return tl::unexpected(setup.error());
    const auto budget = drive::stopBudget(*setup);
    if (!budget)
        return tl::unexpected(budget.error());
    Answer a;
    a.text = fmt::format("{} left at worst, {} typically\n",
                         fixed(budget->worstGap_m, Unit::Centimetre, 2),
                         fixed(budget->typicalGap_m, Unit::Centimetre, 2));
    std::vector<std::vector<Say>> rows = {
        {"", "threshold", fixed(setup->threshold_m, Unit::Centimetre, 2), ""}};
    auto terms = Json::array();
    for (const auto &t : budget->terms) {
        rows.push_back({"−", t.name, fixed(t.worst_m, Unit::Centimetre, 2), t.how});
        terms.push_back({{"key", t.key},
                         {"worst_cm", t.worst_m * 100.0},
                         {"typical_cm", t.typical_m * 100.0},
                         {"how", t.how}});
    }
    rows.push_back({"=", "gap at worst", fixed(budget->worstGap_m, Unit::Centimetre, 2), ""});
    a.why = aligned(rows);
    a.json = {{"gap_cm", budget->worstGap_m * 100.0},
              {"typical_gap_cm", budget->typicalGap_m * 100.0},
              {"terms", terms}};
    if (const auto *most = budget->dominant())
        a.json["dominant_term"] = most->key;
    a.json["least_threshold_for_gap_cm"] = nullptr;
    if (!options.want.empty()) {
        const auto want = units::parse(options.want, Dimension::Length, "--want");
        if (!want)
            return tl::unexpected(want.error());
        const auto least = drive::leastThreshold_m(*setup, *want);
        if (!least)
            return tl::unexpected(least.error());
        a.text +=
            fmt::format("{} is the least threshold that leaves {}\n",
                        fixed(*least, Unit::Centimetre, 2), quantity(*want, Unit::Centimetre, 2));
        a.json["least_threshold_for_gap_cm"] = *least * 100.0;
    }
    return a;
}

} // namespace badger::cli
