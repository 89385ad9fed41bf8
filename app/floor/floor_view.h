// SPDX-License-Identifier: GPL-3.0-or-later
// The floor from above: a plan in ink with the car, what its sensors see, its path, what it
// touched.
#pragma once

#include "app/floor/paint_floor.h"
#include "core/judge/drive.h"

#include <QPixmap>
#include <QWidget>

namespace badger::app
{

/// A run with what it was driven on; both are shared with the worker that drove it.
struct ShownRun {
    std::shared_ptr<const judge::Drive> drive;
    std::shared_ptr<const judge::Run> run;
    explicit operator bool() const { return drive && run; }
    const world::Plan &plan() const { return drive->plan(); }
    const world::Trace &trace() const { return run->trace; }
    std::uint64_t end_us() const { return run ? run->trace.path.back().time_us : 0; }
};

class FloorView final : public QWidget
{
    Q_OBJECT
public:
    explicit FloorView(const Theme &theme, QWidget *parent = nullptr);
    void show(ShownRun run);
    void showNothing(const QString &words);
    void setTime(std::uint64_t time_us);
    /// The car stays in the middle, and the floor is drawn larger.
    void follow(bool on);

signals:
    void scrubbed(std::uint64_t time_us); ///< a place on the path was clicked

protected:
    void paintEvent(QPaintEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;
    void changeEvent(QEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;

private:
    QTransform plan() const; ///< metres to pixels
    qreal fit() const;
    void paintFloor(QPainter &p, const QTransform &t) const;
    void paintFoot(QPainter &p, const QTransform &t) const;
    /// Does a wall or a post of the floor stand in a place of the picture?
    bool isTaken(const QRectF &place, const QTransform &t) const;
    void paintPath(QPainter &p, const QTransform &t, std::uint64_t until_us, bool faint) const;
    void paintMovers(QPainter &p, const QTransform &t) const;
    void paintBeams(QPainter &p, const QTransform &t) const;
    void paintSpots(QPainter &p, const QTransform &t, const world::Moment &m) const;
    void paintCar(QPainter &p, const QTransform &t, const world::Moment &m) const;
    void paintTouches(QPainter &p, const QTransform &t) const;
    void paintGap(QPainter &p, const QTransform &t) const;
    void scrubTo(QPointF at);

    ShownRun m_run;
    QString m_words;
    std::uint64_t m_time_us = 0;
    bool m_follows = false;
    QPixmap m_floor; ///< everything that does not move
    const Theme &m_theme;
};

} // namespace badger::app
