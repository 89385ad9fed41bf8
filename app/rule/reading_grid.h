// SPDX-License-Identifier: GPL-3.0-or-later
// The exact table: one cell for every whole-number reading, and one for none.
#pragma once

#include "app/theme/theme.h"
#include "core/regions/number_line.h"

#include <QWidget>

namespace badger::app
{

/// Like a number chart on the wall: each reading in the colour of what the car does there, a hole
/// hatched, an overlap underlined. A click or the arrow keys pick a reading.
class ReadingGrid final : public QWidget
{
    Q_OBJECT
public:
    explicit ReadingGrid(const Theme &theme, QWidget *parent = nullptr);
    /// `facts`: what the program's car knows. Nothing is shown where the program has no number
    /// line.
    void show(const rules::Program &program, const machine::CarFacts &facts);
    /// The picked cell: a row of the table, or the one after the last for "none"; -1 for nothing.
    void pick(int cell);
    int picked() const { return m_picked; }
    QRectF cellArea(int cell) const;

    bool hasHeightForWidth() const override { return true; }
    int heightForWidth(int width) const override;
    QSize sizeHint() const override;

signals:
    void pickedReading(std::optional<double> number); ///< empty: none

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    bool event(QEvent *event) override;

private:
    int count() const; ///< cells, "none" included
    int columns(int width) const;
    QSizeF cellSize() const;
    const regions::LineRow &row(int cell) const;
    std::optional<double> number(int cell) const; ///< empty: none
    void choose(int cell);

    rules::Program m_program;
    machine::Machine m_machine;
    std::optional<regions::NumberLine> m_line;
    int m_picked = -1;
    const Theme &m_theme;
};

} // namespace badger::app
