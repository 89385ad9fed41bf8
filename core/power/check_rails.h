// SPDX-License-Identifier: GPL-3.0-or-later
// Checks of what sags, dips or gets hot; check_supply.cpp lists them among the rules about sources.
#pragma once

#include "core/power/check.h"

namespace badger::power
{

/// The part of an input is fed at its rail: what hangs on the input does not matter to it.
bool livesOtherwise(const Look &look, const Node &n);

std::vector<Finding> sags(const Look &look, const char *code);
std::vector<Finding> brownOut(const Look &look, const char *code);
/// One advice a source: at which volts without load what hangs on it goes short.
std::vector<Finding> rechargeBefore(const Look &look, const char *code);
std::vector<Finding> hotRegulator(const Look &look, const char *code);
std::vector<Finding> regulatorOverVolts(const Look &look, const char *code);
std::vector<Finding> notHeld(const Look &look, const char *code);

} // namespace badger::power
