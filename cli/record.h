// SPDX-License-Identifier: GPL-3.0-or-later
// Readings of a board into a file, as they come.
#pragma once

#include "cli/answer.h"

#include <string>

namespace badger::cli
{

struct RecordOptions {
    std::string port, csv, lasts;
    int baud = 115200;
    bool replace = false;
};

/// One row a sample: the board's time, and one column a channel, named with its unit; "none" where
/// nothing came back, an empty cell where it was not read. A port that goes away is waited for, and
/// the gap is a row of its own. Ends after `lasts`, or when it is interrupted.
Result<Answer> record(const RecordOptions &options);

} // namespace badger::cli
