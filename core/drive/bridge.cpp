// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/bridge.h"

#include "core/units/quantity.h"

#include <fmt/format.h>

namespace badger::drive
{

Result<double> figureOf(const parts::Part &part, const char *key, kit::Bound bound)
{
    if (const auto *figure = part.figure(key))
        return kit::at(*figure, bound);
    return fail(Error::Kind::Missing, part.name, say("its {} is not known", parts::figureName(key)),
                say("add it to the part from the maker's sheet"));
}

Result<BridgeDrop> bridgeDrop(const parts::Part &driver, double current_A, kit::Bound bound)
{
    if (const auto *on = driver.figure("on_ohm")) {
        const double ohm = kit::at(*on, bound);
        return BridgeDrop{ohm * current_A,
                          say("{} × {}", units::quantity(current_A, units::Unit::Ampere),
                              units::quantity(ohm, units::Unit::Ohm))};
    }
    return figureOf(driver, "drop_V", bound).map([&](double light_V) {
        const auto *rise = driver.figure("drop_ohm");
        if (rise == nullptr)
            return BridgeDrop{light_V, {}};
        const double ohm = kit::at(*rise, bound);
        return BridgeDrop{light_V + ohm * current_A,
                          say("{} + {} × {}", units::quantity(light_V, units::Unit::Volt, 1),
                              units::quantity(current_A, units::Unit::Ampere),
                              units::quantity(ohm, units::Unit::Ohm))};
    });
}

} // namespace badger::drive
