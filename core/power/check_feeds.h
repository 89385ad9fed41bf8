// SPDX-License-Identifier: GPL-3.0-or-later
// Checks of what is said to feed each part; check_supply.cpp lists them among the rules about
// sources.
#pragma once

#include "core/power/check.h"

namespace badger::power
{

/// A feed from what is not there, or gives nothing.
std::vector<Finding> brokenFeed(const Look &look, const char *code);
/// What nothing feeds, with all that stands still because of it as its lines. On a car with wires
/// they say it.
std::vector<Finding> unfed(const Look &look, const char *code);
/// What is said to feed an input is not what the wires lead to it.
std::vector<Finding> feedNotAsWired(const Look &look, const char *code);
std::vector<Finding> twoSources(const Look &look, const char *code);

} // namespace badger::power
