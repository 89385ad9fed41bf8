// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/floor/window_view.h"

#include "app/document/edits.h"
#include "app/widgets/marks.h"
#include "app/widgets/text.h"
#include "core/window/words.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

namespace badger::app
{

using window::State;

namespace
{

// At bench size, in pixels.
constexpr qreal labelWidth = 158;
constexpr qreal tickWidth = 22;
constexpr qreal wordsWidth = 196;
constexpr qreal scaleHeight = 46;
constexpr qreal allHeight = 34;
constexpr qreal belowAll = 22;
constexpr qreal leastRow = 24;
constexpr qreal mostRow = 42;

} // namespace

WindowView::WindowView(const Theme &theme, QWidget *parent) : QWidget(parent), m_theme(theme)
{
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setObjectName("windowView");
    setAccessibleName(tr("The window, a row for each condition"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
}

void WindowView::show(std::shared_ptr<const window::Window> window, std::optional<double> now)
{
    m_window = std::move(window);
    m_now = now;
    if (m_window && m_picked >= int(m_window->rows.size()))
        m_picked = -1;
    describe();
    updateGeometry();
    update();
}

void WindowView::clear()
{
    m_window = nullptr;
    m_picked = -1;
    setAccessibleDescription({});
    update();
}

void WindowView::describe()
{
    QStringList said;
    if (m_window) {
        said << str(window::headline(*m_window));
        for (const auto &row : m_window->rows) {
            QStringList parts;
            for (const auto &part : window::lineOf(*m_window, row))
                if (!part.empty())
                    parts << str(part);
            said << parts.join(", ");
        }
    }
    setAccessibleDescription(said.join(". "));
}

void WindowView::pick(int row)
{
    if (!m_window || row < -1 || row >= int(m_window->rows.size()) || row == m_picked)
        return;
    m_picked = row;
    update();
    emit rowPicked(row);
}

QSize WindowView::sizeHint() const
{
    return {qRound(760 * m_theme.scale()), qRound(430 * m_theme.scale())};
}

QSize WindowView::minimumSizeHint() const
{
    const auto rows = m_window ? m_window->rows.size() : 6;
    return {
        qRound(420 * m_theme.scale()),
        qRound((scaleHeight + allHeight + belowAll + leastRow * qreal(rows)) * m_theme.scale())};
}

qreal WindowView::left() const
{
    return (labelWidth + tickWidth) * m_theme.scale();
}

qreal WindowView::right() const
{
    return width() - wordsWidth * m_theme.scale();
}

qreal WindowView::xOf(double si) const
{
    const auto &at = m_window->handle.at;
    const double half = 0.5 * (at[1] - at[0]);
    const double from = at.front() - half;
    const double to = at.back() + half;
    return left() + (right() - left()) * (si - from) / (to - from);
}

qreal WindowView::rowsTop() const
{
    return (scaleHeight + (m_allFirst ? allHeight + 10 : 0)) * m_theme.scale();
}

qreal WindowView::bottom() const
{
    return m_allFirst ? rowsTop() + rowStep() * qreal(m_window->rows.size()) : allBox().bottom();
}

void WindowView::putAllFirst(bool first)
{
    if (first == m_allFirst)
        return;
    m_allFirst = first;
    update();
}

qreal WindowView::rowStep() const
{
    const qreal s = m_theme.scale();
    const qreal rows = std::max<qreal>(1, m_window ? qreal(m_window->rows.size()) : 1);
    return std::clamp((height() - (scaleHeight + allHeight + belowAll + 10) * s) / rows,
                      leastRow * s, mostRow * s);
}

QRectF WindowView::rowBox(int row) const
{
    const qreal step = rowStep();
    return {left(), rowsTop() + step * row + step * 0.14, right() - left(), step * 0.72};
}

QRectF WindowView::allBox() const
{
    const qreal s = m_theme.scale();
    const qreal top =
        m_allFirst ? scaleHeight * s : rowsTop() + rowStep() * qreal(m_window->rows.size()) + 8 * s;
    return {left(), top, right() - left(), allHeight * s};
}

int WindowView::rowAt(QPointF at) const
{
    if (!m_window || at.y() < rowsTop())
        return -1;
    const int row = int((at.y() - rowsTop()) / rowStep());
    return row < int(m_window->rows.size()) ? row : -1;
}

void WindowView::paintEvent(QPaintEvent *)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    if (!m_window)
        return;
    paintScale(p);
    for (int i = 0; i < int(m_window->rows.size()); ++i)
        paintRow(p, i);
    paintAll(p);
    paintHandle(p);
    paintFocus(p, *this, m_theme);
}

void WindowView::paintScale(QPainter &p) const
{
    const qreal s = m_theme.scale();
    const auto &h = m_window->handle;
    p.setFont(m_theme.text(Type::Small));
    p.setPen(m_theme.color(Tone::Ink2));
    const qreal base = (scaleHeight - 6) * s;
    p.drawText(QRectF(0, base - 22 * s, left() - tickWidth * s, 20 * s),
               Qt::AlignRight | Qt::AlignVCenter,
               p.fontMetrics().elidedText(str(h.value), Qt::ElideRight, int(labelWidth * s)));
    // Round places, as many as have room for their numbers.
    const double range = h.at.back() - h.at.front();
    double step = std::pow(10.0, std::floor(std::log10(range / 4.0)));
    for (const double times : {2.0, 5.0, 10.0})
        if (range / step > 9.0)
            step = std::pow(10.0, std::floor(std::log10(range / 4.0))) * times;
    for (double at = std::ceil(h.at.front() / step) * step; at <= h.at.back() + 1e-9; at += step) {
        const qreal x = xOf(at);
        if (m_now && std::abs(x - xOf(*m_now)) < 24 * s)
            continue; // the handle stands there
        p.drawLine(QPointF(x, base - 4 * s), QPointF(x, base));
        p.drawText(QRectF(x - 40 * s, base - 22 * s, 80 * s, 18 * s), Qt::AlignCenter,
                   str(window::placeOf(*m_window, at)));
    }
}

void WindowView::paintCells(QPainter &p, const QRectF &box, const std::vector<State> &states,
                            const std::function<QString(State)> &word) const
{
    const qreal s = m_theme.scale();
    const auto &at = m_window->handle.at;
    const double half = 0.5 * (at[1] - at[0]);
    for (size_t i = 0; i < states.size();) {
        size_t k = i;
        while (k + 1 < states.size() && states[k + 1] == states[i])
            ++k;
        const QRectF piece(xOf(at[i] - half), box.top(), xOf(at[k] + half) - xOf(at[i] - half),
                           box.height());
        const auto state = states[i];
        if (state == State::Open) {
            hatch(p, piece, m_theme.color(Tone::Ink2), 6 * s);
        } else {
            p.fillRect(piece, m_theme.color(state == State::Touches ? Tone::Back
                                            : state == State::Holds ? Tone::Go
                                                                    : Tone::Stand));
            const auto text = word(state);
            p.setPen(m_theme.color(Tone::Ink));
            if (p.fontMetrics().horizontalAdvance(text) + 8 * s < piece.width())
                p.drawText(piece, Qt::AlignCenter, text);
        }
        if (i > 0) {
            p.setPen(QPen(m_theme.color(Tone::Ink2), 1));
            p.drawLine(piece.topLeft(), piece.bottomLeft());
        }
        i = k + 1;
    }
    p.setPen(QPen(m_theme.color(Tone::Rule), 1));
    p.setBrush(Qt::NoBrush);
    p.drawRect(box);
}

void WindowView::paintRow(QPainter &p, int index) const
{
    const qreal s = m_theme.scale();
    const auto &row = m_window->rows[size_t(index)];
    const auto box = rowBox(index);
    const bool off = row.row.off;
    if (index == m_picked) {
        p.fillRect(QRectF(0, box.top() - 2 * s, width(), box.height() + 4 * s),
                   m_theme.color(Tone::Sheet));
        p.fillRect(QRectF(0, box.top() - 2 * s, 3 * s, box.height() + 4 * s),
                   m_theme.color(Tone::Ochre));
    }
    p.setFont(m_theme.text(Type::Small, index == m_picked));
    p.setPen(m_theme.color(off || !row.counts() ? Tone::Ink2 : Tone::Ink));
    const QRectF label(6 * s, box.top(), labelWidth * s - 6 * s, box.height());
    p.drawText(label, Qt::AlignRight | Qt::AlignVCenter,
               p.fontMetrics().elidedText(str(row.row.label), Qt::ElideRight, int(label.width())));
    // Switched in or out.
    const QRectF tick((labelWidth + 4) * s, box.center().y() - 7 * s, 14 * s, 14 * s);
    paintMark(p, tick, off ? judge::GateState::Open : judge::GateState::Passed, m_theme);

    std::vector<State> states;
    for (const auto &c : row.cells)
        states.push_back(c.state);
    p.setFont(m_theme.text(Type::Small));
    if (row.refused || (row.done && !row.low)) {
        paintCells(p, box, states,
                   [&](State state) { return str(window::wordOf(*m_window, row, state)); });
    } else {
        if (off)
            p.setOpacity(0.45);
        paintCells(p, box, states,
                   [&](State state) { return str(window::wordOf(*m_window, row, state)); });
        p.setOpacity(1.0);
    }
    paintWords(p, index);
}

/// From where on, what it took, and where there is room what ends it below.
void WindowView::paintWords(QPainter &p, int index) const
{
    const qreal s = m_theme.scale();
    const auto &row = m_window->rows[size_t(index)];
    const QRectF words(right() + 10 * s, rowsTop() + rowStep() * index, wordsWidth * s - 12 * s,
                       rowStep());
    QString first;
    QString second;
    if (row.refused) {
        first = tr("cannot occur here");
        second = str(row.refused->what);
    } else if (!row.done) {
        first = tr("%n run(s) ...", nullptr, row.runs);
    } else if (!row.low) {
        const auto best = window::bestOf(row);
        first = window::without(row, m_window->looks) == window::Without::NotShown
                    ? tr("not shown: %1 of %2 fail")
                          .arg(row.cells[*best].events)
                          .arg(row.cells[*best].runs)
                    : str(window::wordsWithout(*m_window, row));
        second = row.below ? str(row.below->what) : row.above ? str(row.above->what) : QString();
    } else {
        const auto &cell = row.cells[*row.low];
        first = tr("from %1 · %2 of %3")
                    .arg(str(window::placeOf(*m_window, m_window->si(*row.low))))
                    .arg(cell.events)
                    .arg(cell.runs);
        second = row.below ? str(row.below->what) : tr("from the ruler's start on");
    }
    const qreal high = p.fontMetrics().height();
    const auto line = [&](qreal top, const QString &text) {
        p.drawText(QRectF(words.left(), top, words.width(), high), Qt::AlignLeft | Qt::AlignVCenter,
                   p.fontMetrics().elidedText(text, Qt::ElideRight, int(words.width())));
    };
    const auto why = window::without(row, m_window->looks);
    const bool helpless = why == window::Without::Fails || why == window::Without::Idle;
    p.setPen(m_theme.color(helpless ? Tone::Brick : Tone::Ink2));
    if (words.height() < 2.0 * high || second.isEmpty())
        return line(words.center().y() - high / 2.0, first);
    line(words.center().y() - high, first);
    line(words.center().y(), second);
}

std::vector<State> WindowView::together() const
{
    const auto &w = *m_window;
    std::vector<State> all(w.handle.at.size(), State::Holds);
    for (const auto &row : w.rows) {
        if (!row.counts())
            continue;
        for (size_t i = 0; i < all.size(); ++i) {
            const auto state = row.cells[i].state;
            if (state == State::Touches || all[i] == State::Touches)
                all[i] = State::Touches;
            else if (state == State::Open || all[i] == State::Open)
                all[i] = State::Open;
            else if (state == State::Idle)
                all[i] = State::Idle;
        }
    }
    return all;
}

void WindowView::paintAll(QPainter &p) const
{
    const qreal s = m_theme.scale();
    const auto box = allBox();
    p.setFont(m_theme.text(Type::Body, true));
    p.setPen(m_theme.color(Tone::Ink));
    p.drawText(QRectF(0, box.top(), labelWidth * s, box.height()),
               Qt::AlignRight | Qt::AlignVCenter, tr("all of these"));
    const auto &w = *m_window;
    p.setFont(m_theme.text(Type::Small));
    const window::RowAnswer none;
    paintCells(p, box, together(), [&](State state) {
        return state == State::Holds  ? QString()
               : state == State::Idle ? tr("does not do its job")
                                      : str(window::wordOf(w, none, state));
    });
    if (w.low) {
        const auto &at = w.handle.at;
        const double half = 0.5 * (at[1] - at[0]);
        const QRectF piece(xOf(at[*w.low] - half), box.top(),
                           xOf(at[*w.high] + half) - xOf(at[*w.low] - half), box.height());
        p.setPen(QPen(m_theme.color(Tone::Result), 2.5 * m_theme.line()));
        p.drawRect(piece);
        p.setFont(m_theme.text(Type::Body, true));
        p.setPen(m_theme.color(Tone::Result));
        const auto from = str(window::placeOf(w, at[*w.low]));
        const auto text = window::isOpenAbove(w)
                              ? tr("%1 and more").arg(from)
                              : tr("%1 to %2").arg(from, str(window::placeOf(w, at[*w.high])));
        if (p.fontMetrics().horizontalAdvance(text) + 8 * s < piece.width())
            p.drawText(piece, Qt::AlignCenter, text);
    }
    p.setFont(m_theme.text(Type::Small));
    p.setPen(m_theme.color(Tone::Ink2));
    const QRectF words(right() + 10 * s, box.top(), wordsWidth * s - 12 * s, box.height());
    QStringList lines;
    if (w.lowRow && w.low)
        lines << tr("lowest: %1").arg(str(w.rows[*w.lowRow].row.label));
    if (w.highRow && w.low && !window::isOpenAbove(w))
        lines << tr("highest: %1").arg(str(w.rows[*w.highRow].row.label));
    if (!w.low && w.lowRow && w.done)
        lines << tr("closed");
    p.drawText(words, Qt::AlignLeft | Qt::AlignVCenter, lines.join('\n'));
}

void WindowView::paintHandle(QPainter &p) const
{
    if (!m_now)
        return;
    const qreal s = m_theme.scale();
    const qreal x = std::clamp(xOf(*m_now), left(), right());
    const auto ochre = m_theme.color(Tone::Ochre);
    p.setPen(QPen(ochre, 2 * m_theme.line()));
    p.drawLine(QPointF(x, 18 * s), QPointF(x, bottom()));
    QPolygonF flag;
    flag << QPointF(x - 9 * s, 2 * s) << QPointF(x + 9 * s, 2 * s) << QPointF(x + 9 * s, 12 * s)
         << QPointF(x, 20 * s) << QPointF(x - 9 * s, 12 * s);
    p.setBrush(ochre);
    p.drawPolygon(flag);
    p.setFont(m_theme.text(Type::Body, true));
    const auto text = tr("%1, as it is").arg(str(window::placeOf(*m_window, *m_now)));
    const qreal wide = p.fontMetrics().horizontalAdvance(text);
    const bool rightSide = x + 14 * s + wide < width();
    p.drawText(QRectF(rightSide ? x + 14 * s : x - 14 * s - wide, 0, wide + 2, 20 * s),
               Qt::AlignLeft | Qt::AlignVCenter, text);
}

void WindowView::move(double si, int drag)
{
    const auto &at = m_window->handle.at;
    const double to = at[m_window->handle.nearest(si)];
    if (m_now && std::abs(*m_now - to) < 1e-9)
        return;
    m_now = to;
    update();
    emit valueMoved(to, drag);
}

void WindowView::mousePressEvent(QMouseEvent *event)
{
    if (!m_window || event->button() != Qt::LeftButton)
        return;
    const qreal s = m_theme.scale();
    const auto at = event->position();
    if (m_now && std::abs(at.x() - xOf(*m_now)) < 10 * s && at.y() < bottom()) {
        m_drag = nextDrag();
        return;
    }
    const int row = rowAt(at);
    if (row >= 0 && at.x() > labelWidth * s && at.x() < left())
        emit rowSwitched(row);
    else
        pick(row);
}

void WindowView::mouseMoveEvent(QMouseEvent *event)
{
    if (!m_window)
        return;
    const auto at = event->position();
    if (m_drag >= 0) {
        const auto &places = m_window->handle.at;
        const double per =
            (places.back() - places.front()) / (xOf(places.back()) - xOf(places.front()));
        return move(places.front() + (at.x() - xOf(places.front())) * per, m_drag);
    }
    const bool over = m_now && std::abs(at.x() - xOf(*m_now)) < 10 * m_theme.scale();
    setCursor(over ? Qt::SizeHorCursor : Qt::ArrowCursor);
}

void WindowView::mouseReleaseEvent(QMouseEvent *)
{
    m_drag = -1;
}

void WindowView::mouseDoubleClickEvent(QMouseEvent *event)
{
    if (const int row = rowAt(event->position()); row >= 0)
        emit rowOpened(row);
}

void WindowView::keyPressEvent(QKeyEvent *event)
{
    if (!m_window)
        return QWidget::keyPressEvent(event);
    const int rows = int(m_window->rows.size());
    const auto &at = m_window->handle.at;
    switch (event->key()) {
    case Qt::Key_Up:
        return pick(std::max(0, m_picked - 1));
    case Qt::Key_Down:
        return pick(std::min(rows - 1, m_picked + 1));
    case Qt::Key_Space:
        if (m_picked >= 0)
            emit rowSwitched(m_picked);
        return;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        if (m_picked >= 0)
            emit rowOpened(m_picked);
        return;
    case Qt::Key_Left:
    case Qt::Key_Right: {
        if (!m_now)
            return;
        if (!event->isAutoRepeat() || m_keyDrag < 0)
            m_keyDrag = nextDrag();
        const auto place = m_window->handle.nearest(*m_now);
        const bool up = event->key() == Qt::Key_Right;
        if (up ? place + 1 < at.size() : place > 0)
            move(at[up ? place + 1 : place - 1], m_keyDrag);
        return;
    }
    default:
        QWidget::keyPressEvent(event);
    }
}

} // namespace badger::app
