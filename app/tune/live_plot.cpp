// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/tune/live_plot.h"

#include <cmath>
#include <limits>
#include <qcustomplot.h>

namespace badger::app
{

namespace
{

constexpr double shown_s = 30.0;
constexpr double nothing = std::numeric_limits<double>::quiet_NaN();

} // namespace

LivePlot::LivePlot(const Theme &theme, QWidget *parent)
    : QWidget(parent), m_theme(theme), m_plot(new QCustomPlot(this))
{
    setAccessibleName(tr("The last half minute of readings"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    m_plot->setAttribute(Qt::WA_TransparentForMouseEvents);
    m_plot->setFocusPolicy(Qt::NoFocus);
    m_plot->addGraph(); // readings
    m_plot->addGraph(); // nothing came back
    m_plot->addGraph(); // what is recorded
    m_plot->graph(0)->setAdaptiveSampling(false);
    m_plot->graph(1)->setLineStyle(QCPGraph::lsNone);
    m_plot->xAxis->setTickLabels(true);
    m_plot->yAxis->ticker()->setTickCount(3);
    m_plot->axisRect()->setAutoMargins(QCP::msLeft | QCP::msBottom);
    m_plot->axisRect()->setMargins(QMargins(0, 4, 6, 0));
    restyle();
}

QSize LivePlot::sizeHint() const
{
    return {qRound(500 * m_theme.scale()), qRound(96 * m_theme.scale())};
}

void LivePlot::restyle()
{
    const auto ink = m_theme.color(Tone::Ink2);
    m_plot->setBackground(QBrush(m_theme.color(Tone::Paper)));
    m_plot->axisRect()->setBackground(QBrush(m_theme.color(Tone::Sheet)));
    for (auto *axis : {m_plot->xAxis, m_plot->yAxis}) {
        axis->setBasePen(QPen(m_theme.color(Tone::Rule)));
        axis->setTickPen(QPen(m_theme.color(Tone::Rule)));
        axis->setSubTickPen(Qt::NoPen);
        axis->setTickLabelColor(ink);
        axis->setTickLabelFont(m_theme.text(Type::Small));
        axis->grid()->setPen(QPen(m_theme.color(Tone::Rule), 1, Qt::DotLine));
        axis->grid()->setZeroLinePen(Qt::NoPen);
    }
    // A pen of one pixel, not smoothed: any other is ten times slower on a noisy line.
    m_plot->graph(0)->setPen(QPen(m_theme.color(Tone::Ink), 1));
    m_plot->setNotAntialiasedElements(QCP::aePlottables);
    m_plot->graph(1)->setScatterStyle(
        QCPScatterStyle(QCPScatterStyle::ssCross, m_theme.color(Tone::Brick), 6));
    m_plot->graph(2)->setPen(QPen(m_theme.color(Tone::Ochre), 3));
}

void LivePlot::add(double at_s, std::optional<double> value)
{
    if (value)
        m_points.push_back({at_s, *value});
    else
        m_none_s.push_back(at_s);
}

void LivePlot::gap()
{
    if (!m_points.empty())
        m_points.push_back({m_points.back().at_s, nothing});
}

void LivePlot::clear()
{
    m_points.clear();
    m_none_s.clear();
    m_markFrom_s.reset();
}

void LivePlot::mark(double at_s, bool on)
{
    if (on) {
        m_markFrom_s = at_s;
        m_markTo_s.reset();
    } else {
        m_markTo_s = at_s;
    }
}

/// The stretch that is being recorded, below the line.
void LivePlot::showMark(double now_s, double level)
{
    if (m_markFrom_s) {
        const double begin = std::max(-shown_s, *m_markFrom_s - now_s);
        const double end = m_markTo_s.value_or(now_s) - now_s;
        m_plot->graph(2)->setData(QVector<double>{begin, std::max(begin, end)},
                                  QVector<double>{level, level}, true);
    } else {
        m_plot->graph(2)->data()->clear();
    }
}

/// Of each column of pixels the least and the greatest. Gives the least and greatest of all.
std::pair<double, double> LivePlot::thin(QVector<double> &x, QVector<double> &y, double now_s,
                                         int columns) const
{
    const double from = now_s - shown_s;
    double low = std::numeric_limits<double>::infinity();
    double high = -low;
    const auto columnOf = [&](double at) {
        return static_cast<int>((at - from) / shown_s * columns);
    };
    for (size_t i = 0; i < m_points.size();) {
        const int column = columnOf(m_points[i].at_s);
        const Point *least = nullptr;
        const Point *most = nullptr;
        bool broken = false;
        for (; i < m_points.size() && columnOf(m_points[i].at_s) == column; ++i) {
            const auto &p = m_points[i];
            if (std::isnan(p.value)) {
                broken = true;
                continue;
            }
            if (least == nullptr || p.value < least->value)
                least = &p;
            if (most == nullptr || p.value > most->value)
                most = &p;
        }
        if (least != nullptr) {
            const bool leastFirst = least <= most;
            for (const auto *p : {leastFirst ? least : most, leastFirst ? most : least}) {
                if (p == least && p == most && !x.isEmpty() && x.back() == p->at_s - now_s)
                    continue;
                x << p->at_s - now_s;
                y << p->value;
            }
            low = std::min(low, least->value);
            high = std::max(high, most->value);
        }
        if (broken && !x.isEmpty()) {
            x << x.back();
            y << nothing;
        }
    }
    return {low, high};
}

void LivePlot::advance(double now_s)
{
    const double from = now_s - shown_s;
    while (!m_points.empty() && m_points.front().at_s < from)
        m_points.pop_front();
    while (!m_none_s.empty() && m_none_s.front() < from)
        m_none_s.pop_front();
    const int columns = std::max(50, m_plot->axisRect()->width());
    QVector<double> x;
    QVector<double> y;
    auto [low, high] = thin(x, y, now_s, columns);
    m_plot->graph(0)->setData(x, y, true);
    if (!(high >= low))
        low = 0.0, high = 1.0;
    const double room = std::max((high - low) * 0.15, std::max(1.0, high * 0.002));
    m_plot->xAxis->setRange(-shown_s, 0.0);
    m_plot->yAxis->setRange(low - room, high + room);
    const auto columnOf = [&](double at) {
        return static_cast<int>((at - from) / shown_s * columns);
    };
    QVector<double> noneX;
    int last = -1;
    for (const double at : m_none_s)
        if (columnOf(at) != std::exchange(last, columnOf(at)))
            noneX << at - now_s;
    m_plot->graph(1)->setData(noneX, QVector<double>(noneX.size(), high + room * 0.4), true);
    showMark(now_s, low - room * 0.9);
    m_plot->replot(QCustomPlot::rpQueuedReplot);
}

int LivePlot::points() const
{
    return m_plot->graph(0)->dataCount();
}

void LivePlot::resizeEvent(QResizeEvent *)
{
    m_plot->setGeometry(rect());
}

void LivePlot::changeEvent(QEvent *event)
{
    if (event->type() == QEvent::StyleChange)
        restyle();
    QWidget::changeEvent(event);
}

} // namespace badger::app
