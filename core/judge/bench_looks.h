// SPDX-License-Identifier: GPL-3.0-or-later
// What a bench measurement means on this car and for the program that it runs.
#pragma once

#include "core/base/derivation.h"
#include "core/kit/assembly.h"
#include "core/rules/program.h"
#include "core/tune/looks.h"

#include <optional>
#include <string>
#include <vector>

namespace badger::judge
{

/// A number that the program compares a ranger's reading with, and what becomes of it.
struct EchoMark {
    std::string reading;
    std::string value; ///< "halt"
    rules::Compare compare = rules::Compare::LessOrEqual;
    double threshold_m = 0.0;
    double echo_s = 0.0; ///< of the threshold, in the air as it is
    double cut_m = 0.0;  ///< the number read at which it turns: whole numbers are cut
    /// The true distance at which the condition turns: cut_m · c here / c assumed.
    double turns_m = 0.0;
};

/// The chain from echo to condition in air that was measured.
struct EchoLook {
    double air_degC = 0.0;
    double sound_mps = 0.0;
    std::optional<double> assumed_degC; ///< by the program
    std::vector<EchoMark> marks;
    std::optional<double> limit_m;   ///< of the program's reading
    std::optional<double> timeOut_s; ///< 2 limit / c
    double leastSpacing_s = 0.0;     ///< of two pings, start to start
};
/// `air_degC` is that of the bench. Fails where `instance` is no ranger of the car, or the air is
/// outside the sound law.
Result<EchoLook> echoLook(const kit::Assembly &car, const rules::Program *program,
                          const std::string &instance, double air_degC);
Derivation whyEcho(const EchoLook &look);

/// The looks of a program that a servo has to be still for: its steps and the way back.
struct SweepLook {
    std::string reading;
    tune::SweepDwell needed;       ///< by what was timed, else by the part's figure
    std::optional<double> dwell_s; ///< what the program waits; none where it is unset
};
std::vector<SweepLook> sweepLooks(const kit::Assembly &car, const rules::Program *program,
                                  const std::string &servo, const tune::Record &record);
/// The horn's teeth and trim, then the sweeps.
Derivation whyHornRecord(const kit::Assembly &car, const rules::Program *program,
                         const tune::Record &record);

/// Of an edge follower: nothing is stable above this, whatever its gain.
///     v < L / (lag of the motors + delay of the loop)
struct EdgeLook {
    double ahead_m = 0.0; ///< the sensor before the drive axle
    double lag_s = 0.0;
    double delay_s = 0.0;
    double fastest_mps = 0.0;
};
/// None where the sensor has no place before the axle, or the car no motors with a rise time.
std::optional<EdgeLook> edgeLook(const kit::Assembly &car, const rules::Program *program);
Derivation whyLine(const kit::Assembly &car, const rules::Program *program,
                   const tune::Record &record);
Derivation whyLamp(const tune::Record &record);
Derivation whyTrimmer(const tune::Record &record);

} // namespace badger::judge
