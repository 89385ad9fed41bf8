// SPDX-License-Identifier: GPL-3.0-or-later
// How is a floor drawn as SVG, so that it prints at 1:1 and is read back as it was?
#pragma once

#include "core/base/say.h"
#include "core/floor/floor.h"

namespace badger::floor
{

/// Ten units a centimetre, y down, its size in millimetres. The root's `data-` attributes say which
/// colour is what, and the air, surface and light, so that from_drawing.h takes it without being
/// told. What SVG has no word for is not in it: see notInSvg().
std::string asSvg(const Floor &floor);

/// "2 things that move", "1 shaded part of the floor"; empty: all of it is in the drawing.
std::vector<Say> notInSvg(const Floor &floor);

/// The colours that asSvg() draws with, by the word of meanings().
const char *colourOf(std::string_view word);

} // namespace badger::floor
