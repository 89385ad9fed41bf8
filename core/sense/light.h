// SPDX-License-Identifier: GPL-3.0-or-later
// What does a light-dependent resistor read in a divider?
#pragma once

namespace badger::sense
{

struct LightResistor {
    double ohm = 10000.0;  ///< R0, at `lux`; above 0
    double lux = 10.0;     ///< above 0
    double exponent = 0.7; ///< gamma, usually 0.6 to 0.8
};

/// R = R0 (lux / lux0)^-gamma, in ohm. `lux` above 0.
/// Source: the usual law of such resistors, straight on doubly logarithmic paper.
double lightResistance_ohm(const LightResistor &resistor, double lux);

/// Counts, 0 to 1023, of a divider with the light resistor to the supply and `partner_ohm` to
/// ground: brighter reads higher. 1023 R2 / (R + R2), before it is cut to whole numbers.
double lightCounts(double light_ohm, double partner_ohm);

/// The partner that parts two lights the most: the square root of the product of the resistor's
/// values in them. Both above 0. Source: where the divider's slope between the two is greatest.
double bestPartner_ohm(double bright_ohm, double dark_ohm);

} // namespace badger::sense
