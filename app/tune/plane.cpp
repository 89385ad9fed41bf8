// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/tune/plane.h"

#include <cmath>

namespace badger::app
{

namespace
{

/// 1, 2 or 5 times a power of ten that parts a stretch into about so many.
double stepFor(double stretch, double parts)
{
    const double raw = stretch / parts;
    const double power = std::pow(10.0, std::floor(std::log10(raw)));
    const double share = raw / power;
    return power * (share < 1.5 ? 1.0 : share < 3.5 ? 2.0 : share < 7.5 ? 5.0 : 10.0);
}

QString tick(double value)
{
    return QString::number(std::abs(value) < 1e-9 ? 0.0 : value, 'g', 5);
}

} // namespace

void Plane::paintBase(QPainter &p, const QString &name, const Shown &shown) const
{
    const qreal s = m_theme.scale();
    p.setPen(QPen(m_theme.color(Tone::Ink2), 1));
    p.drawLine(m_area.bottomLeft(), m_area.bottomRight());
    p.setFont(m_theme.text(Type::Small));
    const double from = shown(m_x0);
    const double to = shown(m_x1);
    const double step = stepFor(to - from, m_area.width() / (90.0 * s));
    for (double v = std::ceil(from / step - 1e-9) * step; v <= to + 1e-9; v += step) {
        const qreal x = m_area.left() + m_area.width() * (v - from) / (to - from);
        p.drawLine(QPointF(x, m_area.bottom()), QPointF(x, m_area.bottom() + 5 * s));
        p.drawText(QRectF(x - 40 * s, m_area.bottom() + 5 * s, 80 * s, 16 * s), Qt::AlignCenter,
                   tick(v));
    }
    p.drawText(QRectF(m_area.left(), m_area.bottom() + 20 * s, m_area.width(), 16 * s),
               Qt::AlignRight | Qt::AlignVCenter, name);
}

void Plane::paintSide(QPainter &p, const QString &name, const Shown &shown) const
{
    const qreal s = m_theme.scale();
    p.setPen(QPen(m_theme.color(Tone::Ink2), 1));
    p.drawLine(m_area.bottomLeft(), m_area.topLeft());
    p.setFont(m_theme.text(Type::Small));
    const double from = shown(m_y0);
    const double to = shown(m_y1);
    const double step = stepFor(to - from, std::max(2.0, m_area.height() / (42.0 * s)));
    for (double v = std::ceil(from / step - 1e-9) * step; v <= to + 1e-9; v += step) {
        const qreal y = m_area.bottom() - m_area.height() * (v - from) / (to - from);
        p.drawLine(QPointF(m_area.left() - 5 * s, y), QPointF(m_area.left(), y));
        p.drawText(QRectF(m_area.left() - 66 * s, y - 8 * s, 58 * s, 16 * s),
                   Qt::AlignRight | Qt::AlignVCenter, tick(v));
    }
    // Above the highest tick, inside: it stays clear of the numbers.
    p.drawText(QPointF(m_area.left() + 6 * s, m_area.top() + 2 * s), name);
}

} // namespace badger::app
