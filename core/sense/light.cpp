// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/sense/light.h"

#include "core/sense/reflectance.h"

#include <cmath>

namespace badger::sense
{

double lightResistance_ohm(const LightResistor &r, double lux)
{
    return r.ohm * std::pow(lux / r.lux, -r.exponent);
}

double lightCounts(double light_ohm, double partner_ohm)
{
    return mostCounts * partner_ohm / (light_ohm + partner_ohm);
}

double bestPartner_ohm(double bright_ohm, double dark_ohm)
{
    return std::sqrt(bright_ohm * dark_ohm);
}

} // namespace badger::sense
