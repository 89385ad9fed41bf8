// SPDX-License-Identifier: GPL-3.0-or-later
// A plane with two scales, for pictures that are painted.
#pragma once

#include "app/theme/theme.h"

#include <QPainter>
#include <functional>

namespace badger::app
{

class Plane
{
public:
    using Shown = std::function<double(double)>; ///< of a value: the number that stands at its tick

    Plane(const QRectF &area, double x0, double x1, double y0, double y1, const Theme &theme)
        : m_area(area), m_x0(x0), m_x1(x1), m_y0(y0), m_y1(y1), m_theme(theme)
    {
    }

    QPointF at(double x, double y) const
    {
        return {m_area.left() + m_area.width() * (x - m_x0) / (m_x1 - m_x0),
                m_area.bottom() - m_area.height() * (y - m_y0) / (m_y1 - m_y0)};
    }

    /// Both scales with the same numbers, or with their own.
    void paintAxes(QPainter &p, const QString &base, const QString &side, const Shown &shown) const
    {
        paintAxes(p, base, side, shown, shown);
    }
    void paintAxes(QPainter &p, const QString &base, const QString &side, const Shown &sideShown,
                   const Shown &baseShown) const
    {
        paintBase(p, base, baseShown);
        paintSide(p, side, sideShown);
    }
    void paintBase(QPainter &p, const QString &name, const Shown &shown) const;
    void paintSide(QPainter &p, const QString &name, const Shown &shown) const;

private:
    QRectF m_area;
    double m_x0, m_x1, m_y0, m_y1;
    const Theme &m_theme;
};

} // namespace badger::app
