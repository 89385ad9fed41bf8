// SPDX-License-Identifier: GPL-3.0-or-later
// What does the car do for each pattern of its inputs? And after a bench test: swap leads or pins?
#pragma once

#include "app/shell/station_page.h"
#include "core/judge/program_motion.h"
#include "core/motion/motion.h"

#include <QWidget>

class QCheckBox;
class QComboBox;
class QVBoxLayout;

namespace badger::app
{

/// The table of motion as a picture: levels as dots, both wheels, the way the car takes.
class MotionView final : public QWidget
{
    Q_OBJECT
public:
    explicit MotionView(const Theme &theme, QWidget *parent = nullptr);
    /// `actions` name the rows that the car's program makes.
    void show(motion::MotionTable table, std::vector<judge::ProgramAction> actions = {});
    const motion::MotionTable &table() const { return m_table; }
    int picked() const { return m_picked; } ///< a row, or -1
    void pick(int row);
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override;

signals:
    void rowPicked(int row);

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    qreal rowHeight() const;
    qreal unit() const; ///< what one pixel of the least row is drawn as
    qreal headHeight() const;
    qreal inputWidth() const;
    void paintRow(QPainter &p, int index, const QRectF &box) const;
    void paintLevels(QPainter &p, const motion::MotionRow &row, const QRectF &box) const;
    void paintCar(QPainter &p, const motion::MotionRow &row, QPointF middle) const;
    void paintWheel(QPainter &p, motion::Turn turn, QPointF middle) const;
    void paintWay(QPainter &p, const motion::MotionRow &row, QPointF from) const;

    const Theme &m_theme;
    QString actionsAt(int row) const; ///< "program: drives"; empty where it makes none
    motion::MotionTable m_table;
    std::vector<judge::ProgramAction> m_actions;
    int m_picked = -1;
};

class MotionPage final : public StationPage
{
    Q_OBJECT
public:
    MotionPage(Session &session, const Theme &theme, QWidget *parent = nullptr);
    void refresh() override;
    std::optional<Sum> sum() const override;

private:
    QWidget *makeBenchTest();
    motion::BenchTest answered() const;
    void showRemedies();

    Session &m_session;
    const Theme &m_theme;
    MotionView *m_view;
    QComboBox *m_left;
    QComboBox *m_right;
    QCheckBox *m_crossed;
    QVBoxLayout *m_remedies;
    Id<kit::Car> m_car;
};

} // namespace badger::app
