// SPDX-License-Identifier: GPL-3.0-or-later
// One number on a scale: bands, and limits that a hand drags.
#include "app/document/edits.h"
#include "app/rule/budget_strip.h"
#include "app/rule/cells_picture.h"
#include "app/widgets/marks.h"
#include "app/widgets/text.h"

#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

namespace badger::app
{

using regions::Atom;
using regions::Outcome;

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
        static_cast<qreal>(std::count_if(m_rows.begin(), m_rows.end(), [](const regions::Row &row) {
            return row.atoms[0].kind != Atom::Kind::Numbers &&
                   row.atoms[0].kind != Atom::Kind::Near;
        }));
    on.area = QRectF(2, 38 * s, width() - 6 - (on.echo ? (10 + 70 * noneCount) * s : 0), 34 * s);
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

/// One band, with what is done there.
void CellsPicture::paintBand(QPainter &p, const regions::Cell &cell, const QRectF &band,
                             bool number) const
{
    const bool hole = cell.outcome == Outcome::Hole;
    if (hole)
        hatch(p, band, m_theme.color(Tone::Brick), 4);
    else
        p.fillRect(band, colour(cell));
    p.setPen(QPen(m_theme.color(hole ? Tone::Brick : Tone::Ink), m_theme.line()));
    p.setBrush(Qt::NoBrush);
    p.drawRect(band);
    p.setFont(m_theme.text(number ? Type::Body : Type::Small, number));
    p.setPen(m_theme.color(Tone::Ink));
    const auto word = doing(cell);
    if (p.fontMetrics().horizontalAdvance(word) + 6 < band.width())
        p.drawText(band, Qt::AlignCenter, word);
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
        // What is too near has its place on the scale, before the first number.
        const bool isNear = a.kind == Atom::Kind::Near;
        const bool number = a.kind == Atom::Kind::Numbers || isNear;
        const bool hole = row.cell->outcome == Outcome::Hole;
        QRectF band(on.x(a.from), on.area.top(), 0, on.area.height());
        if (isNear)
            band.setRight(on.x(axis.atoms.front().from));
        else
            band.setRight(number ? on.x(axis.whole ? a.to + 1.0 : a.to) : noneAt + 68 * s);
        if (!number) {
            band.setLeft(noneAt);
            noneAt += 70 * s;
        }
        if (a.from == a.to && !isNear && band.width() < 4 * s)
            band.setWidth(4 * s);
        paintBand(p, *row.cell, band, number);
        p.setFont(m_theme.text(Type::Small));
        p.setPen(m_theme.color(hole ? Tone::Brick : Tone::Ink2));
        if (!number) {
            p.drawText(QRectF(band.left() - 20, band.bottom() + 2, band.width() + 40, 20 * s),
                       Qt::AlignHCenter | Qt::AlignTop,
                       a.kind == Atom::Kind::None   ? tr("none")
                       : a.kind == Atom::Kind::Wild ? tr("wild")
                                                    : tr("%1 × none").arg(a.word));
            continue;
        }
        if (isNear) {
            hatch(p, band, m_theme.color(Tone::Ink2), 5);
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
    paintHysteresis(p, on);
    paintGround(p, on);
    paintHandles(p, on);
    const qreal s = m_theme.scale();
    if (m_obstacle) {
        const QPointF top(on.x(*m_obstacle + (m_regions.axes.front().whole ? 0.5 : 0.0)),
                          on.area.bottom());
        p.setPen(Qt::NoPen);
        p.setBrush(m_theme.color(Tone::Result));
        p.drawPolygon(QPolygonF({top, top + QPointF(-6, 11) * s, top + QPointF(6, 11) * s}));
    }
    p.setFont(m_theme.text(Type::Small));
    p.setPen(m_theme.color(Tone::Ink2));
    p.drawText(QRectF(0, 0, width() - 4, 20 * m_theme.scale()), Qt::AlignRight | Qt::AlignTop,
               title());
}

/// The budget is of the shown state and of a value that has a handle here.
const judge::CarBudget *CellsPicture::shownBudget() const
{
    if (!m_budget || m_regions.mode >= static_cast<int>(m_program.states.size()) ||
        m_budget->state != m_program.states[static_cast<size_t>(m_regions.mode)].name)
        return nullptr;
    const auto all = handles();
    return std::any_of(all.begin(), all.end(),
                       [&](const Handle &h) { return h.value == m_budget->valueName; })
               ? &*m_budget
               : nullptr;
}

void CellsPicture::paintGround(QPainter &p, const Scale &on) const
{
    const qreal s = m_theme.scale();
    const auto *budget = shownBudget();
    const auto &reading = m_program.readings[static_cast<size_t>(m_regions.axes.front().sensor)];
    auto dead = m_deadZones_m.find(reading.name);
    if (dead == m_deadZones_m.end() && budget)
        dead = m_deadZones_m.find(budget->reading);
    const auto x = [&](double m) { return on.x(units::fromSi(m, reading.unit)); };
    if (dead != m_deadZones_m.end())
        hatch(p,
              QRectF(on.area.left(), on.area.top(), x(dead->second) - on.area.left(),
                     on.area.height()),
              m_theme.color(Tone::Ink), 5);
    if (budget)
        paintBudgetStrip(p, m_theme, *budget, reading.unit, {on.area.bottom() + 22 * s, 20 * s, x});
}

/// At numbers at which the shown state stays, so does another that does something else: what the
/// car does there hangs on what it did before.
void CellsPicture::findHysteresis()
{
    if (shape() != Shape::Scale)
        return;
    const auto stays = [&](const regions::Regions &r) {
        std::vector<std::pair<double, double>> all;
        for (const auto &cell : r.cells) {
            const auto &atom = r.axes.front().atoms[static_cast<size_t>(cell.atoms.front())];
            if (atom.kind == Atom::Kind::Numbers && cell.to == r.mode)
                all.emplace_back(atom.from, atom.to);
        }
        return all;
    };
    const auto can = regions::reachable(m_machine);
    const auto here = stays(m_regions);
    const auto act = [&](int mode) {
        return rules::actOf(m_program.states[static_cast<size_t>(mode)].motion);
    };
    for (size_t m = 0; m < m_machine.modes.size(); ++m) {
        const int mode = static_cast<int>(m);
        if (!can[m] || m_machine.modes[m].hold.is || act(mode) == act(m_regions.mode))
            continue;
        const auto other = regions::of(m_program, m_machine, mode);
        if (!other || other->axes.size() != 1 ||
            other->axes.front().sensor != m_regions.axes.front().sensor)
            continue;
        for (const auto &[from, to] : stays(*other))
            for (const auto &[low, high] : here)
                if (std::max(from, low) <= std::min(to, high))
                    m_hysteresis.emplace_back(std::max(from, low), std::min(to, high));
    }
}

void CellsPicture::paintHysteresis(QPainter &p, const Scale &on) const
{
    const bool whole = m_regions.axes.front().whole;
    for (const auto &[from, to] : m_hysteresis) {
        const qreal left = on.x(from);
        const qreal right = on.x(whole ? to + 1.0 : to);
        const QRectF foot(left, on.area.bottom() - on.area.height() / 4, right - left,
                          on.area.height() / 4);
        hatch(p, foot, m_theme.color(Tone::Ink2), 4);
    }
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
    if (!m_dragged.empty()) {
        m_drag = nextDrag();
        return;
    }
    m_carries = on.area.adjusted(0, -4, 0, 24 * m_theme.scale()).contains(event->position());
    if (m_carries)
        putObstacle(event->position().x(), false);
}

/// The hand stands for an obstacle; the row below says what the car does about it.
void CellsPicture::putObstacle(qreal x, bool moved)
{
    const auto on = scale();
    const auto &reading = m_program.readings[static_cast<size_t>(m_regions.axes.front().sensor)];
    const double number = std::clamp(std::round(on.at(x)), 1.0, std::floor(on.top));
    if (moved && m_obstacle == number)
        return;
    m_obstacle = number;
    update();
    emit obstacleAt(str(reading.name), number, moved);
}

void CellsPicture::mouseMoveEvent(QMouseEvent *event)
{
    if (m_carries && shape() == Shape::Scale)
        return putObstacle(event->position().x(), true);
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
    m_carries = false;
}

} // namespace badger::app
