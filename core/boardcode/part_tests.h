// SPDX-License-Identifier: GPL-3.0-or-later
// Board programs that try one part each, with the car's own pins.
#pragma once

#include "core/boardcode/board_code.h"
#include "core/kit/assembly.h"

namespace badger::boardcode
{

/// One program a group of parts: motors alone each way, each ranger, the line sensors, each servo,
/// lights and buzzers, and on the 5 V 8-bit board one that sends every sensor's readings in lines
/// (core/link/lines.h); then what they lean on. Pins are those the wires lead to. The bare chip
/// prints nothing, so that what is only read has no program there.
///
/// Parts without a pin are left out and named in a comment. Fails with Missing where the car has no
/// board that is programmed with a text, or where no part has a pin.
Result<std::vector<BoardFile>> partTests(const kit::Assembly &car, const std::string &workshop);

} // namespace badger::boardcode
