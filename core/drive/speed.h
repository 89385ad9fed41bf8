// SPDX-License-Identifier: GPL-3.0-or-later
// How fast does the car go at a PWM count, and how far does it roll when told to stop?
//
// What was measured on this car comes first; the parts' data stand in where nothing was.
#pragma once

#include "core/base/result.h"
#include "core/drive/stopping.h"
#include "core/kit/assembly.h"

#include <string>
#include <vector>

namespace badger::drive
{

/// A number and where it comes from.
struct Sourced {
    double value = 0.0;
    Say from; ///< "measured at 7.9 V on Slipway, 2026-11-19"
    bool measured = false;
};

/// What the motor line needs to know.
struct MotorLine {
    double supply_V = 0.0;   ///< at the driver
    double drop_V = 0.0;     ///< over the bridge at running current
    double rated_V = 0.0;    ///< of the motor, above 0
    double noLoad_rpm = 0.0; ///< at rated volts
    double loadShare = 0.0;  ///< (running - no-load) / (stall - no-load) current, 0 to 1
    double wheelDiameter_m = 0.0;
    double deadBand = 0.25; ///< duty up to which the wheel does not turn, 0 to 1
};

/// How far the load pulls a motor down its torque line: (running - no-load) / (stall - no-load)
/// current, 0 to 1. Missing where the part lacks one of the three; OutOfRange where they do not
/// rise in that order.
Result<double> loadShare(const parts::Part &motor);

/// Ground speed at a duty of 0 to 1: motor volts = duty (supply - drop); wheel rpm = no-load rpm
/// (volts / rated - load share); v = pi D rpm / 60. Zero inside the dead band and where the load
/// holds the motor. Source: the linear torque line of a brushed motor. Linear in duty, which the
/// off phase bends at low duty: measured speeds replace it.
double groundSpeed_mps(const MotorLine &line, double duty);

/// Speed of this car at a count of 0 to 255: the measured reading of that count; else, from the
/// nearest measured count, scaled over the dead band; else from the parts with fresh cells, which
/// is the fastest it goes, with the volts that the network gives its motor. A drive servo has no
/// dead band and turns in proportion to the count. Errors: a count outside 0 to 255; parts missing.
Result<Sourced> speedAt(const kit::Assembly &car, int pwm_counts);

/// The speeds of all 256 counts: speedAt without its words, for a simulation.
Result<std::vector<double>> speedTable_mps(const kit::Assembly &car);

/// The speed at full duty with nearly empty cells, as a share of that with fresh ones: 0 to 1; 1
/// where nothing says it, as of a car without parts enough or on a supply of steady volts.
double emptyShare(const kit::Assembly &car);

/// The roll-out curve of this car for braking or coasting: measured; else the motor's rise time
/// as an electrical decay (three times as long when coasting, a choice of ours on the safe side);
/// of a drive servo a tenth of a second, as its gears hold.
struct SourcedRoll {
    RollCurve curve;
    Say from;
    bool measured = false;
};
Result<SourcedRoll> rollOutOf(const kit::Assembly &car, bool brake);

} // namespace badger::drive
