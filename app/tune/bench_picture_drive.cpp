// SPDX-License-Identifier: GPL-3.0-or-later
// What the car was measured to do: turns, the straight, a servo's neutral.
#include "app/tune/bench_picture.h"

#include "app/tune/bench_marks.h"
#include "app/tune/plane.h"
#include "app/widgets/text.h"
#include "core/base/angle.h"

#include <cmath>

namespace badger::app
{

namespace
{

/// Where the line lies 19 times in 20; empty with fewer than three turns. What is sure at the mean
/// of the times follows from the errors of rate and dead time: both are of one straight line.
QPolygonF turnBand(const tune::TurnFit &fit, const tune::Record &record, const char *side,
                   double most_ms, const Plane &plot)
{
    if (!fit.rateError_rad_s || !fit.deadError_s || !fit.dead_s)
        return {};
    double mean_s = 0.0;
    int count = 0;
    for (const auto &st : record.stretches)
        if (st.label == side && st.truth) {
            mean_s += *st.truth * 1e-3 * static_cast<double>(st.readings.size());
            count += static_cast<int>(st.readings.size());
        }
    mean_s /= std::max(1, count);
    const double error = *fit.rateError_rad_s;
    const double atDead = fit.rate_rad_s * *fit.deadError_s;
    const double fromDead = error * (*fit.dead_s - mean_s);
    const double atMean = std::sqrt(std::max(0.0, atDead * atDead - fromDead * fromDead));
    QPolygonF band;
    const auto add = [&](double s, double sign) {
        const double angle = fit.rate_rad_s * (s - *fit.dead_s);
        const double half = 2.0 * std::hypot(atMean, error * (s - mean_s));
        band << plot.at(s * 1e3, (angle + sign * half) / degree);
    };
    constexpr int parts = 30;
    for (int i = 0; i <= parts; ++i)
        add(most_ms * 1e-3 * i / parts, 1.0);
    for (int i = parts; i >= 0; --i)
        add(most_ms * 1e-3 * i / parts, -1.0);
    return band;
}

} // namespace

/// What was timed on one side; its words stand over its line or under it.
void BenchPicture::paintTurnsTimed(QPainter &p, const Plane &plot, const char *side,
                                   bool above) const
{
    const qreal s = m_theme.scale();
    const auto area = plane();
    const bool left = side[0] == 'l';
    const auto tone = left ? Tone::Result : Tone::Ochre;
    p.setPen(QPen(m_theme.color(tone), 2 * s));
    const auto low = std::string(side) + " low";
    for (const auto &st : m_content.record->stretches)
        for (const double r : st.readings) {
            const auto at = plot.at(st.truth.value_or(0.0), r);
            if (st.label == side)
                p.drawEllipse(at, 3.5 * s, 3.5 * s);
            if (st.label != low)
                continue;
            // A pack that hangs low: a stroke below its ring.
            p.drawEllipse(at, 3.5 * s, 3.5 * s);
            p.drawLine(at + QPointF(-6 * s, 7 * s), at + QPointF(6 * s, 7 * s));
            p.setFont(m_theme.text(Type::Small));
            const auto words = left ? tr("left, low pack") : tr("right, low pack");
            p.drawText(QPointF(area.right() - p.fontMetrics().horizontalAdvance(words),
                               at.y() + (above ? 24 : 38) * s),
                       words);
        }
}

void BenchPicture::paintTurn(QPainter &p) const
{
    const qreal s = m_theme.scale();
    const auto area = plane();
    double longest = 500.0;
    double widest = 90.0;
    for (const auto &st : m_content.record->stretches) {
        longest = std::max(longest, st.truth.value_or(0.0));
        for (const double r : st.readings)
            widest = std::max(widest, r);
    }
    const Plane plot(area, 0.0, longest * 1.1, 0.0, widest * 1.15, m_theme);
    plot.paintAxes(p, tr("time, ms"), tr("turned, degrees"), [](double v) { return v; });
    const auto rateOf = [&](const char *side) {
        const auto fit = tune::turnOf(*m_content.record, side);
        return fit ? fit->rate_rad_s : 0.0;
    };
    // Both bands lie under both lines.
    p.setPen(Qt::NoPen);
    p.setClipRect(area);
    for (const char *side : {"left", "right"})
        if (const auto fit = tune::turnOf(*m_content.record, side)) {
            auto tone = m_theme.color(side[0] == 'l' ? Tone::Go : Tone::Turn);
            tone.setAlphaF(0.7F);
            p.setBrush(tone);
            p.drawPolygon(turnBand(*fit, *m_content.record, side, longest * 1.1, plot));
        }
    p.setClipping(false);
    p.setBrush(Qt::NoBrush);
    const bool leftIsFaster = rateOf("left") > rateOf("right");
    for (const char *side : {"left", "right"}) {
        const bool left = side[0] == 'l';
        const bool above = left == leftIsFaster; // its words stand over its line
        const auto fit = tune::turnOf(*m_content.record, side);
        const auto tone = left ? Tone::Result : Tone::Ochre;
        if (fit) {
            const double dead = fit->dead_s.value_or(0.0) * 1e3;
            const double rate = fit->rate_rad_s / degree * 1e-3;
            p.setPen(QPen(m_theme.color(tone), m_theme.line() * 1.4,
                          left ? Qt::SolidLine : Qt::DashLine));
            p.drawLine(plot.at(dead, 0), plot.at(longest * 1.1, rate * (longest * 1.1 - dead)));
            p.setFont(m_theme.text(Type::Small, true));
            p.setPen(m_theme.color(Tone::Ink));
            const auto at = plot.at(longest * 0.7, rate * (longest * 0.7 - dead));
            const auto words = left ? tr("left") : tr("right");
            p.drawText(at + (above ? QPointF(-p.fontMetrics().horizontalAdvance(words) - 12 * s, 0)
                                   : QPointF(14 * s, 8 * s)),
                       words);
        }
        paintTurnsTimed(p, plot, side, above);
    }
}

void BenchPicture::paintStraightness(QPainter &p) const
{
    const qreal s = m_theme.scale();
    const auto area = plane();
    double widest = 0.1;
    double longest = 0.0;
    for (const auto &run : m_content.record->stretches)
        if (run.truth && !run.readings.empty()) {
            widest = std::max(widest, std::abs(run.readings[0]) * 1.4);
            longest = std::max(longest, *run.truth);
        }
    if (longest <= 0.0)
        return paintNothing(p, tr("No run was measured."));
    const Plane plot(area, 0.0, longest * 1.05, -widest, widest, m_theme);
    const auto unit = units::shownIn(units::Unit::Centimetre, listener().display);
    plot.paintAxes(p, tr("along, %1").arg(units::info(unit).symbol),
                   tr("to the left, %1").arg(units::info(unit).symbol),
                   [unit](double m) { return units::fromSi(m, unit); });
    p.setPen(QPen(m_theme.color(Tone::Ink2), 1, Qt::DotLine));
    p.drawLine(plot.at(0, 0), plot.at(longest, 0));
    for (const auto &run : m_content.record->stretches) {
        if (!run.truth || run.readings.empty())
            continue;
        const double end = run.readings[0];
        const double half = run.readings.size() > 1 ? run.readings[1] : end / 4.0;
        QPolygonF path;
        for (int i = 0; i <= 40; ++i) {
            // The parabola through start, middle and end.
            const double u = i / 40.0;
            path << plot.at(u * *run.truth,
                            (4.0 * half - end) * u + 2.0 * (end - 2.0 * half) * u * u);
        }
        const bool low = run.label == "low";
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(m_theme.color(low ? Tone::Ochre : Tone::Result), 2 * s,
                      low ? Qt::DashLine : Qt::SolidLine));
        p.drawPolyline(path);
        p.setBrush(m_theme.color(Tone::Ink));
        p.setPen(Qt::NoPen);
        p.drawEllipse(plot.at(*run.truth, end), 4 * s, 4 * s);
        if (run.readings.size() > 1)
            p.drawEllipse(plot.at(*run.truth / 2.0, run.readings[1]), 4 * s, 4 * s);
        p.setFont(m_theme.text(Type::Small, true));
        p.setPen(m_theme.color(Tone::Ink));
        const auto words = low ? tr("low pack") : tr("as it was");
        p.drawText(plot.at(*run.truth, end) +
                       QPointF(-p.fontMetrics().horizontalAdvance(words) - 10 * s,
                               end > 0 ? -8 * s : 18 * s),
                   words);
    }
}

/// Each timed run over its count, and the mean of those of one count.
void BenchPicture::paintSpeed(QPainter &p) const
{
    const qreal s = m_theme.scale();
    const auto all = tune::speedsOf(*m_content.record);
    if (all.empty())
        return paintNothing(p, tr("No run was timed."));
    double fastest = 0.1;
    for (const auto &look : all)
        fastest = std::max(fastest, look.mean_mps + 3.0 * look.deviation_mps);
    const Plane plot(plane(), 0.0, 255.0, 0.0, fastest * 1.3, m_theme);
    plot.paintAxes(p, tr("PWM count"), tr("speed, m/s"), [](double v) { return v; });
    for (const auto &st : m_content.record->stretches)
        for (const double time_s : st.readings)
            if (time_s > 0.0 && st.truth) {
                p.setPen(QPen(m_theme.color(Tone::Ink), m_theme.line()));
                p.setBrush(Qt::NoBrush);
                p.drawEllipse(plot.at(str(st.label).toInt(), *st.truth / time_s), 4 * s, 4 * s);
            }
    for (const auto &look : all) {
        const auto at = plot.at(look.counts, look.mean_mps);
        p.setPen(QPen(m_theme.color(Tone::Result), 2 * s));
        p.drawLine(at - QPointF(14 * s, 0), at + QPointF(14 * s, 0));
        p.setFont(m_theme.text(Type::Body, true));
        p.setPen(m_theme.color(Tone::Ink));
        p.drawText(at + QPointF(20 * s, 5 * s),
                   tr("%1 at %2")
                       .arg(str(units::quantity(look.mean_mps, units::Unit::MetrePerSecond)))
                       .arg(look.counts));
    }
}

void BenchPicture::paintNeutral(QPainter &p) const
{
    const qreal s = m_theme.scale();
    const auto area = plane();
    const Plane plot(area, 1300.0, 1700.0, 0.0, 1.0, m_theme);
    plot.paintBase(p, tr("pulse, us"), [](double v) { return v; });
    const auto line = [&](double us, Tone tone, const QString &text, qreal height) {
        p.setPen(QPen(m_theme.color(tone), 2 * s));
        p.drawLine(plot.at(us, 0), plot.at(us, height));
        p.setFont(m_theme.text(Type::Body, true));
        p.setPen(m_theme.color(Tone::Ink));
        const bool left = us < 1480.0; // clear of the lines beside it
        const qreal w = p.fontMetrics().horizontalAdvance(text);
        p.drawText(plot.at(us, height) + QPointF(left ? -w - 8 * s : 8 * s, 4 * s), text);
    };
    line(1472.0, Tone::Ink2, tr("command 90: 1472 us"), 0.35);
    line(1500.0, Tone::Ink2, tr("1500 us: the middle by the sheet"), 0.55);
    if (m_content.record->chosen)
        line(*m_content.record->chosen, Tone::Ochre,
             tr("%1 us: it stands still").arg(counts(*m_content.record->chosen)), 0.85);
}

} // namespace badger::app
