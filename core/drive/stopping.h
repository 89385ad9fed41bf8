// SPDX-License-Identifier: GPL-3.0-or-later
// Where does the car stand when it has stopped?
//
//   gap at rest = threshold - v (age + loop + actuation) - roll-out - sensor error - set-back
//
// Worst case uses the whole loop (the obstacle crossed the threshold just after a reading), the
// typical case half of it. A median of n readings needs (n + 1) / 2 loops before a majority has
// crossed, and a rule that wants n readings in succession n - 1 loops more. Source: uniform speed
// during the latency; the roll-out law is chosen by trials.
#pragma once

#include "core/base/result.h"
#include "core/base/say.h"
#include "core/kit/car.h"

#include <optional>
#include <string>
#include <vector>

namespace badger::drive
{

/// What the budget is made of. A default is either true or refused.
struct StopSetup {
    double threshold_m = 0.0;   ///< reading at which the car is told to stop, above 0
    double speed_mps = 0.0;     ///< closing speed, 0 to 5
    double loop_s = 0.0;        ///< start of one reading to the start of the next, 0 to 5
    double age_s = 0.0;         ///< of the reading when it is used, 0 to 5
    double actuation_s = 0.0;   ///< from the command to the motor's answer, 0 to 5
    double rollOut_m = 0.0;     ///< from the motor's answer to rest, at this speed, 0 to 10
    double sensorError_m = 0.0; ///< reading may be this much too long, 0 to 1
    double setBack_m = 0.0;     ///< sensor behind the foremost point, -1 to 1
    int medianOf = 1;           ///< odd, 1 to 15
    int inSuccession = 1;       ///< readings that have to say so, 1 to 100
};

/// One line of the sum: how much it takes, and how.
struct StopTerm {
    std::string key; ///< "latency"
    Say name;        ///< "age and loop"
    double worst_m = 0.0;
    double typical_m = 0.0;
    Say how; ///< "0.24 m/s x 65 ms"
};

struct StopBudget {
    double worstGap_m = 0.0; ///< negative: the car is past the obstacle, by that much
    double typicalGap_m = 0.0;
    std::vector<StopTerm> terms;      ///< what is taken from the threshold, in the order of the sum
    const StopTerm *dominant() const; ///< the largest term at worst, or null when all are 0
};

/// Refuses a setup with a field outside its range (OutOfRange, naming field and range).
Result<StopBudget> stopBudget(const StopSetup &setup);

/// Least threshold that leaves `wantedGap_m` at worst: the wanted gap plus every term.
Result<double> leastThreshold_m(const StopSetup &setup, double wantedGap_m);

/// A roll-out measured at one speed, carried to another by its law:
/// Electrical s = s0 (v / v0); Friction s = s0 (v / v0)^2.
struct RollCurve {
    double distance_m = 0.0; ///< s0, 0 or more
    double speed_mps = 0.0;  ///< v0, above 0
    kit::RollLaw law = kit::RollLaw::Friction;
};
double rollOut_m(const RollCurve &curve, double speed_mps);

/// Greatest closing speed that still leaves `wantedGap_m` at worst with the setup's threshold; the
/// roll-out follows `curve` and the setup's own speed and roll-out are not used.
/// Solves v t + roll(v) = room; empty where even standing still leaves less than wanted; infinite
/// where neither latency nor roll-out takes anything. Valid within the law's own range only: far
/// from the measured speed it is an extrapolation, and the caller says so.
Result<std::optional<double>> greatestSpeed_mps(const StopSetup &setup, const RollCurve &curve,
                                                double wantedGap_m);

} // namespace badger::drive
