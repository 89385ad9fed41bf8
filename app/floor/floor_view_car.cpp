// SPDX-License-Identifier: GPL-3.0-or-later
// What moves on the floor's picture: the car, what its sensors see, what it touched.
#include "app/floor/floor_view.h"

#include "app/widgets/text.h"
#include "core/world/words.h"

#include <QPainter>
#include <QPainterPath>
#include <cmath>

namespace badger::app
{

namespace
{

/// Eight strokes round a place.
void burst(QPainter &p, QPointF at, qreal from, qreal to)
{
    for (int i = 0; i < 8; ++i) {
        const double a = i * M_PI / 4;
        const QPointF d(std::cos(a), std::sin(a));
        p.drawLine(at + d * from, at + d * to);
    }
}

} // namespace

/// Of each ranger its newest ping: the beam as far as it heard, the echo on its way, and in brick
/// what it should have said.
void FloorView::paintBeams(QPainter &p, const QTransform &t) const
{
    const auto &trace = m_run.trace();
    const auto &car = m_run.plan().on->model();
    std::vector<const world::Ping *> newest(car.rangers.size(), nullptr);
    for (const auto &ping : trace.pings) {
        if (ping.sent_us > m_time_us)
            break;
        newest[static_cast<size_t>(ping.ranger)] = &ping;
    }
    for (const auto *ping : newest) {
        constexpr std::uint64_t stale_us = 3000000;
        if (ping == nullptr || m_time_us - ping->sent_us > stale_us)
            continue;
        const auto &r = car.rangers[static_cast<size_t>(ping->ranger)];
        const bool heard = ping->read_m >= 0.0 && ping->read_m < r.hearing.reach_m() * 1.2;
        const double reach = heard ? ping->read_m : 1.0;
        QPainterPath beam;
        const auto from = ping->from.at;
        beam.moveTo(t.map(point(from)));
        constexpr int parts = 12;
        for (int i = 0; i <= parts; ++i) {
            const double a = r.halfAngle_rad * (2.0 * i / parts - 1.0);
            beam.lineTo(t.map(
                point(from + reach * arena::turned(ping->from.looks, {std::cos(a), std::sin(a)}))));
        }
        beam.closeSubpath();
        const bool wrong = ping->wrong != world::Wrong::Right;
        auto colour = m_theme.color(wrong ? Tone::Brick : Tone::Result);
        colour.setAlphaF(heard ? 0.18f : 0.09f);
        p.fillPath(beam, colour);
        if (!heard)
            continue;
        const QPointF place = t.map(point(ping->place));
        colour = m_theme.color(wrong ? Tone::Brick : Tone::Result);
        p.setPen(QPen(colour, 1.6));
        p.setBrush(Qt::NoBrush);
        if (wrong && ping->by >= 0 && ping->wrong == world::Wrong::Roundabout) {
            p.drawLine(t.map(point(from)), t.map(point(ping->turn)));
            p.drawLine(t.map(point(ping->turn)), place);
        }
        const QPointF back = t.map(point(from));
        const double angle =
            std::atan2(-(back.y() - place.y()), back.x() - place.x()) * 180.0 / M_PI;
        for (int i = 1; i <= 3; ++i)
            p.drawArc(QRectF(place.x() - 7 * i, place.y() - 7 * i, 14 * i, 14 * i),
                      qRound((angle - 40) * 16), 80 * 16);
    }
}

/// Sensors that look down: lit where they see a line.
void FloorView::paintSpots(QPainter &p, const QTransform &t, const world::Moment &m) const
{
    const auto &car = m_run.plan().on->model();
    for (const auto &e : car.eyes) {
        if (e.kind == oncar::Eye::Kind::Button || e.level)
            continue;
        const auto at = m.pose.at + arena::turned(e.at, m.pose.looks);
        const auto ground = arena::groundAt(m_run.plan().arena, at, e.spot_m);
        const double dark =
            (floor::lightAlbedo - ground.albedo) / (floor::lightAlbedo - floor::darkAlbedo);
        auto colour = m_theme.color(dark > 0.5 ? Tone::Ochre : Tone::Sheet);
        p.setPen(QPen(m_theme.color(Tone::Ochre), 1.4));
        p.setBrush(colour);
        const qreal r = std::max(2.5, e.spot_m / 2.0 * t.m11());
        p.drawEllipse(t.map(point(at)), r, r);
    }
}

void FloorView::paintCar(QPainter &p, const QTransform &t, const world::Moment &m) const
{
    const auto &car = m_run.plan().on->model();
    const auto place = [&](arena::Vec own) {
        return t.map(point(m.pose.at + arena::turned(own, m.pose.looks)));
    };
    p.setPen(QPen(m_theme.color(Tone::Ink), m_theme.line()));
    p.setBrush(m_theme.color(Tone::Ink));
    for (const double side : {-1.0, 1.0}) {
        const double y = side * m_run.drive->course().car->geometry.track_m / 2.0;
        QPolygonF wheel;
        for (const auto &c : {arena::Vec{-0.03, y - 0.012},
                              {0.03, y - 0.012},
                              {0.03, y + 0.012},
                              {-0.03, y + 0.012}})
            wheel << place(c);
        p.drawPolygon(wheel);
    }
    QPolygonF deck;
    for (const auto &c : car.outline.corners)
        deck << place(c);
    p.setBrush(m_theme.color(Tone::Paper));
    p.drawPolygon(deck);
    // Which way is ahead: a nick at the nose.
    const double n = car.axleToNose_m;
    QPolygonF nick;
    nick << place({n - 0.03, 0.02}) << place({n - 0.008, 0.0}) << place({n - 0.03, -0.02});
    p.setBrush(Qt::NoBrush);
    p.drawPolyline(nick);
    p.setBrush(m_theme.color(Tone::Ink));
    for (const auto &r : car.rangers)
        p.drawEllipse(place(r.at), 2.6, 2.6);
}

void FloorView::paintTouches(QPainter &p, const QTransform &t) const
{
    p.setFont(m_theme.text(Type::Small));
    const auto &trace = m_run.trace();
    QPointF lastLabel(-1000, -1000);
    const auto mark = [&](QPointF at, const QString &words) {
        p.setPen(QPen(m_theme.color(Tone::Brick), 2.2));
        burst(p, at, 4, 10);
        if (QLineF(at, lastLabel).length() < 40)
            return;
        lastLabel = at;
        const qreal w = p.fontMetrics().horizontalAdvance(words) + 6;
        QRectF box(at.x() + 12, at.y() - 9, w, 18);
        if (box.right() > width() - 4)
            box.moveRight(at.x() - 12);
        if (box.left() < 2) // on neither side: under it
            box.moveTo(std::clamp(at.x() - w / 2, 2.0, std::max(2.0, width() - w - 4)),
                       at.y() + 12);
        auto paper = m_theme.color(Tone::Sheet);
        paper.setAlphaF(0.85f);
        p.fillRect(box, paper);
        p.drawText(box, Qt::AlignCenter, words);
    };
    for (const auto &touch : trace.touches)
        if (touch.time_us <= m_time_us)
            mark(t.map(point(touch.onFloor)),
                 tr("%1, %2").arg(
                     str(units::fixed(double(touch.time_us) * 1e-6, units::Unit::Second, 1)),
                     str(world::partOf(m_run.plan().on->model(), touch.onCar))));
    for (const auto &loss : m_run.run->score.losses) {
        if (loss.time_us > m_time_us)
            break;
        const auto m = world::at(trace, loss.time_us);
        mark(t.map(point(m.pose.at + m_run.plan().on->model().axleToNose_m * m.pose.looks)),
             tr("lost the line, %1")
                 .arg(str(units::fixed(double(loss.time_us) * 1e-6, units::Unit::Second, 1))));
    }
    if (trace.fell && trace.fell->time_us <= m_time_us)
        mark(t.map(point(trace.fell->at)),
             tr("over the edge, %1")
                 .arg(str(
                     units::fixed(double(trace.fell->time_us) * 1e-6, units::Unit::Second, 1))));
}

void FloorView::paintGap(QPainter &p, const QTransform &t) const
{
    const auto &s = m_run.run->score;
    if (s.kind != task::Kind::Stops || !s.gap_m || !s.rest_s ||
        double(m_time_us) * 1e-6 < *s.rest_s)
        return;
    const auto m = world::at(m_run.trace(), static_cast<std::uint64_t>(*s.rest_s * 1e6));
    const auto &car = m_run.plan().on->model();
    double half = 0.0;
    for (const auto &c : car.outline.corners)
        half = std::max(half, c.y);
    const arena::Vec side{-m.pose.looks.y, m.pose.looks.x};
    const auto nose = m.pose.at + car.axleToNose_m * m.pose.looks + (half + 0.03) * side;
    const QPointF a = t.map(point(nose));
    const QPointF b = t.map(point(nose + *s.gap_m * m.pose.looks));
    const QPointF up = t.map(point(nose + 0.02 * side)) - a;
    p.setPen(QPen(m_theme.color(Tone::Result), 1.6));
    p.drawLine(a, b);
    p.drawLine(a - up, a + up);
    p.drawLine(b - up, b + up);
    p.setFont(m_theme.text(Type::Body, true));
    const QPointF middle = (a + b) / 2 + up / std::max(1.0, QLineF(QPointF(), up).length()) * 16;
    p.drawText(QRectF(middle - QPointF(60, 12), QSizeF(120, 24)), Qt::AlignCenter, cm(*s.gap_m));
}

} // namespace badger::app
