// SPDX-License-Identifier: GPL-3.0-or-later
// How are an axis and its atoms said? In words of the table: they are the same in every language.
#pragma once

#include "core/regions/regions.h"

#include <string>

namespace badger::regions
{

/// "ahead", "right - left", "fan angle", "turn", "time".
std::string axisName(const rules::Program &program, const Axis &axis);

/// "1..18", ">18..<45", "none", "none 3 times", "1", "left", "other", "after 500 ms"; of a pair its
/// difference, "..-4".
std::string atomWords(const Machine &machine, const Axis &axis, const Atom &atom);

/// " cm" behind a length; nothing behind a count.
std::string axisUnit(const rules::Program &program, const Axis &axis);

/// What is said of an axis: "ahead 1..18"; of a pair "left < right", or "right - left > 3" where it
/// is cut elsewhere than at nought, and nothing over its whole range. With its unit where that is
/// asked for: "ahead 1..18 cm".
std::string axisWords(const rules::Program &program, const Machine &machine, const Axis &axis,
                      const Atom &atom, bool withUnits = false);
/// Of a row, each axis of which something is said.
std::vector<std::string> rowWords(const rules::Program &program, const Machine &machine,
                                  const Regions &regions, const Row &row, bool withUnits = false);

} // namespace badger::regions
