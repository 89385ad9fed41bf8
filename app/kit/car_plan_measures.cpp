// SPDX-License-Identifier: GPL-3.0-or-later
// What is measured over the car from above: beams, the threshold, the balance, its lengths.
#include "app/kit/car_plan.h"
#include "app/widgets/marks.h"
#include "app/widgets/text.h"
#include "core/units/quantity.h"

#include <QPainter>
#include <QPainterPath>
#include <QtMath>

namespace badger::app
{

using parts::Kind;

namespace
{

QString mm(double m)
{
    return str(units::quantity(m, units::Unit::Millimetre, 0));
}

} // namespace

void CarPlan::paintBeams(QPainter &p) const
{
    p.save();
    p.setClipRect(rect());
    for (const auto &r : m_content->judgement.covers) {
        const auto wedge = [&](const sense::Beam &beam, int alpha) {
            const double reach = reach_m(r);
            QPainterPath path(at(r.place.x_m, r.place.y_m));
            constexpr int parts = 24;
            const double half = beam.halfAngle_rad + beam.sweep_rad;
            for (int i = 0; i <= parts; ++i) {
                const double a = r.place.yaw_rad + half * (2.0 * i / parts - 1.0);
                path.lineTo(
                    at(r.place.x_m + reach * std::cos(a), r.place.y_m + reach * std::sin(a)));
            }
            path.closeSubpath();
            auto colour = m_theme.color(Tone::Result);
            colour.setAlpha(alpha);
            p.setPen(Qt::NoPen);
            p.setBrush(colour);
            p.drawPath(path);
        };
        if (r.swept.sweep_rad > 0.0)
            wedge(r.swept, 26);
        wedge(r.fixed, 44);
    }
    p.restore();
}

void CarPlan::paintThreshold(QPainter &p) const
{
    const auto &c = *m_content;
    const sense::RangerCover *ahead = nullptr;
    for (const auto &r : c.judgement.covers)
        if (r.ahead && ahead == nullptr)
            ahead = &r;
    if (ahead == nullptr || !c.threshold_m)
        return;
    const double half = c.car.geometry.width_m / 2.0;
    const double x_m = ahead->place.x_m + *c.threshold_m;
    const auto cover = sense::coverAt(ahead->swept, *c.threshold_m);
    p.setPen(QPen(m_theme.color(Tone::Ochre), m_theme.line(), Qt::DashLine));
    p.drawLine(at(x_m, half), at(x_m, -half));
    p.setFont(m_theme.text(Type::Small));
    const auto label =
        tr("threshold %1").arg(str(units::quantity(*c.threshold_m, units::Unit::Centimetre, 1)));
    const qreal w = p.fontMetrics().horizontalAdvance(label);
    p.setPen(m_theme.color(Tone::Ochre));
    p.drawText(QPointF(std::min(at(x_m, 0).x() - w / 2, width() - w - 4.0), at(x_m, half).y() - 4),
               label);
    if (!cover)
        return;
    // The strips that stay blind, over the last stretch before the threshold.
    const double depth_m = 0.03;
    const auto strip = [&](double from_m, double to_m, double size_m) {
        if (size_m < 0.0005)
            return;
        const QRectF box(at(x_m - depth_m, from_m), at(x_m, to_m));
        hatch(p, box.normalized(), m_theme.color(Tone::Brick), 5);
        p.setPen(m_theme.color(Tone::Brick));
        p.drawText(
            QRectF(at(x_m, 0).x() + 5, box.normalized().top(), 120, box.normalized().height()),
            Qt::AlignVCenter, tr("blind %1").arg(mm(size_m)));
    };
    strip(half, half - cover->blindLeft_m, cover->blindLeft_m);
    strip(-half + cover->blindRight_m, -half, cover->blindRight_m);
    p.setPen(m_theme.color(Tone::Result));
    const auto beam = tr("beam %1").arg(mm(cover->width_m));
    const QRectF right(at(x_m, 0).x() + 5, at(0, 0).y() - 12,
                       p.fontMetrics().horizontalAdvance(beam) + 2.0, 24);
    if (right.right() <= width())
        p.drawText(right, Qt::AlignVCenter, beam);
    else // before the line, where there is no room behind it
        p.drawText(right.translated(-right.width() - 10.0, 0.0), Qt::AlignVCenter, beam);
}

void CarPlan::paintBalance(QPainter &p) const
{
    const auto &b = m_content->judgement.balance;
    if (b.mass_kg <= 0.0)
        return;
    const auto centre = at(b.centre.x_m, b.centre.y_m);
    const qreal r = 6 * m_theme.scale();
    if (b.rearmost_m != b.foremost_m) { // anywhere along here
        p.setPen(QPen(m_theme.color(Tone::Ink), m_theme.line(), Qt::DotLine));
        p.drawLine(at(b.rearmost_m, b.centre.y_m), at(b.foremost_m, b.centre.y_m));
    }
    p.setPen(QPen(m_theme.color(Tone::Ink), 1));
    p.setBrush(m_theme.color(Tone::Sheet));
    p.drawEllipse(centre, r, r);
    p.setBrush(m_theme.color(Tone::Ink));
    const QRectF ring(centre.x() - r, centre.y() - r, 2 * r, 2 * r);
    p.drawPie(ring, 0, 90 * 16);
    p.drawPie(ring, 180 * 16, 90 * 16);
}

void CarPlan::paintDimensions(QPainter &p) const
{
    const auto &g = m_content->car.geometry;
    const double tail_m = g.axleToNose_m - g.length_m;
    const qreal s = m_theme.scale();
    p.setFont(m_theme.text(Type::Small));
    p.setPen(QPen(m_theme.color(Tone::Ink2), 1));
    const auto tick = [&](QPointF a, QPointF b, bool upright) {
        p.drawLine(a, b);
        const QPointF d = upright ? QPointF(3, 0) : QPointF(0, 3);
        for (const auto &end : {a, b})
            p.drawLine(end - d, end + d);
    };
    // Width at the tail, length under the deck.
    const QPointF top = at(tail_m, g.width_m / 2) - QPointF(10 * s, 0);
    const QPointF bottom = at(tail_m, -g.width_m / 2) - QPointF(10 * s, 0);
    tick(top, bottom, true);
    p.save();
    p.translate(top.x() - 4 * s, (top.y() + bottom.y()) / 2);
    p.rotate(-90);
    p.drawText(QRectF(-60, -17 * s, 120, 17 * s), Qt::AlignCenter, mm(g.width_m));
    p.restore();
    const qreal y = at(0, -std::max(g.width_m, g.track_m + 0.026) / 2).y() + 10 * s;
    tick(QPointF(at(tail_m, 0).x(), y), QPointF(at(g.axleToNose_m, 0).x(), y), false);
    const QRectF words(at(tail_m, 0).x(), y - 9 * s, g.length_m * m_scale, 18 * s);
    const auto length = tr("%1, axle %2 behind the nose").arg(mm(g.length_m), mm(g.axleToNose_m));
    const qreal w = p.fontMetrics().horizontalAdvance(length);
    const QRectF box(std::max(1.0, words.center().x() - w / 2 - 3), words.top(), w + 6,
                     words.height());
    p.fillRect(box, m_theme.color(Tone::Paper));
    p.drawText(box, Qt::AlignCenter, length);
    // How far the sensor that looks ahead sits behind the foremost point.
    for (const auto &r : m_content->judgement.covers) {
        if (!r.ahead || r.setBack_m < 0.0005)
            continue;
        const qreal sy = at(0, g.width_m / 2).y() - 11 * s;
        tick(QPointF(at(r.place.x_m, 0).x(), sy), QPointF(at(g.axleToNose_m, 0).x(), sy), false);
        const auto text = tr("set back %1").arg(mm(r.setBack_m));
        p.drawText(
            QPointF(at(r.place.x_m, 0).x() - p.fontMetrics().horizontalAdvance(text) - 5, sy + 4),
            text);
        break;
    }
}

} // namespace badger::app
