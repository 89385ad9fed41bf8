// SPDX-License-Identifier: GPL-3.0-or-later
// The floor from above: the car, its beam, every ping and its path.
#pragma once

#include "app/theme/theme.h"
#include "core/floor/floor.h"
#include "core/kit/car.h"
#include "core/trial/trial.h"

#include <QWidget>

namespace badger::app
{

struct FloorContent {
    floor::Floor floor;
    kit::Geometry car;
    kit::Mount mount;
    double halfAngle_rad = 0.0;
    trial::Trial trial;
};

class FloorView final : public QWidget
{
    Q_OBJECT
public:
    explicit FloorView(const Theme &theme, QWidget *parent = nullptr);
    void show(FloorContent content);
    void showNothing(const QString &words);
    void setTime(std::uint64_t time_us);

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    QTransform plan() const; ///< metres to pixels
    void paintWalls(QPainter &p, const QTransform &t) const;
    void paintPath(QPainter &p, const QTransform &t) const;
    void paintBeam(QPainter &p, const QTransform &t, const trial::Pose &pose) const;
    void paintCar(QPainter &p, const QTransform &t, const trial::Pose &pose) const;
    void paintGap(QPainter &p, const QTransform &t) const;

    std::optional<FloorContent> m_content;
    QString m_words;
    std::uint64_t m_time_us = 0;
    const Theme &m_theme;
};

} // namespace badger::app
