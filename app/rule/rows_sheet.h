// SPDX-License-Identifier: GPL-3.0-or-later
// Every reading of a state, and what is done there: the whole table, line by line.
#pragma once

#include "app/theme/theme.h"
#include "core/machine/play.h"
#include "core/regions/regions.h"

#include <QWidget>

namespace badger::app
{

/// One line for each row of regions::rows(): none is left out. A line that is picked gives readings
/// that lie in it, as the row below tries them.
class RowsSheet final : public QWidget
{
    Q_OBJECT
public:
    explicit RowsSheet(const Theme &theme, QWidget *parent = nullptr);
    void show(const rules::Program &program, const machine::CarFacts &facts, int mode);
    int count() const { return static_cast<int>(m_lines.size()); }
    QRectF lineArea(int line) const { return m_lines.at(static_cast<size_t>(line)).area; }

    bool hasHeightForWidth() const override { return true; }
    int heightForWidth(int width) const override;
    QSize sizeHint() const override { return {200, heightForWidth(280)}; }

signals:
    void pickedReadings(const QString &text); ///< "20 41 none"

protected:
    void paintEvent(QPaintEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    struct Line {
        QString where;
        QString does;
        QString readings; ///< empty: no row of numbers says it
        rules::Act act = rules::Act::Stand;
        bool hole = false;
        bool overlap = false;
        QRectF area{};
    };
    qreal layOut(std::vector<Line> &lines, qreal width) const;
    void pick(int line);

    const Theme &m_theme;
    std::vector<Line> m_lines;
    QString m_missing;
    int m_picked = -1;
};

} // namespace badger::app
