// SPDX-License-Identifier: GPL-3.0-or-later
// Checks of what sags, dips or gets hot; check_supply.cpp lists them among the rules about sources.
#pragma once

#include "core/power/check.h"

namespace badger::power
{

std::vector<Finding> sags(const Look &look, const char *code);
std::vector<Finding> brownOut(const Look &look, const char *code);
std::vector<Finding> hotRegulator(const Look &look, const char *code);
std::vector<Finding> notHeld(const Look &look, const char *code);

} // namespace badger::power
