// SPDX-License-Identifier: GPL-3.0-or-later
// A floor plan that is changed by hand: a thing is picked and drawn elsewhere, or one of its
// points.
#pragma once

#include "app/floor/floor_view.h"
#include "core/floor/change.h"

#include <QWidget>

namespace badger::app
{

/// Places are whole centimetres while Shift is not held. Arrow keys move what is picked by 1 cm,
/// with Shift by 10; Page Up and Page Down pick the next thing; Delete takes it away. The view
/// changes nothing itself: it shows what a drag would make, and says it when the drag ends.
class PlanView final : public QWidget
{
    Q_OBJECT
public:
    explicit PlanView(const Theme &theme, QWidget *parent = nullptr);
    void show(std::shared_ptr<const floor::Floor> floor);
    void clear();
    /// The way that a car takes on it, in faint ink.
    void showRun(const ShownRun &run);
    const std::optional<floor::Handle> &picked() const { return m_picked; }
    void pick(std::optional<floor::Handle> handle);
    /// Empty: nothing is shown. While something is dragged this is what it would become.
    const std::shared_ptr<const floor::Floor> &floor() const { return m_floor; }
    QPointF placeOnScreen(const floor::Point &place) const;

signals:
    void pickedChanged();
    void dragged();                                    ///< floor() is another, not yet kept
    void changed(const floor::Floor &floor, int drag); ///< to be kept
    void removeWanted();

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    QTransform plan() const;
    floor::Point placeAt(QPointF at) const;
    double near_m() const;
    void drag(const floor::Point &to, bool snap);
    void nudge(double right_m, double up_m);
    void pickNext(int step);
    void compile();
    void paintTicks(QPainter &p, const QTransform &t) const;
    void paintMovers(QPainter &p, const QTransform &t) const;
    void paintStart(QPainter &p, const QTransform &t) const;
    void paintRun(QPainter &p, const QTransform &t) const;
    void paintPicked(QPainter &p, const QTransform &t) const;

    const Theme &m_theme;
    std::shared_ptr<const floor::Floor> m_floor;
    std::optional<arena::Arena> m_arena; ///< of it; empty where it cannot be driven on
    ShownRun m_run;
    std::optional<floor::Handle> m_picked;
    // While something is dragged:
    std::shared_ptr<const floor::Floor> m_before;
    floor::Point m_pressed;
    int m_keyDrag = -1; ///< of arrow keys on one thing
};

} // namespace badger::app
