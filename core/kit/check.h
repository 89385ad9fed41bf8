// SPDX-License-Identifier: GPL-3.0-or-later
// What is wrong with a kit, its power left aside?
#pragma once

#include "core/base/check.h"
#include "core/kit/assembly.h"

namespace badger::kit
{

/// Gaps of the mission, and pins that do not suffice. An exact plan of the pins is another matter.
/// A car without any part has nothing to check and gets no sentence.
Findings checkMission(const Assembly &car);
/// Tipping, unknown masses and places, parts outside the deck, bore and shaft. As above.
Findings checkBuild(const Assembly &car);

/// What each of these checks is called and says, for the list of findings.
std::vector<CheckLine> missionLines();
std::vector<CheckLine> buildLines();

} // namespace badger::kit
