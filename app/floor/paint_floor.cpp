// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/floor/paint_floor.h"

#include "app/widgets/marks.h"
#include "app/widgets/text.h"

#include <QPainter>
#include <QPainterPath>
#include <array>
#include <map>

namespace badger::app
{

void paintMat(QPainter &p, const QTransform &t, const arena::Arena &a, const Theme &theme)
{
    const QRectF extent = t.mapRect(QRectF(0, 0, a.size.x, a.size.y));
    p.setPen(QPen(theme.color(Tone::Rule), 1));
    p.setBrush(theme.color(Tone::Sheet));
    p.drawRect(extent);
    if (!a.edge.empty()) {
        // Beyond the edge there is nothing: hatched.
        hatch(p, extent, theme.color(Tone::Rule), 7);
        QPolygonF table;
        for (const auto &s : a.edge)
            table << t.map(point(s.a));
        p.setBrush(theme.color(Tone::Sheet));
        p.setPen(QPen(theme.color(Tone::Ink), 2.4 * theme.scale()));
        p.drawPolygon(table);
    }
    for (const auto &track : a.tracks) {
        QPainterPath path;
        path.moveTo(t.map(point(track.points.front())));
        for (const auto &q : track.points)
            path.lineTo(t.map(point(q)));
        // On a screen a line is ink on paper, whichever of the two is dark on the floor.
        const bool light = track.albedo > a.albedo;
        p.setBrush(Qt::NoBrush);
        if (light) {
            p.setPen(QPen(theme.color(Tone::Ink2), track.width * t.m11() + 2, Qt::SolidLine,
                          Qt::FlatCap, Qt::RoundJoin));
            p.drawPath(path);
        }
        p.setPen(QPen(theme.color(light ? Tone::Sheet : Tone::Ink),
                      std::max(1.0, track.width * t.m11()), Qt::SolidLine, Qt::FlatCap,
                      Qt::RoundJoin));
        p.drawPath(path);
    }
}

void paintThings(QPainter &p, const QTransform &t, const arena::Arena &a, const Theme &theme)
{
    // Four faces of one name are a box: hatched, as something solid is.
    std::map<std::string, std::vector<const arena::Segment *>> boxes;
    for (const auto &s : a.segments)
        boxes[a.name(s.thing)].push_back(&s);
    for (const auto &[name, faces] : boxes) {
        if (faces.size() != 4)
            continue;
        QPolygonF ring;
        for (const auto *f : faces)
            ring << t.map(point(f->a));
        QPainterPath path;
        path.addPolygon(ring);
        p.save();
        p.setClipPath(path);
        hatch(p, ring.boundingRect(), theme.color(Tone::Ink2), 6);
        p.restore();
    }
    for (const auto &s : a.segments) {
        const bool soft = s.echo < 0.9;
        p.setPen(QPen(theme.color(Tone::Ink), 2.4 * theme.scale(),
                      soft ? Qt::DotLine : Qt::SolidLine, Qt::RoundCap));
        p.drawLine(t.map(point(s.a)), t.map(point(s.b)));
    }
    p.setPen(QPen(theme.color(Tone::Ink), 1.6));
    p.setBrush(theme.color(Tone::Ink2));
    for (const auto &r : a.rounds) {
        const qreal radius = std::max(2.5, r.radius * t.m11());
        p.drawEllipse(t.map(point(r.at)), radius, radius);
    }
}

void paintNames(QPainter &p, const QTransform &t, const arena::Arena &a, const Theme &theme)
{
    std::map<std::string, QRectF> places;
    for (const auto &s : a.segments) {
        const QRectF r = QRectF(t.map(point(s.a)), t.map(point(s.b))).normalized();
        auto &place = places[a.name(s.thing)];
        place =
            place.isNull() ? r.adjusted(0, 0, 0.1, 0.1) : place.united(r.adjusted(0, 0, 0.1, 0.1));
    }
    for (const auto &r : a.rounds)
        places[a.name(r.thing)] = QRectF(t.map(point(r.at)), QSizeF(1, 1));
    p.setFont(theme.text(Type::Small));
    p.setPen(theme.color(Tone::Ink2));
    const QRectF extent = t.mapRect(QRectF(0, 0, a.size.x, a.size.y));
    std::vector<QRectF> taken;
    for (const auto &[name, box] : places) {
        const bool rim = box.width() > 0.8 * extent.width() || box.height() > 0.8 * extent.height();
        if (rim)
            continue;
        const auto words = str(name);
        const qreal w = p.fontMetrics().horizontalAdvance(words) + 4;
        const qreal h = p.fontMetrics().height();
        const std::array<QPointF, 4> tried = {
            QPointF(box.center().x() - w / 2, box.bottom() + 3),
            QPointF(box.center().x() - w / 2, box.top() - h - 3),
            QPointF(box.right() + 4, box.center().y() - h / 2),
            QPointF(box.left() - w - 4, box.center().y() - h / 2)};
        for (const auto &at : tried) {
            const QRectF place(at, QSizeF(w, h));
            bool free = extent.adjusted(2, 2, -2, -2).contains(place);
            for (const auto &other : taken)
                free &= !other.intersects(place);
            for (const auto &[n, b] : places)
                free &= n == name || b.width() > 0.8 * extent.width() ||
                        b.height() > 0.8 * extent.height() || !b.intersects(place);
            if (!free)
                continue;
            p.drawText(place, Qt::AlignCenter, words);
            taken.push_back(place);
            break;
        }
    }
}

} // namespace badger::app
