// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rule/cells_picture.h"

#include "app/widgets/marks.h"
#include "app/widgets/text.h"
#include "core/machine/words.h"
#include "core/regions/atom_words.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

namespace badger::app
{

using regions::Atom;
using regions::Axis;
using regions::Outcome;

CellsPicture::CellsPicture(const Theme &theme, QWidget *parent) : QWidget(parent), m_theme(theme)
{
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setAccessibleName(tr("What it does at every reading"));
}

QSize CellsPicture::sizeHint() const
{
    const auto what = shape();
    const qreal height = what == Shape::Fan     ? 168
                         : what != Shape::Scale ? 124
                         : shownBudget()        ? 146
                                                : 96;
    return {qRound(720 * m_theme.scale()), qRound(height * m_theme.scale())};
}

namespace
{

/// Where a mode decides by the nearest (or farthest) of several alone, the same program as if that
/// were one sensor: its number is all that matters.
std::optional<rules::Program> asOneSensor(const rules::Program &program, int mode)
{
    std::string one;
    bool alone = true;
    const auto through = [&](const std::vector<rules::Rule> &rules) {
        for (const auto &rule : rules)
            for (const auto &c : rule.when) {
                const auto *r = program.reading(c.reading);
                alone &= (c.test == rules::Test::Number || c.test == rules::Test::Lost) && r &&
                         r->source == rules::Source::Pick && (one.empty() || one == c.reading);
                one = c.reading;
            }
    };
    through(program.everywhere);
    through(program.states[static_cast<size_t>(mode)].rules);
    const auto *pick = alone ? program.reading(one) : nullptr;
    const auto *first = pick && !pick->of.empty() ? program.reading(pick->of.front()) : nullptr;
    if (first == nullptr || first->source != rules::Source::Ranger)
        return std::nullopt;
    auto copy = program;
    for (auto &r : copy.readings)
        r.everyPass = r.name == one;
    for (auto &r : copy.readings)
        if (r.name == one) {
            r = *first;
            r.name = one;
            r.everyPass = true;
            r.swivel.reset();
        }
    return copy;
}

} // namespace

void CellsPicture::show(const rules::Program &program, const machine::CarFacts &facts, int mode,
                        const Ground &ground)
{
    if (m_program.id != program.id)
        m_obstacle.reset(); // it belongs to the program before
    m_program = asOneSensor(program, mode).value_or(program);
    m_budget = ground.budget ? std::optional(*ground.budget) : std::nullopt;
    m_deadZones_m = ground.deadZones_m;
    m_rows.clear();
    m_regions = {};
    m_missing.clear();
    m_hysteresis.clear();
    auto machine = machine::lower(m_program, facts);
    if (!machine) {
        m_missing = str(machine.error().what);
    } else {
        m_machine = std::move(*machine);
        auto regions = regions::of(m_program, m_machine, mode);
        if (regions)
            m_regions = std::move(*regions);
        else
            m_missing = str(regions.error().what);
        m_rows = regions::rows(m_machine, m_regions);
        findHysteresis();
    }
    QStringList said;
    for (const auto &row : m_rows)
        said << doing(*row.cell);
    setAccessibleDescription(m_missing.isEmpty() ? said.join(", ") : m_missing);
    updateGeometry();
    update();
}

QString CellsPicture::title() const
{
    return tr("while it is in '%1'")
        .arg(str(m_program.states[static_cast<size_t>(m_regions.mode)].name));
}

const Axis *CellsPicture::numberAxis() const
{
    const Axis *found = nullptr;
    for (const auto &axis : m_regions.axes) {
        if (axis.of == Axis::Of::Memo)
            continue;
        if (axis.of != Axis::Of::Sensor || found || axis.atoms.empty() ||
            axis.atoms.front().kind != Atom::Kind::Numbers)
            return nullptr;
        found = &axis;
    }
    return found;
}

CellsPicture::Shape CellsPicture::shape() const
{
    if (m_rows.empty())
        return Shape::Nothing;
    const bool bits =
        std::all_of(m_regions.axes.begin(), m_regions.axes.end(), [](const Axis &axis) {
            return axis.of == Axis::Of::Memo ||
                   (axis.of == Axis::Of::Sensor && axis.atoms.front().kind == Atom::Kind::No);
        });
    if (bits && !m_regions.axes.empty())
        return Shape::Patterns;
    if (scanSensor() >= 0)
        return Shape::Fan;
    if (m_regions.axes.size() == 1 && numberAxis()) {
        const auto &mode = m_machine.modes[static_cast<size_t>(m_rows.front().cell->to)];
        return mode.follows == rules::Follows::Steer ? Shape::Steering : Shape::Scale;
    }
    return Shape::Tiles;
}

QString CellsPicture::doing(const regions::Cell &cell) const
{
    if (cell.outcome == Outcome::Hole)
        return tr("no rule");
    return str(m_program.states[static_cast<size_t>(cell.to)].name);
}

QColor CellsPicture::colour(const regions::Cell &cell) const
{
    return m_theme.color(rules::actOf(m_program.states[static_cast<size_t>(cell.to)].motion));
}

/// The sensors as seen from above, filled where they see what they seek.
void CellsPicture::paintSensors(QPainter &p, const QRectF &box, const regions::Row &row) const
{
    std::vector<bool> seen;
    for (size_t k = 0; k < m_regions.axes.size(); ++k)
        if (m_regions.axes[k].of == Axis::Of::Sensor)
            seen.push_back(row.atoms[k].kind == Atom::Kind::Yes);
    const qreal s = m_theme.scale();
    const qreal step = box.width() / static_cast<qreal>(seen.size() + 1);
    const qreal r = std::min<qreal>(6 * s, step * 0.4);
    // The car's front edge, and under each sensor that sees it a piece of the line.
    p.setPen(Qt::NoPen);
    for (size_t i = 0; i < seen.size(); ++i)
        if (seen[i])
            p.fillRect(QRectF(box.left() + step * (static_cast<qreal>(i) + 1) - r * 1.2, box.top(),
                              r * 2.4, box.height()),
                       m_theme.color(Tone::Ink2));
    p.setPen(QPen(m_theme.color(Tone::Ink), m_theme.line()));
    p.setBrush(m_theme.color(Tone::Paper));
    p.drawRoundedRect(
        QRectF(box.left() + 2, box.center().y() - r - 3 * s, box.width() - 4, 2 * r + 6 * s), 4 * s,
        4 * s);
    for (size_t i = 0; i < seen.size(); ++i) {
        p.setBrush(m_theme.color(seen[i] ? Tone::Ink : Tone::Paper));
        p.drawEllipse(QPointF(box.left() + step * (static_cast<qreal>(i) + 1), box.center().y()), r,
                      r);
    }
}

void CellsPicture::paintPatterns(QPainter &p) const
{
    // A pattern whose action hangs on what is remembered has a part for each memory.
    std::vector<std::pair<const regions::Row *, std::vector<const regions::Row *>>> patterns;
    const auto bitsOf = [&](const regions::Row &row) {
        QString bits;
        for (size_t k = 0; k < m_regions.axes.size(); ++k)
            if (m_regions.axes[k].of == Axis::Of::Sensor)
                bits += row.atoms[k].kind == Atom::Kind::Yes ? '1' : '0';
        return bits;
    };
    std::map<QString, std::vector<const regions::Row *>> byBits;
    for (const auto &row : m_rows)
        byBits[bitsOf(row)].push_back(&row);
    const qreal s = m_theme.scale();
    const auto n = static_cast<qreal>(byBits.size());
    const int perRow = byBits.size() > 8 ? 8 : static_cast<int>(byBits.size());
    const int lines = byBits.size() > 8 ? 2 : 1;
    const qreal w = std::min<qreal>(260 * s, width() / std::min<qreal>(n, perRow));
    const qreal h = (height() - 2) / static_cast<qreal>(lines);
    int i = 0;
    for (const auto &[bits, rows] : byBits) {
        const QRectF tile(w * (i % perRow), h * (i / perRow), w - 4 * s, h - 4 * s);
        ++i;
        const qreal words = QFontMetricsF(m_theme.text(Type::Small)).height() + 2;
        const QRectF act(tile.left(), tile.bottom() - words - 2 * s, tile.width(), words + 2 * s);
        paintSensors(p,
                     QRectF(tile.left(), tile.top(), tile.width(), act.top() - tile.top() - 3 * s),
                     *rows.front());
        std::vector<const regions::Row *> parts; // one for each thing that is done
        for (const auto *row : rows)
            if (std::none_of(parts.begin(), parts.end(), [&](const regions::Row *other) {
                    return other->cell->to == row->cell->to &&
                           other->cell->outcome == row->cell->outcome;
                }))
                parts.push_back(row);
        QStringList said;
        for (size_t k = 0; k < parts.size(); ++k) {
            const QRectF part(
                act.left() + act.width() * static_cast<qreal>(k) / static_cast<qreal>(parts.size()),
                act.top(), act.width() / static_cast<qreal>(parts.size()), act.height());
            if (parts[k]->cell->outcome == Outcome::Hole)
                hatch(p, part, m_theme.color(Tone::Brick), 5);
            else
                p.fillRect(part, colour(*parts[k]->cell));
            said << doing(*parts[k]->cell);
        }
        p.setPen(m_theme.color(Tone::Ink));
        p.setFont(m_theme.text(Type::Small));
        const auto text = parts.size() > 2 ? tr("last turn") : said.join(" / ");
        p.drawText(act, Qt::AlignCenter,
                   p.fontMetrics().elidedText(text, Qt::ElideRight, int(act.width()) - 2));
    }
}

void CellsPicture::paintSteering(QPainter &p) const
{
    const auto &axis = m_regions.axes.front();
    const qreal s = m_theme.scale();
    const auto &mode = m_machine.modes[static_cast<size_t>(m_rows.front().cell->to)];
    const double from = axis.atoms.front().from;
    const double to = axis.atoms.back().to;
    const QRectF box(46 * s, 8 * s, width() - 60 * s, height() - 34 * s);
    p.fillRect(box, m_theme.color(Tone::Sheet));
    p.setPen(QPen(m_theme.color(Tone::Rule), 1));
    p.drawRect(box);
    const auto x = [&](double v) { return box.left() + box.width() * (v - from) / (to - from); };
    const auto y = [&](int counts) { return box.bottom() - box.height() * counts / 255.0; };
    auto mind = machine::freshMind(m_machine);
    QPolygonF left, right;
    for (int i = 0; i <= 200; ++i) {
        const double v = from + (to - from) * i / 200.0;
        auto &h = mind.held[static_cast<size_t>(mode.sensor)];
        h.has = true;
        h.number = v;
        const auto o = machine::orders(m_machine, mind, mode);
        left << QPointF(x(v), y(std::abs(o.left.counts)));
        right << QPointF(x(v), y(std::abs(o.right.counts)));
    }
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(m_theme.color(Tone::Result), 2 * s));
    p.drawPolyline(left);
    p.setPen(QPen(m_theme.color(Tone::Brick), 2 * s, Qt::DashLine));
    p.drawPolyline(right);
    p.setFont(m_theme.text(Type::Small));
    p.setPen(m_theme.color(Tone::Result));
    p.drawText(QPointF(box.left() + 6 * s, left.front().y() - 6 * s), tr("left wheel"));
    p.setPen(m_theme.color(Tone::Brick));
    p.drawText(QPointF(box.left() + 6 * s, right.front().y() + 14 * s), tr("right wheel"));
    p.setPen(m_theme.color(Tone::Ink2));
    for (const double v :
         {double(mode.middle - mode.half), double(mode.middle), double(mode.middle + mode.half)}) {
        p.drawLine(QPointF(x(v), box.top()), QPointF(x(v), box.bottom() + 4 * s));
        p.drawText(QRectF(x(v) - 60 * s, box.bottom() + 4 * s, 120 * s, 20 * s), Qt::AlignHCenter,
                   v == double(mode.middle) ? tr("straight: %1").arg(v) : QString::number(v));
    }
    p.drawText(QRectF(0, box.top() - 4 * s, 42 * s, 16 * s), Qt::AlignRight, "255");
    p.drawText(QRectF(0, box.bottom() - 12 * s, 42 * s, 16 * s), Qt::AlignRight, "0");
}

/// One row for each rule that decides: of very many cells their rules say more.
std::vector<regions::Row> CellsPicture::rowsByRule() const
{
    std::vector<regions::Row> all;
    for (const auto &row : m_rows)
        if (std::none_of(all.begin(), all.end(), [&](const regions::Row &other) {
                return other.cell->fired == row.cell->fired &&
                       other.cell->outcome == row.cell->outcome;
            }))
            all.push_back(row);
    return all;
}

void CellsPicture::paintTiles(QPainter &p) const
{
    const qreal s = m_theme.scale();
    const auto rows = m_rows.size() > 12 ? rowsByRule() : m_rows;
    const bool byRule = rows.size() < m_rows.size();
    const auto n = static_cast<int>(rows.size());
    const int columns = n <= 6 ? std::max(n, 1) : std::min(6, (n + 1) / 2);
    const int lines = std::min(3, (n + columns - 1) / columns);
    const int shown = std::min(n, columns * lines);
    const qreal w = width() / static_cast<qreal>(columns);
    const qreal h = (height() - 2) / static_cast<qreal>(lines);
    for (int i = 0; i < shown; ++i) {
        const auto &row = rows[static_cast<size_t>(i)];
        const QRectF tile(w * (i % columns), h * (i / columns), w - 4 * s, h - 4 * s);
        const bool more = i + 1 == shown && shown < n;
        if (more)
            p.fillRect(tile, m_theme.color(Tone::Sheet));
        else if (row.cell->outcome == Outcome::Hole)
            hatch(p, tile, m_theme.color(Tone::Brick), 6);
        else
            p.fillRect(tile, colour(*row.cell));
        p.setPen(m_theme.color(Tone::Ink));
        if (more) {
            p.setFont(m_theme.text(Type::Small));
            p.drawText(tile, Qt::AlignCenter, tr("and %1 more").arg(n - shown + 1));
            continue;
        }
        QStringList where;
        if (byRule && !row.cell->fired.empty())
            where << str(machine::ruleAt(m_program, m_machine, row.cell->fired.front()).rule->name);
        for (size_t k = 0; k < m_regions.axes.size() && !byRule; ++k) {
            const auto &axis = m_regions.axes[k];
            const auto &a = row.atoms[k];
            // Of a look that always has a number the difference says it all.
            const bool all = a.kind == Atom::Kind::Numbers && axis.of == Axis::Of::Sensor &&
                             a.from == axis.atoms.front().from && m_regions.axes.size() > 1 &&
                             std::all_of(axis.atoms.begin(), axis.atoms.end(), [&](const Atom &b) {
                                 return b.kind != Atom::Kind::Numbers || b.to <= a.to;
                             });
            const auto words = regions::axisWords(m_program, m_machine, axis, a);
            if (!words.empty() && !all)
                where << str(words);
        }
        p.setFont(m_theme.text(Type::Body, true));
        const qreal head = p.fontMetrics().height() + 2;
        p.drawText(tile.adjusted(6 * s, 3 * s, -4 * s, 0), Qt::AlignLeft | Qt::AlignTop,
                   p.fontMetrics().elidedText(doing(*row.cell), Qt::ElideRight,
                                              int(tile.width() - 10 * s)));
        p.setFont(m_theme.text(Type::Small));
        p.drawText(tile.adjusted(6 * s, 3 * s + head, -4 * s, 0),
                   Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap, where.join(", "));
    }
}

void CellsPicture::paintEvent(QPaintEvent *)
{
    QPainter p(this);
    switch (shape()) {
    case Shape::Nothing:
        p.setFont(m_theme.text(Type::Body));
        p.setPen(m_theme.color(Tone::Ink2));
        hatch(p, QRectF(rect()).adjusted(1, 1, -2, -2), m_theme.color(Tone::Rule), 9);
        p.fillRect(QRectF(rect()).adjusted(12, 12, -12, -12), m_theme.color(Tone::Paper));
        p.drawText(QRectF(rect()).adjusted(20, 12, -20, -12), Qt::AlignCenter | Qt::TextWordWrap,
                   m_missing.isEmpty() ? tr("It waits here and looks at nothing.") : m_missing);
        break;
    case Shape::Patterns:
        p.setRenderHint(QPainter::Antialiasing);
        paintPatterns(p);
        break;
    case Shape::Scale:
        paintScale(p);
        break;
    case Shape::Steering:
        paintSteering(p);
        break;
    case Shape::Fan:
        p.setRenderHint(QPainter::Antialiasing);
        paintFan(p);
        break;
    case Shape::Tiles:
        paintTiles(p);
        break;
    }
}

} // namespace badger::app
