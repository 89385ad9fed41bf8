// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/mechanics/horn.h"

#include "core/units/quantity.h"

#include <cmath>
#include <fmt/format.h>
#include <numbers>

namespace badger::mechanics
{

using units::quantity;
using units::Unit;

Result<HornAnswer> horn(int teeth, double error_rad)
{
    constexpr int fewest = 4;
    constexpr int most = 100;
    if (teeth < fewest || teeth > most)
        return fail(Error::Kind::OutOfRange, "teeth", say("a spline of {} teeth", teeth),
                    say("count them: {} to {}, usually 21 or 25", fewest, most));
    if (!(std::abs(error_rad) <= std::numbers::pi))
        return fail(Error::Kind::OutOfRange, "error",
                    say("{} is more than half a turn", quantity(error_rad, Unit::Degree, 1)),
                    say("give the angle to straight ahead, −180 to 180 degrees"));
    HornAnswer a;
    a.step_rad = 2.0 * std::numbers::pi / teeth;
    const double exact = error_rad / a.step_rad;
    // Half a tooth either way is equally near; the hand then moves it less.
    const double toZero = std::trunc(exact);
    constexpr double tie = 1e-9;
    a.teethToMove =
        static_cast<int>(std::abs(exact - toZero) <= 0.5 + tie ? toZero : std::round(exact));
    a.trim_rad = error_rad - a.teethToMove * a.step_rad;
    return a;
}

Derivation whyHorn(int teeth, double error_rad)
{
    Derivation d;
    d.title = say("teeth to move the horn");
    const auto a = horn(teeth, error_rad);
    if (!a)
        return d;
    const auto deg = [](double rad) { return quantity(rad, Unit::Degree, 2); };
    d.result =
        say("{} {}", std::abs(a->teethToMove), std::abs(a->teethToMove) == 1 ? "tooth" : "teeth");
    d.steps = {{say("one tooth"), deg(a->step_rad), say("360° ÷ {}", teeth), say("of the spline")},
               {"missing", deg(error_rad), {}, say("to straight ahead, at the centre command")},
               {"moved",
                a->teethToMove < 0 ? say("+ {} × {}", -a->teethToMove, deg(a->step_rad))
                                   : say("− {} × {}", a->teethToMove, deg(a->step_rad)),
                {},
                say("whole teeth only")},
               {say("still missing"), "= " + deg(a->trim_rad), {}, say("at most half a tooth")}};
    d.aside = say("trim in the program {}", deg(a->trim_rad));
    return d;
}

double pulseAt_us(double angle_deg)
{
    constexpr double least_us = 544.0;
    constexpr double most_us = 2400.0;
    return least_us + (most_us - least_us) * angle_deg / 180.0;
}

} // namespace badger::mechanics
