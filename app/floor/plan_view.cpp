// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/floor/plan_view.h"

#include "app/document/edits.h"
#include "app/widgets/marks.h"
#include "app/widgets/text.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <cmath>

namespace badger::app
{

namespace
{
constexpr qreal reach_px = 9; ///< of the pointer
constexpr qreal margin_px = 34;
constexpr double tick_m = 0.1;
} // namespace

PlanView::PlanView(const Theme &theme, QWidget *parent) : QWidget(parent), m_theme(theme)
{
    setObjectName("planView");
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setMinimumHeight(qRound(160 * theme.scale()));
    setAccessibleName(tr("Floor plan"));
    setToolTip(tr("Draw a thing or a point of it elsewhere. Places are whole centimetres; with "
                  "Shift they are not."));
}

void PlanView::show(std::shared_ptr<const floor::Floor> floor)
{
    if (m_before) // what is dragged stays what is shown
        return;
    const bool other = !m_floor || !floor || m_floor->id != floor->id;
    m_floor = std::move(floor);
    if (other) {
        m_picked.reset();
        m_run = {};
    }
    compile();
    // The list it points into may be shorter now.
    if (m_picked) {
        const auto &f = *m_floor;
        const size_t counts[] = {1,
                                 f.walls.size(),
                                 f.posts.size(),
                                 f.lines.size(),
                                 f.movers.size(),
                                 f.patches.size(),
                                 f.edge.empty() ? size_t(0) : size_t(1)};
        if (m_picked->index >= counts[size_t(m_picked->kind)])
            m_picked.reset();
        else if (m_picked->point && m_picked->kind != floor::Kind::Start &&
                 floor::gripsOf(f, {m_picked->kind, m_picked->index, {}}).size() <=
                     *m_picked->point)
            m_picked->point.reset();
    }
    update();
}

void PlanView::clear()
{
    m_before.reset();
    m_floor.reset();
    m_arena.reset();
    m_picked.reset();
    m_run = {};
    update();
}

void PlanView::compile()
{
    m_arena.reset();
    if (!m_floor)
        return;
    if (auto a = arena::compile(*m_floor))
        m_arena = std::move(*a);
}

void PlanView::showRun(const ShownRun &run)
{
    m_run = run;
    update();
}

void PlanView::pick(std::optional<floor::Handle> handle)
{
    if (m_picked == handle)
        return;
    m_picked = handle;
    m_keyDrag = -1;
    if (m_picked)
        setAccessibleDescription(str(floor::nameOf(*m_floor, *m_picked)));
    update();
    emit pickedChanged();
}

QTransform PlanView::plan() const
{
    const qreal m = margin_px * m_theme.scale();
    const qreal scale =
        std::min((width() - 2 * m) / m_floor->width_m, (height() - 2 * m) / m_floor->depth_m);
    QTransform t;
    t.translate((width() - m_floor->width_m * scale) / 2,
                (height() + m_floor->depth_m * scale) / 2);
    t.scale(scale, -scale);
    return t;
}

floor::Point PlanView::placeAt(QPointF at) const
{
    const auto p = plan().inverted().map(at);
    return {p.x(), p.y()};
}

QPointF PlanView::placeOnScreen(const floor::Point &place) const
{
    return plan().map(QPointF(place.x_m, place.y_m));
}

double PlanView::near_m() const
{
    return reach_px * m_theme.scale() / plan().m11();
}

/// Where the grip stands that is dragged; of a whole thing its first point.
static floor::Point anchorOf(const floor::Floor &f, const floor::Handle &h)
{
    const auto grips = floor::gripsOf(f, {h.kind, h.index, {}});
    for (const auto &g : grips)
        if (h.point && g.handle == h)
            return g.at;
    return grips.empty() ? floor::Point{} : grips.front().at;
}

void PlanView::drag(const floor::Point &to, bool snap)
{
    const auto anchor = anchorOf(*m_before, *m_picked);
    floor::Point place{anchor.x_m + to.x_m - m_pressed.x_m, anchor.y_m + to.y_m - m_pressed.y_m};
    if (snap)
        place = floor::snapped(place);
    auto after = m_picked->point ? floor::pointPut(*m_before, *m_picked, place)
                                 : floor::moved(*m_before, *m_picked, place.x_m - anchor.x_m,
                                                place.y_m - anchor.y_m);
    if (after == *m_floor)
        return;
    m_floor = std::make_shared<const floor::Floor>(std::move(after));
    compile();
    update();
    emit dragged();
}

void PlanView::mousePressEvent(QMouseEvent *event)
{
    if (!m_floor || event->button() != Qt::LeftButton)
        return;
    const auto at = placeAt(event->position());
    auto whole = m_picked;
    if (whole)
        whole->point.reset();
    pick(floor::handleAt(*m_floor, at, near_m(), whole));
    if (!m_picked)
        return;
    m_before = m_floor;
    m_pressed = at;
}

void PlanView::mouseMoveEvent(QMouseEvent *event)
{
    if (m_before)
        return drag(placeAt(event->position()), !(event->modifiers() & Qt::ShiftModifier));
    if (!m_floor)
        return;
    auto whole = m_picked;
    if (whole)
        whole->point.reset();
    const auto over = floor::handleAt(*m_floor, placeAt(event->position()), near_m(), whole);
    setCursor(!over ? Qt::ArrowCursor : over->point ? Qt::CrossCursor : Qt::SizeAllCursor);
}

void PlanView::mouseReleaseEvent(QMouseEvent *)
{
    if (!m_before)
        return;
    const auto before = m_before;
    m_before.reset();
    if (*before == *m_floor) {
        if (m_floor != before) { // it was elsewhere in between
            m_floor = before;
            emit dragged();
        }
        return;
    }
    const auto after = m_floor;
    m_floor = before; // it is the page that keeps it
    compile();
    emit changed(*after, Edit::noDrag);
}

void PlanView::nudge(double right_m, double up_m)
{
    if (!m_picked)
        return;
    if (m_keyDrag < 0)
        m_keyDrag = nextDrag();
    const auto at = anchorOf(*m_floor, *m_picked);
    const auto after = m_picked->point
                           ? floor::pointPut(*m_floor, *m_picked,
                                             floor::snapped({at.x_m + right_m, at.y_m + up_m}))
                           : floor::moved(*m_floor, *m_picked, right_m, up_m);
    if (!(after == *m_floor))
        emit changed(after, m_keyDrag);
}

void PlanView::pickNext(int step)
{
    const auto &f = *m_floor;
    std::vector<floor::Handle> all = {{floor::Kind::Start, 0, {}}};
    const auto add = [&](floor::Kind kind, size_t count) {
        for (size_t i = 0; i < count; ++i)
            if (kind != floor::Kind::Wall || floor::wallsOf(f, i).front() == i)
                all.push_back({kind, i, {}});
    };
    // Of walls that hang together the first stands for all.
    std::vector<bool> seen(f.walls.size(), false);
    for (size_t i = 0; i < f.walls.size(); ++i) {
        if (seen[i])
            continue;
        for (const size_t w : floor::wallsOf(f, i))
            seen[w] = true;
        all.push_back({floor::Kind::Wall, i, {}});
    }
    add(floor::Kind::Post, f.posts.size());
    add(floor::Kind::Line, f.lines.size());
    add(floor::Kind::Mover, f.movers.size());
    add(floor::Kind::Patch, f.patches.size());
    add(floor::Kind::Edge, f.edge.empty() ? 0 : 1);
    auto now = m_picked;
    if (now)
        now->point.reset();
    const auto found = now ? std::find(all.begin(), all.end(), *now) : all.end();
    const auto n = std::ptrdiff_t(all.size());
    const auto at = found == all.end() ? (step > 0 ? n - 1 : 0) : found - all.begin();
    pick(all[size_t((at + step + n) % n)]);
}

void PlanView::keyPressEvent(QKeyEvent *event)
{
    if (!m_floor || m_before)
        return QWidget::keyPressEvent(event);
    const double way = event->modifiers() & Qt::ShiftModifier ? 0.1 : 0.01;
    switch (event->key()) {
    case Qt::Key_Left:
        return nudge(-way, 0);
    case Qt::Key_Right:
        return nudge(way, 0);
    case Qt::Key_Up:
        return nudge(0, way);
    case Qt::Key_Down:
        return nudge(0, -way);
    case Qt::Key_PageDown:
        return pickNext(1);
    case Qt::Key_PageUp:
        return pickNext(-1);
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
        if (m_picked)
            emit removeWanted();
        return;
    case Qt::Key_Escape:
        if (m_picked)
            return pick({});
        break;
    default:
        break;
    }
    QWidget::keyPressEvent(event);
}

/// Centimetres along two sides of the plan.
void PlanView::paintTicks(QPainter &p, const QTransform &t) const
{
    const double step = tick_m * t.m11() >= 7 ? tick_m : 5 * tick_m;
    const double named = std::max(0.5, std::ceil(48 * m_theme.scale() / t.m11() / 0.5) * 0.5);
    p.setFont(m_theme.text(Type::Small));
    p.setPen(QPen(m_theme.color(Tone::Ink2), 1));
    const qreal lead = p.fontMetrics().height();
    const auto isNamed = [&](double m) { return std::abs(std::remainder(m, named)) < 1e-9; };
    for (int i = 0; i * step <= m_floor->width_m + 1e-9; ++i) {
        const auto at = t.map(QPointF(i * step, 0));
        const bool words = isNamed(i * step);
        p.drawLine(at + QPointF(0, 3), at + QPointF(0, words ? 9 : 6));
        if (words)
            p.drawText(QRectF(at.x() - 40, at.y() + 9, 80, lead), Qt::AlignCenter,
                       i == 0 ? cm(0, 0) : QString::number(qRound(i * step * 100)));
    }
    for (int i = 0; i * step <= m_floor->depth_m + 1e-9; ++i) {
        const auto at = t.map(QPointF(0, i * step));
        const bool words = i > 0 && isNamed(i * step);
        p.drawLine(at - QPointF(3, 0), at - QPointF(words ? 9 : 6, 0));
        if (words)
            p.drawText(QRectF(at.x() - 64, at.y() - lead / 2, 52, lead),
                       Qt::AlignRight | Qt::AlignVCenter, QString::number(qRound(i * step * 100)));
    }
}

void PlanView::paintMovers(QPainter &p, const QTransform &t) const
{
    for (const auto &m : m_floor->movers) {
        const auto a = t.map(QPointF(m.from.x_m, m.from.y_m));
        const auto b = t.map(QPointF(m.to.x_m, m.to.y_m));
        p.setPen(
            QPen(m_theme.color(Tone::Ink), 3.0 * m_theme.scale(), Qt::SolidLine, Qt::RoundCap));
        p.drawLine(a, b);
        const double way_s = m.ends_s - m.begins_s;
        const QPointF middle = (a + b) / 2;
        const QPointF end =
            middle + QPointF(m.east_mps * t.m11() * way_s, -m.north_mps * t.m11() * way_s);
        p.setPen(QPen(m_theme.color(Tone::Ink2), 1.2, Qt::DashLine));
        p.drawLine(middle, end);
        if (const qreal long_px = QLineF(middle, end).length(); long_px > 1) {
            const QPointF u = (end - middle) / long_px;
            const QPointF side(-u.y() * 4, u.x() * 4);
            p.drawLine(end, end - u * 8 + side);
            p.drawLine(end, end - u * 8 - side);
        }
    }
}

void PlanView::paintStart(QPainter &p, const QTransform &t) const
{
    const auto &s = m_floor->start;
    const double c = std::cos(s.heading_rad), sn = std::sin(s.heading_rad);
    const auto at = [&](double ahead, double left) {
        return t.map(
            QPointF(s.nose.x_m + ahead * c - left * sn, s.nose.y_m + ahead * sn + left * c));
    };
    p.setPen(QPen(m_theme.color(Tone::Ochre), 1.6));
    p.setBrush(m_theme.color(Tone::Sheet));
    p.drawPolygon(QPolygonF(
        {at(0, 0), at(-0.07, 0.065), at(-0.2, 0.065), at(-0.2, -0.065), at(-0.07, -0.065)}));
    p.setFont(m_theme.text(Type::Small));
    p.setPen(m_theme.color(Tone::Ochre));
    const auto middle = at(-0.1, 0);
    const qreal below = 0.1 * t.m11() + 2; // as far as the wedge reaches, whichever way it looks
    p.drawText(QRectF(middle + QPointF(-40, below), QSizeF(80, p.fontMetrics().height())),
               Qt::AlignCenter, tr("start"));
}

void PlanView::paintRun(QPainter &p, const QTransform &t) const
{
    if (!m_run)
        return;
    const double nose = m_run.plan().on->model().axleToNose_m;
    QPainterPath path;
    for (const auto &m : m_run.trace().path) {
        const auto at = t.map(point(m.pose.at + nose * m.pose.looks));
        if (path.elementCount() == 0)
            path.moveTo(at);
        else
            path.lineTo(at);
    }
    auto colour = m_theme.color(Tone::Result);
    colour.setAlphaF(0.55f);
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(colour, 1.6 * m_theme.scale(), Qt::DashLine));
    p.drawPath(path);
    p.setPen(QPen(m_theme.color(Tone::Brick), 2 * m_theme.scale()));
    for (const auto &touch : m_run.trace().touches) {
        const auto pose = world::at(m_run.trace(), touch.time_us).pose;
        const auto at = t.map(point(pose.at + arena::turned(touch.onCar, pose.looks)));
        p.drawLine(at - QPointF(5, 5), at + QPointF(5, 5));
        p.drawLine(at - QPointF(5, -5), at + QPointF(5, -5));
    }
}

void PlanView::paintPicked(QPainter &p, const QTransform &t) const
{
    if (!m_picked)
        return;
    auto whole = *m_picked;
    whole.point.reset();
    const auto &f = *m_floor;
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(m_theme.color(Tone::Ochre), 3.4 * m_theme.scale(), Qt::SolidLine, Qt::RoundCap));
    const auto at = [&](const floor::Point &q) { return t.map(QPointF(q.x_m, q.y_m)); };
    switch (whole.kind) {
    case floor::Kind::Wall:
        for (const size_t i : floor::wallsOf(f, whole.index))
            p.drawLine(at(f.walls[i].from), at(f.walls[i].to));
        break;
    case floor::Kind::Post: {
        const auto &post = f.posts[whole.index];
        const qreal r = std::max(4.0, post.radius_m * t.m11() + 2);
        p.drawEllipse(at(post.at), r, r);
        break;
    }
    case floor::Kind::Mover:
        p.drawLine(at(f.movers[whole.index].from), at(f.movers[whole.index].to));
        break;
    case floor::Kind::Patch:
        p.drawRect(
            QRectF(at(f.patches[whole.index].from), at(f.patches[whole.index].to)).normalized());
        break;
    default:
        break;
    }
    const qreal h = 3.5 * m_theme.scale();
    for (const auto &g : floor::gripsOf(f, whole)) {
        const bool mine = m_picked->point && g.handle == *m_picked;
        p.setPen(QPen(m_theme.color(Tone::Ochre), 1.4));
        p.setBrush(m_theme.color(mine ? Tone::Ochre : Tone::Sheet));
        const auto c = at(g.at);
        if (g.handle.kind == floor::Kind::Start && g.handle.point == 1U) {
            p.drawLine(at(f.start.nose), c);
            p.drawEllipse(c, h, h);
        } else {
            p.drawRect(QRectF(c - QPointF(h, h), QSizeF(2 * h, 2 * h)));
        }
    }
    if (!m_before)
        return;
    // Where it goes, beside the hand.
    const auto a = anchorOf(f, *m_picked);
    const auto words = whole.kind == floor::Kind::Start && m_picked->point == 1U
                           ? str(units::quantity(f.start.heading_rad, units::Unit::Degree, 0))
                           : tr("%1 right, %2 up").arg(cm(a.x_m), cm(a.y_m));
    p.setFont(m_theme.text(Type::Small, true));
    const QSizeF size = p.fontMetrics().size(0, words) + QSize(10, 4);
    QRectF box(at(a) + QPointF(12, -12 - size.height()), size);
    box.moveRight(std::min(box.right(), qreal(width() - 2)));
    box.moveTop(std::max(box.top(), 2.0));
    p.setPen(Qt::NoPen);
    p.setBrush(m_theme.color(Tone::Paper));
    p.drawRect(box);
    p.setPen(m_theme.color(Tone::Ochre));
    p.drawText(box, Qt::AlignCenter, words);
}

void PlanView::paintEvent(QPaintEvent *)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    if (!m_floor)
        return;
    const auto t = plan();
    if (m_arena) {
        paintMat(p, t, *m_arena, m_theme);
        for (const auto &patch : m_floor->patches) {
            auto shade = m_theme.color(Tone::Ink2);
            shade.setAlphaF(0.15f);
            p.fillRect(t.mapRect(QRectF(QPointF(patch.from.x_m, patch.from.y_m),
                                        QPointF(patch.to.x_m, patch.to.y_m))
                                     .normalized()),
                       shade);
        }
        paintThings(p, t, *m_arena, m_theme);
        paintNames(p, t, *m_arena, m_theme);
    }
    paintTicks(p, t);
    paintMovers(p, t);
    paintRun(p, t);
    paintStart(p, t);
    paintPicked(p, t);
    if (hasFocus())
        paintFocus(p, *this, m_theme);
}

} // namespace badger::app
