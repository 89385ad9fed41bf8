// SPDX-License-Identifier: GPL-3.0-or-later
// The rows of a CSV text as they stand, for tables whose cells are words and numbers mixed.
#pragma once

#include "core/base/result.h"

#include <string>
#include <string_view>
#include <vector>

namespace badger::tune
{

/// Rows of cells, spaces around each taken off, empty lines left out; the first row names the
/// columns. Parted by commas, or by semicolons or tabs where the first row has those and no comma.
/// Fails with Missing for a text without a row, with OutOfRange beyond a million rows, with
/// Malformed for a row that has other cells than the first.
Result<std::vector<std::vector<std::string>>> csvRows(std::string_view text,
                                                      const std::string &where);

} // namespace badger::tune
