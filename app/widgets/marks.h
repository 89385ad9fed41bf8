// SPDX-License-Identifier: GPL-3.0-or-later
// How is a gate's or a finding's state drawn? Shape first, colour second.
#pragma once

#include "app/theme/theme.h"
#include "core/base/finding.h"
#include "core/judge/judge.h"

#include <QIcon>
#include <QPainter>
#include <QWidget>

namespace badger::app
{

void paintMark(QPainter &painter, const QRectF &box, judge::GateState state, const Theme &theme);
void paintMark(QPainter &painter, const QRectF &box, Severity severity, const Theme &theme);

/// Diagonal lines: a hole, the dead zone, the unknown, a solid wall.
void hatch(QPainter &painter, const QRectF &area, const QColor &colour, qreal step);

/// The corners of a picture that the keys go to; nothing where they go elsewhere.
void paintFocus(QPainter &painter, const QWidget &widget, const Theme &theme);

/// One of the project's SVG icons in a colour of the theme.
QIcon icon(const QString &name, const Theme &theme, Tone tone = Tone::Ink);

} // namespace badger::app
