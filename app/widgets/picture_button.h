// SPDX-License-Identifier: GPL-3.0-or-later
// A choice that is shown rather than named: a small picture over a name and a line.
#pragma once

#include "app/theme/theme.h"

#include <QAbstractButton>
#include <functional>

namespace badger::app
{

class PictureButton final : public QAbstractButton
{
    Q_OBJECT
public:
    using Paint = std::function<void(QPainter &, const QRectF &)>;
    PictureButton(const QString &title, const QString &line, Paint paint, const Theme &theme,
                  QWidget *parent = nullptr);
    QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent *event) override;
    bool event(QEvent *event) override;

private:
    QString m_title;
    QString m_line;
    Paint m_paint;
    const Theme &m_theme;
};

} // namespace badger::app
