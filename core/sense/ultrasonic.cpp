// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/sense/ultrasonic.h"

#include "core/units/quantity.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <fmt/format.h>

namespace badger::sense
{

Result<double> speedOfSound_mps(double air_degC)
{
    if (!(air_degC >= -40.0 && air_degC <= 60.0))
        return fail(Error::Kind::OutOfRange, say("air temperature"),
                    say("{} °C is outside -40 to 60 °C", units::number(air_degC, 2)),
                    say("give the air temperature of the room"));
    return 331.3 * std::sqrt(1.0 + air_degC / 273.15);
}

Result<double> echoDistance_m(double echo_us, double air_degC)
{
    if (!(echo_us >= 0.0 && echo_us <= 1e6))
        return fail(Error::Kind::OutOfRange, say("echo time"),
                    say("{} us is outside 0 to 1000000 us", units::number(echo_us, 2)),
                    say("give the time the echo line was high"));
    return speedOfSound_mps(air_degC).map([&](double c) { return c * echo_us * 1e-6 / 2.0; });
}

double echoTime_us(double distance_m, double sound_mps)
{
    assert(sound_mps > 0.0 && distance_m >= 0.0);
    return 2e6 * distance_m / sound_mps;
}

double leastPingSpacing_s(double range_m, double noEchoHold_s, double sound_mps)
{
    constexpr double usualAdvice_s = 0.040;
    constexpr double margin_s = 0.002;
    assert(sound_mps > 0.0);
    return std::max({usualAdvice_s, 2.0 * range_m / sound_mps + margin_s, noEchoHold_s});
}

double beamWidth_m(double distance_m, double halfAngle_rad)
{
    return 2.0 * distance_m * std::tan(halfAngle_rad);
}

} // namespace badger::sense
