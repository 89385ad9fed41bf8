// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/kit/power_view.h"

#include "app/widgets/marks.h"
#include "app/widgets/text.h"
#include "core/units/quantity.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>
#include <cmath>

namespace badger::app
{

namespace
{

constexpr qreal boxHeight = 31;
constexpr qreal leastRow = 35;
constexpr qreal mostRow = 48;
constexpr double shownHeat_W = 0.05; ///< less is no tip

/// Broad enough to compare, thin enough for the page: the root of the amps.
qreal breadth(double amps_A, qreal scale)
{
    return (1.2 + 6.5 * std::sqrt(std::max(0.0, amps_A))) * scale;
}

} // namespace

PowerView::PowerView(const Theme &theme, QWidget *parent) : QWidget(parent), m_theme(theme)
{
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("The power tree"));
}

int PowerView::rows() const
{
    return std::max(1, m_rowCount);
}

qreal PowerView::rowHeight() const
{
    const qreal s = m_theme.scale();
    return std::clamp(height() / qreal(rows()), leastRow * s, mostRow * s);
}

QSize PowerView::sizeHint() const
{
    const qreal s = m_theme.scale();
    return {qRound(480 * s), qRound(rows() * leastRow * s + 2)};
}

void PowerView::show(power::Tree tree, std::vector<Finding> findings, power::State state)
{
    m_tree = std::move(tree);
    m_findings = std::move(findings);
    m_state = state;
    m_rows.assign(m_tree.nodes.size(), 0.0);
    int row = 0;
    for (size_t i = 0; i < m_tree.nodes.size(); ++i)
        if (m_tree.nodes[i].parent < 0)
            row = placeRows(int(i), row);
    m_rowCount = row;
    if (m_tree.node(m_picked.toStdString()) == nullptr)
        m_picked.clear();
    updateGeometry();
    arrange();
    update();
}

/// A leaf takes a row; a parent stands at the middle of its children.
int PowerView::placeRows(int node, int row)
{
    const auto children = m_tree.childrenOf(node);
    if (children.empty()) {
        m_rows[size_t(node)] = row;
        return row + 1;
    }
    for (const int child : children)
        row = placeRows(child, row);
    m_rows[size_t(node)] =
        (m_rows[size_t(children.front())] + m_rows[size_t(children.back())]) / 2.0;
    return row;
}

void PowerView::arrange()
{
    m_boxes.assign(m_tree.nodes.size(), {});
    int deepest = 0;
    for (const auto &n : m_tree.nodes)
        deepest = std::max(deepest, n.depth);
    const qreal s = m_theme.scale();
    // A tree of two levels does not stretch over the whole page.
    const qreal column = std::min(width() / qreal(deepest + 1), 168 * s);
    const qreal gap = std::min(26 * s, column * 0.15);
    for (size_t i = 0; i < m_boxes.size(); ++i)
        m_boxes[i] = QRectF(m_tree.nodes[i].depth * column + 2,
                            (m_rows[i] + 0.5) * rowHeight() - boxHeight * s / 2, column - gap,
                            boxHeight * s);
}

QRectF PowerView::boxOf(const QString &node) const
{
    const int i = m_tree.indexOf(node.toStdString());
    return i < 0 ? QRectF() : m_boxes[size_t(i)];
}

std::optional<Severity> PowerView::severityAt(const power::Node &node) const
{
    std::optional<Severity> worst;
    for (const auto &f : m_findings) {
        if (f.severity == Severity::Advice)
            continue;
        const bool here =
            f.places.front() == at::node(node.id) ||
            (f.places.front() == at::part(node.instance) &&
             (node.kind == power::NodeKind::Source || node.kind == power::NodeKind::Link ||
              node.kind == power::NodeKind::Motor ||
              (node.kind == power::NodeKind::Channel && f.code.starts_with("channel"))));
        if (here && (!worst || f.severity < *worst))
            worst = f.severity;
    }
    return worst;
}

void PowerView::paintEvent(QPaintEvent *)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    if (m_tree.nodes.empty()) {
        p.setPen(m_theme.color(Tone::Ink2));
        p.setFont(m_theme.text(Type::Body));
        p.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap,
                   tr("No source yet.\nAdd cells or a bank: the tree grows from there."));
    }
    paintBranches(p);
    for (size_t i = 0; i < m_boxes.size(); ++i)
        paintNode(p, i);
    if (hasFocus() && m_picked.isEmpty()) {
        p.setPen(QPen(m_theme.color(Tone::Ochre), 2));
        p.setBrush(Qt::NoBrush);
        p.drawRect(QRectF(rect()).adjusted(1, 1, -1, -1));
    }
}

void PowerView::paintBranches(QPainter &p) const
{
    p.setBrush(Qt::NoBrush);
    for (size_t i = 0; i < m_boxes.size(); ++i) {
        const auto &n = m_tree.nodes[i];
        if (n.parent < 0)
            continue;
        const auto &from = m_boxes[size_t(n.parent)];
        const auto &to = m_boxes[i];
        const auto &v = m_tree.at(int(i), m_state);
        const QPointF a(from.right(), from.center().y());
        const QPointF b(to.left(), to.center().y());
        QPainterPath path(a);
        const qreal bend = (b.x() - a.x()) * 0.6;
        path.cubicTo(a + QPointF(bend, 0), b - QPointF(bend, 0), b);
        QPen pen(m_theme.color(v.amps_A > 0.0 ? Tone::Result : Tone::Rule),
                 breadth(v.amps_A, m_theme.scale()), v.atLeast ? Qt::DotLine : Qt::SolidLine,
                 Qt::FlatCap);
        p.setPen(pen);
        p.drawPath(path);
    }
}

void PowerView::paintNode(QPainter &p, size_t index) const
{
    const auto &n = m_tree.nodes[index];
    const auto &v = m_tree.at(int(index), m_state);
    const auto &box = m_boxes[index];
    const qreal s = m_theme.scale();
    const bool picked = str(n.id) == m_picked;
    const auto severity = severityAt(n);
    p.setBrush(m_theme.color(Tone::Sheet));
    p.setPen(QPen(m_theme.color(picked                        ? Tone::Ochre
                                : severity == Severity::Error ? Tone::Brick
                                                              : Tone::Rule),
                  picked ? 2.2 : m_theme.line()));
    p.drawRoundedRect(box, 3, 3);
    qreal markWidth = 0;
    if (severity) {
        const QRectF mark(box.right() - 15 * s, box.top() + 3 * s, 11 * s, 11 * s);
        paintMark(p, mark, *severity, m_theme);
        markWidth = 15 * s;
    }
    const QRectF inner = box.adjusted(5 * s, 1, -5 * s, -1);
    const QRectF upper(inner.left(), inner.top(), inner.width() - markWidth, inner.height() / 2);
    const QRectF lower(inner.left(), inner.center().y(), inner.width(), inner.height() / 2);
    const auto mine = [&](power::Quantity q) { return picked && q == m_quantity; };
    const bool hot = v.heat_W && *v.heat_W >= shownHeat_W;
    QRectF nameBox = upper;
    QString heat;
    qreal heatWidth = 0;
    if (hot) {
        heat = str(units::quantity(*v.heat_W, units::Unit::Watt, 2));
        heatWidth = QFontMetricsF(m_theme.figures(Type::Small)).horizontalAdvance(heat) + 4 * s;
        nameBox.setRight(upper.right() - heatWidth);
    }
    p.setFont(m_theme.text(Type::Small));
    p.setPen(m_theme.color(Tone::Ink));
    auto name = str(n.name);
    if (n.kind == power::NodeKind::Channel) {
        const auto letter = str(kit::splitTerminal(n.id).terminal);
        name = tr("channel %1").arg(letter);
        if (p.fontMetrics().horizontalAdvance(name) > nameBox.width())
            name = tr("ch. %1").arg(letter);
    }
    // Where both do not fit, the name keeps the line: the brick tip tells of the heat, and picking
    // the node says how much.
    const bool heatFits = hot && p.fontMetrics().horizontalAdvance(name) <= nameBox.width();
    if (hot && !heatFits)
        nameBox = upper;
    p.drawText(nameBox, Qt::AlignLeft | Qt::AlignVCenter,
               p.fontMetrics().elidedText(name, Qt::ElideRight, int(nameBox.width())));
    p.setFont(m_theme.figures(Type::Small));
    if (heatFits) {
        p.setPen(m_theme.color(mine(power::Quantity::Heat) ? Tone::Ochre : Tone::Brick));
        p.drawText(upper, Qt::AlignRight | Qt::AlignVCenter, heat);
    }
    paintFigures(p, lower, v, picked);
    if (hot)
        paintHeatTip(p, box, *v.heat_W);
}

void PowerView::paintFigures(QPainter &p, const QRectF &lower, const power::Values &v,
                             bool picked) const
{
    const auto mine = [&](power::Quantity q) { return picked && q == m_quantity; };
    const auto volts = str(power::voltsText(v));
    const auto amps = str(power::ampsText(v));
    p.setPen(m_theme.color(mine(power::Quantity::Volts) ? Tone::Ochre : Tone::Result));
    p.drawText(lower, Qt::AlignLeft | Qt::AlignVCenter, volts);
    const bool room = p.fontMetrics().horizontalAdvance(volts + " " + amps) < lower.width();
    p.setPen(m_theme.color(mine(power::Quantity::Amps) ? Tone::Ochre : Tone::Ink2));
    if (room)
        p.drawText(lower, Qt::AlignRight | Qt::AlignVCenter, amps);
}

/// The brick tip hangs under the node and grows with the heat, up to a watt.
void PowerView::paintHeatTip(QPainter &p, const QRectF &box, double heat_W) const
{
    const qreal s = m_theme.scale();
    const qreal size = (4.0 + 4.0 * std::min(1.0, heat_W)) * s;
    const QPointF tip(box.right() - 8 * s, box.bottom());
    QPainterPath triangle(tip);
    triangle.lineTo(tip + QPointF(-size, 0));
    triangle.lineTo(tip + QPointF(-size / 2, size));
    triangle.closeSubpath();
    p.fillPath(triangle, m_theme.color(Tone::Brick));
}

int PowerView::indexAt(QPointF at) const
{
    for (size_t i = 0; i < m_boxes.size(); ++i)
        if (m_boxes[i].adjusted(-2, -2, 2, 4).contains(at))
            return int(i);
    return -1;
}

void PowerView::pick(const QString &node, power::Quantity quantity)
{
    m_picked = node;
    m_quantity = quantity;
    update();
}

void PowerView::mousePressEvent(QMouseEvent *event)
{
    setFocus();
    const int i = indexAt(event->position());
    if (i < 0)
        return;
    const auto &box = m_boxes[size_t(i)];
    const auto at = event->position();
    const bool heat =
        m_tree.at(i, m_state).heat_W &&
        (at.y() > box.bottom() || (at.x() > box.center().x() && at.y() < box.center().y()));
    pick(str(m_tree.nodes[size_t(i)].id), heat ? power::Quantity::Heat
                                          : at.x() > box.center().x() && at.y() > box.center().y()
                                              ? power::Quantity::Amps
                                              : power::Quantity::Volts);
    emit nodePicked(m_picked);
}

void PowerView::keyPressEvent(QKeyEvent *event)
{
    if (m_tree.nodes.empty())
        return QWidget::keyPressEvent(event);
    const int at = m_tree.indexOf(m_picked.toStdString());
    const int n = int(m_tree.nodes.size());
    int to = at;
    switch (event->key()) {
    case Qt::Key_Down:
    case Qt::Key_PageDown:
        to = (at + 1) % n;
        break;
    case Qt::Key_Up:
    case Qt::Key_PageUp:
        to = (at + n - 1 + (at < 0)) % n;
        break;
    case Qt::Key_Left:
        to = at < 0 ? 0 : std::max(0, m_tree.nodes[size_t(at)].parent);
        break;
    case Qt::Key_Right: {
        const auto children = m_tree.childrenOf(std::max(0, at));
        to = at < 0 || children.empty() ? std::max(0, at) : children.front();
        break;
    }
    case Qt::Key_V:
        m_quantity = power::Quantity::Volts;
        break;
    case Qt::Key_A:
        m_quantity = power::Quantity::Amps;
        break;
    case Qt::Key_H:
        m_quantity = power::Quantity::Heat;
        break;
    default:
        return QWidget::keyPressEvent(event);
    }
    pick(str(m_tree.nodes[size_t(std::max(0, to))].id), m_quantity);
    emit nodePicked(m_picked);
}

bool PowerView::event(QEvent *e)
{
    if (e->type() == QEvent::ToolTip) {
        auto *help = static_cast<QHelpEvent *>(e);
        const int i = indexAt(help->pos());
        if (i < 0) {
            QToolTip::hideText();
            return true;
        }
        const auto &n = m_tree.nodes[size_t(i)];
        const auto &v = m_tree.at(i, m_state);
        QStringList lines = {
            tr("%1: %2, %3").arg(str(n.name), str(power::voltsText(v)), str(power::ampsText(v)))};
        if (n.window)
            lines << tr("takes %1 to %2 V").arg(n.window->low_V).arg(n.window->high_V);
        if (n.limit_A)
            lines << tr("gives %1 A at most").arg(n.limit_A->typical);
        if (n.fromWires)
            lines << tr("fed as the wires say");
        for (const auto &m : n.missing)
            lines << tr("not known: %1").arg(str(m));
        QToolTip::showText(help->globalPos(), lines.join('\n'), this);
        return true;
    }
    return QWidget::event(e);
}

} // namespace badger::app
