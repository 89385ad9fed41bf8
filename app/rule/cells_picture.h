// SPDX-License-Identifier: GPL-3.0-or-later
// What a state decides at every reading, as a picture.
#pragma once

#include "app/theme/theme.h"
#include "core/judge/budget.h"
#include "core/regions/regions.h"

#include <QWidget>

namespace badger::app
{

/// What stands on the scale of a number besides its bands.
struct Ground {
    const judge::CarBudget *budget = nullptr;    ///< of the car; may be of another reading
    std::map<std::string, double> deadZones_m{}; ///< by reading
};

/// Of yes-and-no sensors a strip of patterns with the car over the line; of one number (or the
/// nearest of several) a ruler with its bands, its dead zone and the stopping budget, or the share
/// that each wheel gets; of a scan the fan with its rays; of several together a tile for each row
/// of the table.
class CellsPicture final : public QWidget
{
    Q_OBJECT
public:
    explicit CellsPicture(const Theme &theme, QWidget *parent = nullptr);
    /// `mode`: the state whose cells are shown. An incomplete program says what is missing.
    void show(const rules::Program &program, const machine::CarFacts &facts, int mode,
              const Ground &ground = {});
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override { return {200, sizeHint().height()}; }

    /// Does the picture say itself of which state it is?
    bool isTitled() const { return shape() == Shape::Scale || shape() == Shape::Fan; }

    /// Where the handle of a value stands on the scale; empty where it has none.
    QPoint handleOf(const QString &value) const;

signals:
    /// A handle was dragged: the value in its own unit (metres, counts). One number a drag.
    void valueMoved(const QString &value, double to, int drag);
    /// The obstacle was put at (or, while it is dragged, moved to) a number of a reading.
    void obstacleAt(const QString &reading, double number, bool moved);

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;

private:
    /// The scale of one number: what is far beyond the last limit is drawn shorter.
    struct Scale {
        QRectF area;
        double end = 1.0; ///< of the numbers that have their true place
        double top = 1.0;
        bool echo = false;
        qreal x(double v) const { return area.left() + area.width() * std::min(v, end) / end; }
        double at(qreal px) const { return end * (px - area.left()) / area.width(); }
    };
    Scale scale() const;
    struct Handle {
        std::string value;
        double number = 0.0; ///< in the reading's unit
        QString words;       ///< "≤ 18 cm"
    };
    std::vector<Handle> handles() const;
    void paintHandles(QPainter &p, const Scale &on) const;
    void paintBand(QPainter &p, const regions::Cell &cell, const QRectF &band, bool number) const;
    void paintBands(QPainter &p, const Scale &on) const;
    QString title() const;
    enum class Shape { Nothing, Patterns, Scale, Steering, Fan, Tiles };
    Shape shape() const;
    void paintPatterns(QPainter &p) const;
    void paintScale(QPainter &p) const;
    void paintSteering(QPainter &p) const;
    void paintTiles(QPainter &p) const;
    int scanSensor() const;
    int axisOf(regions::Axis::Of of) const;
    const regions::Cell *scanCell(double angle_deg, int numberAtom) const;
    QStringList fanLines(const std::vector<double> &angles) const;
    void paintFan(QPainter &p) const;
    QString turnWords(const regions::Cell &cell, double angle_deg) const;
    const judge::CarBudget *shownBudget() const;
    void paintGround(QPainter &p, const Scale &on) const;
    void paintHysteresis(QPainter &p, const Scale &on) const;
    void findHysteresis();
    std::vector<regions::Row> rowsByRule() const;
    void paintSensors(QPainter &p, const QRectF &box, const regions::Row &row) const;
    QString doing(const regions::Cell &cell) const;
    QColor colour(const regions::Cell &cell) const;
    const regions::Axis *numberAxis() const;

    const Theme &m_theme;
    rules::Program m_program;
    machine::Machine m_machine;
    regions::Regions m_regions;
    std::vector<regions::Row> m_rows;
    QString m_missing;
    std::optional<judge::CarBudget> m_budget;
    std::map<std::string, double> m_deadZones_m;
    /// Numbers at which the shown state stays, and so does one that does something else.
    std::vector<std::pair<double, double>> m_hysteresis;
    void putObstacle(qreal x, bool moved);

    std::string m_dragged;
    std::optional<double> m_obstacle; ///< where the hand put it, in the reading's unit
    bool m_carries = false;
    int m_drag = 0;
};

} // namespace badger::app
