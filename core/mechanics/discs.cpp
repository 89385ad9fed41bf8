// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/mechanics/discs.h"

#include "core/units/quantity.h"

#include <boost/math/tools/toms748_solve.hpp>
#include <cmath>
#include <numbers>

namespace badger::mechanics
{

using units::formatShort;
using units::Unit;

namespace
{

double overlap(double r, double d)
{
    if (d >= 2.0 * r)
        return 0.0;
    return 2.0 * r * r * std::acos(d / (2.0 * r)) - d / 2.0 * std::sqrt(4.0 * r * r - d * d);
}

Result<void> checkRadius(double radius_m)
{
    if (radius_m > 0.0 && std::isfinite(radius_m))
        return {};
    return fail(Error::Kind::OutOfRange, "radius",
                formatShort(radius_m, Unit::Millimetre, 1) + " is not above 0",
                "give the radius of a disc, as 75mm");
}

} // namespace

Result<double> overlap_m2(double radius_m, double apart_m)
{
    if (auto ok = checkRadius(radius_m); !ok)
        return tl::unexpected(ok.error());
    if (!(apart_m >= 0.0))
        return fail(Error::Kind::OutOfRange, "distance of the centres",
                    formatShort(apart_m, Unit::Millimetre, 1) + " is below 0", "give 0 or more");
    return overlap(radius_m, apart_m);
}

Result<double> apartForShare_m(double radius_m, double share)
{
    if (auto ok = checkRadius(radius_m); !ok)
        return tl::unexpected(ok.error());
    if (!(share >= 0.0 && share <= 1.0))
        return fail(Error::Kind::OutOfRange, "share", units::plain(share, 4) + " is not 0 to 1",
                    "give a share, as 0.5");
    if (share == 0.0)
        return 2.0 * radius_m;
    if (share == 1.0)
        return 0.0;
    const double wanted = share * std::numbers::pi * radius_m * radius_m;
    std::uintmax_t steps = 100;
    const auto [low, high] = boost::math::tools::toms748_solve(
        [&](double d) { return overlap(radius_m, d) - wanted; }, 0.0, 2.0 * radius_m,
        boost::math::tools::eps_tolerance<double>(40), steps);
    return (low + high) / 2.0;
}

} // namespace badger::mechanics
