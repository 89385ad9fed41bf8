// SPDX-License-Identifier: GPL-3.0-or-later
// The window as a picture: one ruler a condition, and all of them together.
#pragma once

#include "app/theme/theme.h"
#include "core/window/search.h"

#include <QWidget>
#include <memory>
#include <optional>

namespace badger::app
{

/// Draws a window; the program's value is a handle through all rows, dragged or moved with the
/// arrow keys. A row is picked by a click or with up and down, switched by its tick or with Space.
class WindowView final : public QWidget
{
    Q_OBJECT
public:
    explicit WindowView(const Theme &theme, QWidget *parent = nullptr);
    void show(std::shared_ptr<const window::Window> window, std::optional<double> now);
    void clear();
    int picked() const { return m_picked; } ///< a row, or -1
    void pick(int row);
    /// Where there is little height all of them together come first, under the scale.
    void putAllFirst(bool first);
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override;
    /// For tests: where a place of the ruler lies.
    qreal xOf(double si) const;
    QRectF rowBox(int row) const;

signals:
    void rowPicked(int row);
    void rowSwitched(int row);
    void rowOpened(int row);
    /// `drag` is the same for all moves of one drag.
    void valueMoved(double si, int drag);

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void mouseDoubleClickEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    qreal left() const;
    qreal right() const;
    qreal rowsTop() const;
    qreal bottom() const;
    qreal rowStep() const;
    QRectF allBox() const;
    int rowAt(QPointF at) const;
    void move(double si, int drag);
    void describe();
    void paintScale(QPainter &p) const;
    void paintRow(QPainter &p, int row) const;
    void paintWords(QPainter &p, int row) const;
    void paintCells(QPainter &p, const QRectF &box, const std::vector<window::State> &states,
                    const std::function<QString(window::State)> &word) const;
    void paintAll(QPainter &p) const;
    void paintHandle(QPainter &p) const;
    std::vector<window::State> together() const;

    const Theme &m_theme;
    std::shared_ptr<const window::Window> m_window;
    std::optional<double> m_now;
    int m_picked = -1;
    bool m_allFirst = false;
    int m_drag = -1;
    int m_keyDrag = -1;
};

} // namespace badger::app
