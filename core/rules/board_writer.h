// SPDX-License-Identifier: GPL-3.0-or-later
// How is a program written out, once everything it needs has been found?
#pragma once

#include "core/nets/drive_map.h"
#include "core/rules/board_code.h"

#include <map>

namespace badger::rules
{

/// A wheel's pins. Without an enable its two inputs carry the speed themselves.
struct WheelText {
    nets::WheelDrive drive;
    nets::WheelPins pins;
};

/// Everything looked up before a line is written.
struct BoardSource {
    const Program &program;
    const kit::Car &car;
    std::string workshop;
    WheelText left;
    WheelText right;
    nets::Levels brake;
    nets::Levels coast;
    std::map<std::string, std::pair<std::string, std::string>> pingPins; ///< by reading
};

/// The text. The program is complete; pins and levels are those of the source.
BoardCode writeBoardCode(const BoardSource &source);

} // namespace badger::rules
