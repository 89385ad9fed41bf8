// SPDX-License-Identifier: GPL-3.0-or-later
// How the car from above is painted; what stands where is decided in car_plan.cpp.
#include "app/kit/car_plan.h"

#include "app/widgets/marks.h"
#include "app/widgets/text.h"
#include "core/mechanics/build.h"
#include "core/units/quantity.h"

#include <QPainter>
#include <QPainterPath>
#include <QtMath>

namespace badger::app
{

using parts::Kind;

void CarPlan::paintEvent(QPaintEvent *)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    if (!m_content) {
        p.setFont(m_theme.text(Type::Lead));
        p.setPen(m_theme.color(Tone::Ink2));
        p.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap, m_sentence);
        return;
    }
    paintBeams(p);
    paintDeck(p);
    paintWheels(p);
    paintBlocks(p);
    paintThreshold(p);
    paintBalance(p);
    paintDimensions(p);
    paintSense(p);
    if (hasFocus()) {
        p.setPen(QPen(m_theme.color(Tone::Ochre), 2));
        p.setBrush(Qt::NoBrush);
        p.drawRect(QRectF(rect()).adjusted(1, 1, -1, -1));
    }
}

void CarPlan::paintDeck(QPainter &p) const
{
    const auto &g = m_content->car.geometry;
    const double tail_m = g.axleToNose_m - g.length_m;
    p.setPen(QPen(m_theme.color(Tone::Ink), m_theme.line() * 1.3));
    p.setBrush(m_theme.color(Tone::Sheet));
    if (g.deck == kit::DeckShape::Rectangle || g.discRadius_m <= 0.0) {
        const QRectF deck(at(tail_m, g.width_m / 2), at(g.axleToNose_m, -g.width_m / 2));
        p.drawRoundedRect(deck, 5, 5);
    } else {
        const double first = g.axleToNose_m - g.discRadius_m;
        const qreal r = g.discRadius_m * m_scale;
        if (g.deck == kit::DeckShape::TwoDiscs)
            p.drawEllipse(at(first - g.discsApart_m, 0), r, r);
        p.drawEllipse(at(first, 0), r, r);
    }
    p.setPen(QPen(m_theme.color(Tone::Ink2), 1, Qt::DashDotLine));
    p.drawLine(at(0, g.width_m / 2 + 0.015), at(0, -g.width_m / 2 - 0.015));
    // The foremost point: set-backs are counted from here.
    p.setPen(QPen(m_theme.color(Tone::Ink), m_theme.line() * 1.6));
    p.drawLine(at(g.axleToNose_m, g.width_m / 2), at(g.axleToNose_m, -g.width_m / 2));
}

void CarPlan::paintWheels(QPainter &p) const
{
    const auto &c = *m_content;
    const auto *wheel = kit::Assembly(c.car, c.catalogue).first(Kind::Wheel);
    if (wheel == nullptr)
        return;
    const auto *part = c.catalogue.find(wheel->partId);
    const double diameter = part->figure("diameter_m")->typical;
    const auto *broad = part->figure("width_m");
    const double width_m = broad ? broad->typical : 0.01;
    p.setPen(QPen(m_theme.color(Tone::Ink), m_theme.line()));
    p.setBrush(m_theme.color(Tone::Stand));
    for (const auto &fitted : c.car.parts) {
        const auto *motor = c.catalogue.find(fitted.partId);
        if (motor == nullptr || fitted.side == kit::Side::None ||
            (motor->kind != Kind::Motor && motor->kind != Kind::DriveServo))
            continue;
        const auto place = kit::placeOf({c.car, c.catalogue}, fitted);
        const double x_m = place ? place->x_m : 0.0;
        const bool left = fitted.side == kit::Side::Left;
        const double y_m = (left ? 1.0 : -1.0) * c.car.geometry.track_m / 2.0;
        const QRectF box(at(x_m - diameter / 2, y_m + width_m / 2),
                         at(x_m + diameter / 2, y_m - width_m / 2));
        p.setPen(QPen(m_theme.color(Tone::Ink), m_theme.line()));
        p.setBrush(m_theme.color(Tone::Stand));
        p.drawRoundedRect(box, 3, 3);
    }
}

/// Which way is forward, seen from outside on each wheel's own side. It stands beside the car,
/// since it is no view from above.
void CarPlan::paintSense(QPainter &p) const
{
    const qreal s = m_theme.scale();
    const qreal r = 5 * s;
    const qreal y = r + 3 * s;
    qreal x = leftMargin * s;
    p.setFont(m_theme.text(Type::Small));
    const auto say = [&](const QString &text) {
        p.setPen(m_theme.color(Tone::Ink2));
        const qreal w = p.fontMetrics().horizontalAdvance(text);
        p.drawText(QRectF(x, y - 9 * s, w + 4, 18 * s), Qt::AlignVCenter, text);
        x += w + 7 * s;
    };
    const auto turn = [&](bool counterClockwise) {
        const QPointF middle(x + r, y);
        p.setPen(QPen(m_theme.color(Tone::Ink), m_theme.line()));
        p.setBrush(Qt::NoBrush);
        p.drawArc(QRectF(middle.x() - r, middle.y() - r, 2 * r, 2 * r), 20 * 16, 280 * 16);
        const double end = qDegreesToRadians(counterClockwise ? 300.0 : 20.0);
        const QPointF tip(middle.x() + r * std::cos(end), middle.y() - r * std::sin(end));
        const double along = end + (counterClockwise ? M_PI_2 : -M_PI_2);
        for (const double spread : {2.5, -2.5})
            p.drawLine(tip,
                       tip + QPointF(std::cos(along + spread), -std::sin(along + spread)) * 4 * s);
        x += 2 * r + 5 * s;
    };
    const auto marks = mechanics::senseMarks({m_content->car, m_content->catalogue});
    constexpr qreal leastHeight = 140; // lower, it would run into the threshold
    if (marks.empty() || height() < leastHeight * s)
        return;
    say(tr("forward, seen from outside:"));
    for (const bool left : {true, false})
        if (std::any_of(marks.begin(), marks.end(), [&](const mechanics::SenseMark &m) {
                return m.counterClockwise == left;
            })) {
            turn(left);
            say(left ? tr("left") : tr("right"));
        }
}

void CarPlan::paintBlocks(QPainter &p) const
{
    p.setFont(m_theme.text(Type::Small));
    for (const auto &b : m_blocks) {
        const bool picked = b.id == m_picked;
        p.save();
        if (b.placed && b.turn != 0.0) {
            const auto *fitted = m_content->car.instance(b.id.toStdString());
            const auto place = kit::placeOf({m_content->car, m_content->catalogue}, *fitted);
            p.translate(at(place->x_m, place->y_m));
            p.rotate(b.turn);
            p.translate(-at(place->x_m, place->y_m));
        }
        auto fill = m_theme.color(b.layer <= 1 ? Tone::Stand : Tone::Paper);
        if (b.layer == 2)
            fill = m_theme.color(Tone::Go);
        p.setBrush(fill);
        QPen pen(m_theme.color(picked ? Tone::Ochre : Tone::Ink), picked ? 2.4 : m_theme.line());
        if (!b.placed)
            pen.setStyle(Qt::DashLine);
        p.setPen(pen);
        if (b.layer == 0)
            p.drawEllipse(b.box);
        else
            p.drawRoundedRect(b.box, 2, 2);
        p.restore();
    }
    paintLabels(p);
    paintTags(p);
    p.setPen(QPen(m_theme.color(Tone::Result), m_theme.line()));
    p.setBrush(m_theme.color(Tone::Sheet));
    for (const auto &spot : sense::spots({m_content->car, m_content->catalogue})) {
        const qreal r = spot.diameter_m / 2.0 * m_scale;
        p.drawEllipse(at(spot.place.x_m, spot.place.y_m), r, r);
    }
}

/// Where a block's name stands: inside it, where no other block and not the mark of the centre of
/// mass lies over it; across, or upright where it is long and narrow. Null: nowhere.
QRectF CarPlan::labelOf(const QFontMetricsF &metrics, size_t index, bool upright) const
{
    const auto &b = m_blocks[index];
    const qreal along = metrics.horizontalAdvance(b.label) + 4;
    const qreal across = metrics.height();
    const QSizeF size = upright ? QSizeF(across, along) : QSizeF(along, across);
    const auto room = areaOf(b).adjusted(1, 1, -1, -1);
    if (size.width() > room.width() || size.height() > room.height())
        return {};
    const auto &c = m_content->judgement.balance.centre;
    const qreal r = 7 * m_theme.scale();
    const QRectF mass(at(c.x_m, c.y_m) - QPointF(r, r), QSizeF(2 * r, 2 * r));
    const auto covered = [&](const QRectF &box) {
        if (m_content->judgement.balance.mass_kg > 0.0 && box.intersects(mass))
            return true;
        for (size_t i = index + 1; i < m_blocks.size(); ++i)
            if (areaOf(m_blocks[i]).intersects(box))
                return true;
        return false;
    };
    // The place nearest to the middle.
    constexpr int steps = 8;
    QRectF best;
    qreal nearest = 2.0;
    for (int across_n = -steps; across_n <= steps; ++across_n)
        for (int along_n = -steps; along_n <= steps; ++along_n) {
            const QPointF shift(along_n / qreal(2 * steps), across_n / qreal(2 * steps));
            const qreal away = std::hypot(shift.x(), shift.y());
            QRectF box(QPointF(), size);
            box.moveCenter(room.center() + QPointF(shift.x() * (room.width() - size.width()),
                                                   shift.y() * (room.height() - size.height())));
            if (away < nearest && !covered(box)) {
                nearest = away;
                best = box;
            }
        }
    return best;
}

QRectF CarPlan::areaOf(const Block &b) const
{
    if (!b.placed || b.turn == 0.0)
        return b.box;
    const auto *fitted = m_content->car.instance(b.id.toStdString());
    const auto place = kit::placeOf({m_content->car, m_content->catalogue}, *fitted);
    QTransform turned;
    const auto pivot = at(place->x_m, place->y_m);
    turned.translate(pivot.x(), pivot.y());
    turned.rotate(b.turn);
    turned.translate(-pivot.x(), -pivot.y());
    return turned.mapRect(b.box);
}

void CarPlan::paintLabels(QPainter &p) const
{
    const QFontMetricsF metrics(p.font());
    for (size_t i = 0; i < m_blocks.size(); ++i) {
        const auto &b = m_blocks[i];
        p.setPen(m_theme.color(Tone::Ink)); // ochre is too faint on a pack's blue
        if (const auto flat = labelOf(metrics, i, false); !flat.isNull()) {
            p.drawText(flat, Qt::AlignCenter, b.label);
        } else if (const auto upright = labelOf(metrics, i, true); !upright.isNull()) {
            p.save();
            p.translate(upright.center());
            p.rotate(-90);
            p.drawText(QRectF(-upright.height() / 2, -upright.width() / 2, upright.height(),
                              upright.width()),
                       Qt::AlignCenter, b.label);
            p.restore();
        }
    }
}

/// Parts whose name finds no room in them say it while they are held, or until they have a place;
/// over everything.
void CarPlan::paintTags(QPainter &p) const
{
    const QFontMetricsF metrics(p.font());
    for (size_t i = 0; i < m_blocks.size(); ++i) {
        const auto &b = m_blocks[i];
        const bool picked = b.id == m_picked;
        if (!picked && b.placed)
            continue;
        if (!labelOf(metrics, i, false).isNull() || !labelOf(metrics, i, true).isNull())
            continue;
        const qreal w = metrics.horizontalAdvance(b.label);
        const qreal h = metrics.height();
        QRectF tag(b.box.center().x() - w / 2.0 - 3, b.box.top() - h - 3, w + 6, h + 1);
        tag.moveRight(std::min(tag.right(), width() - 2.0));
        tag.moveLeft(std::max(tag.left(), 2.0));
        p.setPen(Qt::NoPen);
        p.setBrush(m_theme.color(Tone::Sheet));
        p.drawRect(tag);
        p.setPen(m_theme.color(picked ? Tone::Ochre : Tone::Ink));
        p.drawText(tag, Qt::AlignCenter, b.label);
    }
}

} // namespace badger::app
