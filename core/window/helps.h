// SPDX-License-Identifier: GPL-3.0-or-later
// What would help where no place of a row holds? Private to window/.
#pragma once

#include "core/window/row_search.h"

namespace badger::window
{

/// Drives the row anew with one thing about the program changed at a time: six tenths of the speed;
/// no echo that stops, or holds the last reading. Gives those with which none of so many runs
/// touched and the job was done, at the best place that was found.
std::vector<RowAnswer::Help> helpsFor(const RowAnswer &answer, const Question &question,
                                      const Handle &handle, task::Kind task,
                                      const std::function<bool()> &go);

} // namespace badger::window
