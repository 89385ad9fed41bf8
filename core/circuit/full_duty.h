// SPDX-License-Identifier: GPL-3.0-or-later
// What does a motor, or a servo that drives a wheel, get at full duty?
#pragma once

#include "core/kit/assembly.h"

#include <optional>

namespace badger::circuit
{

struct FullDuty {
    double supply_V = 0.0; ///< at the driver's motor supply, or the servo's, while everything runs
    double motor_V = 0.0;  ///< at the motor; of a servo its supply
};

/// Of the first motor on the left, else on the right, else on no side; of the first drive servo
/// where there is no motor: read off the network with every bridge on and every motor running under
/// its load, typical figures. What is stated and not wired yet counts as wired. Empty where no
/// volts reach a motor, or a figure is missing.
std::optional<FullDuty> fullDuty(const kit::Assembly &car, kit::Charge charge);

} // namespace badger::circuit
