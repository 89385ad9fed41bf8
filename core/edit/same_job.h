// SPDX-License-Identifier: GPL-3.0-or-later
// Which terminal of another part does what this one does?
#pragma once

#include "core/parts/catalogue.h"

#include <string>

namespace badger::edit
{

/// The terminal of `to` of that name, or else the one with the same job as `name` has on `from`:
/// role, channel and place among those of its role; of a driver's output that of the input which
/// drives it high. Of drivers the job alone counts: they number their inputs in many ways. A name
/// that is none of `from`'s is a channel, and stays. A board's pins and supplies go by their names
/// alone: the fifth pin of one board is not the fifth of another. Empty: there is none.
std::string sameJob(const parts::Part &from, const std::string &name, const parts::Part &to);

} // namespace badger::edit
