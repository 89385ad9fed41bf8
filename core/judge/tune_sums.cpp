// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/judge/tune_sums.h"

#include "core/judge/bench_looks.h"
#include "core/tune/fits_of.h"

#include <cmath>
#include <numbers>

namespace badger::judge
{

using tune::What;
using units::fixed;
using units::number;
using units::quantity;
using units::Unit;

namespace
{

Say degrees(double rad)
{
    return quantity(rad, Unit::Degree, 1);
}

Derivation whyTurn(const tune::Record &r)
{
    Derivation d;
    d.title = say("time for a quarter turn");
    for (const char *side : {"left", "right"}) {
        const auto fit = tune::turnOf(r, side);
        if (!fit)
            continue;
        const double quarter_s = tune::timeFor_s(*fit, std::numbers::pi / 2.0);
        const auto time = quantity(quarter_s, Unit::Millisecond, 0);
        d.result = time;
        d.steps.push_back({side[0] == 'l' ? say("to the left") : say("to the right"), time,
                           say("90° / {} a second + {} of dead time", degrees(fit->rate_rad_s),
                               quantity(fit->dead_s.value_or(0.0), Unit::Millisecond, 0)),
                           fit->dead_s ? say("{0} {0|turn|turns}", static_cast<long>(fit->turns))
                                       : say("one duration: the dead time is in the rate")});
    }
    return d;
}

Derivation whyStraight(const tune::Record &r, double track_m)
{
    Derivation d;
    const auto s = tune::straightnessOf(r, track_m);
    if (!s)
        return d;
    d.title = say("slow wheel over fast wheel");
    d.result = number(s->slowOverFast, 4);
    const double radius_m = s->curvature_1_m == 0.0 ? 0.0 : 1.0 / std::abs(s->curvature_1_m);
    d.steps.push_back({say("radius"),
                       quantity(radius_m, Unit::Metre, 2),
                       s->exactArc ? say("of the circle through its marks") : say("L² / (2 y)"),
                       {}});
    d.steps.push_back({say("slow / fast"), number(s->slowOverFast, 4),
                       s->exactArc ? say("(R − b/2) / (R + b/2)") : say("1 − b / R"),
                       say("track {}", quantity(track_m, Unit::Millimetre, 0))});
    return d;
}

Derivation whySpeed(const tune::Record &r)
{
    const auto all = tune::speedsOf(r);
    if (all.empty())
        return {};
    Derivation d{say("speed"), quantity(all.front().mean_mps, Unit::MetrePerSecond), {}, {}};
    for (const auto &st : r.stretches)
        for (const double time_s : st.readings)
            if (time_s > 0.0 && st.truth)
                d.steps.push_back(
                    {say("a run at {} of 255", st.label),
                     quantity(*st.truth / time_s, Unit::MetrePerSecond),
                     say("{} ÷ {} s", quantity(*st.truth, Unit::Metre, 2), number(time_s, 2)),
                     r.basis.date});
    for (const auto &s : all)
        d.steps.push_back({say("= mean at {}", s.counts),
                           quantity(s.mean_mps, Unit::MetrePerSecond),
                           say("{0} {0|run|runs}", s.runs),
                           say("deviation {}", quantity(s.deviation_mps, Unit::MetrePerSecond))});
    return d;
}

Say turnWords(const std::string &label)
{
    if (label == "left")
        return say("left");
    if (label == "right")
        return say("right");
    return label == "left low" ? say("left, low pack") : say("right, low pack");
}

Say lineWords(const tune::Stretch &s)
{
    std::vector<Say> lengths;
    for (const double m : s.readings)
        lengths.push_back(fixed(m, Unit::Millimetre, 1));
    const auto all = joined(lengths, ", ");
    if (s.label == "sensors")
        return say("sensors at {}", all);
    if (s.label == "line")
        return say("line {}", all);
    if (s.label == "room")
        return say("room {}", all);
    return say("spot {}", all);
}

} // namespace

Say wordsOf(What what, const tune::Stretch &s)
{
    const auto burst = tune::burstOf(s);
    const auto look = tune::lookAt(burst);
    const auto n = static_cast<long>(burst.size());
    const auto count = say("{0} {0|reading|readings}", n);
    const auto first = s.readings.empty() ? 0.0 : s.readings.front();
    if (what == What::Horn)
        return say("{}°: {} ms, {}", number(s.truth.value_or(0.0), 0),
                   number(look.spread ? look.spread->mean : 0.0, 0), count);
    if (what == What::Line)
        return lineWords(s);
    if (s.label == "turn light" || s.label == "turn dark")
        return s.label == "turn light" ? say("light changes at {} %", number(first * 100.0, 0))
                                       : say("dark changes at {} %", number(first * 100.0, 0));
    if (s.label == "lift")
        return say("out at {}", fixed(first, Unit::Millimetre, 0));
    if (s.label == "partner")
        return say("partner {}", quantity(first, Unit::Ohm, 0));
    const bool low = s.label.ends_with("low");
    if (what == What::Turn)
        return say("{} for {}: {} degrees", turnWords(s.label),
                   quantity(s.truth.value_or(0.0) * 1e-3, Unit::Millisecond, 0),
                   number(look.spread ? look.spread->mean : 0.0, 1));
    if (what == What::Straightness)
        return low ? say("low pack: {} aside over {}", fixed(first, Unit::Centimetre, 1),
                         quantity(s.truth.value_or(0.0), Unit::Metre, 1))
                   : say("{} aside over {}",
                         fixed(s.readings.empty() ? 0.0 : s.readings[0], Unit::Centimetre, 1),
                         quantity(s.truth.value_or(0.0), Unit::Metre, 1));
    if (what == What::Speed)
        return say("at {}: {} in {} s on average, {}", s.label,
                   quantity(s.truth.value_or(0.0), Unit::Metre, 2),
                   number(look.spread ? look.spread->mean : 0.0, 2), count);
    if (!look.spread)
        return s.truth ? say("{}: nothing came back", fixed(*s.truth, Unit::Centimetre, 0))
                       : say("nothing came back, {}", count);
    const auto median = number(look.spread->median, 0);
    if (s.label == "other")
        return say("another surface, {}: {}, {}", fixed(s.truth.value_or(0.0), Unit::Centimetre, 0),
                   median, count);
    if (s.truth)
        return what == What::Ruler
                   ? say("{}: {} us, {}", fixed(*s.truth, Unit::Centimetre, 0), median, count)
                   : say("{}: {}, {}", fixed(*s.truth, Unit::Centimetre, 0), median, count);
    if (s.label == "light")
        return say("light: {}, median {}", count, median);
    if (s.label == "room")
        return say("room: {}, median {}", count, median);
    if (s.label == "dark")
        return say("dark: {}, median {}", count, median);
    return say("{}, median {}", count, median);
}

Say wordsOf(const tune::Record &r)
{
    std::vector<Say> parts = {r.basis.date};
    if (!r.basis.floor.empty())
        parts.emplace_back(r.basis.floor);
    if (r.basis.air_degC)
        parts.push_back(say("air {}", quantity(*r.basis.air_degC, Unit::Celsius, 1)));
    if (r.basis.battery_V)
        parts.push_back(say("pack {}", quantity(*r.basis.battery_V, Unit::Volt, 2)));
    if (r.sample)
        parts.push_back(say("sample"));
    return joined(parts, " · ");
}

Derivation whyRecord(const tune::Record &r, const kit::Assembly &car, const rules::Program *program)
{
    switch (r.what) {
    case What::Ruler:
        if (const auto fit = tune::rulerFitOf(r)) {
            auto d = tune::whyRuler(*fit);
            if (fit->air_degC)
                d.aside = fit->airError_K ? say("the readings say {} ± {} of air",
                                                fixed(*fit->air_degC, Unit::Celsius, 0),
                                                fixed(*fit->airError_K, Unit::Celsius, 0))
                                          : say("the readings say {} of air",
                                                fixed(*fit->air_degC, Unit::Celsius, 0));
            return d;
        }
        break;
    case What::Surfaces:
        if (const auto s = tune::surfacesOf(r))
            return tune::whySurfaces(*s);
        break;
    case What::Reflectance:
        if (const auto fit = tune::reflectanceOf(r))
            return tune::whyReflectance(*fit);
        break;
    case What::Turn:
        return whyTurn(r);
    case What::Straightness:
        return whyStraight(r, car->geometry.track_m);
    case What::Speed:
        return whySpeed(r);
    case What::Trimmer:
        return whyTrimmer(r);
    case What::Lamp:
        return whyLamp(r);
    case What::Horn:
        return whyHornRecord(car, program, r);
    case What::Line:
        return whyLine(car, program, r);
    case What::Air:
        if (const auto look = r.chosen ? echoLook(car, program, r.instance, *r.chosen)
                                       : Result<EchoLook>(tl::unexpected(Error{})))
            return whyEcho(*look);
        break;
    default:
        break;
    }
    return {};
}

} // namespace badger::judge
