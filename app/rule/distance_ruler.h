// SPDX-License-Identifier: GPL-3.0-or-later
// The distance ruler: the car before the board, what it does at every distance, and what is left.
#pragma once

#include "app/theme/theme.h"
#include "core/judge/budget.h"
#include "core/regions/number_line.h"

#include <QWidget>
#include <optional>

namespace badger::app
{

/// What the ruler shows. Everything is computed elsewhere.
struct RulerContent {
    double limit_m = 1.0; ///< right end of the scale
    std::optional<double> threshold_m;
    bool inclusive = true; ///< "<=", otherwise "<"
    units::Unit unit = units::Unit::Centimetre;
    double step_m = 0.01; ///< of the arrow keys
    std::vector<regions::Band> bands;
    rules::Program program;
    double deadZone_m = 0.0;
    double halfAngle_rad = 0.0;
    kit::Geometry car;
    double setBack_m = 0.0;
    std::optional<judge::CarBudget> budget;
    std::optional<double> reading_m; ///< the reading that is being tried
    /// The safe window of the threshold, where one was searched.
    struct Window {
        double low_m = 0.0;
        double high_m = 0.0;
        QString words; ///< "window on Slipway: 39 cm and more, today"
        bool stale = false;
    };
    std::optional<Window> window;
};

/// Draws the ruler; the threshold is a handle that is dragged or moved with the arrow keys.
class DistanceRuler final : public QWidget
{
    Q_OBJECT
public:
    explicit DistanceRuler(const Theme &theme, QWidget *parent = nullptr);
    void show(RulerContent content);
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override;
    /// For tests: where a distance lies in the widget.
    QPointF pointOf(double distance_m) const;

signals:
    /// `drag` is the same for all moves of one drag.
    void thresholdMoved(double threshold_m, int drag);

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    void focusInEvent(QFocusEvent *event) override;

private:
    qreal x(double distance_m) const;
    double distance(qreal x) const;
    bool onHandle(QPointF at) const;
    void paintBoard(QPainter &p) const;
    void paintCar(QPainter &p, double nose_m, bool solid, const QString &word) const;
    void paintBands(QPainter &p) const;
    void paintScale(QPainter &p) const;
    void paintBudget(QPainter &p) const;
    void paintWindow(QPainter &p) const;
    void paintHandle(QPainter &p) const;

    RulerContent m_content;
    const Theme &m_theme;
    int m_drag = -1;
    int m_keyDrag = -1;
};

} // namespace badger::app
