// SPDX-License-Identifier: GPL-3.0-or-later
// The `d` of a path as outlines of straight pieces. Private to drawing/.
#pragma once

#include "core/drawing/drawing.h"

namespace badger::drawing
{

struct Outline {
    std::vector<Place> points;
    bool closed = false;
};

/// All commands of SVG 1.1. Empty: it cannot be read.
std::optional<std::vector<Outline>> outlinesOf(std::string_view d);

/// Reads numbers parted by spaces or commas; false where something else stands there.
bool numbersOf(std::string_view text, std::vector<double> &numbers);

} // namespace badger::drawing
