// SPDX-License-Identifier: GPL-3.0-or-later
// What ends a row, by name and with its sum. Private to window/.
#pragma once

#include "core/window/scene_run.h"

namespace badger::window
{

/// Fills in what and why of a limit whose place and touch are known.
void explain(Limit &limit, const SceneRuns &runs, const Row &row, const Places &places);

/// Of the run that was driven last, with this number: did the car stop, read what means nothing
/// inside the dead zone, and drive on before it touched?
bool drivesOn(const SceneRuns &runs, std::uint64_t number);

/// Of the run that was driven last, with this number: where it lost its line.
std::optional<floor::Bend> lostAt(const SceneRuns &runs, std::uint64_t number);

/// The rows that suit a car, from its program's task and its outline.
std::vector<Row> proposedFor(const Places &places, task::Kind task);

} // namespace badger::window
