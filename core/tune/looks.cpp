// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/tune/looks.h"

#include "core/base/angle.h"

#include <algorithm>
#include <cmath>

namespace badger::tune
{

namespace
{

constexpr double fullScale = 1023.0;
constexpr size_t burstWanted = 10;

std::optional<double> oneOf(const Record &r, std::string_view label)
{
    const auto all = numbersOf(r, label);
    return all.empty() ? std::nullopt : std::optional(medianOf(all));
}

/// R over its partner.
std::optional<double> ratio(double counts, bool lightReadsHigh)
{
    if (counts <= 0.0 || counts >= fullScale)
        return std::nullopt;
    const double above = (fullScale - counts) / counts;
    return lightReadsHigh ? above : 1.0 / above;
}

Result<LineLook> fromFour(LineLook look)
{
    const auto &at = look.sensors_m;
    const double middle = (at.front() + at.back()) / 2.0;
    const Strip strip{(at[2] - at[1]) / 2.0, (at[3] - at[0]) / 2.0, look.line_m};
    look.skew_m = middle;
    if (look.room_m) {
        auto l = lane(strip, look.room_m);
        if (!l)
            return tl::unexpected(l.error());
        look.kind = LineLook::Kind::Lane;
        look.slack_m = l->slack_m;
        look.works = l->works;
        look.lostFrom_m = l->lostFrom_m;
        look.wrongLineBeyond_m = l->wrongLineBeyond_m;
        look.patterns = std::move(l->patterns);
        return look;
    }
    auto l = singleLine(strip);
    if (!l)
        return tl::unexpected(l.error());
    look.kind = LineLook::Kind::Single;
    look.slack_m = l->slack_m;
    look.works = l->works;
    look.lostFrom_m = l->lostFrom_m;
    look.patterns = std::move(l->patterns);
    return look;
}

} // namespace

Result<LampLook> lampOf(const Record &r)
{
    auto clouds = surfacesOf(r);
    if (!clouds)
        return tl::unexpected(clouds.error());
    LampLook look{std::move(*clouds), {}, {}, false, {}, {}, {}, {}};
    const auto &c = look.clouds;
    if (const auto room = numbersOf(r, "room"); !room.empty()) {
        look.room = spreadOf(room);
        const double line = r.chosen.value_or(c.threshold);
        const bool above = look.room->mean >= line;
        look.roomIsLight = above == c.lightReadsHigh;
        look.roomMargin = above ? look.room->least - line : line - look.room->most;
    }
    const auto light = ratio(c.light.mean, c.lightReadsHigh);
    const auto dark = ratio(c.dark.mean, c.lightReadsHigh);
    if (light && dark)
        look.bestPartner = std::sqrt(*light * *dark);
    look.partner_ohm = oneOf(r, "partner");
    if (look.partner_ohm && light && dark) {
        look.light_ohm = *light * *look.partner_ohm;
        look.dark_ohm = *dark * *look.partner_ohm;
    }
    return look;
}

double stepTime_s(const DwellFit &fit, double angle_rad)
{
    return angle_rad / (60.0 * degree) * fit.for60_s + fit.settle_s.value_or(0.0);
}

Result<DwellFit> dwellOf(const Record &r)
{
    const auto where = say("servo");
    std::vector<double> angles;
    std::vector<double> times;
    for (const auto &s : r.stretches)
        if (s.label == "step" && s.truth)
            for (const double ms : s.readings) {
                if (!(*s.truth > 0.0 && *s.truth <= 360.0 && ms > 0.0 && ms <= 10000.0))
                    return fail(Error::Kind::OutOfRange, where,
                                say("a step of {} degrees in {} ms", units::number(*s.truth, 0),
                                    units::number(ms, 0)),
                                say("write times above 0 and up to 10 s"));
                angles.push_back(*s.truth * degree);
                times.push_back(ms * 1e-3);
            }
    if (angles.empty())
        return fail(Error::Kind::Missing, where, say("no step was timed"),
                    say("film a short and a long step and count until the horn stands still"));
    DwellFit fit;
    fit.steps = static_cast<int>(angles.size());
    const auto [least, most] = std::minmax_element(angles.begin(), angles.end());
    fit.longest_rad = *most;
    if (*least == *most) {
        fit.for60_s = spreadOf(times).mean / *most * 60.0 * degree;
        return fit;
    }
    const auto line = straightLine(angles, times);
    if (line.slope <= 0.0)
        return fail(Error::Kind::Malformed, where, say("the longer step took less time"),
                    say("time both again"));
    fit.for60_s = line.slope * 60.0 * degree;
    fit.settle_s = line.offset;
    return fit;
}

Result<LineLook> lineOf(const Record &r)
{
    const auto where = say("line");
    LineLook look;
    look.sensors_m = numbersOf(r, "sensors");
    // A sensor one metre to the right would be taken for a reading that did not come.
    std::sort(look.sensors_m.begin(), look.sensors_m.end());
    if (look.sensors_m.empty())
        return fail(Error::Kind::Missing, where, say("where the sensors sit was not measured"),
                    say("measure from the middle of the car to each"));
    const auto line = oneOf(r, "line");
    if (!line)
        return fail(Error::Kind::Missing, where, say("the line's width was not measured"),
                    say("lay the ruler across it"));
    look.line_m = *line;
    look.room_m = oneOf(r, "room");
    look.spot_m = oneOf(r, "spot");
    const auto count = look.sensors_m.size();
    if (count > 4)
        return fail(Error::Kind::Conflict, where,
                    say("{} sensors are more than four", static_cast<long>(count)),
                    say("leave out those that the program does not read"));
    if (count == 4)
        return fromFour(std::move(look));
    if (count == 1) {
        look.kind = LineLook::Kind::Edge;
        return look;
    }
    look.kind = LineLook::Kind::Straddle;
    const double gap = look.sensors_m.back() - look.sensors_m.front();
    look.skew_m = (look.sensors_m.back() + look.sensors_m.front()) / 2.0;
    const auto slack = straddleSlack_m(look.line_m, gap);
    if (!slack)
        return tl::unexpected(slack.error());
    look.slack_m = *slack;
    return look;
}

Result<TrimmerSetting> trimmerSettingOf(const Record &r)
{
    const auto light = oneOf(r, "turn light");
    const auto dark = oneOf(r, "turn dark");
    if (!light || !dark)
        return fail(Error::Kind::Missing, say("trimmer"),
                    light ? say("where it changes over the dark surface was not taken")
                          : say("where it changes over the light surface was not taken"),
                    say("turn the trimmer slowly from its low end and note the place"));
    return trimmerSetting(*light, *dark, 1.0);
}

std::optional<double> liftOf(const Record &r)
{
    return oneOf(r, "lift");
}

std::vector<OtherSurface> otherSurfaceOf(const Record &r, const ReflectanceFit &fit)
{
    std::vector<OtherSurface> all;
    for (const auto &s : r.stretches)
        if (s.label == "other" && s.truth)
            for (const double counts : s.readings) {
                const auto d = distanceOf(fit, counts);
                all.push_back(
                    {*s.truth, counts,
                     d.kind == Distance::Kind::NoReading ? std::nullopt : std::optional(d.m)});
            }
    return all;
}

std::vector<MedianLine> mediansOf(const Burst &burst)
{
    std::vector<MedianLine> all;
    if (burst.size() < burstWanted)
        return all;
    for (const int n : {1, 3, 5}) {
        const auto look = lookAt(n == 1 ? burst : runningMedian(burst, n));
        all.push_back({n, look.jitter, look.wild, look.none});
    }
    return all;
}

const Stretch *unsteadiest(const Record &r)
{
    const Stretch *found = nullptr;
    double worst = -1.0;
    for (const auto &s : r.stretches) {
        if (s.readings.size() < burstWanted)
            continue;
        const auto look = lookAt(burstOf(s));
        // What is lost or wild weighs more than any jitter.
        const double ill =
            look.jitter + 1e6 * (look.wild + look.none) / static_cast<double>(s.readings.size());
        if (ill > worst) {
            worst = ill;
            found = &s;
        }
    }
    return found;
}

} // namespace badger::tune
