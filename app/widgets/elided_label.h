// SPDX-License-Identifier: GPL-3.0-or-later
// How does a line of changing text stay in its place?
#pragma once

#include <QLabel>
#include <QPainter>

namespace badger::app
{

/// A label that asks for no width and ends in "..." where its text does not fit.
class ElidedLabel final : public QLabel
{
public:
    ElidedLabel() { setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred); }

protected:
    void paintEvent(QPaintEvent *) override
    {
        QPainter p(this);
        p.setPen(palette().color(foregroundRole()));
        p.drawText(contentsRect(), Qt::AlignLeft | Qt::AlignVCenter,
                   fontMetrics().elidedText(text(), Qt::ElideRight, contentsRect().width()));
    }
};

} // namespace badger::app
