// SPDX-License-Identifier: GPL-3.0-or-later
// What a run comes to, beside its picture: figures with their words.
#pragma once

#include "app/floor/floor_view.h"

namespace badger::app
{

class RunFigures final : public QWidget
{
    Q_OBJECT
public:
    explicit RunFigures(const Theme &theme, QWidget *parent = nullptr);
    void show(const ShownRun &run);
    void clear();
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override;

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    struct Row {
        QString figure, words;
        bool bad = false;
    };
    QString m_title;
    std::vector<Row> m_rows;
    const Theme &m_theme;
};

} // namespace badger::app
