// SPDX-License-Identifier: GPL-3.0-or-later
// What the car does at each pattern of its inputs, as a picture.
#include "app/widgets/marks.h"
#include "app/widgets/text.h"
#include "app/wire/motion_page.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <cmath>

namespace badger::app
{

using motion::Turn;

namespace
{

constexpr qreal leastMotionRow = 34; ///< of a row, in pixels

/// How fast a wheel goes, for drawing the way; 0 for one that is held or rolls.
double speedOf(Turn turn)
{
    return turn == Turn::Forward ? 1.0 : turn == Turn::Backward ? -1.0 : 0.0;
}

bool isUnsure(Turn turn)
{
    return turn == Turn::Unsure || turn == Turn::Fights || turn == Turn::None;
}

} // namespace

MotionView::MotionView(const Theme &theme, QWidget *parent) : QWidget(parent), m_theme(theme)
{
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("What the car does for each pattern of its inputs"));
}

qreal MotionView::rowHeight() const
{
    // A few rows are drawn larger.
    const qreal least = leastMotionRow * m_theme.scale();
    const qreal room = (height() - headHeight()) / std::max<qreal>(1, qreal(m_table.rows.size()));
    constexpr qreal most = 2.2;
    return std::clamp(room, least, least * most);
}

qreal MotionView::unit() const
{
    return rowHeight() / leastMotionRow;
}
qreal MotionView::headHeight() const
{
    return 24 * m_theme.scale();
}
qreal MotionView::inputWidth() const
{
    return (m_table.inputs.size() > 2 ? 52 : 104) * m_theme.scale();
}

QSize MotionView::sizeHint() const
{
    return {
        qRound(560 * m_theme.scale()),
        qRound(headHeight() + leastMotionRow * m_theme.scale() * qreal(m_table.rows.size()) + 2)};
}

QSize MotionView::minimumSizeHint() const
{
    return {qRound(inputWidth() * qreal(m_table.inputs.size()) + 220 * m_theme.scale()),
            sizeHint().height()};
}

void MotionView::show(motion::MotionTable table, std::vector<judge::ProgramAction> actions)
{
    m_table = std::move(table);
    m_actions = std::move(actions);
    if (m_picked >= int(m_table.rows.size()))
        m_picked = -1;
    updateGeometry();
    update();
}

void MotionView::pick(int row)
{
    m_picked = row;
    if (row >= 0) {
        const auto &r = m_table.rows[size_t(row)];
        QStringList levels;
        for (size_t i = 0; i < r.levels.size(); ++i)
            levels << str(m_table.inputs[i].name) + " " +
                          str(m_table.inputs[i].levelName(r.levels[i]));
        setAccessibleDescription(levels.join(", ") + ": " + tr(motion::words(r.path)));
    }
    update();
    emit rowPicked(row);
}

void MotionView::paintLevels(QPainter &p, const motion::MotionRow &row, const QRectF &box) const
{
    const qreal r = 5 * unit();
    for (size_t i = 0; i < row.levels.size(); ++i) {
        const QRectF cell(box.left() + inputWidth() * qreal(i), box.top(), inputWidth(),
                          box.height());
        const QPointF dot(cell.left() + 12 * unit(), cell.center().y());
        const bool high = row.levels[i] > 0;
        p.setPen(QPen(m_theme.color(Tone::Ink), m_theme.line()));
        p.setBrush(high ? m_theme.color(Tone::Ink) : m_theme.color(Tone::Sheet));
        p.drawEllipse(dot, r, r);
        if (m_table.inputs[i].threeWay() && row.levels[i] == 0)
            p.drawLine(dot - QPointF(r, 0), dot + QPointF(r, 0));
        p.setPen(m_theme.color(Tone::Ink2));
        p.drawText(cell.adjusted(22 * unit(), 0, 0, 0), Qt::AlignVCenter,
                   str(m_table.inputs[i].levelName(row.levels[i])));
    }
}

/// A wheel from above: an arrow the way it pushes the car, a bar where it is held, an empty wheel
/// where it rolls, a cross where it is dead, a question mark where nobody knows.
void MotionView::paintWheel(QPainter &p, Turn turn, QPointF middle) const
{
    const qreal s = unit();
    const QRectF tyre(middle.x() - 3.5 * s, middle.y() - 9 * s, 7 * s, 18 * s);
    p.setPen(QPen(m_theme.color(Tone::Ink), m_theme.line()));
    p.setBrush(m_theme.color(turn == Turn::Brake ? Tone::Stand : Tone::Sheet));
    p.drawRoundedRect(tyre, 2, 2);
    if (turn == Turn::Forward || turn == Turn::Backward) {
        const qreal up = turn == Turn::Forward ? -1 : 1;
        QPainterPath head;
        head.moveTo(middle + QPointF(0, 8 * s * up));
        head.lineTo(middle + QPointF(-6 * s, -1 * s * up));
        head.lineTo(middle + QPointF(6 * s, -1 * s * up));
        head.closeSubpath();
        p.fillPath(head, m_theme.color(turn == Turn::Forward ? Tone::Result : Tone::Brick));
    } else if (turn == Turn::Brake) {
        p.setPen(QPen(m_theme.color(Tone::Ink), 3 * s));
        p.drawLine(middle - QPointF(6 * s, 0), middle + QPointF(6 * s, 0));
    } else if (turn == Turn::Dead) {
        p.setPen(QPen(m_theme.color(Tone::Brick), 2 * s));
        p.drawLine(middle - QPointF(5 * s, 5 * s), middle + QPointF(5 * s, 5 * s));
        p.drawLine(middle - QPointF(5 * s, -5 * s), middle + QPointF(5 * s, -5 * s));
    } else if (isUnsure(turn)) {
        p.setPen(m_theme.color(Tone::Brick));
        p.drawText(tyre.adjusted(-4, 0, 4, 0), Qt::AlignCenter, QStringLiteral("?"));
    }
}

void MotionView::paintCar(QPainter &p, const motion::MotionRow &row, QPointF middle) const
{
    const qreal s = unit();
    p.setPen(QPen(m_theme.color(Tone::Ink2), 1));
    p.setBrush(m_theme.color(Tone::Paper));
    p.drawRoundedRect(QRectF(middle.x() - 9 * s, middle.y() - 12 * s, 18 * s, 24 * s), 3, 3);
    paintWheel(p, row.left, middle - QPointF(14 * s, 0));
    paintWheel(p, row.right, middle + QPointF(14 * s, 0));
}

/// The way the middle of the car takes, driven on for a moment.
void MotionView::paintWay(QPainter &p, const motion::MotionRow &row, QPointF from) const
{
    if (isUnsure(row.left) || isUnsure(row.right))
        return;
    const double left = speedOf(row.left);
    const double right = speedOf(row.right);
    if (left == 0.0 && right == 0.0)
        return;
    const qreal s = unit();
    const bool spins = left + right == 0.0;
    QPainterPath way;
    QPointF at = from;
    double heading = 0.0; // of the nose, left of straight ahead
    constexpr int steps = 24;
    constexpr double track = 18.0;
    if (spins) { // on the spot: the way of the nose
        way.moveTo(from + QPointF(0, -9 * s));
        for (int i = 1; i <= steps; ++i) {
            heading += (right - left) / track * 1.9;
            at = from + QPointF(-std::sin(heading), -std::cos(heading)) * 9 * s;
            way.lineTo(at);
        }
        heading += right > left ? M_PI_2 : -M_PI_2;
    } else {
        way.moveTo(at);
        for (int i = 0; i < steps; ++i) {
            heading += (right - left) / track;
            const double v = (left + right) / 2.0 * 1.1 * s;
            at += QPointF(-std::sin(heading), -std::cos(heading)) * v;
            way.lineTo(at);
        }
        if (left + right < 0.0)
            heading += M_PI;
    }
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(m_theme.color(Tone::Result), 2 * s, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    p.drawPath(way);
    for (const double side : {2.6, -2.6}) {
        const double a = heading + side;
        p.drawLine(at, at + QPointF(-std::sin(a), -std::cos(a)) * 6 * s);
    }
}

QString MotionView::actionsAt(int row) const
{
    QStringList names;
    for (const auto &a : m_actions)
        if (a.row == row)
            names << str(a.state);
    return names.isEmpty() ? QString() : tr("program: %1").arg(names.join(", "));
}

void MotionView::paintRow(QPainter &p, int index, const QRectF &box) const
{
    const auto &row = m_table.rows[size_t(index)];
    const qreal s = unit();
    paintLevels(p, row, box);
    const qreal x = box.left() + inputWidth() * qreal(m_table.inputs.size()) + 20 * s;
    paintCar(p, row, {x + 10 * s, box.center().y()});
    // It starts low enough to stay within its row.
    const bool back = speedOf(row.left) + speedOf(row.right) < 0.0;
    const bool spins = speedOf(row.left) + speedOf(row.right) == 0.0;
    paintWay(p, row, {x + 48 * s, box.center().y() + (spins ? 0 : back ? -13 : 13) * s});
    p.setPen(m_theme.color(row.path == motion::Path::Unsure ? Tone::Brick : Tone::Ink));
    const QRectF words(x + 70 * s, box.top(), box.right() - x - 70 * s, box.height());
    const auto program = actionsAt(index);
    if (program.isEmpty())
        return p.drawText(words, Qt::AlignVCenter | Qt::TextWordWrap, tr(motion::words(row.path)));
    p.drawText(words.adjusted(0, 0, 0, -words.height() / 2), Qt::AlignBottom,
               tr(motion::words(row.path)));
    p.setPen(m_theme.color(Tone::Ochre));
    p.drawText(words.adjusted(0, words.height() / 2, 0, 0), Qt::AlignTop, program);
}

void MotionView::paintEvent(QPaintEvent *)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setFont(m_theme.text(Type::Small, true));
    p.setPen(m_theme.color(Tone::Ink));
    for (size_t i = 0; i < m_table.inputs.size(); ++i) {
        const QRectF head(6 + inputWidth() * qreal(i), 0, inputWidth() - 6, headHeight());
        p.drawText(head, Qt::AlignVCenter,
                   p.fontMetrics().elidedText(m_table.inputs[i].floating
                                                  ? tr("%1 floats").arg(str(m_table.inputs[i].name))
                                                  : str(m_table.inputs[i].name),
                                              Qt::ElideRight, int(head.width())));
    }
    p.setFont(m_theme.text(unit() > 1.5 * m_theme.scale() ? Type::Body : Type::Small));
    for (size_t i = 0; i < m_table.rows.size(); ++i) {
        const QRectF box(0, headHeight() + rowHeight() * qreal(i), width(), rowHeight());
        p.setPen(Qt::NoPen);
        p.setBrush(m_theme.color(int(i) == m_picked ? Tone::Stand : Tone::Sheet));
        p.drawRect(box.adjusted(0, 0, 0, -1));
        paintRow(p, int(i), box);
    }
    paintFocus(p, *this, m_theme);
}

void MotionView::mousePressEvent(QMouseEvent *event)
{
    const int row = int((event->position().y() - headHeight()) / rowHeight());
    if (event->position().y() >= headHeight() && row < int(m_table.rows.size()))
        pick(row);
}

void MotionView::keyPressEvent(QKeyEvent *event)
{
    const int n = int(m_table.rows.size());
    const int step = event->key() == Qt::Key_Down ? 1 : event->key() == Qt::Key_Up ? -1 : 0;
    if (step == 0 || n == 0)
        return QWidget::keyPressEvent(event);
    pick(m_picked < 0 ? 0 : (m_picked + step + n) % n);
}

} // namespace badger::app
