// SPDX-License-Identifier: GPL-3.0-or-later
// Board programs that try one part each, with the car's own pins.
#pragma once

#include "core/boardcode/board_code.h"
#include "core/kit/assembly.h"

namespace badger::boardcode
{

/// One program a group of parts: motors alone each way, each ranger, the line sensors, each servo,
/// lights and buzzers, and one that sends every sensor's readings in lines (core/link/lines.h);
/// then the support header. Pins are those the wires lead to.
///
/// Parts without a pin are left out and named in a comment. Fails with Missing where the car has no
/// 5 V 8-bit board, for which the support header is written, or where no part has a pin.
Result<std::vector<BoardFile>> partTests(const kit::Assembly &car, const std::string &workshop);

} // namespace badger::boardcode
