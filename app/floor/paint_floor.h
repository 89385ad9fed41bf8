// SPDX-License-Identifier: GPL-3.0-or-later
// A floor from above in ink: what does not move, and the names of what stands inside.
#pragma once

#include "app/theme/theme.h"
#include "core/arena/arena.h"

#include <QPointF>
#include <QTransform>

class QPainter;

namespace badger::app
{

/// A place of the plan, metres.
inline QPointF point(arena::Vec v)
{
    return {v.x, v.y};
}

/// `t` maps metres, y up, to the picture.
void paintMat(QPainter &p, const QTransform &t, const arena::Arena &a, const Theme &theme);
void paintThings(QPainter &p, const QTransform &t, const arena::Arena &a, const Theme &theme);
/// Each name once, where it hides nothing; the walls all about need none.
void paintNames(QPainter &p, const QTransform &t, const arena::Arena &a, const Theme &theme);

} // namespace badger::app
