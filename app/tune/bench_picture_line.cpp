// SPDX-License-Identifier: GPL-3.0-or-later
// The car's sensors over their line, from above: dragged aside, and what they read there.
#include "app/tune/bench_picture.h"

#include "app/tune/bench_marks.h"
#include "app/tune/plane.h"
#include "app/widgets/text.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace badger::app
{

namespace
{

QString mm(double m)
{
    return str(units::fixed(m, units::Unit::Millimetre, 1));
}

QString words(tune::Steer steer)
{
    switch (steer) {
    case tune::Steer::Straight:
        return BenchPicture::tr("straight on");
    case tune::Steer::Left:
        return BenchPicture::tr("left");
    case tune::Steer::Right:
        return BenchPicture::tr("right");
    case tune::Steer::KeepTurning:
        return BenchPicture::tr("as last");
    case tune::Steer::Stop:
        break;
    }
    return BenchPicture::tr("stop");
}

tune::Steer mirrored(tune::Steer steer)
{
    return steer == tune::Steer::Left    ? tune::Steer::Right
           : steer == tune::Steer::Right ? tune::Steer::Left
                                         : steer;
}

/// The lines' middles, from the middle of the way.
std::vector<double> linesOf(const tune::LineLook &look)
{
    if (!look.room_m || look.kind == tune::LineLook::Kind::Edge)
        return {look.kind == tune::LineLook::Kind::Edge ? -look.line_m / 2.0 : 0.0};
    const double out = (*look.room_m + look.line_m) / 2.0;
    return {-out, out};
}

bool isOver(const tune::LineLook &look, double at_m)
{
    for (const double middle : linesOf(look))
        if (std::abs(at_m - middle) <= look.line_m / 2.0)
            return true;
    return false;
}

/// How much of a round spot lies beyond a straight edge that is `from_m` to the right of its
/// middle: the segment of a circle.
double shareBeyond(double from_m, double spot_m)
{
    const double r = spot_m / 2.0;
    const double h = std::clamp(from_m / r, -1.0, 1.0);
    return (std::acos(h) - h * std::sqrt(1.0 - h * h)) / std::numbers::pi;
}

} // namespace

QString BenchPicture::asideWords() const
{
    const auto &look = *m_line;
    if (look.kind == tune::LineLook::Kind::Edge) {
        if (!look.spot_m)
            return tr("%1 aside").arg(mm(m_aside_m));
        const double at = m_aside_m - look.sensors_m.front();
        const double dark =
            shareBeyond(-look.line_m - at, *look.spot_m) - shareBeyond(-at, *look.spot_m);
        return tr("%1 aside: %2 % on the line").arg(mm(m_aside_m)).arg(qRound(dark * 100.0));
    }
    QString bits;
    for (auto it = look.sensors_m.rbegin(); it != look.sensors_m.rend(); ++it)
        bits += isOver(look, m_aside_m - *it) ? '1' : '0';
    const double way = std::abs(m_aside_m);
    for (const auto &pattern : look.patterns)
        if (way >= pattern.from_m && way < pattern.to_m) {
            const auto steer = m_aside_m < 0.0 ? mirrored(pattern.steer) : pattern.steer;
            return tr("%1 aside: %2, %3").arg(mm(m_aside_m), bits, words(steer));
        }
    return tr("%1 aside: %2").arg(mm(m_aside_m), bits);
}

double BenchPicture::halfWay_m() const
{
    double most = m_line->line_m;
    for (const double at : m_line->sensors_m)
        most = std::max(most, std::abs(at));
    if (m_line->room_m)
        most = std::max(most, *m_line->room_m / 2.0 + m_line->line_m);
    return 1.7 * most;
}

/// How far the car may stand aside before a sensor says so.
void BenchPicture::paintSlack(QPainter &p, const QRectF &area, const Plane &plot) const
{
    const qreal s = m_theme.scale();
    const auto &look = *m_line;
    const qreal from = plot.at(-*look.slack_m * 1e3, 0).x();
    const qreal to = plot.at(*look.slack_m * 1e3, 0).x();
    const qreal at = area.top() + 20 * s;
    p.fillRect(QRectF(from, at - 9 * s, to - from, 18 * s), m_theme.color(Tone::Go));
    p.setPen(QPen(m_theme.color(Tone::Result), 2 * s));
    p.drawLine(QPointF(from, at - 9 * s), QPointF(from, at + 9 * s));
    p.drawLine(QPointF(to, at - 9 * s), QPointF(to, at + 9 * s));
    p.setFont(m_theme.text(Type::Small, true));
    p.setPen(m_theme.color(Tone::Ink));
    const auto slack = tr("slack %1").arg(mm(*look.slack_m));
    const qreal ws = p.fontMetrics().horizontalAdvance(slack);
    if (ws < to - from)
        p.drawText(QRectF(from, at - 9 * s, to - from, 18 * s), Qt::AlignCenter, slack);
    else {
        p.fillRect(QRectF(to + 3 * s, at - 9 * s, ws + 8 * s, 18 * s), m_theme.color(Tone::Paper));
        p.drawText(QPointF(to + 7 * s, at + 4 * s), slack);
    }
}

/// The car's sensors across the mat, seen from behind.
void BenchPicture::paintSensorsOver(QPainter &p, const QRectF &area, const Plane &plot) const
{
    const qreal s = m_theme.scale();
    const auto &look = *m_line;
    const qreal y = area.top() + 0.42 * area.height();
    const double spot = look.spot_m.value_or(0.004);
    const qreal radius = std::max(5 * s, plot.at(spot * 500.0, 0).x() - plot.at(0, 0).x());
    const auto x = [&](double sensor_m) { return plot.at((m_aside_m - sensor_m) * 1e3, 0).x(); };
    p.setPen(QPen(m_theme.color(Tone::Ink), 1.4 * s));
    p.setBrush(m_theme.color(Tone::Sheet));
    const qreal edge = 26 * s;
    if (look.kind != tune::LineLook::Kind::Edge)
        p.drawRoundedRect(QRectF(QPointF(x(look.sensors_m.back()) - edge, y - 20 * s),
                                 QPointF(x(look.sensors_m.front()) + edge, y + 20 * s)),
                          6 * s, 6 * s);
    for (auto it = look.sensors_m.rbegin(); it != look.sensors_m.rend(); ++it) {
        const double at = m_aside_m - *it;
        const bool over = look.kind != tune::LineLook::Kind::Edge && isOver(look, at);
        p.setPen(QPen(m_theme.color(Tone::Ochre), 2 * s));
        p.setBrush(over ? QBrush(m_theme.color(Tone::Ochre))
                   : look.kind == tune::LineLook::Kind::Edge
                       ? QBrush(Qt::NoBrush) // what it sees is seen through it
                       : QBrush(m_theme.color(Tone::Sheet)));
        p.drawEllipse(QPointF(x(*it), y), radius, radius);
    }
}

void BenchPicture::paintLine(QPainter &p) const
{
    const qreal s = m_theme.scale();
    if (!m_line)
        return paintNothing(p, str(tune::lineOf(*m_content.record).error().text()));
    const auto &look = *m_line;
    auto area = plane();
    const bool patterns = !look.patterns.empty();
    if (patterns)
        area.setBottom(area.bottom() - 0.30 * area.height());
    const double most = halfWay_m();
    const Plane plot(area, -most * 1e3, most * 1e3, 0.0, 1.0, m_theme);
    // The mat, its line or lines, and the car's sensors across it, seen from behind.
    p.fillRect(area, surfaceColour(m_theme, true, Tone::Sheet, Tone::Ink2));
    p.setClipRect(area);
    for (const double middle : linesOf(look))
        p.fillRect(QRectF(QPointF(plot.at((middle - look.line_m / 2) * 1e3, 1).x(), area.top()),
                          QPointF(plot.at((middle + look.line_m / 2) * 1e3, 0).x(), area.bottom())),
                   surfaceColour(m_theme, false, Tone::Sheet, Tone::Ink2));
    paintSensorsOver(p, area, plot);
    p.setClipping(false);
    plot.paintBase(p, tr("to the right, mm · drag the car aside"), [](double v) { return v; });
    p.setFont(m_theme.text(Type::Lead, true));
    const QRectF label(area.left(), area.bottom() - 64 * s, area.width(), 32 * s);
    const auto says = asideWords();
    const qreal w = p.fontMetrics().horizontalAdvance(says) + 16 * s;
    p.fillRect(QRectF(label.center().x() - w / 2, label.top(), w, label.height()),
               m_theme.color(Tone::Paper));
    p.setPen(m_theme.color(Tone::Ink));
    p.drawText(label, Qt::AlignCenter, says);
    if (look.slack_m && *look.slack_m > 0.0)
        paintSlack(p, area, plot);
    if (patterns)
        paintPatterns(p,
                      {area.left(), area.bottom() + 48 * s, area.width(),
                       plane().bottom() - area.bottom() - 56 * s},
                      most);
    if (const auto &stable = m_content.edge; stable && look.kind == tune::LineLook::Kind::Edge) {
        p.setFont(m_theme.text(Type::Body));
        p.setPen(m_theme.color(Tone::Ink));
        p.fillRect(QRectF(area.left(), area.top(), area.width(), 26 * s),
                   m_theme.color(Tone::Paper));
        p.drawText(
            QRectF(area.left() + 8 * s, area.top(), area.width(), 26 * s),
            Qt::AlignLeft | Qt::AlignVCenter,
            tr("%1 before the axle: stable below %2 at low gain")
                .arg(mm(stable->ahead_m),
                     str(units::fixed(stable->fastest_mps, units::Unit::MetrePerSecond, 2))));
    }
}

/// Each stretch aside with one reading: its bits and where the car steers.
void BenchPicture::paintPatterns(QPainter &p, const QRectF &area, double most_m) const
{
    const qreal s = m_theme.scale();
    const auto x = [&](double aside_m) {
        return area.left() + area.width() * (aside_m + most_m) / (2.0 * most_m);
    };
    p.setFont(m_theme.text(Type::Small));
    // To the right as it was reckoned, to the left its mirror.
    for (const bool left : {false, true})
        for (const auto &pattern : m_line->patterns) {
            const double from = std::min(pattern.from_m, most_m);
            const double to = std::min(pattern.to_m, most_m);
            const QRectF box(QPointF(x(left ? -to : from), area.top()),
                             QPointF(x(left ? -from : to), area.bottom()));
            if (box.width() <= 1.0)
                continue;
            const auto steer = left ? mirrored(pattern.steer) : pattern.steer;
            const auto tone = steer == tune::Steer::Straight      ? Tone::Go
                              : steer == tune::Steer::KeepTurning ? Tone::Stand
                                                                  : Tone::Turn;
            p.setPen(QPen(m_theme.color(Tone::Ink2), 1));
            p.setBrush(m_theme.color(tone));
            p.drawRect(box);
            p.setPen(m_theme.color(Tone::Ink));
            auto bits = str(pattern.bits);
            if (left)
                std::reverse(bits.begin(), bits.end());
            const auto fits = [&](const QString &text) {
                return p.fontMetrics().horizontalAdvance(text) + 4 * s < box.width();
            };
            if (fits(words(steer)) && fits(bits))
                p.drawText(box, Qt::AlignCenter, QString("%1\n%2").arg(bits, words(steer)));
            else if (fits(bits))
                p.drawText(box, Qt::AlignCenter, bits);
        }
    p.setPen(QPen(m_theme.color(Tone::Ochre), 2 * s));
    const qreal now = x(m_aside_m);
    p.drawLine(QPointF(now, area.top() - 6 * s), QPointF(now, area.bottom()));
}

} // namespace badger::app
