// SPDX-License-Identifier: GPL-3.0-or-later
// Does a window that was kept rest on the same car, program and floor as today's?
#pragma once

#include "core/judge/judge.h"

#include <string>

namespace badger::io
{

/// Sixteen digits over everything that the runs of a window rest on, as a file has it: the car
/// without its name and notes (ticks, walk, history, kept windows), the program without this value, its
/// version and name, the floor, the workshop's own parts and the car's records. Alike for whatever
/// is alike, in any order of opening and saving; a difference is seen in all but one of 2^64 cases.
/// Program and floor are there.
std::string fingerprintOf(const judge::Grounds &on, const std::string &value);

} // namespace badger::io
