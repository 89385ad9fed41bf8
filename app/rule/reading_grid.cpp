// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rule/reading_grid.h"

#include "app/widgets/marks.h"
#include "app/widgets/text.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>
#include <utility>

namespace badger::app
{

namespace
{
constexpr int noneCells = 2;          ///< "none" is as wide as two
constexpr double mostCells = 20000.0; ///< more are no picture

const regions::LineRow &rowIn(const regions::NumberLine &line, int cell)
{
    return cell <= static_cast<int>(line.limit) ? line.at(cell) : line.none;
}
} // namespace

ReadingGrid::ReadingGrid(const Theme &theme, QWidget *parent) : QWidget(parent), m_theme(theme)
{
    setFocusPolicy(Qt::StrongFocus);
    QSizePolicy policy(QSizePolicy::Expanding, QSizePolicy::Preferred);
    policy.setHeightForWidth(true);
    setSizePolicy(policy);
    setAccessibleName(tr("Table of every reading"));
}

QSizeF ReadingGrid::cellSize() const
{
    return {25 * m_theme.scale(), 17 * m_theme.scale()};
}

int ReadingGrid::columns(int width) const
{
    return std::max(4, static_cast<int>(width / cellSize().width()));
}

int ReadingGrid::count() const
{
    return m_line ? static_cast<int>(m_line->limit) + 2 : 0;
}

int ReadingGrid::heightForWidth(int width) const
{
    const int n = columns(width);
    const int cells = count() == 0 ? 0 : count() - 1 + noneCells;
    return qRound((cells + n - 1) / n * cellSize().height()) + 2;
}

QSize ReadingGrid::sizeHint() const
{
    return {360, heightForWidth(360)};
}

void ReadingGrid::show(const rules::Program &program, const machine::CarFacts &facts)
{
    const auto before = std::exchange(m_line, std::nullopt);
    if (regions::hasNumberLine(program))
        if (auto machine = machine::lower(program, facts)) {
            m_machine = std::move(*machine);
            if (auto line = regions::numberLine(program, m_machine);
                line && line->limit <= mostCells)
                m_line = std::move(*line);
        }
    const bool sameShape = before && m_line && before->limit == m_line->limit &&
                           before->unit == m_line->unit && m_program.states == program.states;
    m_program = program;
    if (m_picked >= count())
        m_picked = -1;
    if (!sameShape) {
        updateGeometry();
        return update();
    }
    // The same cells: those are painted that say something else now.
    for (int i = 0; i < count(); ++i)
        if (!(rowIn(*before, i) == row(i)))
            update(cellArea(i).toAlignedRect());
}

const regions::LineRow &ReadingGrid::row(int cell) const
{
    return rowIn(*m_line, cell);
}

std::optional<double> ReadingGrid::number(int cell) const
{
    return cell <= static_cast<int>(m_line->limit) ? std::optional<double>(cell) : std::nullopt;
}

QRectF ReadingGrid::cellArea(int cell) const
{
    const auto size = cellSize();
    const int n = columns(width());
    const bool none = cell == count() - 1;
    int at = cell;
    if (none && n - at % n < noneCells) // does not fit at the end of the line
        at += n - at % n;
    return {at % n * size.width(), at / n * size.height(), size.width() * (none ? noneCells : 1),
            size.height()};
}

void ReadingGrid::paintEvent(QPaintEvent *event)
{
    QPainter p(this);
    if (!m_line) {
        p.setPen(m_theme.color(Tone::Ink2));
        p.drawText(rect(), Qt::AlignTop | Qt::AlignLeft | Qt::TextWordWrap,
                   tr("The table appears when every value is chosen."));
        return;
    }
    p.setFont(m_theme.text(Type::Small));
    for (int i = 0; i < count(); ++i) {
        const auto area = cellArea(i);
        if (!area.intersects(event->rect()))
            continue;
        const auto &r = row(i);
        const auto inner = area.adjusted(0.5, 0.5, -1, -1);
        const auto *state = r.to() < 0 ? nullptr : &m_program.states[static_cast<size_t>(r.to())];
        const bool hole = r.hasHole();
        const bool overlap = r.hasOverlap();
        if (state && !hole)
            p.fillRect(inner, m_theme.color(rules::actOf(state->motion)));
        else
            hatch(p, inner, m_theme.color(hole ? Tone::Brick : Tone::Ink2), 5);
        p.setPen(m_theme.color(Tone::Ink));
        p.drawText(area, Qt::AlignCenter, number(i) ? QString::number(i) : tr("none"));
        if (overlap)
            p.fillRect(QRectF(area.left() + 2, area.bottom() - 3, area.width() - 4, 2),
                       m_theme.color(Tone::Brick));
        if (i == m_picked) {
            p.setPen(QPen(m_theme.color(Tone::Ochre), 2));
            p.setBrush(Qt::NoBrush);
            p.drawRect(inner.adjusted(0.5, 0.5, -0.5, -0.5));
        }
    }
    paintFocus(p, *this, m_theme);
}

void ReadingGrid::pick(int cell)
{
    m_picked = cell < count() ? cell : -1;
    update();
}

void ReadingGrid::choose(int cell)
{
    if (cell < 0 || cell >= count())
        return;
    pick(cell);
    emit pickedReading(number(cell));
}

void ReadingGrid::mousePressEvent(QMouseEvent *event)
{
    for (int i = 0; i < count(); ++i)
        if (cellArea(i).contains(event->position()))
            choose(i);
}

void ReadingGrid::keyPressEvent(QKeyEvent *event)
{
    const int n = columns(width());
    const int from = std::max(0, m_picked);
    switch (event->key()) {
    case Qt::Key_Left:
        return choose(from - 1);
    case Qt::Key_Right:
        return choose(m_picked < 0 ? 0 : from + 1);
    case Qt::Key_Up:
        return choose(from - n);
    case Qt::Key_Down:
        return choose(from + n);
    case Qt::Key_Home:
        return choose(0);
    case Qt::Key_End:
        return choose(count() - 1);
    default:
        QWidget::keyPressEvent(event);
    }
}

bool ReadingGrid::event(QEvent *event)
{
    if (event->type() == QEvent::ToolTip && m_line) {
        const auto *help = static_cast<QHelpEvent *>(event);
        for (int i = 0; i < count(); ++i) {
            if (!cellArea(i).contains(help->pos()))
                continue;
            QToolTip::showText(help->globalPos(),
                               str(regions::words(m_program, m_machine, row(i), number(i))));
            return true;
        }
    }
    return QWidget::event(event);
}

} // namespace badger::app
