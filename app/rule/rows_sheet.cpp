// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rule/rows_sheet.h"

#include "app/widgets/marks.h"
#include "app/widgets/text.h"
#include "core/regions/atom_words.h"
#include "core/rules/key_words.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

namespace badger::app
{

using regions::Outcome;

RowsSheet::RowsSheet(const Theme &theme, QWidget *parent) : QWidget(parent), m_theme(theme)
{
    setObjectName("everyReading");
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Every reading, and what is done there"));
    QSizePolicy policy(QSizePolicy::Expanding, QSizePolicy::Minimum);
    policy.setHeightForWidth(true);
    setSizePolicy(policy);
}

namespace
{

/// Readings that lie in a cell, as the row of readings takes them. Empty where it has angles.
QString readingsIn(const rules::Program &program, const machine::Machine &machine,
                   const regions::Cell &cell)
{
    QStringList words;
    for (const auto &column : machine::columns(program, machine)) {
        if (column.angle >= 0)
            return {};
        const auto i = static_cast<size_t>(column.sensor);
        const auto number = i < cell.at.size() ? cell.at[i] : std::nullopt;
        const double value = number.value_or(0.0);
        switch (program.readings[i].source) {
        case rules::Source::Key:
            words << str(rules::commandWords[static_cast<size_t>(value)]);
            break;
        case rules::Source::Digital:
        case rules::Source::Button:
            words << (value != 0.0 ? QStringLiteral("1") : QStringLiteral("0"));
            break;
        default:
            words << (number ? str(units::plain(value, 3)) : QStringLiteral("none"));
            break;
        }
    }
    return words.join(' ');
}

/// The bits and keys of a cell, and what is no number: its readings by sensor are the numbers that
/// are compared.
regions::Cell withBits(const machine::Machine &machine, const regions::Regions &regions,
                       regions::Cell cell)
{
    for (size_t k = 0; k < regions.axes.size(); ++k) {
        const auto &axis = regions.axes[k];
        const auto &atom = axis.atoms[static_cast<size_t>(cell.atoms[k])];
        if (axis.of != regions::Axis::Of::Sensor)
            continue;
        auto &to = cell.at[static_cast<size_t>(axis.sensor)];
        if (atom.kind == regions::Atom::Kind::Yes || atom.kind == regions::Atom::Kind::No)
            to = atom.kind == regions::Atom::Kind::Yes ? 1.0 : 0.0;
        else if (atom.kind == regions::Atom::Kind::Key)
            to = atom.word;
        // As it is typed: what it counts as would be another reading.
        const auto &s = machine.sensors[static_cast<size_t>(axis.sensor)];
        if (atom.kind == regions::Atom::Kind::Near)
            to = *s.nearest / 2.0;
        else if (atom.kind == regions::Atom::Kind::Wild)
            to = (*s.farthest + s.limit) / 2.0;
        else if (regions::lacksNumber(atom.kind))
            to.reset();
    }
    return cell;
}

} // namespace

void RowsSheet::show(const rules::Program &program, const machine::CarFacts &facts, int mode)
{
    m_lines.clear();
    m_missing.clear();
    m_picked = -1;
    const auto machine = machine::lower(program, facts);
    const auto regions = machine ? regions::of(program, *machine, mode)
                                 : Result<regions::Regions>(tl::unexpected(machine.error()));
    if (!regions) {
        m_missing = str(regions.error().what);
    } else {
        for (const auto &row : regions::rows(*machine, *regions)) {
            Line line;
            QStringList where;
            for (const auto &words : regions::rowWords(program, *machine, *regions, row))
                where << str(words);
            line.where = where.isEmpty() ? tr("always") : where.join(", ");
            const auto &state = program.states[static_cast<size_t>(row.cell->to)];
            line.hole = row.cell->outcome == Outcome::Hole;
            line.overlap = row.cell->overlap;
            line.does = line.hole      ? tr("no rule: it goes on")
                        : line.overlap ? tr("%1; two rules at once").arg(str(state.name))
                                       : str(state.name);
            line.act = rules::actOf(state.motion);
            line.readings = readingsIn(program, *machine, withBits(*machine, *regions, *row.cell));
            m_lines.push_back(std::move(line));
        }
        if (m_lines.empty())
            m_missing = tr("It waits here and looks at nothing.");
    }
    setMinimumHeight(qRound(layOut(m_lines, width())));
    updateGeometry();
    update();
}

qreal RowsSheet::layOut(std::vector<Line> &lines, qreal width) const
{
    const qreal s = m_theme.scale();
    const QFontMetricsF bold(m_theme.text(Type::Body, true));
    const QFontMetricsF small(m_theme.text(Type::Small));
    qreal y = 4 * s;
    for (auto &line : lines) {
        const auto h = small
                           .boundingRect(QRectF(0, 0, std::max<qreal>(60, width - 22 * s), 1e6),
                                         Qt::TextWordWrap, line.where)
                           .height();
        line.area = QRectF(4 * s, y, width - 8 * s, bold.height() + h + 4 * s);
        y += line.area.height() + 4 * s;
    }
    return lines.empty() ? 60 * s : y;
}

int RowsSheet::heightForWidth(int width) const
{
    auto lines = m_lines;
    return qRound(layOut(lines, width));
}

void RowsSheet::resizeEvent(QResizeEvent *)
{
    setMinimumHeight(qRound(layOut(m_lines, width())));
}

void RowsSheet::paintEvent(QPaintEvent *event)
{
    QPainter p(this);
    const qreal s = m_theme.scale();
    p.setPen(m_theme.color(Tone::Ink2));
    p.setFont(m_theme.text(Type::Body));
    if (!m_missing.isEmpty())
        p.drawText(QRectF(rect()).adjusted(8, 8, -8, -8), Qt::TextWordWrap, m_missing);
    const qreal head = QFontMetricsF(m_theme.text(Type::Body, true)).height();
    for (size_t i = 0; i < m_lines.size(); ++i) {
        const auto &line = m_lines[i];
        if (!line.area.intersects(event->rect()))
            continue;
        const QRectF bar(line.area.left(), line.area.top(), 6 * s, line.area.height() - 2 * s);
        if (line.hole)
            hatch(p, bar, m_theme.color(Tone::Brick), 3);
        else
            p.fillRect(bar, m_theme.color(line.act));
        p.setFont(m_theme.text(Type::Body, true));
        p.setPen(m_theme.color(line.hole || line.overlap ? Tone::Brick : Tone::Ink));
        const QRectF words = line.area.adjusted(12 * s, 0, 0, 0);
        p.drawText(words, Qt::AlignLeft | Qt::AlignTop,
                   p.fontMetrics().elidedText(line.does, Qt::ElideRight, int(words.width())));
        p.setFont(m_theme.text(Type::Small));
        p.setPen(m_theme.color(Tone::Ink2));
        p.drawText(words.adjusted(0, head, 0, 0), Qt::TextWordWrap, line.where);
        if (static_cast<int>(i) == m_picked) {
            p.setPen(QPen(m_theme.color(Tone::Ochre), m_theme.line()));
            p.setBrush(Qt::NoBrush);
            p.drawRect(line.area.adjusted(-2, -1, 1, 0));
        }
    }
}

void RowsSheet::pick(int line)
{
    if (line < 0 || line >= count())
        return;
    m_picked = line;
    update();
    if (const auto &text = m_lines[static_cast<size_t>(line)].readings; !text.isEmpty())
        emit pickedReadings(text);
}

void RowsSheet::mousePressEvent(QMouseEvent *event)
{
    for (int i = 0; i < count(); ++i)
        if (lineArea(i).contains(event->position()))
            return pick(i);
}

void RowsSheet::keyPressEvent(QKeyEvent *event)
{
    const int step = event->key() == Qt::Key_Down ? 1 : event->key() == Qt::Key_Up ? -1 : 0;
    if (step == 0 || m_lines.empty())
        return QWidget::keyPressEvent(event);
    pick(std::clamp(m_picked + step, 0, count() - 1));
}

} // namespace badger::app
