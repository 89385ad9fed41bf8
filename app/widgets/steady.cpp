// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/steady.h"

#include <QEvent>
#include <QLayout>

namespace badger::app
{

Steady::Steady(QWidget *content, QWidget *parent) : QWidget(parent), m_content(content)
{
    content->setParent(this);
    content->installEventFilter(this);
    setSizePolicy(content->sizePolicy());
    // A widget that nobody has hidden counts as hidden, too, until it is shown the first time; and
    // what has no place yet is not shown, or it would be a window.
    if (content->testAttribute(Qt::WA_WState_ExplicitShowHide) && content->isHidden())
        hide();
}

QSize Steady::sizeHint() const
{
    return m_content->sizeHint();
}

QSize Steady::minimumSizeHint() const
{
    const auto least = m_content->minimumSizeHint();
    return {least.width(), m_content->hasHeightForWidth() ? 0 : least.height()};
}

bool Steady::hasHeightForWidth() const
{
    return m_content->hasHeightForWidth();
}

int Steady::heightForWidth(int width) const
{
    return m_content->hasHeightForWidth() ? m_content->heightForWidth(width)
                                          : m_content->sizeHint().height();
}

bool Steady::event(QEvent *event)
{
    if (event->type() != QEvent::LayoutRequest)
        return QWidget::event(event);
    const int height = heightForWidth(width());
    const int least = m_content->minimumSizeHint().width();
    if (height != m_height || least > width() || m_least > width())
        updateGeometry();
    m_height = height;
    m_least = least;
    return true;
}

bool Steady::eventFilter(QObject *watched, QEvent *event)
{
    const auto type = event->type();
    if (parentWidget() && (type == QEvent::ShowToParent || type == QEvent::HideToParent))
        setVisible(!m_content->isHidden());
    return QWidget::eventFilter(watched, event);
}

void Steady::resizeEvent(QResizeEvent *)
{
    m_content->setGeometry(rect());
    m_height = heightForWidth(width());
}

} // namespace badger::app
