// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/tune/fits_of.h"

#include "core/base/angle.h"

#include <charconv>
#include <map>

namespace badger::tune
{

namespace
{

const Stretch *labelled(const Record &r, std::string_view label)
{
    for (const auto &s : r.stretches)
        if (s.label == label && !s.readings.empty())
            return &s;
    return nullptr;
}

} // namespace

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
        if (s.truth && s.label.empty())
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
                pairs.push_back({*s.truth * 1e-3, degrees * degree});
    return fitTurn(pairs);
}

Result<Straightness> straightnessOf(const Record &r, double track_m, std::string_view label)
{
    for (const auto &s : r.stretches)
        if (s.label == label && s.truth && !s.readings.empty())
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

} // namespace badger::tune
