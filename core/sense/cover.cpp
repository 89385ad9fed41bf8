// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/sense/cover.h"

#include "core/units/quantity.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace badger::sense
{

using parts::Kind;
using units::quantity;
using units::Unit;

namespace
{

units::Quantity mm(double m)
{
    return quantity(m, Unit::Millimetre, 0);
}

double sweepOf(const kit::Assembly &car, const kit::Instance &fitted)
{
    const auto *carrier = fitted.carriedBy.empty() ? nullptr : car->instance(fitted.carriedBy);
    const auto *part = carrier ? car.part(*carrier) : nullptr;
    return part && part->kind == Kind::Servo ? carrier->sweep_rad.value_or(0.0) : 0.0;
}

} // namespace

std::vector<RangerCover> covers(const kit::Assembly &car)
{
    std::vector<RangerCover> all;
    for (const auto &fitted : car->parts) {
        const auto *part = car.part(fitted);
        const auto place = kit::placeOf(car, fitted);
        if (part == nullptr || part->kind != Kind::Ranger || !place)
            continue;
        RangerCover c;
        c.ranger = fitted.id;
        c.place = *place;
        c.setBack_m = car->geometry.axleToNose_m - place->x_m;
        if (const auto *mount = kit::mountOf(car.car(), fitted)) {
            c.height_m = mount->height_m;
            c.tilt_rad = mount->tilt_rad;
        }
        c.ahead = std::abs(place->yaw_rad) <= kit::aheadWithin_rad;
        c.fixed = {part->figure("half_angle_rad")->typical, 0.0, car->geometry.width_m, place->y_m,
                   place->yaw_rad};
        c.swept = c.fixed;
        c.swept.sweep_rad = sweepOf(car, fitted);
        c.range_m = part->figure("range_m")->typical;
        all.push_back(c);
    }
    return all;
}

std::vector<Spot> spots(const kit::Assembly &car)
{
    std::vector<Spot> all;
    for (const auto &fitted : car->parts) {
        const auto *part = car.part(fitted);
        const auto place = kit::placeOf(car, fitted);
        const auto *spot = part ? part->figure("spot_m") : nullptr;
        if (spot == nullptr || !place)
            continue;
        const auto *pitch = part->figure("pitch_m");
        const int n = part->kind == Kind::Strip ? 4 : 1;
        for (int i = 0; i < n; ++i) {
            auto at = *place;
            if (pitch)
                at.y_m += (1.5 - i) * pitch->typical;
            all.push_back({fitted.id, at, spot->typical});
        }
    }
    return all;
}

namespace
{

struct Look {
    const kit::Assembly &car;
    std::optional<double> threshold_m;
    std::vector<RangerCover> all = covers(car);

    /// The one the threshold is compared with.
    const RangerCover *ahead() const
    {
        const auto at = std::find_if(all.begin(), all.end(), [](const auto &c) { return c.ahead; });
        return at == all.end() ? nullptr : &*at;
    }
};

using Found = std::vector<Finding>;

bool canCompare(const Look &look)
{
    if (!look.threshold_m || !look.ahead())
        return false;
    const auto &c = *look.ahead();
    return coverAt(c.swept, *look.threshold_m) && fullCoverFrom_m(c.swept) &&
           fullCoverFrom_m(c.fixed);
}

Found blind(const Look &look, const char *code)
{
    const auto &c = *look.ahead();
    const double threshold_m = *look.threshold_m;
    const auto at = coverAt(c.swept, threshold_m);
    const auto from = fullCoverFrom_m(c.swept);
    const auto fixedFrom = fullCoverFrom_m(c.fixed);
    constexpr double nothing_m = 0.0005;
    if (at->blindLeft_m < nothing_m && at->blindRight_m < nothing_m)
        return {};
    const bool swept = c.swept.sweep_rad > 0.0;
    const auto strips =
        at->blindLeft_m == at->blindRight_m
            ? say("{} on each side", mm(at->blindLeft_m))
            : say("{} on the left and {} on the right", mm(at->blindLeft_m), mm(at->blindRight_m));
    return {
        {code, Severity::Advice, c.ranger,
         say("At the threshold of {} the {}beam covers {}; {} stay blind.", mm(threshold_m),
             swept ? "swept " : "", mm(at->width_m), strips),
         say("A post there is not seen. The whole width is covered from {} on{}.",
             *from ? Say(mm(**from)) : say("nowhere"),
             swept && *fixedFrom ? say(", without the sweep from ") + mm(**fixedFrom)
                                 : std::string{}),
         swept ? say("Look at the sweep and at the threshold.")
               : say("Look at a sweep while driving or a second ranger, or accept it and say so."),
         at::part(c.ranger)}};
}

Found floorEcho(const Look &look, const char *code)
{
    Found found;
    constexpr double near_m = 0.45; // floors echo within what an indoor car looks at
    for (const auto &c : look.all) {
        const auto at = meetsFloorAt_m(c.height_m, c.fixed.halfAngle_rad, c.tilt_rad);
        if (!c.ahead || !at || *at > near_m)
            continue;
        found.push_back(
            {code, Severity::Advice, c.ranger,
             say("At {} over the floor the lower edge of the beam meets it after {}.",
                 mm(c.height_m), mm(*at)),
             say("A smooth floor mirrors the ping away; rough floor, joints and sills echo from "
                 "there on."),
             say("Look at its height and its tilt."), at::part(c.ranger)});
    }
    return found;
}

struct Ride {
    const kit::Instance *sensor;
    double height_m;
    double low_m;
    double high_m;
};

std::vector<Ride> rides(const kit::Assembly &car)
{
    std::vector<Ride> all;
    for (const auto &fitted : car->parts) {
        const auto *part = car.part(fitted);
        const auto *low = part ? part->figure("ride_low_m") : nullptr;
        const auto *high = part ? part->figure("ride_high_m") : nullptr;
        if (!low || !high || !fitted.mount)
            continue;
        all.push_back({&fitted, fitted.mount->height_m, low->typical, high->typical});
    }
    return all;
}

bool anyRides(const Look &look)
{
    return !rides(look.car).empty();
}

Found rideHeight(const Look &look, const char *code)
{
    Found found;
    for (const auto &r : rides(look.car)) {
        if (r.height_m >= r.low_m && r.height_m <= r.high_m)
            continue;
        found.push_back({code, Severity::Warning, kit::labelOf(*r.sensor),
                         say("{} rides {} over the floor; it reads well from {} to {}.",
                             kit::labelOf(*r.sensor), quantity(r.height_m, Unit::Millimetre, 1),
                             mm(r.low_m), mm(r.high_m)),
                         r.height_m < r.low_m
                             ? say("It touches, and its spot is too small to see light and dark.")
                             : say("Little comes back: light and dark look the same."),
                         say("Look at its height; a trimmer is set again afterwards."),
                         at::part(r.sensor->id)});
    }
    return found;
}

const std::vector<Check<Look>> &table()
{
    static const std::vector<Check<Look>> checks{
        {"beam-narrower-than-car", source("the beam covers the car's width at the threshold"),
         blind, "advice", "which strips stay blind at the threshold", canCompare},
        {"beam-meets-floor", noPraise, floorEcho, "advice",
         "the beam's lower edge meets the floor near by"},
        {"ride-height", source("line sensors ride at their height"), rideHeight, "warning",
         "a line sensor is too high or too low", nullptr, anyRides},
    };
    return checks;
}

} // namespace

Findings checkSight(const kit::Assembly &car, std::optional<double> threshold_m)
{
    Findings out;
    run<Look>(table(), {car, threshold_m}, out);
    return out;
}

std::vector<CheckLine> checkLines()
{
    std::vector<CheckLine> lines;
    addLines<Look>(table(), lines);
    return lines;
}

} // namespace badger::sense
