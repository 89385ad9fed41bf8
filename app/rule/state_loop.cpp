// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rule/state_loop.h"

#include "app/widgets/marks.h"
#include "app/widgets/text.h"
#include "core/machine/words.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <cmath>
#include <numbers>

namespace badger::app
{

StateLoop::StateLoop(const Theme &theme, QWidget *parent) : QWidget(parent), m_theme(theme)
{
    setFocusPolicy(Qt::StrongFocus);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setAccessibleName(tr("States of the program"));
}

QSize StateLoop::sizeHint() const
{
    const auto n = m_program.states.size();
    const int height = !m_ring ? 104 : n <= 2 ? 64 : n <= 8 ? 140 : 180;
    return {qRound((m_ring ? 260 : 360) * m_theme.scale()), qRound(height * m_theme.scale())};
}

void StateLoop::setRing(bool ring)
{
    m_ring = ring;
    updateGeometry();
    update();
}

QSize StateLoop::minimumSizeHint() const
{
    return {160, sizeHint().height()};
}

void StateLoop::show(const rules::Program &program, const QString &picked)
{
    // A ring shows which state leads to which, and no values: a dragged limit leaves it as it is.
    const bool same = m_ring && picked == m_picked && program.states == m_program.states &&
                      program.everywhere == m_program.everywhere;
    m_program = program;
    if (same)
        return;
    m_picked = picked;
    setAccessibleDescription(picked);
    updateGeometry();
    update();
}

QRectF StateLoop::stateArea(int index) const
{
    const qreal s = m_theme.scale();
    const auto n = static_cast<int>(m_program.states.size());
    if (m_ring) {
        const qreal w = std::min<qreal>((n > 6 ? 84 : 104) * s, width() / 2.4);
        const qreal h = (n > 8 ? 20 : n > 5 ? 23 : 28) * s;
        // Two stand side by side, more begin at the top.
        const double turn =
            2.0 * std::numbers::pi * (index / double(std::max(1, n)) - (n == 2 ? 0.25 : 0.0));
        const QPointF middle(width() / 2.0 + std::sin(turn) * (width() - w - 6 * s) / 2,
                             height() / 2.0 - std::cos(turn) * (height() - h - 6 * s) / 2);
        return {middle.x() - w / 2, middle.y() - h / 2, w, h};
    }
    const qreal slot = width() / qreal(std::max(1, n));
    const qreal w = std::min<qreal>(116 * s, slot - 16 * s);
    const qreal h = 34 * s;
    return {slot * (index + 0.5) - w / 2, (height() - h) / 2, w, h};
}

QString StateLoop::conditionsTo(const rules::State &from, const rules::State &to) const
{
    QStringList texts;
    const auto through = [&](const std::vector<rules::Rule> &rules) {
        for (const auto &rule : rules) {
            if (rule.go != to.name)
                continue;
            QStringList parts;
            if (rule.when.empty())
                parts << tr("otherwise");
            for (const auto &c : rule.when) {
                if (c.test != rules::Test::Number) {
                    parts << str(machine::words(m_program, c));
                    continue;
                }
                const auto *value = m_program.value(c.value);
                const auto *reading = m_program.reading(c.reading);
                const bool length = value && value->kind == rules::ValueKind::Distance;
                const auto right = value && value->si && !length ? str(units::plain(*value->si, 3))
                                   : value && value->si && reading
                                       ? str(units::quantity(*value->si, reading->unit, 2))
                                       : str(c.value) + "?";
                parts << QStringLiteral("%1 %2 %3")
                             .arg(str(c.reading), QString::fromUtf8(rules::sign(c.compare)), right);
                const bool farther = c.compare == rules::Compare::Greater ||
                                     c.compare == rules::Compare::GreaterOrEqual;
                if (reading && ((farther && reading->noEcho == rules::NoEcho::Clear) ||
                                (!farther && reading->noEcho == rules::NoEcho::Blocked)))
                    parts.last() += tr(", or no echo");
            }
            texts << parts.join(tr(" and "));
        }
    };
    if (!from.wait) {
        through(m_program.everywhere);
        through(from.rules);
    }
    if (from.wait && from.wait->then == to.name)
        texts << tr("after %1").arg(str(from.wait->duration));
    for (const auto &r : m_program.readings)
        if (r.noEcho == rules::NoEcho::Stop && to.name == m_program.stopState && !from.wait)
            texts << tr("no echo");
    return texts.join("; ");
}

/// So many states that the conditions of their ways would cover each other.
bool StateLoop::isCrowded() const
{
    return m_program.states.size() > 2;
}

namespace
{

/// Where the way from the middle of a state to a point leaves its border.
QPointF border(const QRectF &area, const QPointF &to)
{
    const auto d = to - area.center();
    const qreal share = std::min(d.x() == 0.0 ? 1e9 : area.width() / 2 / std::abs(d.x()),
                                 d.y() == 0.0 ? 1e9 : area.height() / 2 / std::abs(d.y()));
    return area.center() + d * std::min<qreal>(1.0, share);
}

} // namespace

void StateLoop::paintHead(QPainter &p, const QPointF &from, const QPointF &to) const
{
    const qreal angle = std::atan2(to.y() - from.y(), to.x() - from.x());
    for (const qreal side : {-0.45, 0.45})
        p.drawLine(to, to - QPointF(std::cos(angle + side), std::sin(angle + side)) * 8 *
                                m_theme.scale());
}

/// Of two states that lead to each other each way bows to its own side.
void StateLoop::paintChord(QPainter &p, int from, int to) const
{
    if (from == to ||
        conditionsTo(m_program.states[size_t(from)], m_program.states[size_t(to)]).isEmpty())
        return;
    const auto a = stateArea(from);
    const auto b = stateArea(to);
    const auto d = b.center() - a.center();
    const qreal length = std::max<qreal>(1.0, std::hypot(d.x(), d.y()));
    const QPointF aside(-d.y() / length, d.x() / length);
    const auto bend = (a.center() + b.center()) / 2 + aside * 14 * m_theme.scale();
    const auto start = border(a, bend);
    const auto end = border(b, bend);
    const bool faint = m_program.states[size_t(from)].name != m_picked.toStdString();
    p.setPen(QPen(m_theme.color(faint ? Tone::Rule : Tone::Ink), m_theme.line()));
    p.setBrush(Qt::NoBrush);
    QPainterPath way(start);
    way.quadTo(bend, end);
    p.drawPath(way);
    paintHead(p, bend, end);
}

void StateLoop::paintArc(QPainter &p, int from, int to) const
{
    if (m_ring)
        return paintChord(p, from, to);
    const auto label = conditionsTo(m_program.states[size_t(from)], m_program.states[size_t(to)]);
    if (from == to || label.isEmpty())
        return;
    const qreal s = m_theme.scale();
    const auto a = stateArea(from);
    const auto b = stateArea(to);
    const bool above = from < to;
    // The farthest arcs bow as far as there is room; a curve reaches three quarters of its bow.
    const qreal room = (height() - a.height()) / 2 / 1.5 - 2;
    const qreal bow =
        (above ? -1 : 1) * std::min<qreal>((10 + 7 * (std::abs(to - from) - 1)) * s, room);
    const qreal shift = 0.22;
    const QPointF start(a.center().x() + (above ? 1 : -1) * a.width() * shift,
                        above ? a.top() : a.bottom());
    const QPointF end(b.center().x() + (above ? -1 : 1) * b.width() * shift,
                      above ? b.top() : b.bottom());
    QPainterPath arc(start);
    const QPointF c1(start.x() + (end.x() - start.x()) * 0.2, start.y() + bow * 2.0);
    const QPointF c2(end.x() - (end.x() - start.x()) * 0.2, end.y() + bow * 2.0);
    arc.cubicTo(c1, c2, end);
    // Of many states the ways out of the picked one are drawn strongly.
    const bool faint = isCrowded() && m_program.states[size_t(from)].name != m_picked.toStdString();
    p.setPen(QPen(m_theme.color(faint ? Tone::Rule : Tone::Ink), m_theme.line()));
    p.setBrush(Qt::NoBrush);
    p.drawPath(arc);
    paintHead(p, c2, end);
    if (isCrowded())
        return; // the sentences say it
    p.setFont(m_theme.text(Type::Small));
    const QPointF middle = arc.pointAtPercent(0.5);
    const qreal w = p.fontMetrics().horizontalAdvance(label);
    const qreal left = std::clamp(middle.x() - w / 2, 0.0, std::max(0.0, width() - w));
    p.drawText(QPointF(left, middle.y() + (above ? -6 : 16) * s), label);
}

void StateLoop::paintEvent(QPaintEvent *)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const auto n = static_cast<int>(m_program.states.size());
    for (const bool picked : {false, true}) // the picked one's ways over the others'
        for (int i = 0; i < n; ++i)
            for (int k = 0; k < n; ++k)
                if ((str(m_program.states[size_t(i)].name) == m_picked) == picked)
                    paintArc(p, i, k);
    for (int i = 0; i < n; ++i) {
        const auto &state = m_program.states[size_t(i)];
        const auto name = str(state.name);
        const bool isPicked = name == m_picked;
        const auto area = stateArea(i);
        p.setBrush(m_theme.color(rules::actOf(state.motion)));
        p.setPen(QPen(m_theme.color(isPicked ? Tone::Ochre : Tone::Ink),
                      isPicked ? 2.6 * m_theme.scale() : m_theme.line()));
        p.drawRoundedRect(area, area.height() / 2, area.height() / 2);
        p.setPen(m_theme.color(Tone::Ink));
        p.setFont(m_theme.text(m_ring && n > 4 ? Type::Small : Type::Body, true));
        p.drawText(area, Qt::AlignCenter,
                   p.fontMetrics().elidedText(name, Qt::ElideRight, int(area.width() - 12)));
    }
    paintFocus(p, *this, m_theme);
}

void StateLoop::mousePressEvent(QMouseEvent *event)
{
    for (size_t i = 0; i < m_program.states.size(); ++i)
        if (stateArea(int(i)).contains(event->position()))
            emit picked(str(m_program.states[i].name));
}

void StateLoop::keyPressEvent(QKeyEvent *event)
{
    const int step = event->key() == Qt::Key_Right ? 1 : event->key() == Qt::Key_Left ? -1 : 0;
    const auto n = static_cast<int>(m_program.states.size());
    if (step == 0 || n == 0)
        return QWidget::keyPressEvent(event);
    for (int i = 0; i < n; ++i)
        if (str(m_program.states[size_t(i)].name) == m_picked)
            return emit picked(str(m_program.states[size_t((i + step + n) % n)].name));
    emit picked(str(m_program.states.front().name));
}

} // namespace badger::app
