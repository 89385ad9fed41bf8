// SPDX-License-Identifier: GPL-3.0-or-later
// Is a text JSON?
#pragma once

#include "core/io/json_archive.h"

#include <string_view>

namespace badger::io
{

/// Parses JSON. Refuses doubled keys (one of them would be lost), more than 64 levels, numbers no
/// double holds, and text that is not JSON; the place is "line L, column C".
Result<Json> parseJson(std::string_view text);

} // namespace badger::io
