// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/kit/car_plan.h"

#include "app/document/edits.h"
#include "app/widgets/text.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QToolTip>
#include <QtMath>

namespace badger::app
{

using parts::Kind;

namespace
{

constexpr double beyondThreshold = 1.15; ///< so much farther a beam is drawn
constexpr qreal labelRoom = 84;          ///< for "blind 33 mm", pixels at scale 1

int layerOf(Kind kind)
{
    switch (kind) {
    case Kind::Support:
        return 0;
    case Kind::Motor:
    case Kind::DriveServo:
        return 1;
    case Kind::Cell:
    case Kind::Supply:
        return 2;
    case Kind::Board:
    case Kind::Rail:
        return 3;
    case Kind::Driver:
        return 4;
    default:
        return 5;
    }
}

} // namespace

CarPlan::CarPlan(const Theme &theme, QWidget *parent) : QWidget(parent), m_theme(theme)
{
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
    setAccessibleName(tr("The car from above, to scale"));
}

QSize CarPlan::sizeHint() const
{
    return {qRound(760 * m_theme.scale()), qRound(230 * m_theme.scale())};
}
QSize CarPlan::minimumSizeHint() const
{
    return {qRound(420 * m_theme.scale()), qRound(232 * m_theme.scale())};
}

void CarPlan::show(PlanContent content)
{
    m_content = std::move(content);
    if (m_content->car.instance(m_picked.toStdString()) == nullptr)
        m_picked.clear();
    arrange();
    setAccessibleDescription(m_picked.isEmpty()
                                 ? tr("%n parts", nullptr, int(m_content->car.parts.size()))
                                 : tr("%1 is picked").arg(m_picked));
    update();
}

void CarPlan::showNothing(const QString &sentence)
{
    m_content.reset();
    m_blocks.clear();
    m_sentence = sentence;
    update();
}

void CarPlan::pick(const QString &instance)
{
    m_picked = instance;
    update();
}

QPointF CarPlan::at(double x_m, double y_m) const
{
    return {m_axle.x() + x_m * m_scale, m_axle.y() - y_m * m_scale};
}

/// How far a beam matters: ahead as far as the threshold and a little beyond, where there is one;
/// to a side as far as shows which way it looks.
double CarPlan::reach_m(const sense::RangerCover &ranger) const
{
    constexpr double most_m = 0.6;
    constexpr double aside_m = 0.09;
    const double length_m = m_content->car.geometry.length_m;
    if (!ranger.ahead) {
        // As far as the picture goes, so that the whole of it is seen.
        const double half = ranger.swept.halfAngle_rad + ranger.swept.sweep_rad;
        const double steep = std::max(std::abs(std::sin(ranger.place.yaw_rad - half)),
                                      std::abs(std::sin(ranger.place.yaw_rad + half)));
        const qreal y = at(ranger.place.x_m, ranger.place.y_m).y();
        const qreal room = std::min(y, height() - y) - 2.0;
        return std::min(aside_m, std::max(0.0, room / m_scale / std::max(0.1, steep)));
    }
    return m_content->threshold_m
               ? std::clamp(*m_content->threshold_m * beyondThreshold, aside_m, most_m)
               : length_m * 0.8;
}

void CarPlan::arrange()
{
    if (!m_content || width() < 10)
        return;
    const auto &g = m_content->car.geometry;
    const double tail_m = g.axleToNose_m - g.length_m;
    const double half_m = std::max(g.width_m, g.track_m + 0.026) / 2.0 + 0.004;
    QRectF all(QPointF(tail_m, -half_m), QPointF(g.axleToNose_m, half_m)); // y to the left
    for (const auto &r : m_content->judgement.covers) {
        if (!r.ahead)
            continue; // beams to the sides take what the margins have
        // Across, the beam may leave the car's own way: the margins have room for it.
        const double far_m = m_content->threshold_m ? reach_m(r) / beyondThreshold : reach_m(r);
        all |= QRectF(QPointF(r.place.x_m + far_m, 0.0), QSizeF(1e-6, 1e-6));
    }
    const qreal s = m_theme.scale();
    // Beside the threshold's line stands what is covered and what stays blind.
    const qreal right = m_content->threshold_m ? std::max(rightMargin, labelRoom) : rightMargin;
    const qreal w = width() - (leftMargin + right) * s;
    const qreal h = height() - (topMargin + bottomMargin) * s;
    m_scale = std::min(w / all.width(), h / all.height());
    m_axle = QPointF(leftMargin * s - all.left() * m_scale,
                     topMargin * s + h / 2.0 + all.center().y() * m_scale);
    arrangeBlocks();
}

void CarPlan::arrangeBlocks()
{
    m_blocks.clear();
    const auto &c = *m_content;
    qreal tray = 0;
    for (const auto &fitted : c.car.parts) {
        const auto *part = c.catalogue.find(fitted.partId);
        if (part == nullptr || part->kind == Kind::Deck || part->kind == Kind::Wheel ||
            part->kind == Kind::Jumper || part->kind == Kind::Fastener ||
            part->kind == Kind::Resistor || part->kind == Kind::Divider)
            continue;
        const auto place = kit::placeOf({c.car, c.catalogue}, fitted);
        // A part that states no size is drawn as a small square.
        constexpr double small_m = 0.012;
        auto sides = kit::footprintOf({c.car, c.catalogue}, fitted)
                         .value_or(kit::Footprint{small_m, small_m});
        if (part->kind == Kind::Support)
            sides = {small_m, small_m};
        const auto size = QSizeF(sides.length_m, sides.width_m) * m_scale;
        Block b;
        b.id = str(fitted.id);
        b.label = str(kit::labelOf(fitted));
        b.layer = layerOf(part->kind);
        b.movable = fitted.mount || !place;
        b.placed = place.has_value();
        if (place) {
            const auto centre = at(place->x_m, place->y_m);
            b.turn = -qRadiansToDegrees(place->yaw_rad);
            b.box = QRectF(-size.width() / 2, -size.height() / 2, size.width(), size.height());
            b.box.translate(-kit::bodyBehind_m(*part) * m_scale, 0);
            b.box.translate(centre);
        } else { // beside the car until somebody says where it sits
            b.box = QRectF(
                QPointF(width() - rightMargin - size.width(), height() - size.height() - 2 - tray),
                size);
            tray += size.height() + 4;
            b.layer = 6;
        }
        m_blocks.push_back(std::move(b));
    }
    std::stable_sort(m_blocks.begin(), m_blocks.end(),
                     [](const Block &a, const Block &b) { return a.layer < b.layer; });
}

QRectF CarPlan::blockOf(const QString &instance) const
{
    for (const auto &b : m_blocks)
        if (b.id == instance)
            return b.box;
    return {};
}

const CarPlan::Block *CarPlan::blockUnder(QPointF pos) const
{
    for (auto it = m_blocks.rbegin(); it != m_blocks.rend(); ++it)
        if (it->box.adjusted(-3, -3, 3, 3).contains(pos))
            return &*it;
    return nullptr;
}

void CarPlan::mousePressEvent(QMouseEvent *event)
{
    setFocus();
    if (!m_content)
        return;
    const auto *b = blockUnder(event->position());
    m_picked = b ? b->id : QString();
    m_dragging = b != nullptr && b->movable;
    m_drag = -1;
    if (b) {
        const auto *fitted = m_content->car.instance(b->id.toStdString());
        const auto *part = m_content->catalogue.find(fitted->partId);
        const auto reference =
            b->box.center() + QPointF(b->placed ? kit::bodyBehind_m(*part) * m_scale : 0.0, 0);
        m_grip = event->position() - reference;
    }
    update();
    emit partPicked(m_picked);
}

void CarPlan::mouseMoveEvent(QMouseEvent *event)
{
    const auto *under = blockUnder(event->position());
    setCursor(under && under->movable ? Qt::SizeAllCursor : Qt::ArrowCursor);
    if (!m_dragging || !(event->buttons() & Qt::LeftButton))
        return;
    if (m_drag < 0)
        m_drag = nextDrag();
    const auto to = event->position() - m_grip;
    const auto &g = m_content->car.geometry;
    const auto snapped = [](double m) { return std::round(m * 1000.0) / 1000.0; };
    const double x_m = (to.x() - m_axle.x()) / m_scale;
    const double y_m = (m_axle.y() - to.y()) / m_scale;
    emit partMoved(m_picked, snapped(g.axleToNose_m - x_m), snapped(y_m), m_drag);
}

void CarPlan::mouseReleaseEvent(QMouseEvent *)
{
    m_dragging = false;
}

void CarPlan::move(double ahead_m, double left_m)
{
    const auto *fitted = m_content->car.instance(m_picked.toStdString());
    if (fitted == nullptr)
        return;
    const auto place = kit::placeOf({m_content->car, m_content->catalogue}, *fitted);
    const auto &g = m_content->car.geometry;
    if (!place) // the first step puts it on the middle of the deck
        return emit partMoved(m_picked, g.length_m / 2.0, 0.0, Edit::noDrag);
    if (!fitted->mount)
        return;
    const auto snapped = [](double m) { return std::round(m * 1000.0) / 1000.0; };
    emit partMoved(m_picked, snapped(fitted->mount->setBack_m - ahead_m),
                   snapped(fitted->mount->offset_m + left_m), Edit::noDrag);
}

void CarPlan::step(int by)
{
    if (m_blocks.empty())
        return;
    int index = by > 0 ? -1 : 0;
    for (size_t i = 0; i < m_blocks.size(); ++i)
        if (m_blocks[i].id == m_picked)
            index = int(i);
    const int n = int(m_blocks.size());
    m_picked = m_blocks[size_t((index + by + n) % n)].id;
    update();
    emit partPicked(m_picked);
}

void CarPlan::keyPressEvent(QKeyEvent *event)
{
    if (!m_content)
        return QWidget::keyPressEvent(event);
    const double step_m = event->modifiers() & Qt::ShiftModifier ? 0.010 : 0.001;
    switch (event->key()) {
    case Qt::Key_Right:
        return move(step_m, 0);
    case Qt::Key_Left:
        return move(-step_m, 0);
    case Qt::Key_Up:
        return move(0, step_m);
    case Qt::Key_Down:
        return move(0, -step_m);
    case Qt::Key_PageDown:
        return step(1);
    case Qt::Key_PageUp:
        return step(-1);
    case Qt::Key_Delete:
        if (!m_picked.isEmpty())
            emit removeWanted(m_picked);
        return;
    default:
        QWidget::keyPressEvent(event);
    }
}

void CarPlan::resizeEvent(QResizeEvent *)
{
    arrange();
}

bool CarPlan::event(QEvent *e)
{
    if (e->type() == QEvent::ToolTip) {
        auto *help = static_cast<QHelpEvent *>(e);
        const auto *b = blockUnder(help->pos());
        if (b == nullptr) {
            QToolTip::hideText();
        } else {
            const auto *fitted = m_content->car.instance(b->id.toStdString());
            QToolTip::showText(
                help->globalPos(),
                tr("%1: %2").arg(b->label, str(m_content->catalogue.find(fitted->partId)->name)),
                this);
        }
        return true;
    }
    return QWidget::event(e);
}

} // namespace badger::app
