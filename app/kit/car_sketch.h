// SPDX-License-Identifier: GPL-3.0-or-later
// A car from above, small: to be recognised, not to be measured.
#pragma once

#include "app/theme/theme.h"
#include "core/kit/car.h"

#include <QPainter>

namespace badger::app
{

/// Draws deck, wheels, parts and beams into `box`, nose to the right, to scale.
void paintCarSketch(QPainter &painter, const QRectF &box, const kit::Car &car,
                    const parts::Catalogue &catalogue, const Theme &theme);

} // namespace badger::app
