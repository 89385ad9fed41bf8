// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/floor/floor_view.h"

#include "app/floor/paint_floor.h"
#include "app/widgets/marks.h"
#include "app/widgets/text.h"
#include "core/world/words.h"

#include <QEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>
#include <map>

namespace badger::app
{

FloorView::FloorView(const Theme &theme, QWidget *parent) : QWidget(parent), m_theme(theme)
{
    setMinimumHeight(qRound(100 * theme.scale()));
    setAccessibleName(tr("Floor from above"));
}

void FloorView::show(ShownRun run)
{
    m_run = std::move(run);
    m_words.clear();
    m_floor = {};
    setAccessibleDescription(str(task::verdict(m_run.plan(), m_run.trace(), m_run.run->score)));
    update();
}

void FloorView::showNothing(const QString &words)
{
    m_run = {};
    m_words = words;
    m_floor = {};
    update();
}

void FloorView::setTime(std::uint64_t time_us)
{
    m_time_us = time_us;
    update();
}

void FloorView::follow(bool on)
{
    m_follows = on;
    m_floor = {};
    update();
}

void FloorView::resizeEvent(QResizeEvent *)
{
    m_floor = {};
}

void FloorView::changeEvent(QEvent *event)
{
    if (event->type() == QEvent::PaletteChange || event->type() == QEvent::StyleChange)
        m_floor = {};
    QWidget::changeEvent(event);
}

qreal FloorView::fit() const
{
    const auto size = m_run.plan().arena.size;
    const qreal margin = 14;
    const qreal foot = 20 * m_theme.scale();
    return std::min((width() - 2 * margin) / size.x, (height() - 2 * margin - foot) / size.y);
}

QTransform FloorView::plan() const
{
    const auto size = m_run.plan().arena.size;
    const qreal foot = 20 * m_theme.scale();
    qreal scale = fit();
    QTransform t;
    if (m_follows) {
        // So large that the car is about a quarter of the picture's height.
        const auto m = world::at(m_run.trace(), m_time_us);
        scale = std::max(scale, height() / 1.1);
        t.translate(width() / 2.0 - m.pose.at.x * scale, height() / 2.0 + m.pose.at.y * scale);
    } else {
        t.translate((width() - size.x * scale) / 2, (height() - foot + size.y * scale) / 2);
    }
    t.scale(scale, -scale); // the plan's y runs up
    return t;
}

void FloorView::paintFoot(QPainter &p, const QTransform &t) const
{
    // A scale bar, so that a person can judge lengths: 50 cm, or 20 inches.
    const auto &f = *m_run.drive->course().floor;
    const qreal s = m_theme.scale();
    const QRectF foot(14, height() - 20 * s, width() - 28, 18 * s);
    const auto unit = units::shownIn(units::Unit::Centimetre, listener().display);
    const double bar_m = unit == units::Unit::Inch ? units::toSi(20.0, unit) : 0.5;
    const QPointF left(foot.left(), foot.center().y());
    const QPointF right = left + QPointF(bar_m * t.m11(), 0);
    p.setPen(QPen(m_theme.color(Tone::Ink2), 1.4));
    p.setFont(m_theme.text(Type::Small));
    p.drawLine(left, right);
    for (const auto &end : {left, right})
        p.drawLine(end - QPointF(0, 4), end + QPointF(0, 4));
    const auto length = str(units::quantity(bar_m, unit, 0));
    p.drawText(right + QPointF(8, 4), length);
    const qreal taken = right.x() + 20 + p.fontMetrics().horizontalAdvance(length);
    const auto words =
        f.surface.empty()
            ? tr("%1 · air %2")
                  .arg(str(f.name), str(units::quantity(f.air_degC, units::Unit::Celsius, 1)))
            : tr("%1 · %2 · air %3")
                  .arg(str(f.name), str(f.surface),
                       str(units::quantity(f.air_degC, units::Unit::Celsius, 1)));
    p.drawText(foot, Qt::AlignRight | Qt::AlignVCenter,
               p.fontMetrics().elidedText(words, Qt::ElideRight, int(foot.right() - taken)));
}

void FloorView::paintFloor(QPainter &p, const QTransform &t) const
{
    const auto &a = m_run.plan().arena;
    paintMat(p, t, a, m_theme);
    paintThings(p, t, a, m_theme);
    paintNames(p, t, a, m_theme);
}

void FloorView::paintPath(QPainter &p, const QTransform &t, std::uint64_t until_us,
                          bool faint) const
{
    const auto &trace = m_run.trace();
    const double nose = m_run.plan().on->model().axleToNose_m;
    QPainterPath path;
    QPointF last;
    const std::uint64_t every_us = trace.end_us > 30000000   ? 10000000
                                   : trace.end_us > 12000000 ? 5000000
                                                             : 1000000;
    std::uint64_t nextTick = every_us;
    p.setFont(m_theme.text(Type::Small));
    std::vector<std::pair<QPointF, QPointF>> ticks; // place and side
    std::vector<QString> labels;
    for (const auto &m : trace.path) {
        if (m.time_us > until_us)
            break;
        const QPointF at = t.map(point(m.pose.at + nose * m.pose.looks));
        if (path.elementCount() == 0)
            path.moveTo(at);
        else if (QLineF(last, at).length() > 0.7)
            path.lineTo(at);
        else
            continue;
        last = at;
        if (m.time_us >= nextTick) {
            const QPointF side(-m.pose.looks.y, -m.pose.looks.x);
            ticks.emplace_back(at, side);
            labels.push_back(QString::number(nextTick / 1000000) + " s");
            while (nextTick <= m.time_us)
                nextTick += every_us;
        }
    }
    auto colour = m_theme.color(Tone::Result);
    if (faint)
        colour.setAlphaF(0.35f);
    p.setBrush(Qt::NoBrush);
    p.setPen(
        QPen(colour, (faint ? 1.2 : 2.0) * m_theme.scale(), faint ? Qt::DashLine : Qt::SolidLine));
    p.drawPath(path);
    if (faint)
        return;
    QPointF lastLabel(-1000, -1000);
    for (size_t i = 0; i < ticks.size(); ++i) {
        const auto &[at, side] = ticks[i];
        p.setPen(QPen(m_theme.color(Tone::Result), 1.6));
        p.drawLine(at - side * 4, at + side * 4);
        if (QLineF(at, lastLabel).length() < 46 * m_theme.scale())
            continue;
        const QSizeF size = p.fontMetrics().boundingRect(labels[i]).size() + QSize(4, 0);
        for (const qreal out : {16.0, -16.0}) { // on the side where there is room
            const QPointF middle = at + side * (out * m_theme.scale());
            const QRectF place(middle - QPointF(size.width(), size.height()) / 2, size);
            if (isTaken(place, t))
                continue;
            lastLabel = at;
            p.drawText(place, Qt::AlignCenter, labels[i]);
            break;
        }
    }
}

bool FloorView::isTaken(const QRectF &place, const QTransform &t) const
{
    const auto crosses = [&](const QLineF &line) {
        const QLineF sides[] = {{place.topLeft(), place.topRight()},
                                {place.topRight(), place.bottomRight()},
                                {place.bottomRight(), place.bottomLeft()},
                                {place.bottomLeft(), place.topLeft()}};
        return place.contains(line.p1()) ||
               std::any_of(std::begin(sides), std::end(sides), [&](const QLineF &side) {
                   return side.intersects(line, nullptr) == QLineF::BoundedIntersection;
               });
    };
    const auto &a = m_run.plan().arena;
    for (const auto &s : a.segments)
        if (crosses({t.map(point(s.a)), t.map(point(s.b))}))
            return true;
    return std::any_of(a.rounds.begin(), a.rounds.end(), [&](const arena::Round &r) {
        const qreal wide = r.radius * t.m11() + 2;
        return QRectF(t.map(point(r.at)) - QPointF(wide, wide), QSizeF(2 * wide, 2 * wide))
            .intersects(place);
    });
}

void FloorView::paintMovers(QPainter &p, const QTransform &t) const
{
    p.setPen(QPen(m_theme.color(Tone::Ink), 3.0 * m_theme.scale(), Qt::SolidLine, Qt::RoundCap));
    for (const auto &m : m_run.plan().arena.movers)
        if (arena::Segment face; arena::at(m, double(m_time_us) * 1e-6, face))
            p.drawLine(t.map(point(face.a)), t.map(point(face.b)));
}

void FloorView::paintEvent(QPaintEvent *)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    if (!m_run) {
        p.setPen(m_theme.color(Tone::Ink2));
        p.setFont(m_theme.text(Type::Lead));
        p.drawText(rect().adjusted(40, 0, -40, 0), Qt::AlignCenter | Qt::TextWordWrap, m_words);
        return;
    }
    const auto t = plan();
    if (m_follows) {
        paintFloor(p, t);
        paintPath(p, t, m_run.end_us(), true);
    } else {
        if (m_floor.isNull()) {
            m_floor = QPixmap(size() * devicePixelRatioF());
            m_floor.setDevicePixelRatio(devicePixelRatioF());
            m_floor.fill(Qt::transparent);
            QPainter still(&m_floor);
            still.setRenderHint(QPainter::Antialiasing);
            paintFloor(still, t);
            paintPath(still, t, m_run.end_us(), true);
        }
        p.drawPixmap(0, 0, m_floor);
    }
    const auto m = world::at(m_run.trace(), m_time_us);
    const auto size = m_run.plan().arena.size;
    p.save();
    p.setClipRect(t.mapRect(QRectF(0, 0, size.x, size.y)));
    paintPath(p, t, m_time_us, false);
    paintMovers(p, t);
    paintBeams(p, t);
    p.restore();
    paintCar(p, t, m);
    paintSpots(p, t, m);
    paintTouches(p, t);
    paintGap(p, t);
    paintFoot(p, t);
}

void FloorView::mousePressEvent(QMouseEvent *event)
{
    scrubTo(event->position());
}

void FloorView::mouseMoveEvent(QMouseEvent *event)
{
    if (event->buttons() & Qt::LeftButton)
        scrubTo(event->position());
}

/// To the nearest place of the path; of several times there, the one nearest to now.
void FloorView::scrubTo(QPointF at)
{
    if (!m_run)
        return;
    const auto t = plan();
    constexpr qreal near_px = 40;
    qreal least = near_px;
    const world::Moment *found = nullptr;
    for (const auto &m : m_run.trace().path) {
        const qreal away = QLineF(t.map(point(m.pose.at)), at).length();
        if (away < least) {
            least = away;
            found = &m;
        }
    }
    if (found)
        emit scrubbed(found->time_us);
}

} // namespace badger::app
