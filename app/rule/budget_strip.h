// SPDX-License-Identifier: GPL-3.0-or-later
// A stopping budget drawn on the scale of a ruler.
#pragma once

#include "app/theme/theme.h"
#include "core/judge/budget.h"

#include <functional>

namespace badger::app
{

/// Where it is drawn: from `top` down, with its labels 28 points below.
struct StripPlace {
    qreal top = 0.0;
    qreal height = 0.0;
    std::function<qreal(double)> x; ///< of a distance in metres
};

/// What is left at worst, and outwards from there each term up to the threshold, with its label.
void paintBudgetStrip(QPainter &p, const Theme &theme, const judge::CarBudget &budget,
                      units::Unit unit, const StripPlace &place);

} // namespace badger::app
