// SPDX-License-Identifier: GPL-3.0-or-later
// Columns of a CSV file that was named at the command line.
#pragma once

#include "core/tune/csv.h"

namespace badger::cli
{

/// Reads it as a stream; "-" is the standard input.
Result<tune::CsvColumns> csvFile(const std::string &path, std::vector<tune::WantedColumn> wanted);

} // namespace badger::cli
