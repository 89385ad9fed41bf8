// SPDX-License-Identifier: GPL-3.0-or-later
// The last half minute of one channel, as it arrives.
#pragma once

#include "app/theme/theme.h"

#include <QWidget>
#include <deque>
#include <optional>

class QCustomPlot;

namespace badger::app
{

/// Keeps what it shows and no more, and gives the chart at most two points a pixel: the least and
/// the greatest of what falls into it.
class LivePlot final : public QWidget
{
    Q_OBJECT
public:
    explicit LivePlot(const Theme &theme, QWidget *parent = nullptr);

    /// A reading, none where nothing came back, at a time that does not go back.
    void add(double at_s, std::optional<double> value);
    void gap(); ///< readings are missing here
    void clear();
    /// From here on readings are recorded; marked until mark(false).
    void mark(double at_s, bool on);
    /// Draws the stretch up to now. Called at most once a frame.
    void advance(double now_s);
    int points() const; ///< that the chart was given
    QSize sizeHint() const override;

protected:
    void resizeEvent(QResizeEvent *event) override;
    void changeEvent(QEvent *event) override;

private:
    std::pair<double, double> thin(QVector<double> &x, QVector<double> &y, double now_s,
                                   int columns) const;
    void showMark(double now_s, double level);
    void restyle();

    struct Point {
        double at_s = 0.0;
        double value = 0.0; ///< not a number: a gap
    };
    const Theme &m_theme;
    QCustomPlot *m_plot;
    std::deque<Point> m_points;
    std::deque<double> m_none_s;
    std::optional<double> m_markFrom_s;
    std::optional<double> m_markTo_s;
};

} // namespace badger::app
