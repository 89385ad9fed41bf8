// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/picture_button.h"

#include <QEvent>
#include <QPainter>

namespace badger::app
{

PictureButton::PictureButton(const QString &title, const QString &line, Paint paint,
                             const Theme &theme, QWidget *parent)
    : QAbstractButton(parent), m_title(title), m_line(line), m_paint(std::move(paint)),
      m_theme(theme)
{
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    setAccessibleName(title);
    setAccessibleDescription(line);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

QSize PictureButton::sizeHint() const
{
    return QSize(176, 184) * m_theme.scale();
}

void PictureButton::paintEvent(QPaintEvent *)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const bool lit = hasFocus() || underMouse() || isDown();
    const auto area = QRectF(rect()).adjusted(1.5, 1.5, -1.5, -1.5);
    p.setPen(QPen(m_theme.color(lit ? Tone::Ochre : Tone::Rule), lit ? 2.0 : 1.0));
    p.setBrush(m_theme.color(isDown() ? Tone::Stand : Tone::Sheet));
    p.drawRoundedRect(area, 4, 4);
    const qreal pad = m_theme.space(2);
    const auto inner = area.adjusted(pad, pad, -pad, -pad);
    p.setFont(m_theme.text(Type::Body, true));
    const qreal titleHeight = p.fontMetrics().height() + 2;
    p.setFont(m_theme.text(Type::Small));
    const qreal lineHeight = p.fontMetrics().height() * 3.0;
    const QRectF picture(inner.left(), inner.top(), inner.width(),
                         inner.height() - titleHeight - lineHeight - 4);
    m_paint(p, picture);
    p.setPen(m_theme.color(Tone::Ink2));
    p.drawText(QRectF(inner.left(), inner.bottom() - lineHeight, inner.width(), lineHeight + 2),
               Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap, m_line);
    p.setFont(m_theme.text(Type::Body, true));
    p.setPen(m_theme.color(Tone::Ink));
    p.drawText(
        QRectF(inner.left(), inner.bottom() - lineHeight - titleHeight, inner.width(), titleHeight),
        Qt::AlignLeft | Qt::AlignVCenter,
        p.fontMetrics().elidedText(m_title, Qt::ElideRight, int(inner.width())));
}

bool PictureButton::event(QEvent *event)
{
    if (event->type() == QEvent::Enter || event->type() == QEvent::Leave)
        update();
    return QAbstractButton::event(event);
}

} // namespace badger::app
