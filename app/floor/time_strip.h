// SPDX-License-Identifier: GPL-3.0-or-later
// The time strip: every state, reading and wheel of a run on one line of time.
#pragma once

#include "app/floor/floor_view.h"

namespace badger::app
{

class TimeStrip final : public QWidget
{
    Q_OBJECT
public:
    explicit TimeStrip(const Theme &theme, QWidget *parent = nullptr);
    void show(ShownRun run);
    void clear();
    void setTime(std::uint64_t time_us);
    /// The arrow keys are for whoever holds the strip: a person drives.
    void leaveArrows(bool on) { m_leavesArrows = on; }
    /// The newest ping sent at or before a time; -1 before the first.
    int pingAt(std::uint64_t time_us) const;
    /// The mode at a time; -1 before the first.
    int modeAt(std::uint64_t time_us) const;
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override;

signals:
    void scrubbed(std::uint64_t time_us);
    void stepped(int readings); ///< arrow keys: +1 or -1

protected:
    void paintEvent(QPaintEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;
    void changeEvent(QEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    QRectF area() const; ///< right of the labels
    QRectF bandRow() const;
    QRectF readingRow() const;
    QRectF wheelRow(int wheel) const;
    bool showsWheels() const;
    qreal x(std::uint64_t time_us) const;
    void scrubTo(qreal px);
    void paintAll(QPainter &p) const;
    void paintStates(QPainter &p) const;
    void paintReadings(QPainter &p) const;
    void paintLevels(QPainter &p, const QRectF &row) const;
    void paintCounts(QPainter &p, const QRectF &row) const;
    void paintWheels(QPainter &p) const;
    void paintTimes(QPainter &p) const;

    ShownRun m_run;
    std::uint64_t m_time_us = 0;
    bool m_leavesArrows = false;
    QPixmap m_picture; ///< all but the line at the time
    const Theme &m_theme;
};

} // namespace badger::app
