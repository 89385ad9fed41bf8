// SPDX-License-Identifier: GPL-3.0-or-later
// What ends a row, by name and with its sum. Private to window/.
#pragma once

#include "core/window/scene_run.h"

namespace badger::window
{

/// Fills in what and why of a limit whose place and touch are known.
void explain(Limit &limit, const SceneRuns &runs, const Row &row, const Places &places);

/// The rows that suit a car, from its program's task and its outline.
std::vector<Row> proposedFor(const Places &places, task::Kind task);

} // namespace badger::window
