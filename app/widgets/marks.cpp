// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/marks.h"

#include <QFile>
#include <QPainterPath>
#include <QSvgRenderer>
#include <cmath>

namespace badger::app
{

namespace
{

QPen pen(const QColor &colour, qreal width)
{
    return QPen(colour, width, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin);
}

void tick(QPainter &p, const QRectF &b)
{
    QPainterPath path;
    path.moveTo(b.left() + b.width() * 0.12, b.top() + b.height() * 0.55);
    path.lineTo(b.left() + b.width() * 0.40, b.top() + b.height() * 0.82);
    path.lineTo(b.left() + b.width() * 0.90, b.top() + b.height() * 0.20);
    p.drawPath(path);
}

void ring(QPainter &p, const QRectF &b)
{
    p.drawEllipse(b.adjusted(1, 1, -1, -1));
}

void bar(QPainter &p, const QRectF &b, const QColor &colour)
{
    p.fillRect(QRectF(b.left(), b.center().y() - b.height() * 0.17, b.width(), b.height() * 0.34),
               colour);
}

void triangle(QPainter &p, const QRectF &b)
{
    QPainterPath path;
    path.moveTo(b.center().x(), b.top() + 1);
    path.lineTo(b.right() - 0.5, b.bottom() - 1);
    path.lineTo(b.left() + 0.5, b.bottom() - 1);
    path.closeSubpath();
    p.drawPath(path);
}

} // namespace

void paintMark(QPainter &p, const QRectF &box, judge::GateState state, const Theme &theme)
{
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    p.setBrush(Qt::NoBrush);
    const qreal w = 1.9 * theme.scale();
    switch (state) {
    case judge::GateState::Passed:
        p.setPen(pen(theme.color(Tone::Result), w * 1.15));
        tick(p, box);
        break;
    case judge::GateState::Open:
        p.setPen(pen(theme.color(Tone::Ink2), w * 0.8));
        ring(p, box);
        break;
    case judge::GateState::Stale: {
        auto dashed = pen(theme.color(Tone::Ochre), w);
        dashed.setCapStyle(Qt::FlatCap);
        dashed.setDashPattern({1.6, 1.3});
        p.setPen(dashed);
        ring(p, box);
        break;
    }
    case judge::GateState::Blocked:
        bar(p, box, theme.color(Tone::Brick));
        break;
    case judge::GateState::Warning:
        p.setPen(pen(theme.color(Tone::Ochre), w));
        triangle(p, box);
        break;
    }
    p.restore();
}

void paintMark(QPainter &p, const QRectF &box, Severity severity, const Theme &theme)
{
    switch (severity) {
    case Severity::Error:
        paintMark(p, box, judge::GateState::Blocked, theme);
        return;
    case Severity::Warning:
        paintMark(p, box, judge::GateState::Warning, theme);
        return;
    case Severity::Advice:
        break;
    }
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    p.setBrush(Qt::NoBrush);
    p.setPen(pen(theme.color(Tone::Result), 1.9 * theme.scale()));
    const qreal inset = box.width() * 0.14;
    p.drawEllipse(box.adjusted(inset, inset, -inset, -inset));
    p.restore();
}

void hatch(QPainter &p, const QRectF &area, const QColor &colour, qreal step)
{
    // Only where something can be seen: a dead zone of a kilometre has as many lines as its ruler.
    const auto page = p.combinedTransform().inverted().mapRect(QRectF(p.viewport()));
    const auto seen = area.intersected(page);
    if (seen.isEmpty())
        return;
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    p.setClipRect(seen, Qt::IntersectClip);
    p.setPen(QPen(colour, 1));
    // The lines stand where they would stand on the whole area; those that cross what is seen.
    const qreal first = area.left() - area.height();
    const qreal from = seen.left() - (area.bottom() - seen.top());
    const qreal to = seen.right() - (area.bottom() - seen.bottom());
    for (qreal x = first + std::floor(std::max(0.0, from - first) / step) * step; x < to; x += step)
        p.drawLine(QPointF(x, area.bottom()), QPointF(x + area.height(), area.top()));
    p.restore();
}

void paintFocus(QPainter &painter, const QWidget &widget, const Theme &theme)
{
    if (!widget.hasFocus())
        return;
    // Corners, not an outline: it crosses no word at the rim, and a dotted one of a large picture
    // takes longer than the picture.
    const int breadth = qRound(2 * theme.scale());
    const int length = qRound(16 * theme.scale());
    const auto colour = theme.color(Tone::Ochre);
    const QRect all = widget.rect();
    for (const int x : {all.left(), all.right() + 1 - length})
        for (const int y : {all.top(), all.bottom() + 1 - breadth})
            painter.fillRect(QRect(x, y, length, breadth), colour);
    for (const int x : {all.left(), all.right() + 1 - breadth})
        for (const int y : {all.top(), all.bottom() + 1 - length})
            painter.fillRect(QRect(x, y, breadth, length), colour);
}

QIcon icon(const QString &name, const Theme &theme, Tone tone)
{
    QFile file(":/icons/" + name + ".svg");
    if (!file.open(QIODevice::ReadOnly))
        return {};
    const auto svg = QString::fromUtf8(file.readAll()).replace("#123456", theme.color(tone).name());
    QSvgRenderer renderer(svg.toUtf8());
    const int side = qRound(20 * theme.scale());
    constexpr int sharp = 2; // rendered larger, so that it stays sharp on dense screens
    QPixmap pixmap(side * sharp, side * sharp);
    pixmap.setDevicePixelRatio(sharp);
    pixmap.fill(Qt::transparent);
    QPainter painter(&pixmap);
    renderer.render(&painter, QRectF(0, 0, side, side));
    return QIcon(pixmap);
}

} // namespace badger::app
