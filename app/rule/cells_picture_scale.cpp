// SPDX-License-Identifier: GPL-3.0-or-later
// One number on a scale: bands, and limits that a hand drags.
#include "app/document/edits.h"
#include "app/rule/cells_picture.h"
#include "app/widgets/marks.h"
#include "app/widgets/text.h"

#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

namespace badger::app
{

using machine::Atom;
using machine::Outcome;

CellsPicture::Scale CellsPicture::scale() const
{
    Scale on;
    const auto &axis = m_regions.axes.front();
    const qreal s = m_theme.scale();
    double top = 0.0;
    for (const auto &a : axis.atoms)
        if (a.kind == Atom::Kind::Numbers)
            top = std::max(top, a.to);
    double last = 0.0;
    for (const auto &row : m_rows)
        if (row.atoms[0].kind == Atom::Kind::Numbers && row.atoms[0].to < top)
            last = std::max(last, row.atoms[0].to);
    on.top = top;
    on.end = last > 0.0 ? std::min(top, last * 2.6) : top;
    on.echo = std::any_of(axis.atoms.begin(), axis.atoms.end(),
                          [](const Atom &a) { return a.kind == Atom::Kind::None; });
    // None, and none so many times in succession.
    const auto noneCount =
        static_cast<qreal>(std::count_if(m_rows.begin(), m_rows.end(), [](const machine::Row &row) {
            return row.atoms[0].kind != Atom::Kind::Numbers;
        }));
    on.area = QRectF(2, 46 * s, width() - 6 - (on.echo ? (10 + 70 * noneCount) * s : 0), 38 * s);
    return on;
}

/// The limits of the shown state's rules, each value once.
std::vector<CellsPicture::Handle> CellsPicture::handles() const
{
    std::vector<Handle> all;
    if (shape() != Shape::Scale)
        return all;
    const auto &reading = m_program.readings[static_cast<size_t>(m_regions.axes.front().sensor)];
    const auto through = [&](const std::vector<rules::Rule> &rules) {
        for (const auto &rule : rules)
            for (const auto &c : rule.when) {
                const auto *v = m_program.value(c.value);
                const auto known = std::any_of(all.begin(), all.end(),
                                               [&](const Handle &h) { return h.value == c.value; });
                if (c.test != rules::Test::Number || c.reading != reading.name || !v || !v->si ||
                    known)
                    continue;
                const bool length = v->kind == rules::ValueKind::Distance;
                const auto words = length ? str(units::quantity(*v->si, reading.unit, 2))
                                          : str(units::plain(*v->si, 3));
                all.push_back({c.value, length ? units::fromSi(*v->si, reading.unit) : *v->si,
                               QString::fromUtf8(rules::sign(c.compare)) + " " + words});
            }
    };
    through(m_program.everywhere);
    through(m_program.states[static_cast<size_t>(m_regions.mode)].rules);
    return all;
}

void CellsPicture::paintBands(QPainter &p, const Scale &on) const
{
    const auto &axis = m_regions.axes.front();
    const qreal s = m_theme.scale();
    const auto &reading = m_program.readings[static_cast<size_t>(axis.sensor)];
    const bool length = reading.source == rules::Source::Ranger ||
                        reading.source == rules::Source::Scan ||
                        reading.scale == rules::Scale::Distance;
    qreal noneAt = on.area.right() + 10 * s;
    qreal labelEnd = -1e9;
    for (const auto &row : m_rows) {
        const auto &a = row.atoms[0];
        const bool number = a.kind == Atom::Kind::Numbers;
        const bool hole = row.cell->outcome == Outcome::Hole;
        QRectF band(on.x(a.from), on.area.top(), 0, on.area.height());
        band.setRight(number ? on.x(axis.whole ? a.to + 1.0 : a.to) : noneAt + 68 * s);
        if (!number) {
            band.setLeft(noneAt);
            noneAt += 70 * s;
        }
        if (a.from == a.to && band.width() < 4 * s)
            band.setWidth(4 * s);
        if (hole)
            hatch(p, band, m_theme.color(Tone::Brick), 4);
        else
            p.fillRect(band, colour(*row.cell));
        p.setPen(QPen(m_theme.color(hole ? Tone::Brick : Tone::Ink), m_theme.line()));
        p.setBrush(Qt::NoBrush);
        p.drawRect(band);
        p.setFont(m_theme.text(number ? Type::Body : Type::Small, number));
        p.setPen(m_theme.color(Tone::Ink));
        const auto word = doing(*row.cell);
        if (p.fontMetrics().horizontalAdvance(word) + 6 < band.width())
            p.drawText(band, Qt::AlignCenter, word);
        p.setFont(m_theme.text(Type::Small));
        p.setPen(m_theme.color(hole ? Tone::Brick : Tone::Ink2));
        if (!number) {
            p.drawText(QRectF(band.left() - 20, band.bottom() + 2, band.width() + 40, 20 * s),
                       Qt::AlignHCenter | Qt::AlignTop,
                       a.kind == Atom::Kind::None ? tr("none") : tr("%1 × none").arg(a.word));
            continue;
        }
        auto label = str(units::plain(a.from, 2));
        if (length && a.from == axis.atoms.front().from)
            label += " " + str(units::info(reading.unit).symbol);
        if (hole && a.from == a.to)
            label += " " + tr("hole");
        const qreal end = band.left() + p.fontMetrics().horizontalAdvance(label);
        if (band.left() > labelEnd && end < on.area.right() - 60 * s) {
            p.drawText(QPointF(band.left(), band.bottom() + 16 * s), label);
            labelEnd = end + 6 * s;
        }
    }
    p.setPen(m_theme.color(Tone::Ink2));
    p.drawText(QRectF(on.area.right() - 120 * s, on.area.bottom() + 2, 120 * s, 20 * s),
               Qt::AlignRight,
               on.end < on.top ? tr("… %1").arg(str(units::plain(on.top, 1)))
                               : str(units::plain(on.top, 1)));
}

void CellsPicture::paintHandles(QPainter &p, const Scale &on) const
{
    const qreal s = m_theme.scale();
    p.setRenderHint(QPainter::Antialiasing);
    p.setFont(m_theme.text(Type::Body, true));
    auto all = handles();
    std::sort(all.begin(), all.end(),
              [](const Handle &a, const Handle &b) { return a.number < b.number; });
    qreal wordsEnd = -1e9;
    for (const auto &h : all) {
        const QPointF foot(on.x(h.number), on.area.top());
        const QPolygonF grip({foot + QPointF(-8, -26) * s, foot + QPointF(8, -26) * s,
                              foot + QPointF(8, -14) * s, foot + QPointF(0, -6) * s,
                              foot + QPointF(-8, -14) * s});
        p.setPen(QPen(m_theme.color(Tone::Ochre), 2));
        p.drawLine(foot + QPointF(0, -8 * s), QPointF(foot.x(), on.area.bottom()));
        p.setBrush(m_theme.color(Tone::Ochre));
        p.drawPolygon(grip);
        // Where two stand close, the words of the second go above.
        const qreal left = foot.x() + 13 * s;
        const bool above = left < wordsEnd;
        p.drawText(QPointF(left, foot.y() - (above ? 30 : 14) * s), h.words);
        wordsEnd = left + p.fontMetrics().horizontalAdvance(h.words) + 8 * s;
    }
}

void CellsPicture::paintScale(QPainter &p) const
{
    const auto on = scale();
    paintBands(p, on);
    paintHandles(p, on);
}

QPoint CellsPicture::handleOf(const QString &value) const
{
    for (const auto &h : handles())
        if (h.value == value.toStdString()) {
            const auto on = scale();
            return QPointF(on.x(h.number), on.area.top() - 18 * m_theme.scale()).toPoint();
        }
    return {};
}

void CellsPicture::mousePressEvent(QMouseEvent *event)
{
    m_dragged.clear();
    if (shape() != Shape::Scale)
        return;
    const auto on = scale();
    qreal nearest = 12 * m_theme.scale();
    for (const auto &h : handles())
        if (const qreal d = std::abs(on.x(h.number) - event->position().x()); d < nearest) {
            nearest = d;
            m_dragged = h.value;
        }
    if (!m_dragged.empty())
        m_drag = nextDrag();
}

void CellsPicture::mouseMoveEvent(QMouseEvent *event)
{
    if (m_dragged.empty() || shape() != Shape::Scale)
        return;
    const auto on = scale();
    const auto &reading = m_program.readings[static_cast<size_t>(m_regions.axes.front().sensor)];
    const double number =
        std::clamp(std::round(on.at(event->position().x())), 1.0, std::floor(on.top) - 1.0);
    const auto *v = m_program.value(m_dragged);
    if (v == nullptr)
        return;
    const bool length = v->kind == rules::ValueKind::Distance;
    emit valueMoved(str(m_dragged), length ? units::toSi(number, reading.unit) : number, m_drag);
}

void CellsPicture::mouseReleaseEvent(QMouseEvent *)
{
    m_dragged.clear();
}

} // namespace badger::app
