// SPDX-License-Identifier: GPL-3.0-or-later
// What sensors were measured to say.
#include "app/tune/bench_picture.h"

#include "app/tune/bench_marks.h"
#include "app/tune/plane.h"
#include "app/widgets/marks.h"
#include "app/widgets/text.h"

namespace badger::app
{

namespace
{

constexpr double nearlyAll = 0.999;

/// "0.3 %", "under 0.01 %".
QString percent(double share)
{
    const double p = share * 100.0;
    if (p < 0.01)
        return BenchPicture::tr("under 0.01 %");
    return QString("%1 %").arg(QString::number(p, 'f', p < 1 ? 2 : 1));
}

} // namespace

void BenchPicture::paintRuler(QPainter &p) const
{
    const qreal s = m_theme.scale();
    const auto &fit = *m_ruler;
    auto area = plane();
    const bool residuals = !m_content.pending; // there is no room for both
    const qreal sticks = std::min(70 * s, 0.26 * area.height());
    const auto residualArea = QRectF(area.left(), area.bottom() - sticks, area.width(), sticks);
    if (residuals)
        area.setBottom(residualArea.top() - 34 * s);
    double far = 0.5;
    for (const auto &st : m_content.record->stretches)
        far = std::max(far, st.truth.value_or(0.0));
    const auto unit = units::shownIn(units::Unit::Centimetre, listener().display);
    const Plane plot(area, 0.0, far * 1.05, 0.0, far * 1.05, m_theme);
    plot.paintAxes(p, tr("read, %1").arg(units::info(unit).symbol),
                   tr("true, %1").arg(units::info(unit).symbol),
                   [unit](double m) { return units::fromSi(m, unit); });
    if (!fit) {
        paintNothing(p, str(fit.error().text()));
        return;
    }
    const auto trueOf = [&](double read) { return fit->slope * read + fit->offset_m; };
    p.setClipRect(area);
    paintRulerBand(p, plot, far * 1.05);
    p.setPen(QPen(m_theme.color(Tone::Ink2), 1, Qt::DotLine));
    p.drawLine(plot.at(0, 0), plot.at(far * 1.05, far * 1.05));
    p.setPen(QPen(m_theme.color(Tone::Result), m_theme.line() * 1.4));
    p.drawLine(plot.at(0, trueOf(0)), plot.at(far * 1.05, trueOf(far * 1.05)));
    p.setClipping(false);
    p.setPen(QPen(m_theme.color(Tone::Ink), m_theme.line()));
    p.setBrush(m_theme.color(Tone::Ink));
    for (const auto &pair : fit->used)
        p.drawEllipse(plot.at(pair.read_m, pair.true_m), 3.5 * s, 3.5 * s);
    p.setFont(m_theme.text(Type::Small));
    for (const auto &r : fit->rejected) {
        const auto at = plot.at(r.pair.read_m.value_or(0.0), r.pair.true_m);
        p.setPen(QPen(m_theme.color(Tone::Brick), 2));
        p.drawLine(at + QPointF(-4, -4) * s, at + QPointF(4, 4) * s);
        p.drawLine(at + QPointF(-4, 4) * s, at + QPointF(4, -4) * s);
        p.drawText(at + QPointF(9, 4) * s, r.why == tune::Rejected::NoEcho ? tr("no echo: left out")
                                                                           : tr("wild: left out"));
    }
    if (const auto *st = tune::unsteadiest(*m_content.record);
        st && !m_content.pending && area.height() > 130 * s && area.width() > 330 * s)
        paintMedians(p, tune::burstOf(*st),
                     {area.right() - 196 * s, area.bottom() - 92 * s, 190 * s, 82 * s});
    if (!residuals)
        return;
    paintResiduals(p, residualArea, far);
}

/// Where the fit lies 19 times in 20, as far as three pairs allow it.
void BenchPicture::paintRulerBand(QPainter &p, const Plane &plot, double to_m) const
{
    const auto &fit = **m_ruler;
    if (!fit.slopeError || !fit.offsetError_m)
        return;
    const auto trueOf = [&](double read) { return fit.slope * read + fit.offset_m; };
    double mean = 0.0;
    for (const auto &pair : fit.used)
        mean += pair.read_m / static_cast<double>(fit.used.size());
    const double atMean = fit.deviation_m / std::sqrt(double(fit.used.size()));
    QPolygonF band;
    const auto half = [&](double read) {
        return 2.0 * std::hypot(atMean, *fit.slopeError * (read - mean));
    };
    for (int i = 0; i <= 40; ++i)
        band << plot.at(to_m * i / 40, trueOf(to_m * i / 40) + half(to_m * i / 40));
    for (int i = 40; i >= 0; --i)
        band << plot.at(to_m * i / 40, trueOf(to_m * i / 40) - half(to_m * i / 40));
    p.setPen(Qt::NoPen);
    p.setBrush(m_theme.color(Tone::Go));
    p.drawPolygon(band);
}

/// Residuals by themselves, in millimetres, each a stick from the line it is measured from.
void BenchPicture::paintResiduals(QPainter &p, const QRectF &area, double far) const
{
    const auto &fit = **m_ruler;
    const qreal s = m_theme.scale();
    const double most = std::max(0.002, fit.maxResidual_m * 1.25);
    const Plane left(area, 0.0, far * 1.05, -most, most, m_theme);
    left.paintSide(p, tr("off by, mm"), [](double m) { return m * 1000.0; });
    p.setPen(QPen(m_theme.color(Tone::Result), m_theme.line()));
    p.drawLine(left.at(0, 0), left.at(far * 1.05, 0));
    p.setBrush(m_theme.color(Tone::Ink));
    for (const auto &pair : fit.used) {
        p.setPen(QPen(m_theme.color(Tone::Ink), 2));
        p.drawLine(left.at(pair.read_m, 0), left.at(pair.read_m, pair.residual_m));
        p.setPen(Qt::NoPen);
        p.drawEllipse(left.at(pair.read_m, pair.residual_m), 3 * s, 3 * s);
    }
}

/// One surface's readings, before the normal cloud that they make.
void BenchPicture::paintCloud(QPainter &p, const Plane &plot, bool isLight) const
{
    const qreal s = m_theme.scale();
    const auto area = plane();
    const auto &found = m_surfaces;
    const QRectF row(area.left(), area.top() + (isLight ? 0.10 : 0.60) * area.height(),
                     area.width(), 0.30 * area.height());
    p.setFont(m_theme.text(Type::Body, true));
    p.setPen(m_theme.color(Tone::Ink2));
    p.drawText(QRectF(0, row.top(), area.left() - 8 * s, row.height()),
               Qt::AlignRight | Qt::AlignVCenter,
               m_content.what == tune::What::Lamp ? (isLight ? tr("bright") : tr("shaded"))
               : isLight                          ? tr("light")
                                                  : tr("dark"));
    std::vector<double> readings;
    for (const auto &st : m_content.record->stretches)
        if (st.label == (isLight ? "light" : "dark"))
            readings.insert(readings.end(), st.readings.begin(), st.readings.end());
    if (readings.empty())
        return;
    const auto spread = tune::spreadOf(readings);
    // The normal cloud behind its readings: three deviations each way.
    if (spread.deviation > 0.0) {
        QPolygonF hill;
        for (int i = -30; i <= 30; ++i) {
            const double z = i / 10.0;
            hill << QPointF(plot.at(spread.mean + z * spread.deviation, 0).x(),
                            row.bottom() - row.height() * std::exp(-z * z / 2));
        }
        p.setPen(QPen(m_theme.color(Tone::Ink2), 1));
        p.setBrush(m_theme.color(isLight ? Tone::Go : Tone::Stand));
        p.setClipRect(area.adjusted(0, -2, 0, 2));
        p.drawPolygon(hill);
        p.setClipping(false);
    }
    p.setPen(QPen(m_theme.color(Tone::Ink), 1.2 * s));
    // No more dots than can be told apart.
    const size_t step = std::max<size_t>(1, readings.size() / 400);
    for (size_t i = 0; i < readings.size(); i += step) {
        const qreal y =
            row.bottom() - (0.12 + 0.7 * static_cast<double>((i * 7) % 11) / 11.0) * row.height();
        const bool wild = found && found->wild && found->wild->light == isLight &&
                          found->wild->reading == readings[i];
        p.setBrush(wild ? QBrush(Qt::NoBrush) : QBrush(m_theme.color(Tone::Ink)));
        p.setPen(QPen(m_theme.color(wild ? Tone::Brick : Tone::Ink), wild ? 2 * s : 1));
        p.drawEllipse(QPointF(plot.at(readings[i], 0).x(), y), (wild ? 5 : 2.4) * s,
                      (wild ? 5 : 2.4) * s);
    }
    p.setPen(m_theme.color(Tone::Ink2));
    p.setFont(m_theme.text(Type::Small));
    const auto words =
        tr("%1 readings, mean %2 ± %3")
            .arg(readings.size())
            .arg(counts(std::round(spread.mean)), QString::number(spread.deviation, 'f', 1));
    const qreal w = p.fontMetrics().horizontalAdvance(words);
    const qreal mid = plot.at(spread.mean, 0).x();
    p.drawText(
        QPointF(std::clamp(mid - w / 2, area.left(), area.right() - w), row.bottom() + 14 * s),
        words);
}

void BenchPicture::paintSurfaces(QPainter &p) const
{
    const Plane plot(plane(), 0.0, fullScale, 0.0, 1.0, m_theme);
    plot.paintBase(p, tr("counts"), [](double v) { return v; });
    const auto &found = m_surfaces;
    for (const bool isLight : {true, false})
        paintCloud(p, plot, isLight);
    paintEarlier(p);
    paintRoom(p);
    if (!found)
        return;
    paintNormalised(p);
    paintThreshold(p, plot);
}

/// The threshold between two clouds, with what it takes wrong.
void BenchPicture::paintThreshold(QPainter &p, const Plane &plot) const
{
    const qreal s = m_theme.scale();
    const auto area = plane();
    const auto &found = m_surfaces;
    const double at = threshold();
    const qreal x = plot.at(at, 0).x();
    if (found->hysteresis) {
        const double half = *found->hysteresis / 2.0;
        const QRectF band(plot.at(at - half, 0).x(), area.top(),
                          plot.at(at + half, 0).x() - plot.at(at - half, 0).x(), area.height());
        hatch(p, band, m_theme.color(Tone::Rule), 6 * s);
    }
    p.setPen(QPen(m_theme.color(Tone::Ochre), 2.2 * s));
    p.drawLine(QPointF(x, area.top() - 4 * s), QPointF(x, area.bottom()));
    p.setBrush(m_theme.color(Tone::Ochre));
    p.drawPolygon(QPolygonF{QPointF(x - 6 * s, area.top() - 4 * s),
                            QPointF(x + 6 * s, area.top() - 4 * s),
                            QPointF(x, area.top() + 6 * s)});
    const auto rates = tune::errorRates(*found, at);
    p.setFont(m_theme.text(Type::Body, true));
    p.setPen(m_theme.color(Tone::Ink));
    const auto label = tr("%1 counts").arg(counts(at));
    const qreal w = p.fontMetrics().horizontalAdvance(label);
    // On the side where the light surface's cloud is not.
    const bool right = found->light.mean < at;
    p.drawText(QPointF(right ? x + 10 * s : x - w - 10 * s, area.top() + 10 * s), label);
    p.setFont(m_theme.text(Type::Small));
    p.setPen(m_theme.color(Tone::Ink2));
    const bool lamp = m_content.what == tune::What::Lamp;
    const QString errors[] = {
        (lamp ? tr("bright taken for shaded: %1") : tr("light taken for dark: %1"))
            .arg(percent(rates.light)),
        (lamp ? tr("shaded taken for bright: %1") : tr("dark taken for light: %1"))
            .arg(percent(rates.dark))};
    for (int i = 0; i < 2; ++i) {
        const qreal we = p.fontMetrics().horizontalAdvance(errors[i]);
        p.drawText(QPointF(right ? x + 10 * s : x - we - 10 * s, area.top() + (28 + 16 * i) * s),
                   errors[i]);
    }
}

void BenchPicture::paintTrimmer(QPainter &p) const
{
    const qreal s = m_theme.scale();
    auto area = plane();
    if (tune::trimmerSettingOf(*m_content.record)) {
        const qreal arc = 0.5 * area.width();
        paintTrimmerArc(p, {area.right() - arc, area.top(), arc, area.height()});
        area.setRight(area.right() - arc - 20 * s);
    }
    const auto look = tune::trimmerOf(*m_content.record);
    for (const bool isLight : {true, false}) {
        const QRectF row(area.left(), area.top() + (isLight ? 0.05 : 0.45) * area.height(),
                         area.width(), 0.33 * area.height());
        p.setPen(QPen(m_theme.color(Tone::Rule), 1));
        p.setBrush(surfaceColour(m_theme, isLight, Tone::Sheet, Tone::Stand));
        p.drawRect(row);
        p.setFont(m_theme.text(Type::Body, true));
        p.setPen(m_theme.color(Tone::Ink2));
        p.drawText(QRectF(0, row.top(), area.left() - 8 * s, row.height()),
                   Qt::AlignRight | Qt::AlignVCenter, isLight ? tr("light") : tr("dark"));
        std::vector<double> readings;
        for (const auto &st : m_content.record->stretches)
            if (st.label == (isLight ? "light" : "dark"))
                readings.insert(readings.end(), st.readings.begin(), st.readings.end());
        if (readings.empty())
            continue;
        const qreal high = row.top() + 0.25 * row.height();
        const qreal low = row.bottom() - 0.20 * row.height();
        QPolygonF line;
        const size_t step = std::max<size_t>(1, readings.size() / 300);
        for (size_t i = 0; i < readings.size(); i += step) {
            const qreal x = row.left() + 40 * s +
                            (row.width() - 160 * s) * static_cast<double>(i) /
                                static_cast<double>(readings.size());
            const qreal y = readings[i] > 0.5 ? high : low;
            if (!line.isEmpty() && line.back().y() != y)
                line << QPointF(x, line.back().y());
            line << QPointF(x, y);
        }
        p.setPen(QPen(m_theme.color(Tone::Result), 2 * s));
        p.drawPolyline(line);
        p.setFont(m_theme.text(Type::Small));
        p.setPen(m_theme.color(Tone::Ink2));
        p.drawText(QPointF(row.left() + 12 * s, high + 4 * s), "1");
        p.drawText(QPointF(row.left() + 12 * s, low + 4 * s), "0");
        const double mean = tune::spreadOf(readings).mean;
        p.setFont(m_theme.text(Type::Big, true));
        p.setPen(m_theme.color(Tone::Ink));
        p.drawText(row.adjusted(0, 0, -24 * s, 0), Qt::AlignRight | Qt::AlignVCenter,
                   mean > nearlyAll         ? "1"
                   : mean < 1.0 - nearlyAll ? "0"
                                            : tr("both"));
    }
    if (!look)
        return;
    p.setFont(m_theme.text(Type::Body));
    p.setPen(m_theme.color(Tone::Ink));
    p.drawText(QRectF(area.left(), area.bottom() - 0.18 * area.height(), plane().width(),
                      0.18 * area.height() + 30 * s),
               Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap,
               str(tune::verdictOf(*m_content.record).sentence));
}

void BenchPicture::paintNoEcho(QPainter &p) const
{
    const qreal s = m_theme.scale();
    tune::Burst all;
    for (const auto &st : m_content.record->stretches)
        for (const auto &v : tune::burstOf(st))
            all.push_back(v);
    const auto area = plane();
    double most = 40.0;
    for (const auto &v : all)
        most = std::max(most, v.value_or(0.0) / 1000.0);
    const Plane plot(area, 0.0, std::max<double>(1, double(all.size())), 0.0, most * 1.15, m_theme);
    plot.paintAxes(p, tr("readings, as they came"), tr("echo, ms"), [](double v) { return v; });
    const size_t step = std::max<size_t>(1, all.size() / 400);
    for (size_t i = 0; i < all.size(); i += step) {
        const double x = static_cast<double>(i) + 0.5;
        if (!all[i]) {
            p.setPen(QPen(m_theme.color(Tone::Brick), 1.5 * s));
            const auto at = plot.at(x, 0) - QPointF(0, 6 * s);
            p.drawLine(at + QPointF(-3, -3) * s, at + QPointF(3, 3) * s);
            p.drawLine(at + QPointF(-3, 3) * s, at + QPointF(3, -3) * s);
            continue;
        }
        p.setPen(QPen(m_theme.color(Tone::Ink), 2 * s));
        p.drawLine(plot.at(x, 0), plot.at(x, *all[i] / 1000.0));
    }
    const qreal limit = plot.at(0, 32).y();
    p.setPen(QPen(m_theme.color(Tone::Ochre), 1.2 * s, Qt::DashLine));
    p.drawLine(QPointF(area.left(), limit), QPointF(area.right(), limit));
    p.setFont(m_theme.text(Type::Small));
    const auto words = tr("32 ms: an echo from 5.5 m; longer is no echo");
    const QRectF box(area.left() + 6 * s, limit - 20 * s,
                     p.fontMetrics().horizontalAdvance(words) + 12 * s, 16 * s);
    p.fillRect(box, m_theme.color(Tone::Paper));
    p.setPen(m_theme.color(Tone::Ink));
    p.drawText(box, Qt::AlignCenter, words);
}

} // namespace badger::app
