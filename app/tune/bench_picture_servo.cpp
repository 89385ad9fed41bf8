// SPDX-License-Identifier: GPL-3.0-or-later
// A servo from above with what its horn lacks, and how long it takes to stand still.
#include "app/tune/bench_picture.h"

#include "app/tune/bench_marks.h"
#include "app/tune/plane.h"
#include "app/widgets/text.h"
#include "core/base/angle.h"
#include "core/mechanics/horn.h"

namespace badger::app
{

void BenchPicture::paintHorn(QPainter &p) const
{
    const qreal s = m_theme.scale();
    const auto whole = plane();
    const bool both = whole.width() > 380 * s; // else the horn alone
    const QRectF box(whole.left() - 40 * s, whole.top(),
                     both ? 0.42 * whole.width() : whole.width() + 40 * s, whole.height());
    const double lacks = m_content.record->chosen.value_or(0.0);
    const QPointF hub(box.center().x(), box.bottom() - 78 * s);
    const qreal reach = std::min(box.height() - 140 * s, 0.9 * box.width());
    const auto at = [&](double degreesLeft, qreal r) {
        return hub +
               QPointF(-r * std::sin(degreesLeft * degree), -r * std::cos(degreesLeft * degree));
    };
    // Where it looks is to the right of ahead by what it lacks to the left.
    p.setPen(QPen(m_theme.color(Tone::Ink2), 1, Qt::DashLine));
    p.drawLine(hub, at(0.0, reach));
    p.setPen(Qt::NoPen);
    p.setBrush(m_theme.color(Tone::Go));
    p.drawPolygon(QPolygonF{hub, at(-lacks - 7.5, reach), at(-lacks + 7.5, reach)});
    p.setPen(QPen(m_theme.color(Tone::Ink), 2 * s));
    p.drawLine(hub, at(-lacks, reach));
    p.setBrush(m_theme.color(Tone::Sheet));
    p.drawRect(QRectF(hub - QPointF(16, 10) * s, QSizeF(32, 34) * s));
    p.drawEllipse(hub, 11 * s, 11 * s);
    const int teeth = std::clamp(m_content.teeth, 0, 60);
    for (int i = 0; i < teeth; ++i)
        p.drawLine(at(-lacks + i * 360.0 / teeth, 8 * s), at(-lacks + i * 360.0 / teeth, 11 * s));
    p.setFont(m_theme.text(Type::Small));
    p.setPen(m_theme.color(Tone::Ink2));
    p.drawText(QRectF(at(0.0, reach) - QPointF(60 * s, 20 * s), QSizeF(120 * s, 16 * s)),
               Qt::AlignCenter, tr("ahead"));
    QString words = m_content.record->chosen ? tr("lacks %1° to the left").arg(counts(lacks))
                                             : tr("Where its middle looks was not measured.");
    if (m_content.record->chosen && lacks < 0.0)
        words = tr("lacks %1° to the right").arg(counts(-lacks));
    const auto horn = mechanics::horn(m_content.teeth, lacks * degree);
    if (m_content.record->chosen && horn) {
        const auto side = horn->teethToMove > 0 ? tr("left") : tr("right");
        const int move = std::abs(horn->teethToMove);
        words += "\n" + (move == 0   ? tr("no tooth to move")
                         : move == 1 ? tr("one tooth to the %1").arg(side)
                                     : tr("%1 teeth to the %2").arg(move).arg(side));
        words += "\n" + tr("trim %1°").arg(QString::number(horn->trim_rad / degree, 'f', 1));
    }
    p.setFont(m_theme.text(Type::Body, true));
    p.setPen(m_theme.color(Tone::Ink));
    p.drawText(QRectF(box.left(), hub.y() + 26 * s, box.width(), 60 * s),
               Qt::AlignHCenter | Qt::AlignTop | Qt::TextWordWrap, words);
    const qreal left = box.right() + 66 * s;
    if (both)
        paintDwell(p, {left, whole.top(), whole.right() - left, whole.height()});
}

/// Time over angle, the line through what was timed, and what the program waits.
void BenchPicture::paintDwell(QPainter &p, const QRectF &area) const
{
    const qreal s = m_theme.scale();
    double longest = 120.0;
    double slowest = 300.0;
    for (const auto &st : m_content.record->stretches)
        for (const double ms : st.readings)
            slowest = std::max(slowest, ms);
    for (const auto &sweep : m_content.sweeps)
        slowest =
            std::max({slowest, sweep.needed.flyBack_s * 1e3, sweep.dwell_s.value_or(0.0) * 1e3});
    const Plane plot(area, 0.0, longest * 1.05, 0.0, slowest * 1.2, m_theme);
    plot.paintAxes(p, tr("step, degrees"), tr("until it stands still, ms"),
                   [](double v) { return v; });
    const auto fit = tune::dwellOf(*m_content.record);
    if (fit) {
        const auto time = [&](double degrees) {
            return tune::stepTime_s(*fit, degrees * degree) * 1e3;
        };
        p.setPen(QPen(m_theme.color(Tone::Result), m_theme.line() * 1.4));
        p.drawLine(plot.at(0, time(0)), plot.at(longest, time(longest)));
        p.setPen(QPen(m_theme.color(Tone::Ink), 2 * s));
        p.setBrush(Qt::NoBrush);
        for (const auto &st : m_content.record->stretches)
            for (const double ms : st.readings)
                if (st.label == "step")
                    p.drawEllipse(plot.at(st.truth.value_or(0.0), ms), 3.5 * s, 3.5 * s);
    } else {
        p.setFont(m_theme.text(Type::Body));
        p.setPen(m_theme.color(Tone::Ink2));
        p.drawText(area.adjusted(20 * s, 20 * s, 0, 0), Qt::AlignCenter | Qt::TextWordWrap,
                   tr("No step was timed: the part's own figure is used."));
    }
    p.setFont(m_theme.text(Type::Small, true));
    for (const auto &sweep : m_content.sweeps) {
        if (!sweep.dwell_s)
            continue;
        const bool enough = *sweep.dwell_s >= sweep.needed.flyBack_s - 1e-9 ||
                            (sweep.needed.step_s > 0.0 && *sweep.dwell_s >= sweep.needed.step_s);
        const auto at = plot.at(0, *sweep.dwell_s * 1e3);
        p.setPen(QPen(m_theme.color(enough ? Tone::Ink2 : Tone::Brick), 1.4 * s, Qt::DashLine));
        p.drawLine(at, QPointF(area.right(), at.y()));
        // On the line itself; what it is short of stands in the sum.
        const auto words =
            enough ? tr("%1 waits %2 ms").arg(str(sweep.reading)).arg(qRound(*sweep.dwell_s * 1e3))
                   : tr("%1 waits %2 of %3 ms")
                         .arg(str(sweep.reading))
                         .arg(qRound(*sweep.dwell_s * 1e3))
                         .arg(qRound(sweep.needed.flyBack_s * 1e3));
        p.setPen(m_theme.color(Tone::Ink));
        const qreal w = p.fontMetrics().horizontalAdvance(words) + 6 * s;
        // On the side where the line through the points is not.
        const bool left = *sweep.dwell_s * 1e3 > slowest / 2.0;
        const QRectF label(left ? area.left() + 8 * s : area.right() - w, at.y() - 8 * s, w,
                           16 * s);
        p.fillRect(label, m_theme.color(Tone::Paper));
        p.drawText(label, Qt::AlignRight | Qt::AlignVCenter, words);
    }
}

} // namespace badger::app
