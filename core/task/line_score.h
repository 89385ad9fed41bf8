// SPDX-License-Identifier: GPL-3.0-or-later
// How well was a line followed? Private to task/.
#pragma once

#include "core/task/score.h"

namespace badger::task
{

/// Fills in laps, losses and swing. The sensors' middle is followed; a line is lost while it lies
/// beyond all sensors, a lane while the middle is not between its two lines.
void scoreLine(const world::Plan &plan, const world::Trace &trace, Score &to);

} // namespace badger::task
