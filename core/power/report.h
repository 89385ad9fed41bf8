// SPDX-License-Identifier: GPL-3.0-or-later
// What does the supply of this car come to: motor volts, duty cap, speed, run time, LEDs?
#pragma once

#include "core/kit/assembly.h"
#include "core/power/laws.h"
#include "core/power/tree.h"

#include <optional>
#include <vector>

namespace badger::power
{

/// One motor on its channel, at one state of charge.
struct MotorAnswer {
    std::string motor; ///< the instance
    std::string channel;
    std::string name;
    double supply_V = 0.0;  ///< at the driver, without sag: the cap has to hold when nothing sags
    double running_V = 0.0; ///< at the motor at full duty, while everything runs
    double drop_V = 0.0;    ///< at running current
    Say dropHow;            ///< "= 1.8 V + 0.25 A × 1.4 ohm"; empty where one figure is all
    double rated_V = 0.0;
    DutyCap cap;
    std::optional<double> wheel_rpm;     ///< at full duty, by the torque line; none where missing
    std::optional<double> speedFull_mps; ///< over the floor at 255
    std::optional<double> speedCap_mps;  ///< at the cap
    bool servo = false;       ///< a continuous servo: told by pulses, has no count and no cap
    int deadBand_counts = -1; ///< up to which it does not turn; -1 where not known
};

struct RunTime {
    double typical_h = 0.0;
    double low_h = 0.0; ///< least charge, greatest currents
    double high_h = 0.0;
    Derivation why;
};

struct LedLook {
    std::string instance;
    double supply_V = 0.0;
    double forward_V = 0.0;
    double wanted_A = 0.0;
    LedAnswer answer;
};

/// A divider behind a sensor's output: what is left for the pin.
struct DividerLook {
    std::string instance;
    std::string signal; ///< "ranger.ECHO"
    double in_V = 0.0;
    double top_ohm = 0.0;
    double bottom_ohm = 0.0;
    double out_V = 0.0;
};

struct Report {
    Tree tree;
    std::array<std::vector<MotorAnswer>, 3> motors; ///< by charge; motors that no supply reaches
                                                    ///< are left out
    std::optional<RunTime> runTime;
    std::vector<LedLook> leds;
    std::vector<DividerLook> dividers;

    const std::vector<MotorAnswer> &at(kit::Charge charge) const
    {
        return motors[static_cast<size_t>(charge)];
    }
};

Report report(const kit::Assembly &car);

/// Why this motor has these volts and this cap: supply, drop, rated volts, the division by 255.
Derivation whyCap(const MotorAnswer &answer, kit::Charge charge);
/// Why these mean volts at full duty: supply and drop.
Derivation whyFullDuty(const MotorAnswer &answer, kit::Charge charge);
Derivation whySpeed(const MotorAnswer &answer, const kit::Assembly &car);
Derivation whyLed(const LedLook &led);
Derivation whyDivider(const DividerLook &divider);

/// The most volts that come out of a sensor's output: those it is fed with. Empty where it is not
/// fed.
std::optional<double> signal_V(const Tree &tree, const kit::Assembly &car,
                               const std::string &instance);

/// Volts without load that the source of an output needs for the output to be held in a state:
/// what the output asks for and what is lost on the way. Empty where the node is no output or its
/// dropout is not known.
std::optional<double> leastSource_V(const Report &report, const kit::Assembly &car, int output,
                                    State state);

} // namespace badger::power
