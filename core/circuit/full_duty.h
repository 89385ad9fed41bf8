// SPDX-License-Identifier: GPL-3.0-or-later
// What does a motor get at full duty?
#pragma once

#include "core/kit/assembly.h"

#include <optional>

namespace badger::circuit
{

struct FullDuty {
    double supply_V = 0.0; ///< at the driver's motor supply, while every motor runs
    double motor_V = 0.0;  ///< at the motor
};

/// Of the first motor on the left, else on the right, else on no side: read off the network with
/// every bridge on and every motor running under its load, typical figures. What is stated and not
/// wired yet counts as wired. Empty where no volts reach a motor, or a figure is missing.
std::optional<FullDuty> fullDuty(const kit::Assembly &car, kit::Charge charge);

} // namespace badger::circuit
