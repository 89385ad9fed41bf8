// SPDX-License-Identifier: GPL-3.0-or-later
// What the hand does on the harness: point, pick, drag an end, step through the wires.
#include "app/widgets/text.h"
#include "app/wire/harness_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainterPathStroker>

namespace badger::app
{

int HarnessView::wireAt(QPointF at) const
{
    QPainterPathStroker stroker;
    stroker.setWidth(10);
    for (auto it = m_layout.wires.rbegin(); it != m_layout.wires.rend(); ++it)
        if (stroker.createStroke(it->path).contains(at))
            return static_cast<int>(it->index);
    return -1;
}

const HarnessTerminal *HarnessView::terminalAt(QPointF at) const
{
    const qreal half = m_row / 2;
    for (const auto &part : m_layout.parts)
        for (const auto &t : part.terminals) {
            const qreal inside = part.area.width() / 2;
            const QRectF box(t.onRight ? t.at.x() - inside : t.at.x() - 8, t.at.y() - half,
                             inside + 8, 2 * half);
            if (box.contains(at))
                return &t;
        }
    return nullptr;
}

void HarnessView::mousePressEvent(QMouseEvent *event)
{
    const QPointF at = event->position() - QPointF(sideMargin, 2);
    m_drag = {};
    if (m_picked >= 0 && m_picked < static_cast<int>(m_car.wires.size())) {
        const auto &w = m_car.wires[static_cast<size_t>(m_picked)];
        for (const bool fromEnd : {true, false})
            if (const auto *t = m_layout.terminal(fromEnd ? w.from : w.to);
                t && QLineF(t->at, at).length() < 9 * m_theme.scale()) {
                m_drag = {m_picked, fromEnd, at, false};
                return;
            }
    }
    if (const auto *t = terminalAt(at)) {
        // A copy: whoever hears of it may make the layout anew.
        const std::string name = t->name;
        emit terminalPicked(str(name));
        for (size_t i = 0; i < m_car.wires.size(); ++i)
            if (m_car.wires[i].from == name || m_car.wires[i].to == name) {
                pickWire(static_cast<int>(i));
                return emit wirePicked(m_picked);
            }
        markTerminal(name);
        return;
    }
    pickWire(wireAt(at));
    emit wirePicked(m_picked);
}

void HarnessView::mouseMoveEvent(QMouseEvent *event)
{
    const QPointF at = event->position() - QPointF(sideMargin, 2);
    if (m_drag.wire >= 0) {
        m_drag.at = at;
        m_drag.moved = true;
        return update();
    }
    const int wire = wireAt(at);
    if (wire == m_hovered)
        return;
    m_hovered = wire;
    update();
    emit wireHovered(wire);
}

void HarnessView::mouseReleaseEvent(QMouseEvent *)
{
    const auto drag = m_drag;
    m_drag = {};
    update();
    if (drag.wire < 0 || !drag.moved)
        return;
    if (const auto *t = terminalAt(drag.at))
        emit endMoved(drag.wire, drag.fromEnd, str(t->name));
}

void HarnessView::leaveEvent(QEvent *)
{
    m_hovered = -1;
    update();
    emit wireHovered(-1);
}

void HarnessView::keyPressEvent(QKeyEvent *event)
{
    const auto n = static_cast<int>(m_car.wires.size());
    const int step = event->key() == Qt::Key_Down ? 1 : event->key() == Qt::Key_Up ? -1 : 0;
    if (step == 0 || n == 0)
        return QWidget::keyPressEvent(event);
    pickWire(m_picked < 0 ? 0 : (m_picked + step + n) % n);
    emit wirePicked(m_picked);
}

void HarnessView::mouseDoubleClickEvent(QMouseEvent *event)
{
    const QPointF at = event->position() - QPointF(sideMargin, 2);
    if (const auto *t = terminalAt(at))
        emit terminalTwice(str(t->name));
}

} // namespace badger::app
