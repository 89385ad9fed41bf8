// SPDX-License-Identifier: GPL-3.0-or-later
// The readings of a written board program, and what one pass does with them.
#pragma once

#include "core/rules/board_text.h"

namespace badger::rules
{

/// One function for each reading, with its median and what it holds.
void writeReadings(BoardText &text);
/// The inside of one pass: look, decide, end waits, print, pause.
void writePass(BoardText &text);

} // namespace badger::rules
