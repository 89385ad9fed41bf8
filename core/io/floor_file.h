// SPDX-License-Identifier: GPL-3.0-or-later
// How does one floor become text of its own, to be given to somebody else?
#pragma once

#include "core/base/result.h"
#include "core/floor/floor.h"

#include <string>
#include <string_view>

namespace badger::io
{

/// The floor as JSON, with the keys that a workshop file has for it and a head of its own:
/// everything of it, and unknown keys, too.
std::string writeFloor(const floor::Floor &floor);

/// Reads what writeFloor() wrote, to the limits of a workshop file (docs/file-format.md). The error
/// names a line or a JSON pointer.
Result<floor::Floor> readFloor(std::string_view text);

} // namespace badger::io
