// SPDX-License-Identifier: GPL-3.0-or-later
// From the echo's time to the distance at which a condition turns, in the air that was measured.
#include "app/tune/bench_picture.h"

#include "app/tune/bench_marks.h"
#include "app/tune/plane.h"
#include "app/widgets/text.h"

#include <cmath>

namespace badger::app
{

namespace
{

/// "+1.0 cm"
QString signedCm(double m)
{
    return (m < 0.0 ? QString("\u2212") : QString("+")) + cm(std::abs(m));
}

} // namespace

/// Where each condition turns in this air, and by what it is moved.
void BenchPicture::paintEchoMarks(QPainter &p, const QRectF &tape, const Plane &plot) const
{
    const qreal s = m_theme.scale();
    const auto &echo = *m_content.echo;
    const qreal middle = tape.bottom();
    int row = 0;
    for (const auto &m : echo.marks) {
        const qreal asked = plot.at(m.threshold_m, 0).x();
        const qreal turns = plot.at(m.turns_m, 0).x();
        const qreal y = tape.top() + 8 * s + row++ * 40 * s;
        p.setPen(QPen(m_theme.color(Tone::Ink2), 1.2 * s, Qt::DashLine));
        p.drawLine(QPointF(asked, y), QPointF(asked, middle));
        p.setPen(QPen(m_theme.color(Tone::Ochre), 2.2 * s));
        p.drawLine(QPointF(turns, y), QPointF(turns, middle));
        p.fillRect(QRectF(QPointF(std::min(asked, turns), y + 4 * s),
                          QSizeF(std::abs(turns - asked), middle - y - 4 * s)),
                   m_theme.color(Tone::Turn));
        p.setFont(m_theme.text(Type::Body, true));
        p.setPen(m_theme.color(Tone::Ink));
        const auto words =
            tr("%1: %2 asked, it turns at %3").arg(str(m.value), cm(m.threshold_m), cm(m.turns_m));
        const qreal w = p.fontMetrics().horizontalAdvance(words);
        const qreal x = std::max(asked, turns) + 10 * s;
        const qreal left = x + w > tape.right() ? std::min(asked, turns) - w - 10 * s : x;
        p.drawText(QPointF(left, y + 10 * s), words);
        // Why: by how much the whole number moves it, and by how much the air.
        QStringList why;
        if (std::abs(m.cut_m - m.threshold_m) > 1e-6)
            why << tr("whole numbers %1").arg(signedCm(m.cut_m - m.threshold_m));
        if (std::abs(m.turns_m - m.cut_m) > 5e-5)
            why << tr("air %1").arg(signedCm(m.turns_m - m.cut_m));
        p.setFont(m_theme.text(Type::Small));
        p.setPen(m_theme.color(Tone::Ink2));
        p.drawText(QPointF(left, y + 26 * s), why.join(", "));
    }
}

void BenchPicture::paintAir(QPainter &p) const
{
    const qreal s = m_theme.scale();
    const auto area = plane();
    if (!m_content.echo)
        return paintNothing(p, tr("The air was not measured."));
    const auto &echo = *m_content.echo;
    double far = 0.30;
    for (const auto &m : echo.marks)
        far = std::max({far, m.threshold_m, m.turns_m});
    far = std::max(0.6, far * 1.35);
    const auto unit = units::shownIn(units::Unit::Centimetre, listener().display);
    // One ruler with two scales: what the tape says, and how long the echo takes.
    const qreal middle = area.top() + 0.42 * area.height();
    const QRectF tape(area.left(), area.top(), area.width(), middle - area.top());
    const Plane plot(tape, 0.0, far, 0.0, 1.0, m_theme);
    plot.paintBase(p, tr("distance, %1 · under it the echo, us").arg(units::info(unit).symbol),
                   [unit](double m) { return units::fromSi(m, unit); });
    p.setFont(m_theme.text(Type::Small));
    p.setPen(QPen(m_theme.color(Tone::Result), 1));
    const double perMetre_us = 2e6 / echo.sound_mps;
    const double step_us = far * perMetre_us > 6000.0 ? 1000.0 : 500.0;
    const qreal scale = middle + 44 * s;
    p.drawLine(QPointF(tape.left(), scale), QPointF(tape.right(), scale));
    for (double us = 0.0; us <= far * perMetre_us; us += step_us) {
        const qreal x = plot.at(us / perMetre_us, 0).x();
        p.drawLine(QPointF(x, scale - 5 * s), QPointF(x, scale));
        p.drawText(QRectF(x - 30 * s, scale + 2 * s, 60 * s, 14 * s), Qt::AlignCenter, counts(us));
    }
    paintRangerAt(p, {tape.left(), middle - 26 * s},
                  echo.marks.empty() ? tape.right() : plot.at(echo.marks.front().turns_m, 0).x());
    paintEchoMarks(p, tape, plot);
    if (echo.marks.empty()) {
        p.setFont(m_theme.text(Type::Body));
        p.setPen(m_theme.color(Tone::Ink2));
        p.drawText(tape, Qt::AlignCenter,
                   tr("No program compares this ranger's reading with a distance yet."));
    }
    paintPings(p, {area.left(), scale + 40 * s, area.width(), area.bottom() - scale - 40 * s});
}

/// The ranger at the ruler's end, its beam and the board that it hears.
void BenchPicture::paintRangerAt(QPainter &p, const QPointF &face, qreal board) const
{
    const qreal s = m_theme.scale();
    p.setPen(Qt::NoPen);
    p.setBrush(m_theme.color(Tone::Go));
    const qreal wide = std::min(0.13 * (board - face.x()), 22.0 * s);
    p.drawPolygon(
        QPolygonF{face, QPointF(board, face.y() - wide), QPointF(board, face.y() + wide)});
    p.setPen(QPen(m_theme.color(Tone::Ink), m_theme.line() * 1.4));
    p.setBrush(m_theme.color(Tone::Sheet));
    p.drawRect(QRectF(face.x() - 16 * s, face.y() - 10 * s, 16 * s, 20 * s));
}

/// Two pings in time: the window in which an echo is waited for, and when the next may leave.
void BenchPicture::paintPings(QPainter &p, const QRectF &area) const
{
    const qreal s = m_theme.scale();
    const auto &echo = *m_content.echo;
    const double whole_s = 1.25 * std::max(echo.leastSpacing_s, echo.timeOut_s.value_or(0.0));
    const Plane plot(area, 0.0, whole_s, 0.0, 1.0, m_theme);
    plot.paintBase(p, tr("after the ping left, ms"), [](double t) { return t * 1e3; });
    const qreal y = area.bottom() - 30 * s;
    p.setFont(m_theme.text(Type::Small));
    if (echo.timeOut_s) {
        const QRectF window(plot.at(0, 0).x(), y - 12 * s,
                            plot.at(*echo.timeOut_s, 0).x() - plot.at(0, 0).x(), 24 * s);
        p.setPen(QPen(m_theme.color(Tone::Ink2), 1));
        p.setBrush(m_theme.color(Tone::Go));
        p.drawRect(window);
        p.setPen(m_theme.color(Tone::Ink));
        p.drawText(QPointF(window.left(), window.top() - 6 * s),
                   tr("an echo from %1 is waited for %2 ms")
                       .arg(cm(echo.limit_m.value_or(0.0)),
                            QString::number(*echo.timeOut_s * 1e3, 'f', 1)));
    }
    const qreal next = plot.at(echo.leastSpacing_s, 0).x();
    p.setPen(QPen(m_theme.color(Tone::Ochre), 2.2 * s));
    p.drawLine(QPointF(next, area.top() + 4 * s), QPointF(next, area.bottom()));
    p.setPen(m_theme.color(Tone::Ink));
    p.setFont(m_theme.text(Type::Body, true));
    const auto words =
        tr("the next ping from %1 ms on").arg(QString::number(echo.leastSpacing_s * 1e3, 'f', 0));
    const qreal w = p.fontMetrics().horizontalAdvance(words);
    p.drawText(QPointF(next - w - 8 * s, area.top() + 14 * s), words);
}

} // namespace badger::app
