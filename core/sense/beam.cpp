// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/sense/beam.h"

#include "core/units/quantity.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <numbers>

namespace badger::sense
{

using units::quantity;
using units::Unit;

namespace
{

Result<void> checkBeam(const Beam &b)
{
    const auto bad = [](const Say &field, const Say &what, const Say &mend) {
        return fail(Error::Kind::OutOfRange, field, what, mend);
    };
    if (!(b.halfAngle_rad > 0.0))
        return bad("half-angle",
                   say("{} is not above 0", quantity(b.halfAngle_rad, Unit::Degree, 2)),
                   say("give the half-angle of the ranger, as 7.5deg"));
    if (!(b.sweep_rad >= 0.0))
        return bad("sweep", say("{} is below 0", quantity(b.sweep_rad, Unit::Degree, 2)),
                   say("give the angle to one side, as 9deg"));
    if (!(b.width_m > 0.0))
        return bad("width", say("{} is not above 0", quantity(b.width_m, Unit::Millimetre, 1)),
                   say("give the car's width, as 170mm"));
    if (!(b.halfAngle_rad + b.sweep_rad + std::abs(b.yaw_rad) < std::numbers::pi / 2.0))
        return bad(
            say("half-angle and sweep"),
            say("{} to one side is a quarter turn or more",
                quantity(b.halfAngle_rad + b.sweep_rad + std::abs(b.yaw_rad), Unit::Degree, 1)),
            say("give angles that stay ahead of the car"));
    return {};
}

double leftEdge(const Beam &b, double distance_m)
{
    return b.offset_m + distance_m * std::tan(b.yaw_rad + b.halfAngle_rad + b.sweep_rad);
}
double rightEdge(const Beam &b, double distance_m)
{
    return b.offset_m + distance_m * std::tan(b.yaw_rad - b.halfAngle_rad - b.sweep_rad);
}

} // namespace

Result<Cover> coverAt(const Beam &b, double distance_m)
{
    if (auto ok = checkBeam(b); !ok)
        return tl::unexpected(ok.error());
    if (!(distance_m > 0.0))
        return fail(Error::Kind::OutOfRange, "distance",
                    say("{} is not above 0", quantity(distance_m, Unit::Centimetre, 2)),
                    say("give the distance from the ranger, as 40cm"));
    const double half = b.width_m / 2.0;
    const double left = leftEdge(b, distance_m);
    const double right = rightEdge(b, distance_m);
    const auto blind = [&](double v) { return std::clamp(v, 0.0, b.width_m); };
    return Cover{left - right, blind(half - left), blind(right + half)};
}

Result<std::optional<double>> fullCoverFrom_m(const Beam &b)
{
    if (auto ok = checkBeam(b); !ok)
        return tl::unexpected(ok.error());
    const double half = b.width_m / 2.0;
    double from = 0.0;
    for (const auto &[gap, slope] :
         {std::pair{half - b.offset_m, std::tan(b.yaw_rad + b.halfAngle_rad + b.sweep_rad)},
          std::pair{half + b.offset_m, -std::tan(b.yaw_rad - b.halfAngle_rad - b.sweep_rad)}}) {
        if (gap <= 0.0)
            continue; // the ranger sits beyond this side already
        if (slope <= 0.0)
            return std::optional<double>{};
        from = std::max(from, gap / slope);
    }
    return std::optional(from);
}

std::optional<double> meetsFloorAt_m(double height_m, double halfAngle_rad, double tilt_rad)
{
    const double down = halfAngle_rad - tilt_rad;
    if (height_m <= 0.0 || down <= 0.0)
        return std::nullopt;
    return height_m / std::tan(down);
}

Derivation whyFullCover(const Beam &b)
{
    Derivation d;
    d.title = say("whole width covered from");
    const auto from = fullCoverFrom_m(b);
    if (!from)
        return d;
    d.result = *from ? Say(quantity(**from, Unit::Millimetre, 0)) : say("nowhere");
    d.steps = {
        {say("half the car's width"), quantity(b.width_m / 2.0, Unit::Millimetre, 1), {}, ""}};
    if (b.offset_m != 0.0)
        d.steps.push_back({say("off the middle"),
                           "+ " + quantity(std::abs(b.offset_m), Unit::Millimetre, 1),
                           {},
                           say("the far side counts")});
    d.steps.push_back(
        {"half-angle",
         say("÷ tan {}{}{}", quantity(b.halfAngle_rad, Unit::Degree, 2),
             b.sweep_rad > 0.0 ? " + " + quantity(b.sweep_rad, Unit::Degree, 1) : std::string{},
             b.yaw_rad != 0.0 ? " − " + quantity(std::abs(b.yaw_rad), Unit::Degree, 1)
                              : std::string{}),
         {},
         b.sweep_rad > 0.0 ? say("with the sweep of its servo") : "fixed"});
    d.aside = say("measured from the ranger");
    return d;
}

} // namespace badger::sense
