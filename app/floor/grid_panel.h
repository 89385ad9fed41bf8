// SPDX-License-Identifier: GPL-3.0-or-later
// Two numbers of a program together: a rough map of what holds, driven while it is in view.
#pragma once

#include "app/theme/theme.h"
#include "core/window/grid.h"

#include <QThreadPool>
#include <QWidget>
#include <atomic>
#include <memory>

class QComboBox;
class QLabel;

namespace badger::app
{

/// The map. The cell of the program as it is has a mark; another is picked by a click or with the
/// arrow keys and taken with Return or a second click.
class GridView final : public QWidget
{
    Q_OBJECT
public:
    explicit GridView(const Theme &theme, QWidget *parent = nullptr);
    void show(std::shared_ptr<const window::Grid> grid);
    void setNow(std::optional<double> x, std::optional<double> y);
    /// For tests: where a cell lies, and which is picked.
    QRectF cellBox(size_t ix, size_t iy) const;
    std::optional<std::pair<size_t, size_t>> picked() const { return m_picked; }
    QString words(size_t ix, size_t iy) const;

signals:
    void cellPicked();
    void cellTaken(double x, double y);

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseDoubleClickEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    QRectF area() const;
    QPointF at(double x, double y) const;
    void pick(size_t ix, size_t iy);
    void take();
    void paintAxes(QPainter &p) const;
    void paintCurve(QPainter &p) const;

    const Theme &m_theme;
    std::shared_ptr<const window::Grid> m_grid;
    std::optional<double> m_nowX, m_nowY;
    std::optional<std::pair<size_t, size_t>> m_picked;
};

/// The map with the choice of its second number.
class GridPanel final : public QWidget
{
    Q_OBJECT
public:
    GridPanel(const Theme &theme, QWidget *parent = nullptr);
    ~GridPanel() override;

    /// Of a window that is done; null: nothing, and what is being driven stops.
    void show(std::shared_ptr<const window::Window> window, const rules::Program *program);
    /// Waits for what is being driven.
    std::shared_ptr<const window::Grid> finished();
    QStringList lines() const; ///< what it says in words

signals:
    void changed();
    void taken(const std::string &x, double xSi, const std::string &y, double ySi);

protected:
    void hideEvent(QHideEvent *event) override;

private:
    void drive();
    void stop();
    void takeGrid(std::uint64_t request, std::shared_ptr<const window::Grid> grid);

    const Theme &m_theme;
    QComboBox *m_second;
    GridView *m_view;
    QThreadPool m_worker;
    std::shared_ptr<std::atomic<std::uint64_t>> m_request =
        std::make_shared<std::atomic<std::uint64_t>>(0);
    std::uint64_t m_taken = 0;
    std::shared_ptr<const window::Window> m_window;
    std::string m_drivenFor;
    std::shared_ptr<const window::Grid> m_grid;
};

} // namespace badger::app
