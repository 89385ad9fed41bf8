// SPDX-License-Identifier: GPL-3.0-or-later
// A record as a picture: pairs with residual sticks, two clouds with a line between them, a burst.
#pragma once

#include "app/theme/theme.h"
#include "core/judge/bench_looks.h"

#include <QWidget>
#include <memory>

namespace badger::app
{

class Plane;

class BenchPicture final : public QWidget
{
    Q_OBJECT
public:
    explicit BenchPicture(const Theme &theme, QWidget *parent = nullptr);

    struct Content {
        tune::What what = tune::What::Ruler;
        std::shared_ptr<const tune::Record> record; ///< null: nothing is measured yet
        std::optional<tune::Stretch> pending;       ///< recorded and not kept yet
        /// The step that comes next: drawn while nothing is measured yet.
        std::optional<tune::ProtocolStep> step;
        /// Older ones of the same, newest first.
        std::vector<std::shared_ptr<const tune::Record>> earlier{};
        // What it means on this car and for its program.
        std::optional<judge::EchoLook> echo{};
        std::vector<judge::SweepLook> sweeps{};
        std::optional<judge::EdgeLook> edge{};
        int teeth = 0; ///< of the servo's spline
    };
    void show(Content content);
    QSize minimumSizeHint() const override;

signals:
    /// The threshold's line is being dragged; `done` when it is let go.
    void thresholdMoved(double counts, bool done);

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    void paintRuler(QPainter &p) const;
    void paintRulerBand(QPainter &p, const Plane &plot, double to_m) const;
    void paintResiduals(QPainter &p, const QRectF &area, double far) const;
    void paintSurfaces(QPainter &p) const;
    void paintCloud(QPainter &p, const Plane &plot, bool isLight) const;
    void paintThreshold(QPainter &p, const Plane &plot) const;
    void paintTrimmer(QPainter &p) const;
    void paintNoEcho(QPainter &p) const;
    void paintReflectance(QPainter &p) const;
    void paintCurve(QPainter &p, const Plane &plot, double far, double most) const;
    void paintOther(QPainter &p, const Plane &plot, double far) const;
    void paintTurn(QPainter &p) const;
    void paintTurnsTimed(QPainter &p, const Plane &plot, const char *side, bool above) const;
    void paintStraightness(QPainter &p) const;
    void paintSpeed(QPainter &p) const;
    void paintNeutral(QPainter &p) const;
    void paintEarlier(QPainter &p) const;
    void paintNormalised(QPainter &p) const;
    void paintRoom(QPainter &p) const;
    void paintTrimmerArc(QPainter &p, const QRectF &box) const;
    void paintMedians(QPainter &p, const tune::Burst &burst, const QRectF &box) const;
    void paintAir(QPainter &p) const;
    void paintEchoMarks(QPainter &p, const QRectF &tape, const Plane &plot) const;
    void paintRangerAt(QPainter &p, const QPointF &face, qreal board) const;
    void paintPings(QPainter &p, const QRectF &area) const;
    void paintHorn(QPainter &p) const;
    void paintDwell(QPainter &p, const QRectF &area) const;
    void paintLine(QPainter &p) const;
    void paintSlack(QPainter &p, const QRectF &area, const Plane &plot) const;
    void paintSensorsOver(QPainter &p, const QRectF &area, const Plane &plot) const;
    void paintPatterns(QPainter &p, const QRectF &area, double most_m) const;
    /// What stands over the line picture: how far aside, and what is read there.
    QString asideWords() const;
    void paintNothing(QPainter &p, const QString &text) const;
    void paintStep(QPainter &p) const;
    void paintBoardAhead(QPainter &p, std::optional<double> away_m, double most_m) const;
    void paintOverSurface(QPainter &p, bool isLight) const;
    void paintPending(QPainter &p) const;
    QRectF plane() const;
    double threshold() const;
    double countsAt(qreal x) const;
    /// Half of what is drawn across the way, in metres.
    double halfWay_m() const;
    bool hasClouds() const { return m_surfaces.has_value(); }

    const Theme &m_theme;
    Content m_content;
    // What follows from the record, worked out once when it is shown.
    std::optional<Result<tune::RulerFit>> m_ruler;
    std::optional<tune::Surfaces> m_surfaces;
    std::optional<tune::ReflectanceFit> m_reflectance;
    std::optional<tune::LineLook> m_line;
    std::optional<double> m_dragged;
    double m_aside_m = 0.0; ///< how far the car stands to the right of its line
    std::optional<qreal> m_draggedCar;
};

} // namespace badger::app
