// SPDX-License-Identifier: GPL-3.0-or-later
// The states of a program as a drawn loop.
#pragma once

#include "app/theme/theme.h"
#include "core/rules/program.h"

#include <QWidget>

namespace badger::app
{

/// States stand on a line, rules are arcs between them with their condition; or all round a ring,
/// where there is more height than width. One state is picked; its lines are lit in the board
/// program.
class StateLoop final : public QWidget
{
    Q_OBJECT
public:
    explicit StateLoop(const Theme &theme, QWidget *parent = nullptr);
    void show(const rules::Program &program, const QString &picked);
    void setRing(bool ring);
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override;
    QRectF stateArea(int index) const;

signals:
    void picked(const QString &state);

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    QString conditionsTo(const rules::State &from, const rules::State &to) const;
    bool isCrowded() const;
    void paintArc(QPainter &p, int from, int to) const;
    void paintChord(QPainter &p, int from, int to) const;
    void paintHead(QPainter &p, const QPointF &from, const QPointF &to) const;

    bool m_ring = false;
    rules::Program m_program;
    QString m_picked;
    const Theme &m_theme;
};

} // namespace badger::app
