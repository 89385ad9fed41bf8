// SPDX-License-Identifier: GPL-3.0-or-later
// The small sums of a supply: regulator, duty cap, LED, divider, run time.
//
// Each refuses input that makes no sense with an error naming the field; none clamps in silence.
#pragma once

#include "core/base/result.h"

#include <optional>

namespace badger::power
{

/// Above the first a linear regulator without a heat sink gets too hot to touch, above the second
/// it cuts out or burns. Source: a choice of ours, on the safe side of usual packages.
inline constexpr double warmRegulator_W = 0.5;
inline constexpr double hotRegulator_W = 1.0;

struct RegulatorSetup {
    double in_V = 0.0;      ///< before the diode, above 0
    double out_V = 0.0;     ///< above 0
    double current_A = 0.0; ///< through it, 0 or more
    double diode_V = 0.0;   ///< of a diode in this path; 0 where there is none
};
/// Heat of a linear regulator: P = (V_in - V_diode - V_out) I. Where the input is too low to
/// regulate at all the answer is OutOfRange. Source: energy balance of a series element.
Result<double> regulatorHeat_W(const RegulatorSetup &setup);

/// Least volts before the diode for the output to be held: V_out + dropout + V_diode.
double regulatorNeeds_V(double out_V, double dropout_V, double diode_V);

/// The greatest PWM count at which a motor's mean volts stay at or below its rated volts:
/// min(255, floor(255 V_rated / (V_supply - V_drop))). OutOfRange where the supply does not exceed
/// the drop, or a value is not above 0. Source: mean of a chopped voltage, linear in duty.
struct DutyCap {
    int count = 0;               ///< 0 to 255
    double mean_V = 0.0;         ///< at that count
    double fullDutyMean_V = 0.0; ///< at 255
};
Result<DutyCap> dutyCap(double supply_V, double drop_V, double rated_V);

/// The resistor of an LED: R = (V - V_f) / I, the next standard value up (E12), and what then
/// really flows. OutOfRange where the supply does not exceed the forward volts.
struct LedAnswer {
    double exact_ohm = 0.0;
    double standard_ohm = 0.0;
    double real_A = 0.0;
    double resistor_W = 0.0;
    double naive_A = 0.0; ///< V / R: what leaving the forward volts out would claim
};
Result<LedAnswer> ledResistor(double supply_V, double forward_V, double current_A);

/// The least value of the E12 series that is not below `ohm`; above 0.
double nextE12_ohm(double ohm);

/// Volts in the middle of two resistors without load: V R2 / (R1 + R2).
Result<double> dividerOut_V(double in_V, double top_ohm, double bottom_ohm);

/// How long a charge lasts: C usable / I. Hours. Usable is a share above 0 up to 1.
Result<double> runTime_h(double capacity_Ah, double usableShare, double mean_A);

} // namespace badger::power
