// SPDX-License-Identifier: GPL-3.0-or-later
// How does a painted mark stand beside a text?
#pragma once

#include <QPainter>
#include <QWidget>
#include <functional>
#include <utility>

namespace badger::app
{

/// A mark beside text.
class MarkLabel final : public QWidget
{
public:
    MarkLabel(std::function<void(QPainter &, QRectF)> paint, qreal side)
        : m_paint(std::move(paint)), m_side(side)
    {
        setFixedSize(qRound(side) + 2, qRound(side) + 6);
    }

protected:
    void paintEvent(QPaintEvent *) override
    {
        QPainter p(this);
        m_paint(p, QRectF(1, 4, m_side, m_side));
    }

private:
    std::function<void(QPainter &, QRectF)> m_paint;
    qreal m_side;
};

QLabel *wrapped(const QString &text, const char *property = nullptr)
{
    auto *label = new QLabel(text);
    label->setTextFormat(Qt::PlainText);
    label->setWordWrap(true);
    if (property)
        label->setProperty(property, true);
    return label;
}

} // namespace badger::app
