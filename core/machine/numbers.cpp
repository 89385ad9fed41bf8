// SPDX-License-Identifier: GPL-3.0-or-later
// What the board makes of an echo, a count and a value.
#include "core/machine/machine.h"
#include "core/rules/board_numbers.h"

#include <cmath>

namespace badger::machine
{

using rules::Program;
using rules::Source;
using rules::ValueKind;

const rules::Reading *lengthOf(const Program &program, const rules::Reading &reading)
{
    if (reading.source == Source::Ranger || reading.source == Source::Scan)
        return &reading;
    if (reading.source == Source::Analogue && reading.scale == rules::Scale::Distance)
        return &reading;
    if ((reading.source == Source::Pick || reading.source == Source::Difference) &&
        !reading.of.empty()) {
        const auto *first = program.reading(reading.of.front());
        return first && first != &reading ? lengthOf(program, *first) : nullptr;
    }
    return nullptr;
}

double constantOf(const rules::Value &value, const rules::Reading *length, bool wide)
{
    const double number = value.kind == ValueKind::Distance && length
                              ? std::round(units::fromSi(*value.si, length->unit) * 1e4) / 1e4
                              : *value.si;
    return wide ? number : double(static_cast<float>(number));
}

std::optional<double> numberOf(const Machine &machine, const Sensor &sensor, std::uint32_t echo_us)
{
    if (echo_us == 0 || echo_us > sensor.timeOut_us)
        return std::nullopt;
    const double time =
        sensor.shortTime ? double(static_cast<std::int16_t>(echo_us & 0xffffU)) : double(echo_us);
    // The product of two 32-bit fractions is exact in 64 bits: rounding it once is what they do.
    const double fraction = kept(machine, kept(machine, time) * sensor.unitsPer_us);
    const double number = sensor.whole ? std::trunc(fraction) : fraction;
    // What is cut to nought is no echo, but where what is too near has a policy of its own.
    if (number == rules::noEchoNumber && !sensor.nearest)
        return std::nullopt;
    return number;
}

std::optional<double> numberOfCount(const Machine &machine, const Sensor &sensor, int count)
{
    switch (sensor.scale) {
    case rules::Scale::Raw:
        break;
    case rules::Scale::Normalised:
        return kept(machine,
                    kept(machine, count - sensor.dark) / kept(machine, sensor.light - sensor.dark));
    case rules::Scale::Distance:
        return count >= 0 && count < static_cast<int>(sensor.byCount.size())
                   ? sensor.byCount[static_cast<size_t>(count)]
                   : std::nullopt;
    }
    return count;
}

} // namespace badger::machine
