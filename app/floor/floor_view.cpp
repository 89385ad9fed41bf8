// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/floor/floor_view.h"

#include "app/widgets/marks.h"
#include "app/widgets/text.h"
#include "core/units/quantity.h"

#include <QPainter>
#include <QPainterPath>
#include <cmath>

namespace badger::app
{

FloorView::FloorView(const Theme &theme, QWidget *parent) : QWidget(parent), m_theme(theme)
{
    setMinimumHeight(qRound(180 * theme.scale()));
    setAccessibleName(tr("Floor from above"));
}

void FloorView::show(FloorContent content)
{
    m_content = std::move(content);
    m_words.clear();
    setAccessibleDescription(str(trial::verdict(m_content->trial)));
    update();
}

void FloorView::showNothing(const QString &words)
{
    m_content.reset();
    m_words = words;
    update();
}

void FloorView::setTime(std::uint64_t time_us)
{
    m_time_us = time_us;
    update();
}

QTransform FloorView::plan() const
{
    const auto &f = m_content->floor;
    const qreal margin = 22;
    const qreal scale =
        std::min((width() - 2 * margin) / f.width_m, (height() - 2 * margin - 16) / f.depth_m);
    QTransform t;
    t.translate((width() - f.width_m * scale) / 2, (height() - 16 + f.depth_m * scale) / 2);
    t.scale(scale, -scale); // the plan's y runs up
    return t;
}

void FloorView::paintWalls(QPainter &p, const QTransform &t) const
{
    const auto &f = m_content->floor;
    const QRectF extent = t.mapRect(QRectF(0, 0, f.width_m, f.depth_m));
    p.setPen(QPen(m_theme.color(Tone::Rule), 1));
    p.setBrush(m_theme.color(Tone::Sheet));
    p.drawRect(extent);
    p.setFont(m_theme.text(Type::Small));
    for (const auto &w : f.walls) {
        const QPointF a = t.map(QPointF(w.from.x_m, w.from.y_m));
        const QPointF b = t.map(QPointF(w.to.x_m, w.to.y_m));
        const QRectF behind = QRectF(a, b).normalized().adjusted(0, 0, 14, 0);
        if (std::abs(a.x() - b.x()) < 1.0)
            hatch(p, behind, m_theme.color(Tone::Ink2), 7);
        p.setPen(QPen(m_theme.color(Tone::Ink), 2.4 * m_theme.scale()));
        p.drawLine(a, b);
        p.setPen(m_theme.color(Tone::Ink2));
        const auto name = str(w.name);
        p.drawText(QPointF(std::min(a.x(), b.x()) - p.fontMetrics().horizontalAdvance(name) / 2.0,
                           std::min(a.y(), b.y()) - 6),
                   name);
    }
    // A scale bar, so that a person can judge lengths: 50 cm, or 20 inches.
    const auto unit = units::shownIn(units::Unit::Centimetre, listener().display);
    const double bar_m = unit == units::Unit::Inch ? units::toSi(20.0, unit) : 0.5;
    const QPointF left(extent.left() + 8, extent.bottom() + 12);
    const QPointF right = left + QPointF(bar_m * t.m11(), 0);
    p.setPen(QPen(m_theme.color(Tone::Ink2), 1.4));
    p.drawLine(left, right);
    for (const auto &end : {left, right})
        p.drawLine(end - QPointF(0, 4), end + QPointF(0, 4));
    p.drawText(right + QPointF(8, 4), str(units::quantity(bar_m, unit, 0)));
    const auto words = tr("%1 · %2 · air %3")
                           .arg(str(f.name), str(f.surface),
                                str(units::quantity(f.air_degC, units::Unit::Celsius, 1)));
    p.drawText(QRectF(extent.left(), extent.bottom() + 2, extent.width() - 4, 20),
               Qt::AlignRight | Qt::AlignVCenter, words);
}

void FloorView::paintPath(QPainter &p, const QTransform &t) const
{
    QPainterPath whole;
    QPainterPath driven;
    constexpr std::uint64_t second_us = 1000000;
    std::uint64_t nextTick = second_us;
    std::vector<std::pair<QPointF, QString>> ticks;
    for (const auto &pose : m_content->trial.path) {
        const QPointF at = t.map(QPointF(pose.nose.x_m, pose.nose.y_m));
        whole.elementCount() ? whole.lineTo(at) : whole.moveTo(at);
        if (pose.time_us <= m_time_us)
            driven.elementCount() ? driven.lineTo(at) : driven.moveTo(at);
        if (pose.time_us >= nextTick) {
            if (std::abs(pose.speed_mps) > 0.0)
                ticks.emplace_back(at, QString::number(nextTick / second_us));
            nextTick += second_us;
        }
    }
    auto faint = m_theme.color(Tone::Result);
    faint.setAlphaF(0.35f);
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(faint, 1.4, Qt::DashLine));
    p.drawPath(whole);
    p.setPen(QPen(m_theme.color(Tone::Result), 2.2 * m_theme.scale()));
    p.drawPath(driven);
    p.setFont(m_theme.text(Type::Small));
    for (const auto &[at, label] : ticks) {
        p.setPen(QPen(m_theme.color(Tone::Result), 1.6));
        p.drawLine(at + QPointF(0, 30), at + QPointF(0, 38));
        p.setPen(m_theme.color(Tone::Ink2));
        p.drawText(QRectF(at.x() - 20, at.y() + 38, 40, 16), Qt::AlignCenter, label + " s");
    }
}

void FloorView::paintBeam(QPainter &p, const QTransform &t, const trial::Pose &pose) const
{
    const trial::Ping *last = nullptr;
    for (const auto &ping : m_content->trial.pings)
        if (ping.sent_us <= m_time_us)
            last = &ping;
    if (last == nullptr)
        return;
    const auto &c = *m_content;
    const auto local = [&](double ahead, double left) {
        const double a = ahead - c.mount.setBack_m;
        const double l = left + c.mount.offset_m;
        return t.map(QPointF(pose.nose.x_m + a * pose.looks.x - l * pose.looks.y,
                             pose.nose.y_m + a * pose.looks.y + l * pose.looks.x));
    };
    const double reach = last->true_m.value_or(1.2);
    QPainterPath beam;
    beam.moveTo(local(0, 0));
    constexpr int parts = 12;
    for (int i = 0; i <= parts; ++i) {
        const double a = c.mount.yaw_rad + c.halfAngle_rad * (2.0 * i / parts - 1.0);
        beam.lineTo(local(reach * std::cos(a), reach * std::sin(a)));
    }
    beam.closeSubpath();
    auto beamColour = m_theme.color(Tone::Result);
    beamColour.setAlphaF(0.18f);
    p.fillPath(beam, beamColour);
    if (!last->true_m)
        return;
    const QPointF foot = t.map(QPointF(last->foot.x_m, last->foot.y_m));
    p.setPen(QPen(m_theme.color(Tone::Result), 1.6));
    for (int i = 1; i <= 3; ++i)
        p.drawArc(QRectF(foot.x() - 7 * i, foot.y() - 7 * i, 14 * i, 14 * i), 130 * 16, 100 * 16);
}

void FloorView::paintCar(QPainter &p, const QTransform &t, const trial::Pose &pose) const
{
    const auto &g = m_content->car;
    p.save();
    const QPointF nose = t.map(QPointF(pose.nose.x_m, pose.nose.y_m));
    const qreal scale = t.m11();
    p.translate(nose);
    p.rotate(-std::atan2(pose.looks.y, pose.looks.x) * 180.0 / M_PI);
    p.setPen(QPen(m_theme.color(Tone::Ink), m_theme.line()));
    p.setBrush(m_theme.color(Tone::Paper));
    const qreal wheelLength = 0.065 * scale;
    for (const qreal side : {-1.0, 1.0}) {
        const qreal y = side * g.track_m / 2 * scale;
        p.drawRoundedRect(QRectF(-g.axleToNose_m * scale - wheelLength / 2, y - 4, wheelLength, 8),
                          2, 2);
    }
    const QRectF deck(-g.length_m * scale, -g.width_m * scale * 0.38, g.length_m * scale,
                      g.width_m * scale * 0.76);
    p.drawRoundedRect(deck, 7, 7);
    p.setPen(QPen(m_theme.color(Tone::Ink), 1));
    p.drawLine(QPointF(0, -g.width_m / 2 * scale), QPointF(0, g.width_m / 2 * scale));
    p.setBrush(m_theme.color(Tone::Ink));
    for (const qreal side : {-1.0, 1.0})
        p.drawEllipse(QPointF(-m_content->mount.setBack_m * scale - 4, side * 5), 3, 3);
    p.restore();
}

void FloorView::paintGap(QPainter &p, const QTransform &t) const
{
    const auto &trial = m_content->trial;
    const auto &end = trial.path.back();
    if (m_time_us < end.time_us)
        return;
    const QPointF nose = t.map(QPointF(end.nose.x_m, end.nose.y_m));
    if (trial.outcome == trial::Outcome::Contact) {
        p.setPen(QPen(m_theme.color(Tone::Brick), 2.6));
        for (int i = 0; i < 8; ++i) {
            const double a = i * M_PI / 4;
            const QPointF d(std::cos(a), std::sin(a));
            p.drawLine(nose + d * 7, nose + d * 16);
        }
        return;
    }
    if (trial.outcome != trial::Outcome::Stopped)
        return;
    const QPointF wall = t.map(QPointF(end.nose.x_m + trial.gap_m * end.looks.x,
                                       end.nose.y_m + trial.gap_m * end.looks.y));
    const qreal y = nose.y() - 0.5 * m_content->car.width_m * t.m11() - 14;
    p.setPen(QPen(m_theme.color(Tone::Result), 1.6));
    p.drawLine(QPointF(nose.x(), y), QPointF(wall.x(), y));
    for (const qreal x : {nose.x(), wall.x()})
        p.drawLine(QPointF(x, y - 5), QPointF(x, y + 5));
    p.setFont(m_theme.text(Type::Body, true));
    p.drawText(QRectF(nose.x(), y - 24, wall.x() - nose.x(), 22), Qt::AlignCenter, cm(trial.gap_m));
}

void FloorView::paintEvent(QPaintEvent *)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    if (!m_content || m_content->trial.path.empty()) {
        p.setPen(m_theme.color(Tone::Ink2));
        p.setFont(m_theme.text(Type::Lead));
        p.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap, m_words);
        return;
    }
    const auto t = plan();
    const auto pose = trial::poseAt(m_content->trial, m_time_us);
    paintWalls(p, t);
    paintPath(p, t);
    paintBeam(p, t, pose);
    paintCar(p, t, pose);
    paintGap(p, t);
}

} // namespace badger::app
