// SPDX-License-Identifier: GPL-3.0-or-later
// How the threshold is taken by mouse and keys.
#include "app/document/edits.h"
#include "app/rule/distance_ruler.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <cmath>

namespace badger::app
{

void DistanceRuler::mousePressEvent(QMouseEvent *event)
{
    if (event->button() == Qt::LeftButton && onHandle(event->position()))
        m_drag = nextDrag();
}

void DistanceRuler::mouseMoveEvent(QMouseEvent *event)
{
    setCursor(m_drag >= 0 || onHandle(event->position()) ? Qt::SplitHCursor : Qt::ArrowCursor);
    if (m_drag < 0)
        return;
    const double step = m_content.step_m;
    const double raw = distance(event->position().x());
    const double snapped = std::clamp(std::round(raw / step) * step, step,
                                      std::floor(m_content.limit_m / step + 1e-9) * step);
    emit thresholdMoved(snapped, m_drag);
}

void DistanceRuler::mouseReleaseEvent(QMouseEvent *)
{
    m_drag = -1;
}

void DistanceRuler::focusInEvent(QFocusEvent *event)
{
    m_keyDrag = nextDrag();
    QWidget::focusInEvent(event);
}

void DistanceRuler::keyPressEvent(QKeyEvent *event)
{
    if (!m_content.threshold_m)
        return QWidget::keyPressEvent(event);
    const double step = m_content.step_m;
    double wanted = *m_content.threshold_m;
    switch (event->key()) {
    case Qt::Key_Left:
        wanted -= step;
        break;
    case Qt::Key_Right:
        wanted += step;
        break;
    case Qt::Key_PageDown:
        wanted -= 5 * step;
        break;
    case Qt::Key_PageUp:
        wanted += 5 * step;
        break;
    default:
        return QWidget::keyPressEvent(event);
    }
    wanted = std::round(wanted / step) * step;
    if (wanted >= step && wanted <= m_content.limit_m)
        emit thresholdMoved(wanted, m_keyDrag);
}

} // namespace badger::app
