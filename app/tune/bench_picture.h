// SPDX-License-Identifier: GPL-3.0-or-later
// A record as a picture: pairs with residual sticks, two clouds with a line between them, a burst.
#pragma once

#include "app/theme/theme.h"
#include "core/tune/fits_of.h"

#include <QWidget>
#include <memory>

namespace badger::app
{

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
    void paintSurfaces(QPainter &p) const;
    void paintTrimmer(QPainter &p) const;
    void paintNoEcho(QPainter &p) const;
    void paintReflectance(QPainter &p) const;
    void paintTurn(QPainter &p) const;
    void paintStraightness(QPainter &p) const;
    void paintSpeed(QPainter &p) const;
    void paintNeutral(QPainter &p) const;
    void paintNothing(QPainter &p, const QString &text) const;
    void paintStep(QPainter &p) const;
    void paintBoardAhead(QPainter &p, std::optional<double> away_m, double most_m) const;
    void paintOverSurface(QPainter &p, bool isLight) const;
    void paintPending(QPainter &p) const;
    QRectF plane() const;
    double threshold() const;
    double countsAt(qreal x) const;

    const Theme &m_theme;
    Content m_content;
    // What follows from the record, worked out once when it is shown.
    std::optional<Result<tune::RulerFit>> m_ruler;
    std::optional<tune::Surfaces> m_surfaces;
    std::optional<tune::ReflectanceFit> m_reflectance;
    std::optional<double> m_dragged;
};

} // namespace badger::app
