// SPDX-License-Identifier: GPL-3.0-or-later
// Where do keys of a file go that this version does not know?
#pragma once

#include <map>
#include <string>

namespace badger
{

/// Unknown keys of one JSON object, each with its value as JSON text. Kept so that loading and
/// saving a file made by a later version loses nothing.
using Extra = std::map<std::string, std::string>;

} // namespace badger
