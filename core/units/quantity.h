// SPDX-License-Identifier: GPL-3.0-or-later
// Which quantity did a person type?
//
// The window and the command line both read with it, so both accept the same words.
#pragma once

#include "core/base/result.h"
#include "core/base/unit.h"

namespace badger::units
{

/// Reads one quantity, such as "29 cm", "11,5in", "1740us" or "22 C".
///
/// Returns the SI value. The number is decimal, with a point or a comma (thousands are not parted);
/// spaces around number and unit are ignored. Errors, each with a mend: no number, no unit (PWM
/// counts alone need none), a unit of another dimension, an unknown unit, more than one point or
/// comma, a value beyond 1e9 SI units. `where` is put into the error as it is.
Result<double> parse(std::string_view text, Dimension dimension, const std::string &where = {});

} // namespace badger::units
