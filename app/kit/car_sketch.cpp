// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/kit/car_sketch.h"

#include "core/kit/balance.h"
#include "core/sense/cover.h"

#include <QPainterPath>
#include <QtMath>
#include <algorithm>

namespace badger::app
{

using parts::Kind;

namespace
{

class Sketch
{
public:
    Sketch(QPainter &p, const QRectF &box, const kit::Car &car, const parts::Catalogue &catalogue,
           const Theme &theme)
        : m_p(p), m_car(car), m_catalogue(catalogue), m_theme(theme)
    {
        const auto &g = car.geometry;
        // Room ahead for the beam; the wheels stand out at both sides.
        constexpr double ahead = 0.55;
        double wide_m = std::max(g.width_m, g.track_m + 0.03);
        const auto covers = sense::covers({car, catalogue});
        if (std::any_of(covers.begin(), covers.end(),
                        [](const sense::RangerCover &c) { return !c.ahead; }))
            wide_m *= 1.35; // beams to the sides
        m_scale = std::min(box.width() / (g.length_m * (1.0 + ahead)), box.height() / wide_m);
        const double tail_m = g.length_m - g.axleToNose_m;
        m_axle = {box.left() + tail_m * m_scale +
                      (box.width() - g.length_m * (1.0 + ahead) * m_scale) / 2.0,
                  box.center().y()};
        m_reach_m = g.length_m * ahead;
    }

    void paint()
    {
        beams();
        deck();
        wheels();
        for (const auto &fitted : m_car.parts)
            if (const auto *part = m_catalogue.find(fitted.partId))
                block(fitted, *part);
    }

private:
    QPointF at(double x_m, double y_m) const
    {
        return {m_axle.x() + x_m * m_scale, m_axle.y() - y_m * m_scale};
    }
    QRectF box(double x_m, double y_m, double length_m, double width_m) const
    {
        return {at(x_m - length_m / 2, y_m + width_m / 2),
                at(x_m + length_m / 2, y_m - width_m / 2)};
    }

    void beams()
    {
        auto colour = m_theme.color(Tone::Result);
        colour.setAlpha(50);
        m_p.setPen(Qt::NoPen);
        m_p.setBrush(colour);
        for (const auto &c : sense::covers({m_car, m_catalogue})) {
            const double half = c.fixed.halfAngle_rad + c.swept.sweep_rad;
            QPainterPath path(at(c.place.x_m, c.place.y_m));
            for (const double side : {-half, half})
                path.lineTo(at(c.place.x_m + m_reach_m * std::cos(c.place.yaw_rad + side),
                               c.place.y_m + m_reach_m * std::sin(c.place.yaw_rad + side)));
            path.closeSubpath();
            m_p.drawPath(path);
        }
    }

    void deck()
    {
        const auto &g = m_car.geometry;
        m_p.setPen(QPen(m_theme.color(Tone::Ink), m_theme.line()));
        m_p.setBrush(m_theme.color(Tone::Sheet));
        m_p.drawRoundedRect(box(g.axleToNose_m - g.length_m / 2, 0.0, g.length_m, g.width_m), 4, 4);
    }

    void wheels()
    {
        const auto *wheel = kit::Assembly(m_car, m_catalogue).first(Kind::Wheel);
        const auto *part = wheel ? m_catalogue.find(wheel->partId) : nullptr;
        const auto *diameter = part ? part->figure("diameter_m") : nullptr;
        if (diameter == nullptr)
            return;
        m_p.setBrush(m_theme.color(Tone::Stand));
        for (const double side : {1.0, -1.0})
            m_p.drawRoundedRect(
                box(0.0, side * m_car.geometry.track_m / 2, diameter->typical, 0.024), 2, 2);
    }

    void block(const kit::Instance &fitted, const parts::Part &part)
    {
        const auto place = kit::placeOf({m_car, m_catalogue}, fitted);
        const auto size = kit::footprintOf({m_car, m_catalogue}, fitted);
        if (!place || !size || part.kind == Kind::Deck || part.kind == Kind::Wheel)
            return;
        const bool pack = part.kind == Kind::Cell || part.kind == Kind::Supply;
        m_p.setBrush(m_theme.color(pack ? Tone::Go : Tone::Paper));
        m_p.save();
        m_p.translate(at(place->x_m, place->y_m));
        m_p.rotate(-qRadiansToDegrees(place->yaw_rad));
        const QSizeF sides(size->length_m * m_scale, size->width_m * m_scale);
        m_p.drawRect(QRectF(-sides.width() / 2 - kit::bodyBehind_m(part) * m_scale,
                            -sides.height() / 2, sides.width(), sides.height()));
        m_p.restore();
    }

    QPainter &m_p;
    const kit::Car &m_car;
    const parts::Catalogue &m_catalogue;
    const Theme &m_theme;
    qreal m_scale = 1.0; ///< pixels a metre
    QPointF m_axle;
    double m_reach_m = 0.1;
};

} // namespace

void paintCarSketch(QPainter &painter, const QRectF &box, const kit::Car &car,
                    const parts::Catalogue &catalogue, const Theme &theme)
{
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setClipRect(box);
    Sketch(painter, box, car, catalogue, theme).paint();
    painter.restore();
}

} // namespace badger::app
