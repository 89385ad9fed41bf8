// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/tune/fits_of.h"

#include <charconv>
#include <cmath>
#include <map>
#include <numbers>

namespace badger::tune
{

using units::fixed;
using units::number;
using units::quantity;
using units::Unit;

namespace
{

const Stretch *labelled(const Record &r, std::string_view label)
{
    for (const auto &s : r.stretches)
        if (s.label == label && !s.readings.empty())
            return &s;
    return nullptr;
}

std::vector<double> numbersOf(const Record &r, std::string_view label)
{
    std::vector<double> all;
    for (const auto &s : r.stretches)
        if (s.label == label)
            for (const double v : s.readings)
                if (v != nothingCame)
                    all.push_back(v);
    return all;
}

Verdict notYet(const Error &why)
{
    return {say("{}.", capitalised(why.what)), false, say("{}.", capitalised(why.mend))};
}

Say cm(double m, int decimals = 1)
{
    return fixed(m, Unit::Centimetre, decimals);
}

Verdict rulerVerdict(const Record &r)
{
    const auto fit = rulerFitOf(r);
    if (!fit)
        return notYet(fit.error());
    Verdict v;
    v.sentence = say("True = {} · read {} {}, within {} from {} to {}.", number(fit->slope, 3),
                     fit->offset_m < 0.0 ? say("−") : say("+"), cm(std::abs(fit->offset_m), 2),
                     cm(fit->maxResidual_m, 1), cm(fit->from_m, 0), cm(fit->to_m, 0));
    v.good = !fit->isThin;
    if (fit->isThin)
        v.toDo = say("Measure at {} more {0|distance|distances}.",
                     5 - static_cast<long>(fit->used.size()));
    return v;
}

Verdict surfacesVerdict(const Record &r)
{
    const auto s = surfacesOf(r);
    if (!s)
        return notYet(s.error());
    Verdict v;
    v.good = s->isSeparable && !s->isThin;
    if (s->isSeparable)
        v.sentence = say("{} parts light from dark, {} counts to either side.",
                         number(r.chosen.value_or(s->threshold), 1), number(s->margin, 1));
    else
        v.sentence =
            say("Light and dark overlap by {} counts: not separable.", number(-2.0 * s->margin, 1));
    v.good = v.good && !s->wild;
    if (s->wild)
        v.toDo = say("One reading, {} on {}, spoils it: take that surface again.",
                     number(s->wild->reading, 0), s->wild->light ? say("light") : say("dark"));
    else if (!s->isSeparable)
        v.toDo = say("Lower the sensor, shade it, or change the floor.");
    else if (s->isThin)
        v.toDo = say("Take five readings or more a surface.");
    else if (s->lightSaturated || s->darkSaturated) {
        v.good = false;
        v.sentence = s->lightSaturated
                         ? say("The light surface reads the converter's end: more light would read "
                               "the same.")
                         : say("The dark surface reads the converter's end.");
        v.toDo =
            say("Set the sensor higher or lower, or turn its emitter's light down, and take both "
                "again.");
    }
    return v;
}

Verdict trimmerVerdict(const Record &r)
{
    const auto t = trimmerOf(r);
    if (!t)
        return notYet(t.error());
    Verdict v;
    v.good = t->steady && t->lightLevel != t->darkLevel;
    if (!t->steady)
        v.sentence = say("Its output is not steady over one surface.");
    else if (v.good)
        v.sentence = t->lightLevel ? say("It gives 1 over light and 0 over dark.")
                                   : say("It gives 0 over light and 1 over dark.");
    else
        v.sentence = t->lightLevel ? say("It gives 1 over both surfaces.")
                                   : say("It gives 0 over both surfaces.");
    if (!v.good)
        v.toDo = say("Turn the trimmer until its reflection light is on over light and out over "
                     "dark, then take both again.");
    return v;
}

Verdict turnVerdict(const Record &r)
{
    const auto left = turnOf(r, "left");
    const auto right = turnOf(r, "right");
    if (!left && !right)
        return notYet(left.error());
    const auto rate = [](const Result<TurnFit> &f) {
        return number(f->rate_rad_s * 180.0 / std::numbers::pi, 0);
    };
    constexpr double quarter = std::numbers::pi / 2.0;
    Verdict v;
    v.good = left && right && left->dead_s && right->dead_s;
    if (left && right)
        v.sentence =
            say("It turns {} degrees a second to the left and {} to the right; 90 degrees "
                "take {} and {}.",
                rate(left), rate(right), quantity(timeFor_s(*left, quarter), Unit::Millisecond, 0),
                quantity(timeFor_s(*right, quarter), Unit::Millisecond, 0));
    else
        v.sentence = left ? say("It turns {} degrees a second to the left.", rate(left))
                          : say("It turns {} degrees a second to the right.", rate(right));
    if (!v.good)
        v.toDo = say("Turn to both sides, for two different times each.");
    return v;
}

Verdict speedVerdict(const Record &r)
{
    constexpr int runsWanted = 3;
    constexpr double steadyShare = 0.05; // a choice of ours: more is another battery or a slip
    const auto all = speedsOf(r);
    if (all.empty())
        return {say("No run was timed."), false,
                say("Time it between two marks at the program's count.")};
    std::vector<Say> said;
    Verdict v;
    v.good = true;
    for (const auto &s : all) {
        said.push_back(say("{0} at {1} of 255 in {2} {2|run|runs}",
                           quantity(s.mean_mps, Unit::MetrePerSecond), s.counts, s.runs));
        const bool steady = s.deviation_mps <= steadyShare * s.mean_mps;
        v.good &= s.runs >= runsWanted && steady;
        if (s.runs < runsWanted)
            v.toDo = say("Time three runs at {}.", s.counts);
        else if (!steady)
            v.toDo =
                say("The runs at {} differ by more than a twentieth: charge the pack, clean the "
                    "wheels, and time it again.",
                    s.counts);
    }
    v.sentence = say("It drives {}.", joined(said, "; "));
    return v;
}

} // namespace

Result<RulerFit> rulerFitOf(const Record &r)
{
    std::vector<RulerPair> pairs;
    const double air_degC = r.basis.air_degC.value_or(usualAir_degC);
    for (const auto &s : r.stretches) {
        if (!s.truth)
            continue;
        const auto look = lookAt(burstOf(s));
        std::optional<double> read_m;
        // A burst is its median; more nothing than readings is nothing.
        if (look.spread && 2 * look.none <= look.readings)
            if (auto d = sense::echoDistance_m(look.spread->median, air_degC))
                read_m = *d;
        pairs.push_back({*s.truth, read_m});
    }
    return fitRuler(pairs, air_degC);
}

Result<Surfaces> surfacesOf(const Record &r)
{
    return separate(numbersOf(r, "light"), numbersOf(r, "dark"));
}

Result<ReflectanceFit> reflectanceOf(const Record &r)
{
    std::vector<ReflectancePair> pairs;
    for (const auto &s : r.stretches)
        if (s.truth)
            for (const double v : s.readings)
                pairs.push_back({*s.truth, v});
    return fitReflectance(pairs);
}

Result<NoEchoLook> noEchoOf(const Record &r)
{
    Burst all;
    for (const auto &s : r.stretches)
        for (const auto &v : burstOf(s))
            all.push_back(v ? std::optional(*v * 1e-6) : std::nullopt);
    return noEchoLook(all);
}

Result<TrimmerLook> trimmerOf(const Record &r)
{
    TrimmerLook look;
    for (const bool isLight : {true, false}) {
        const auto *s = labelled(r, isLight ? "light" : "dark");
        if (s == nullptr)
            return fail(Error::Kind::Missing, say("trimmer"),
                        isLight ? say("the light surface has not been taken")
                                : say("the dark surface has not been taken"),
                        say("hold the sensor over it at ride height and record"));
        const auto spread = spreadOf(s->readings);
        (isLight ? look.lightLevel : look.darkLevel) = spread.mean > 0.5;
        look.steady = look.steady && spread.least == spread.most;
    }
    return look;
}

Result<TurnFit> turnOf(const Record &r, std::string_view side)
{
    std::vector<TurnPair> pairs;
    for (const auto &s : r.stretches)
        if (s.label == side && s.truth)
            for (const double degrees : s.readings)
                pairs.push_back({*s.truth * 1e-3, degrees * std::numbers::pi / 180.0});
    return fitTurn(pairs);
}

Result<Straightness> straightnessOf(const Record &r, double track_m)
{
    for (const auto &s : r.stretches)
        if (s.truth && !s.readings.empty())
            return straightness(
                {s.readings[0], s.readings.size() > 1 ? std::optional(s.readings[1]) : std::nullopt,
                 *s.truth, track_m});
    return fail(Error::Kind::Missing, say("straightness"), say("no run was measured"),
                say("let it drive two metres along a line and measure how far it went aside"));
}

std::vector<SpeedLook> speedsOf(const Record &r)
{
    std::map<int, std::vector<double>> byCount;
    for (const auto &s : r.stretches) {
        int counts = -1;
        const auto *end = s.label.data() + s.label.size();
        const auto read = std::from_chars(s.label.data(), end, counts);
        if (!s.truth || read.ec != std::errc() || read.ptr != end || counts < 0)
            continue;
        for (const double time_s : s.readings)
            if (time_s > 0.0)
                byCount[counts].push_back(*s.truth / time_s);
    }
    std::vector<SpeedLook> all;
    for (const auto &[counts, speeds] : byCount) {
        const auto spread = spreadOf(speeds);
        all.push_back({counts, spread.mean, spread.deviation, spread.count});
    }
    return all;
}

Verdict verdictOf(const Record &r)
{
    switch (r.what) {
    case What::Ruler:
        return rulerVerdict(r);
    case What::Surfaces:
        return surfacesVerdict(r);
    case What::Trimmer:
        return trimmerVerdict(r);
    case What::Turn:
        return turnVerdict(r);
    case What::NoEcho: {
        const auto look = noEchoOf(r);
        if (!look)
            return notYet(look.error());
        return {look->policy, look->kind != NoEcho::Mixed, {}};
    }
    case What::Reflectance: {
        const auto fit = reflectanceOf(r);
        if (!fit)
            return notYet(fit.error());
        return {say("{}, within {} from {} to {}.", whyReflectance(*fit).result,
                    cm(fit->maxResidual_m), cm(fit->validFrom_m), cm(fit->validTo_m)),
                true,
                {}};
    }
    case What::Neutral:
        if (!r.chosen)
            return {say("The neutral pulse is not found yet."), false,
                    say("Turn the servo's own trimmer, or try pulses about 1500 us, until the "
                        "wheel stands still.")};
        return {say("It stands still at {} us.", number(*r.chosen, 0)), true, {}};
    case What::Speed:
        return speedVerdict(r);
    case What::Straightness:
        break;
    }
    const auto s = straightnessOf(r, 0.13);
    if (!s)
        return notYet(s.error());
    return {s->curvature_1_m == 0.0
                ? say("It drives straight.")
                : say("It bends {} with a radius of {}.",
                      s->curvature_1_m > 0.0 ? say("to the left") : say("to the right"),
                      quantity(std::abs(1.0 / s->curvature_1_m), Unit::Metre, 1)),
            true,
            {}};
}

std::vector<ProtocolStep> protocolOf(What what)
{
    switch (what) {
    case What::Ruler: {
        std::vector<ProtocolStep> steps;
        for (const double m : {0.06, 0.12, 0.25, 0.40, 0.80, 1.20})
            steps.push_back({say("Stand the flat board square before the ranger, {} from its face.",
                                 quantity(m, Unit::Centimetre, 1)),
                             {},
                             {},
                             m});
        return steps;
    }
    case What::NoEcho:
        return {{say("Turn the car to open space, with nothing within 5 m before it."),
                 {},
                 "open",
                 std::nullopt}};
    case What::Surfaces:
    case What::Trimmer:
        return {
            {say("Set the sensor over the light surface at ride height; move it a little "
                 "while it records."),
             say("Do not stare into the emitters close up."), "light", std::nullopt},
            {say("Set it over the dark surface, and move it a little."), {}, "dark", std::nullopt}};
    case What::Reflectance: {
        std::vector<ProtocolStep> steps;
        for (const int at : {2, 4, 6, 8, 10, 14, 20})
            steps.push_back({say("Hold the surface square before the sensor, {} away.",
                                 quantity(at / 100.0, Unit::Centimetre, 1)),
                             at == 2 ? say("Do not stare into the emitters close up.") : Say(),
                             {},
                             at / 100.0});
        return steps;
    }
    case What::Neutral:
        return {{say("Send 1500 us and watch the wheel; go up or down by 5 us until it stands "
                     "still."),
                 say("Wheels off the ground."),
                 {},
                 std::nullopt}};
    case What::Turn:
        return {{say("Turn left for 400 ms and measure the angle."),
                 say("Car on the floor, hand at the switch."), "left", 400.0},
                {say("Turn left for 800 ms."), {}, "left", 800.0},
                {say("Turn right for 400 ms."), {}, "right", 400.0},
                {say("Turn right for 800 ms."), {}, "right", 800.0}};
    case What::Speed:
        return {
            {say("Mark two lines 1.5 m apart, the first 0.5 m behind the start. Let it drive at "
                 "the program's count and time it from line to line, three times."),
             say("Car on the floor, hand at the switch; note the battery first."),
             {},
             1.5}};
    case What::Straightness:
        break;
    }
    return {
        {say("Let it drive 2 m along a line; measure how far it went aside at the end, and half "
             "way."),
         say("Car on the floor, hand at the switch."),
         {},
         2.0}};
}

} // namespace badger::tune
