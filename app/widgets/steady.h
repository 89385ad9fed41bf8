// SPDX-License-Identifier: GPL-3.0-or-later
// A place in a layout that asks for a new one only when its height changes.
#pragma once

#include <QWidget>

namespace badger::app
{

/// Holds one widget and takes its size, its visibility and its policies. A label whose text changes
/// makes every layout above it work anew, although most texts end as high as they were: here that
/// ends the matter. What it holds may be a label or a whole row.
class Steady final : public QWidget
{
    Q_OBJECT
public:
    explicit Steady(QWidget *content, QWidget *parent = nullptr);

    QSize sizeHint() const override;
    QSize minimumSizeHint() const override;
    bool hasHeightForWidth() const override;
    int heightForWidth(int width) const override;

protected:
    bool event(QEvent *event) override;
    bool eventFilter(QObject *watched, QEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;

private:
    QWidget *m_content;
    int m_height = -1; ///< that it last asked for, at the width that it has
    int m_least = -1;  ///< width
};

} // namespace badger::app
