// SPDX-License-Identifier: GPL-3.0-or-later
// The car from above, to scale: where the parts really sit and what the sensors see.
//
// The nose looks to the right, as on the distance ruler. Everything is drawn from core's answers;
// dragging a part tells the station where a hand wants it.
#pragma once

#include "app/theme/theme.h"
#include "core/judge/kit_judgement.h"

#include <QWidget>

namespace badger::app
{

/// What the plan shows.
struct PlanContent {
    kit::Car car;
    parts::Catalogue catalogue;
    judge::KitJudgement judgement;
    std::optional<double> threshold_m; ///< of the program
};

class CarPlan final : public QWidget
{
    Q_OBJECT
public:
    explicit CarPlan(const Theme &theme, QWidget *parent = nullptr);

    void show(PlanContent content);
    void showNothing(const QString &sentence);
    QString picked() const { return m_picked; }
    void pick(const QString &instance);

    QSize sizeHint() const override;
    QSize minimumSizeHint() const override;

    /// Where a part's block is drawn, in widget pixels; empty where it is not. For tests.
    QRectF blockOf(const QString &instance) const;

signals:
    void partPicked(const QString &instance);
    /// A part is wanted with its middle (a ranger's face) here. Moves of one drag share a number.
    void partMoved(const QString &instance, double setBack_m, double offset_m, int drag);
    void removeWanted(const QString &instance);

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;
    bool event(QEvent *event) override;

private:
    struct Block {
        QString id;
        QString label;
        QRectF box;     ///< in pixels, before turning
        qreal turn = 0; ///< degrees, clockwise on the screen
        bool movable = false;
        bool placed = true;
        int layer = 0;
    };

    // Pixels at scale 1.
    static constexpr qreal leftMargin = 42; ///< for the width's dimension line
    static constexpr qreal rightMargin = 12;
    static constexpr qreal topMargin = 26;    ///< for the threshold's label and the turning sense
    static constexpr qreal bottomMargin = 22; ///< for the length

    double reach_m(const sense::RangerCover &ranger) const;
    void arrange();
    void arrangeBlocks();
    QPointF at(double x_m, double y_m) const;
    void paintBeams(QPainter &p) const;
    void paintThreshold(QPainter &p) const;
    void paintDeck(QPainter &p) const;
    void paintWheels(QPainter &p) const;
    void paintSense(QPainter &p) const;
    void paintBlocks(QPainter &p) const;
    void paintLabels(QPainter &p) const;
    void paintTags(QPainter &p) const;
    void paintDimensions(QPainter &p) const;
    void paintBalance(QPainter &p) const;
    QRectF areaOf(const Block &block) const; ///< on the screen, turned
    QRectF labelOf(const QFontMetricsF &metrics, size_t block, bool upright) const;
    const Block *blockUnder(QPointF at) const;
    void move(double ahead_m, double left_m);
    void step(int by);

    const Theme &m_theme;
    std::optional<PlanContent> m_content;
    QString m_sentence;
    QString m_picked;
    std::vector<Block> m_blocks;
    qreal m_scale = 1.0; ///< pixels a metre
    QPointF m_axle;      ///< the drive axle's middle, in pixels
    QPointF m_grip;      ///< of the drag: pointer minus the block's reference
    int m_drag = -1;
    bool m_dragging = false;
};

} // namespace badger::app
