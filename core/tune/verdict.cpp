// SPDX-License-Identifier: GPL-3.0-or-later
// What a record comes to, in a sentence.
#include "core/tune/looks.h"
#include "core/tune/verdicts.h"

#include <cmath>

namespace badger::tune
{

using units::fixed;
using units::number;
using units::quantity;
using units::Unit;

Verdict notYet(const Error &why)
{
    return {say("{}.", capitalised(why.what)), false, say("{}.", capitalised(why.mend))};
}

Say percent(double share)
{
    return say("{} %", number(share * 100.0, 1));
}

namespace
{

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

/// A trimmer that leaves less than this share of its way to either side slips: a choice of ours.
constexpr double leastTrimmerMargin = 0.04;

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
    if (!v.good) {
        v.toDo = say("Turn the trimmer until its reflection light is on over light and out over "
                     "dark, then take both again.");
        return v;
    }
    if (const auto set = trimmerSettingOf(r)) {
        v.sentence = say("{} Its trimmer belongs at {} of its way, {} to either side.", v.sentence,
                         percent(set->position), percent(set->margin));
        if (set->margin < leastTrimmerMargin)
            v.toDo = say("Lower the sensor, shade it, or change the floor: both surfaces change at "
                         "nearly the same place.");
    }
    if (const auto lift = liftOf(r))
        v.sentence = say("{} Its light goes out {} above the floor.", v.sentence,
                         fixed(*lift, Unit::Millimetre, 0));
    return v;
}

/// As many as the readings carry.
double twoFigures(double value)
{
    const double power = std::pow(10.0, std::floor(std::log10(value)) - 1.0);
    return std::round(value / power) * power;
}

Verdict lampVerdict(const Record &r)
{
    const auto look = lampOf(r);
    if (!look)
        return notYet(look.error());
    auto v = surfacesVerdict(r);
    if (!look->clouds.isSeparable)
        v.toDo = say("Shade it better, or bring the lamp nearer.");
    else
        v.sentence = say("{} parts bright from shaded, {} counts to either side.",
                         number(r.chosen.value_or(look->clouds.threshold), 1),
                         number(look->clouds.margin, 1));
    if (look->clouds.lightSaturated || look->clouds.darkSaturated)
        v.toDo = say("Take another partner resistor, and both again.");
    if (!v.good)
        return v;
    if (look->roomMargin) {
        if (*look->roomMargin > 0.0) {
            v.sentence = say("{} The room reads as {}, {} from the line.", v.sentence,
                             look->roomIsLight ? say("bright") : say("shaded"),
                             number(*look->roomMargin, 0));
        } else {
            v.good = false;
            v.sentence = say("{} The room reads now as bright, now as shaded.", v.sentence);
            v.toDo = say("Draw the line elsewhere, or shade the sensor from the room.");
        }
    }
    const auto best = look->bestPartner;
    if (v.toDo.empty() && best && (*best > partnerFactor || *best < 1.0 / partnerFactor))
        v.toDo =
            look->partner_ohm
                ? say("A partner of about {} would part them wider.",
                      quantity(twoFigures(*best * *look->partner_ohm), Unit::Ohm, 0))
                : say("A partner of {} times its ohms would part them wider.", number(*best, 1));
    return v;
}

Verdict airVerdict(const Record &r)
{
    if (!r.chosen)
        return {say("The air was not measured."), false, say("Hang a thermometer there.")};
    const auto sound = sense::speedOfSound_mps(*r.chosen);
    if (!sound)
        return notYet(sound.error());
    return {say("At {} sound does {}: an echo from 30 cm takes {} us.",
                quantity(*r.chosen, Unit::Celsius, 1), fixed(*sound, Unit::MetrePerSecond, 1),
                number(sense::echoTime_us(0.30, *sound), 0)),
            true,
            {}};
}

Verdict reflectanceVerdict(const Record &r)
{
    const auto fit = reflectanceOf(r);
    if (!fit)
        return notYet(fit.error());
    Verdict v{say("{}, within {} from {} to {}.", whyReflectance(*fit).result,
                  cm(fit->maxResidual_m), cm(fit->validFrom_m), cm(fit->validTo_m)),
              true,
              {}};
    double worst_m = 0.0;
    for (const auto &o : otherSurfaceOf(r, *fit))
        if (o.read_m && std::abs(*o.read_m - o.truth_m) > std::abs(worst_m))
            worst_m = *o.read_m - o.truth_m;
    if (worst_m != 0.0)
        v.sentence = say("{} Another surface reads {} too {}.", v.sentence, cm(std::abs(worst_m)),
                         worst_m > 0.0 ? say("far") : say("near"));
    return v;
}

} // namespace

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
    case What::Reflectance:
        return reflectanceVerdict(r);
    case What::Neutral:
        if (!r.chosen)
            return {say("The neutral pulse is not found yet."), false,
                    say("Turn the servo's own trimmer, or try pulses about 1500 us, until the "
                        "wheel stands still.")};
        return {say("It stands still at {} us.", number(*r.chosen, 0)), true, {}};
    case What::Speed:
        return speedVerdict(r);
    case What::Air:
        return airVerdict(r);
    case What::Lamp:
        return lampVerdict(r);
    case What::Horn:
        return hornVerdict(r);
    case What::Line:
        return lineVerdict(r);
    case What::Straightness:
        break;
    }
    return straightVerdict(r);
}

} // namespace badger::tune
