// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/floor/grid_panel.h"

#include "app/widgets/elided_label.h"
#include "app/widgets/marks.h"
#include "app/widgets/text.h"

#include <QComboBox>
#include <QCoreApplication>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

namespace badger::app
{

using window::State;

namespace
{

/// As it is typed: "32 cm", "140".
QString shown(const window::Handle &h, double si)
{
    switch (h.kind) {
    case rules::ValueKind::Distance:
        return str(units::quantity(si, units::Unit::Centimetre, 3));
    case rules::ValueKind::Duration:
        return str(units::quantity(si, units::Unit::Millisecond, 3));
    default:
        return str(units::number(si, 3));
    }
}

} // namespace

GridView::GridView(const Theme &theme, QWidget *parent) : QWidget(parent), m_theme(theme)
{
    setObjectName("gridView");
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Two numbers together, a cell for each pair"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
    setMinimumSize(qRound(360 * theme.scale()), qRound(110 * theme.scale()));
}

void GridView::show(std::shared_ptr<const window::Grid> grid)
{
    m_grid = std::move(grid);
    if (!m_grid || (m_picked && (m_picked->first >= m_grid->x.at.size() ||
                                 m_picked->second >= m_grid->y.at.size())))
        m_picked.reset();
    QStringList said;
    if (m_grid)
        for (const auto &line : window::wordsOf(*m_grid))
            said << str(line);
    setAccessibleDescription(said.join(" "));
    update();
}

void GridView::setNow(std::optional<double> x, std::optional<double> y)
{
    m_nowX = x;
    m_nowY = y;
    update();
}

QRectF GridView::area() const
{
    const qreal s = m_theme.scale();
    return QRectF(rect()).adjusted(92 * s, 10 * s, -24 * s, -46 * s);
}

QRectF GridView::cellBox(size_t ix, size_t iy) const
{
    const auto box = area();
    const qreal w = box.width() / qreal(m_grid->x.at.size());
    const qreal h = box.height() / qreal(m_grid->y.at.size());
    return {box.left() + qreal(ix) * w, box.bottom() - qreal(iy + 1) * h, w, h};
}

/// Between the middles of the cells.
QPointF GridView::at(double x, double y) const
{
    const auto place = [](const std::vector<double> &all, double value) {
        size_t i = 0;
        while (i + 2 < all.size() && all[i + 1] < value)
            ++i;
        return double(i) + (value - all[i]) / (all[i + 1] - all[i]);
    };
    const auto box = area();
    return {box.left() + (place(m_grid->x.at, x) + 0.5) * box.width() / double(m_grid->x.at.size()),
            box.bottom() -
                (place(m_grid->y.at, y) + 0.5) * box.height() / double(m_grid->y.at.size())};
}

QString GridView::words(size_t ix, size_t iy) const
{
    const auto &cell = m_grid->at(ix, iy);
    const auto where = tr("'%1' %2, '%3' %4")
                           .arg(str(m_grid->x.value), shown(m_grid->x, m_grid->x.at[ix]),
                                str(m_grid->y.value), shown(m_grid->y, m_grid->y.at[iy]));
    if (cell.runs == 0)
        return tr("%1: not driven").arg(where);
    return tr("%1: %2 of %3 runs fail, %4 do not do the job")
        .arg(where)
        .arg(cell.events)
        .arg(cell.runs)
        .arg(cell.misses);
}

void GridView::paintEvent(QPaintEvent *)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    if (!m_grid)
        return;
    const qreal s = m_theme.scale();
    for (size_t iy = 0; iy < m_grid->y.at.size(); ++iy)
        for (size_t ix = 0; ix < m_grid->x.at.size(); ++ix) {
            const auto &cell = m_grid->at(ix, iy);
            const auto box = cellBox(ix, iy).adjusted(1, 1, -1, -1);
            const auto state = window::stateOf(*m_grid, cell);
            if (state == State::Open) {
                hatch(p, box, m_theme.color(Tone::Rule), 6 * s);
                continue;
            }
            p.fillRect(box, m_theme.color(state == State::Touches ? Tone::Back
                                          : state == State::Holds ? Tone::Go
                                                                  : Tone::Stand));
            if (state != State::Touches || box.width() < 26 * s || box.height() < 15 * s)
                continue;
            p.setFont(m_theme.text(Type::Small));
            p.setPen(m_theme.color(Tone::Ink));
            p.drawText(box, Qt::AlignCenter, QString::number(cell.events));
        }
    paintAxes(p);
    paintCurve(p);
    if (m_nowX && m_nowY) {
        const auto now = at(std::clamp(*m_nowX, m_grid->x.at.front(), m_grid->x.at.back()),
                            std::clamp(*m_nowY, m_grid->y.at.front(), m_grid->y.at.back()));
        p.setPen(QPen(m_theme.color(Tone::Ochre), 2.4));
        p.setBrush(m_theme.color(Tone::Sheet));
        p.drawEllipse(now, 6 * s, 6 * s);
        p.setFont(m_theme.text(Type::Small, true));
        p.setPen(m_theme.color(Tone::Ochre));
        const auto text = tr("as it is");
        const qreal w = p.fontMetrics().horizontalAdvance(text) + 8 * s;
        QRectF label(now.x() + 8 * s, now.y() - 9 * s, w, 18 * s);
        if (label.right() > area().right())
            label.moveRight(now.x() - 8 * s);
        auto paper = m_theme.color(Tone::Sheet);
        paper.setAlphaF(0.85f);
        p.fillRect(label, paper);
        p.drawText(label, Qt::AlignCenter, text);
    }
    if (m_picked) {
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(m_theme.color(Tone::Result), 2.4));
        p.drawRect(cellBox(m_picked->first, m_picked->second).adjusted(1, 1, -1, -1));
    }
    if (hasFocus())
        paintFocus(p, *this, m_theme);
}

void GridView::paintAxes(QPainter &p) const
{
    const qreal s = m_theme.scale();
    const auto box = area();
    p.setFont(m_theme.text(Type::Small));
    p.setPen(m_theme.color(Tone::Ink2));
    qreal free = -1000;
    for (size_t ix = 0; ix < m_grid->x.at.size(); ++ix) {
        const auto cell = cellBox(ix, 0);
        const auto text = shown(m_grid->x, m_grid->x.at[ix]);
        const qreal w = p.fontMetrics().horizontalAdvance(text) + 6 * s;
        const QRectF label(cell.center().x() - w / 2, box.bottom() + 3 * s, w, 18 * s);
        if (label.left() < free)
            continue;
        p.drawText(label, Qt::AlignCenter, text);
        free = label.right() + 6 * s;
    }
    for (size_t iy = 0; iy < m_grid->y.at.size(); ++iy) {
        const auto cell = cellBox(0, iy);
        if (cell.height() < 14 * s && iy % size_t(std::ceil(14 * s / cell.height())) != 0)
            continue;
        p.drawText(QRectF(0, cell.center().y() - 9 * s, box.left() - 8 * s, 18 * s),
                   Qt::AlignRight | Qt::AlignVCenter, shown(m_grid->y, m_grid->y.at[iy]));
    }
    p.setFont(m_theme.text(Type::Small, true));
    p.setPen(m_theme.color(Tone::Ink));
    p.drawText(QRectF(box.left(), box.bottom() + 22 * s, box.width(), 18 * s), Qt::AlignCenter,
               str(m_grid->x.value));
    p.save();
    p.translate(12 * s, box.center().y());
    p.rotate(-90);
    p.drawText(QRectF(-box.height() / 2, -9 * s, box.height(), 18 * s), Qt::AlignCenter,
               str(m_grid->y.value));
    p.restore();
}

/// Up to where the loop's arithmetic keeps its margin.
void GridView::paintCurve(QPainter &p) const
{
    if (m_grid->curve.size() < 2)
        return;
    const qreal s = m_theme.scale();
    QPolygonF line;
    for (const auto &[x, y] : m_grid->curve)
        line << at(x, y);
    p.save();
    p.setClipRect(area());
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(m_theme.color(Tone::Ink), 2.2 * m_theme.line()));
    p.drawPolyline(line);
    p.setFont(m_theme.text(Type::Small));
    const auto text = tr("30° of phase margin");
    const qreal w = p.fontMetrics().horizontalAdvance(text) + 8 * s;
    QRectF label(line.back() + QPointF(6 * s, -9 * s), QSizeF(w, 18 * s));
    if (label.right() > area().right())
        label.moveRight(area().right());
    auto paper = m_theme.color(Tone::Sheet);
    paper.setAlphaF(0.85f);
    p.fillRect(label, paper);
    p.drawText(label, Qt::AlignCenter, text);
    p.restore();
}

void GridView::pick(size_t ix, size_t iy)
{
    m_picked = {ix, iy};
    update();
    emit cellPicked();
}

void GridView::take()
{
    if (m_grid && m_picked)
        emit cellTaken(m_grid->x.at[m_picked->first], m_grid->y.at[m_picked->second]);
}

void GridView::mousePressEvent(QMouseEvent *event)
{
    if (!m_grid)
        return;
    for (size_t iy = 0; iy < m_grid->y.at.size(); ++iy)
        for (size_t ix = 0; ix < m_grid->x.at.size(); ++ix)
            if (cellBox(ix, iy).contains(event->position()))
                return pick(ix, iy);
}

void GridView::mouseDoubleClickEvent(QMouseEvent *event)
{
    if (m_grid && m_picked &&
        cellBox(m_picked->first, m_picked->second).contains(event->position()))
        take();
}

void GridView::keyPressEvent(QKeyEvent *event)
{
    const int key = event->key();
    if (!m_grid)
        return QWidget::keyPressEvent(event);
    if (key == Qt::Key_Return || key == Qt::Key_Enter)
        return take();
    auto [ix, iy] = m_picked.value_or(std::pair(m_grid->x.nearest(m_nowX.value_or(0.0)),
                                                m_grid->y.nearest(m_nowY.value_or(0.0))));
    if (key == Qt::Key_Left && ix > 0)
        --ix;
    else if (key == Qt::Key_Right && ix + 1 < m_grid->x.at.size())
        ++ix;
    else if (key == Qt::Key_Down && iy > 0)
        --iy;
    else if (key == Qt::Key_Up && iy + 1 < m_grid->y.at.size())
        ++iy;
    else
        return QWidget::keyPressEvent(event);
    pick(ix, iy);
}

GridPanel::GridPanel(const Theme &theme, QWidget *parent) : QWidget(parent), m_theme(theme)
{
    setObjectName("gridPanel");
    auto *column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(theme.space(1));
    auto *row = new QHBoxLayout;
    auto *label = new QLabel(tr("&upwards"));
    label->setProperty("small", true);
    m_second = new QComboBox;
    m_second->setObjectName("gridSecond");
    label->setBuddy(m_second);
    row->addWidget(label);
    row->addWidget(m_second);
    auto *key = new ElidedLabel;
    key->setText(tr("numbers: runs that fail · grey: does not do its job · two clicks or Return "
                    "take a pair"));
    key->setToolTip(key->text());
    key->setProperty("small", true);
    row->addWidget(key, 1);
    column->addLayout(row);
    m_view = new GridView(theme);
    column->addWidget(m_view, 1);
    m_worker.setMaxThreadCount(1);
    connect(m_second, &QComboBox::activated, this, &GridPanel::drive);
    connect(m_view, &GridView::cellPicked, this, &GridPanel::changed);
    connect(m_view, &GridView::cellTaken, this,
            [this](double x, double y) { emit taken(m_grid->x.value, x, m_grid->y.value, y); });
}

GridPanel::~GridPanel()
{
    stop();
    m_worker.waitForDone();
}

/// What nobody looks at is not driven; it begins anew when it is in view again.
void GridPanel::hideEvent(QHideEvent *event)
{
    QWidget::hideEvent(event);
    if (m_grid && m_grid->done)
        return;
    stop();
    m_drivenFor.clear();
}

void GridPanel::stop()
{
    m_taken = ++*m_request;
}

void GridPanel::show(std::shared_ptr<const window::Window> w, const rules::Program *program)
{
    if (!w || !w->done || program == nullptr) {
        stop();
        m_window = nullptr;
        m_grid = nullptr;
        return m_view->show(nullptr);
    }
    const auto second = m_second->currentText();
    QStringList names;
    for (const auto &name : window::secondValues(*w))
        names << str(name);
    const bool isSame =
        m_window == w && names.contains(second) && m_drivenFor == second.toStdString();
    m_window = std::move(w);
    if (!isSame) {
        m_second->clear();
        m_second->addItems(names);
        // A speed goes with a distance or a gain.
        const auto speed = std::find_if(
            program->values.begin(), program->values.end(), [&](const rules::Value &v) {
                return v.kind == rules::ValueKind::Speed && names.contains(str(v.name));
            });
        m_second->setCurrentText(names.contains(second)           ? second
                                 : speed != program->values.end() ? str(speed->name)
                                                                  : names.value(0));
        drive();
    }
    const auto si = [&](const std::string &name) {
        const auto *v = program->value(name);
        return v ? v->si : std::nullopt;
    };
    m_view->setNow(si(m_window->handle.value), si(m_second->currentText().toStdString()));
}

void GridPanel::drive()
{
    stop();
    m_grid = nullptr;
    m_view->show(nullptr);
    m_drivenFor = m_second->currentText().toStdString();
    const auto *v = m_window ? m_window->asked.course.program->value(m_drivenFor) : nullptr;
    if (v == nullptr)
        return;
    m_view->setNow(m_window->handle.now, v->si);
    const auto request = ++*m_request;
    m_worker.start([this, request, w = m_window, second = m_drivenFor, newest = m_request] {
        const auto send = [&](const window::Grid &grid) {
            auto copy = std::make_shared<const window::Grid>(grid);
            QMetaObject::invokeMethod(
                this, [this, request, copy] { takeGrid(request, copy); }, Qt::QueuedConnection);
        };
        constexpr int runsEach = 12;
        const auto grid = window::gridOf(*w, second, runsEach, [&](const window::Grid &g) {
            send(g);
            return *newest == request;
        });
        if (grid)
            send(*grid);
    });
    emit changed();
}

void GridPanel::takeGrid(std::uint64_t request, std::shared_ptr<const window::Grid> grid)
{
    if (request != *m_request)
        return;
    if (grid->done)
        m_taken = request;
    m_grid = std::move(grid);
    m_view->show(m_grid);
    emit changed();
}

std::shared_ptr<const window::Grid> GridPanel::finished()
{
    while (m_taken != *m_request) {
        m_worker.waitForDone();
        QCoreApplication::sendPostedEvents(this, QEvent::MetaCall);
    }
    return m_grid;
}

QStringList GridPanel::lines() const
{
    QStringList lines;
    if (!m_grid)
        return {tr("The pairs are being driven ...")};
    if (const auto picked = m_view->picked())
        lines << m_view->words(picked->first, picked->second) + ".";
    for (const auto &say : window::wordsOf(*m_grid))
        lines << str(say);
    lines << tr("A simulated pass is no licence: a hand at the switch.");
    return lines;
}

} // namespace badger::app
