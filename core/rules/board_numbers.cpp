// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/board_numbers.h"

#include "core/sense/ultrasonic.h"

#include <cassert>
#include <cmath>

namespace badger::rules
{

double sound_mps(const Reading &reading)
{
    const auto c = sense::speedOfSound_mps(reading.air_degC.value_or(20.0));
    assert(c && "the reader and the editor keep the air temperature inside the law's range");
    return *c;
}

double unitsPer_us(const Reading &reading)
{
    return sound_mps(reading) / 2.0 * 1e-6 / units::info(reading.unit).inSi;
}

std::uint32_t timeOut_us(const Reading &reading)
{
    assert(reading.limit_m);
    return static_cast<std::uint32_t>(
        std::ceil(sense::echoTime_us(*reading.limit_m, sound_mps(reading))));
}

double constantIn(const Value &value, units::Unit unit)
{
    assert(value.si);
    const double inUnit = units::fromSi(*value.si, unit);
    return double(static_cast<float>(std::round(inUnit * 1e4) / 1e4));
}

bool holds(double number, Compare compare, double constant)
{
    switch (compare) {
    case Compare::Less:
        return number < constant;
    case Compare::LessOrEqual:
        return number <= constant;
    case Compare::Greater:
        return number > constant;
    case Compare::GreaterOrEqual:
        break;
    }
    return number >= constant;
}

} // namespace badger::rules
