// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/power/laws.h"

#include "core/units/quantity.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>

namespace badger::power
{

using units::quantity;
using units::Unit;

namespace
{

units::Quantity millivolts(double v)
{
    return quantity(v, Unit::Volt, 3);
}

/// Refuses what is not a number above 0 (or, where zero is allowed, below it).
Result<void> positive(double value, const char *field, const char *unit, bool zeroAllowed = false)
{
    if (std::isfinite(value) && (value > 0.0 || (zeroAllowed && value == 0.0)))
        return {};
    return fail(Error::Kind::OutOfRange, field,
                say("{} {} is not {}", units::number(value, 6), unit,
                    zeroAllowed ? say("0 or more") : say("above 0")),
                zeroAllowed ? say("give 0 or more") : say("give a value above 0"));
}

} // namespace

Result<double> regulatorHeat_W(const RegulatorSetup &s)
{
    for (auto ok : {positive(s.in_V, "in", "V"), positive(s.out_V, "out", "V"),
                    positive(s.current_A, "current", "A", true),
                    positive(s.diode_V, "drop of the diode", "V", true)})
        if (!ok)
            return tl::unexpected(ok.error());
    const double over_V = s.in_V - s.diode_V - s.out_V;
    if (over_V < 0.0)
        return fail(Error::Kind::OutOfRange, "in",
                    say("{} leave nothing for {}: the regulator cannot hold its output",
                        millivolts(s.in_V - s.diode_V), millivolts(s.out_V)),
                    say("feed it more volts, or take a lower output"));
    return over_V * s.current_A;
}

double regulatorNeeds_V(double out_V, double dropout_V, double diode_V)
{
    return out_V + dropout_V + diode_V;
}

Result<DutyCap> dutyCap(double supply_V, double drop_V, double rated_V)
{
    for (auto ok : {positive(supply_V, "supply", "V"), positive(drop_V, "drop", "V", true),
                    positive(rated_V, "rated", "V")})
        if (!ok)
            return tl::unexpected(ok.error());
    const double left_V = supply_V - drop_V;
    if (left_V <= 0.0)
        return fail(Error::Kind::OutOfRange, "supply",
                    say("the driver drops {} of {}: nothing is left for the motor",
                        millivolts(drop_V), millivolts(supply_V)),
                    say("take a higher supply, or a driver that drops less"));
    constexpr double full = 255.0;
    // The least excess over a whole number is rounding, not a count less.
    const double exact = full * rated_V / left_V;
    DutyCap cap;
    cap.count = static_cast<int>(std::min(full, std::floor(exact + 1e-9)));
    cap.mean_V = left_V * cap.count / full;
    cap.fullDutyMean_V = left_V;
    return cap;
}

double nextE12_ohm(double ohm)
{
    static constexpr std::array<double, 12> e12 = {1.0, 1.2, 1.5, 1.8, 2.2, 2.7,
                                                   3.3, 3.9, 4.7, 5.6, 6.8, 8.2};
    const double decade = std::pow(10.0, std::floor(std::log10(ohm)));
    for (const double step : e12)
        // A value that is itself a standard one is its own answer despite rounding.
        if (step * decade >= ohm * (1.0 - 1e-9))
            return step * decade;
    return 10.0 * decade;
}

Result<LedAnswer> ledResistor(double supply_V, double forward_V, double current_A)
{
    for (auto ok : {positive(supply_V, "supply", "V"), positive(forward_V, "forward", "V"),
                    positive(current_A, "current", "A")})
        if (!ok)
            return tl::unexpected(ok.error());
    if (supply_V <= forward_V)
        return fail(Error::Kind::OutOfRange, "supply",
                    say("{} do not exceed the forward volts of {}: the LED stays dark",
                        millivolts(supply_V), millivolts(forward_V)),
                    say("take a higher supply, or an LED of another colour"));
    LedAnswer a;
    a.exact_ohm = (supply_V - forward_V) / current_A;
    a.standard_ohm = nextE12_ohm(a.exact_ohm);
    a.real_A = (supply_V - forward_V) / a.standard_ohm;
    a.resistor_W = a.real_A * a.real_A * a.standard_ohm;
    a.naive_A = supply_V / a.standard_ohm;
    return a;
}

Result<double> dividerOut_V(double in_V, double top_ohm, double bottom_ohm)
{
    for (auto ok : {positive(in_V, "in", "V", true), positive(top_ohm, "top", "ohm", true),
                    positive(bottom_ohm, "bottom", "ohm")})
        if (!ok)
            return tl::unexpected(ok.error());
    return in_V * bottom_ohm / (top_ohm + bottom_ohm);
}

Result<double> runTime_h(double capacity_Ah, double usableShare, double mean_A)
{
    for (auto ok : {positive(capacity_Ah, "capacity", "Ah"), positive(mean_A, "current", "A")})
        if (!ok)
            return tl::unexpected(ok.error());
    if (!(usableShare > 0.0 && usableShare <= 1.0))
        return fail(Error::Kind::OutOfRange, say("usable share"),
                    say("{} is not a share above 0 up to 1", units::number(usableShare, 4)),
                    say("give a share, as 0.8"));
    return capacity_Ah * usableShare / mean_A;
}

} // namespace badger::power
