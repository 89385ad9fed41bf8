// SPDX-License-Identifier: GPL-3.0-or-later
// Verdicts of what a car and its servos do; verdictOf() asks them.
#pragma once

#include "core/tune/record.h"

namespace badger::tune
{

/// What is missing or wrong, with its mend as what the hand does.
Verdict notYet(const Error &why);
/// "43 %"
Say percent(double share);

Verdict turnVerdict(const Record &record);
Verdict speedVerdict(const Record &record);
Verdict straightVerdict(const Record &record);
Verdict hornVerdict(const Record &record);
Verdict lineVerdict(const Record &record);

} // namespace badger::tune
