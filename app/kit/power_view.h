// SPDX-License-Identifier: GPL-3.0-or-later
// The power tree: it grows from the pack to what uses the current. A branch is as broad as its
// amps, a node says its volts, a tip of brick says its heat.
#pragma once

#include "app/theme/theme.h"
#include "core/base/finding.h"
#include "core/power/tree.h"

#include <QWidget>

namespace badger::app
{

class PowerView final : public QWidget
{
    Q_OBJECT
public:
    explicit PowerView(const Theme &theme, QWidget *parent = nullptr);

    void show(power::Tree tree, std::vector<Finding> findings, power::State state);
    QString picked() const { return m_picked; }
    power::Quantity quantity() const { return m_quantity; }
    void pick(const QString &node, power::Quantity quantity = power::Quantity::Volts);

    QSize sizeHint() const override;
    QSize minimumSizeHint() const override { return sizeHint(); }
    /// Where a node is drawn; empty where it is not. For tests.
    QRectF boxOf(const QString &node) const;

signals:
    void nodePicked(const QString &node);

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    void resizeEvent(QResizeEvent *event) override { arrange(), QWidget::resizeEvent(event); }
    bool event(QEvent *event) override;

private:
    void arrange();
    int placeRows(int node, int row);
    int rows() const;
    qreal rowHeight() const;
    void paintBranches(QPainter &p) const;
    void paintNode(QPainter &p, size_t index) const;
    void paintFigures(QPainter &p, const QRectF &lower, const power::Values &v, bool picked) const;
    void paintHeatTip(QPainter &p, const QRectF &box, double heat_W) const;
    std::optional<Severity> severityAt(const power::Node &node) const;
    int indexAt(QPointF at) const;

    const Theme &m_theme;
    power::Tree m_tree;
    std::vector<Finding> m_findings;
    power::State m_state;
    std::vector<QRectF> m_boxes;
    std::vector<double> m_rows; ///< of each node, in rows from the top
    int m_rowCount = 0;
    QString m_picked;
    power::Quantity m_quantity = power::Quantity::Volts;
};

} // namespace badger::app
