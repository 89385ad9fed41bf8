// SPDX-License-Identifier: GPL-3.0-or-later
// Counts over distance, the law through them, and what another surface would be taken for.
#include "app/tune/bench_picture.h"

#include "app/tune/bench_marks.h"
#include "app/tune/plane.h"
#include "app/widgets/text.h"

namespace badger::app
{

/// The law, and about it where readings that it was not shown lay.
void BenchPicture::paintCurve(QPainter &p, const Plane &plot, double far, double most) const
{
    const auto &fit = m_reflectance;
    const auto area = plane();
    // Where readings that it was not shown lay 19 times in 20.
    QPolygonF band;
    const double half = 2.0 * fit->best.heldOut_counts;
    const auto around = [&](int i, double off) {
        const double d = far * i / 120.0;
        if (d >= fit->validFrom_m && d <= fit->validTo_m)
            band << plot.at(d, tune::countsAt(fit->best, d) + fit->dark_counts + off);
    };
    for (int i = 0; i <= 120; ++i)
        around(i, half);
    for (int i = 120; i >= 0; --i)
        around(i, -half);
    p.setPen(Qt::NoPen);
    p.setBrush(m_theme.color(Tone::Go));
    p.setClipRect(area);
    p.drawPolygon(band);
    p.setClipping(false);
    p.setBrush(Qt::NoBrush);
    QPolygonF curve;
    for (int i = 0; i <= 120; ++i) {
        const double d = far * i / 120.0;
        const double c = tune::countsAt(fit->best, d) + fit->dark_counts;
        if (c <= most * 1.08)
            curve << plot.at(d, c);
    }
    p.setPen(QPen(m_theme.color(Tone::Result), m_theme.line() * 1.4));
    p.drawPolyline(curve);
}

/// Its points lie beside the curve, and what is read off the curve beside them.
void BenchPicture::paintOther(QPainter &p, const Plane &plot, double far) const
{
    const qreal s = m_theme.scale();
    const auto &fit = m_reflectance;
    const auto area = plane();
    p.setFont(m_theme.text(Type::Small));
    for (const auto &o : tune::otherSurfaceOf(*m_content.record, *fit)) {
        const auto at = plot.at(o.truth_m, o.counts);
        p.setPen(QPen(m_theme.color(Tone::Brick), 2 * s));
        p.setBrush(Qt::NoBrush);
        p.drawRect(QRectF(at - QPointF(4, 4) * s, QSizeF(8, 8) * s));
        if (!o.read_m || *o.read_m > far)
            continue;
        p.drawLine(at, plot.at(*o.read_m, o.counts));
        p.setPen(m_theme.color(Tone::Ink));
        const auto words =
            tr("another surface: %1 is read as %2").arg(cm(o.truth_m), cm(*o.read_m));
        const qreal right = plot.at(std::max(*o.read_m, o.truth_m), o.counts).x();
        const qreal w = p.fontMetrics().horizontalAdvance(words);
        p.drawText(QPointF(std::min(right - w / 2, area.right() - w), at.y() - 10 * s), words);
    }
}

void BenchPicture::paintReflectance(QPainter &p) const
{
    const qreal s = m_theme.scale();
    const auto &fit = m_reflectance;
    const auto area = plane();
    double far = 0.1;
    double most = 100.0;
    for (const auto &st : m_content.record->stretches) {
        far = std::max(far, st.truth.value_or(0.0) * 1.08);
        for (const double r : st.readings)
            most = std::max(most, r);
    }
    const auto unit = units::shownIn(units::Unit::Centimetre, listener().display);
    const Plane plot(area, 0.0, far, 0.0, most * 1.08, m_theme);
    plot.paintAxes(
        p, tr("distance, %1").arg(units::info(unit).symbol), tr("counts"),
        [](double v) { return v; }, [unit](double m) { return units::fromSi(m, unit); });
    if (fit) {
        paintCurve(p, plot, far, most);
        paintOther(p, plot, far);
    }
    p.setPen(QPen(m_theme.color(Tone::Ink), 1));
    for (const auto &st : m_content.record->stretches) {
        if (!st.label.empty())
            continue;
        const size_t step = std::max<size_t>(1, st.readings.size() / 60);
        for (size_t i = 0; i < st.readings.size(); i += step) {
            const bool out = st.readings[i] >= fullScale || st.readings[i] <= 0.0;
            p.setBrush(out ? QBrush(Qt::NoBrush) : QBrush(m_theme.color(Tone::Ink)));
            p.drawEllipse(plot.at(st.truth.value_or(0.0), st.readings[i]), 3 * s, 3 * s);
        }
    }
}

} // namespace badger::app
