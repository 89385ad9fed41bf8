// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/tune/bench_picture.h"

#include "app/tune/plane.h"
#include "app/widgets/marks.h"
#include "app/widgets/text.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <cmath>
#include <numbers>

namespace badger::app
{

using tune::What;

namespace
{

constexpr qreal grip = 8;
constexpr double fullScale = 1023.0;
constexpr double nearlyAll = 0.999;

QString counts(double value)
{
    return QString::number(value, 'f', value == std::floor(value) ? 0 : 1);
}

/// The lighter of two tones for the light surface: a mat is no darker in the dark palette.
QColor surfaceColour(const Theme &theme, bool isLight, Tone one, Tone other)
{
    const auto a = theme.color(one);
    const auto b = theme.color(other);
    return (a.lightness() > b.lightness()) == isLight ? a : b;
}

/// "0.3 %", "under 0.01 %".
QString percent(double share)
{
    const double p = share * 100.0;
    if (p < 0.01)
        return BenchPicture::tr("under 0.01 %");
    return QString("%1 %").arg(QString::number(p, 'f', p < 1 ? 2 : 1));
}

} // namespace

BenchPicture::BenchPicture(const Theme &theme, QWidget *parent) : QWidget(parent), m_theme(theme)
{
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
    setAccessibleName(tr("What was measured"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
}

QSize BenchPicture::minimumSizeHint() const
{
    return {qRound(360 * m_theme.scale()), qRound(200 * m_theme.scale())};
}

void BenchPicture::show(Content content)
{
    m_content = std::move(content);
    m_dragged.reset();
    m_ruler.reset();
    m_surfaces.reset();
    m_reflectance.reset();
    if (m_content.record) {
        const auto &record = *m_content.record;
        if (m_content.what == What::Ruler)
            m_ruler = tune::rulerFitOf(record);
        if (m_content.what == What::Surfaces)
            if (auto found = tune::surfacesOf(record))
                m_surfaces = *found;
        if (m_content.what == What::Reflectance)
            if (auto fit = tune::reflectanceOf(record))
                m_reflectance = *fit;
    }
    update();
}

QRectF BenchPicture::plane() const
{
    const qreal s = m_theme.scale();
    return QRectF(rect()).adjusted(58 * s, 14 * s, -16 * s, -40 * s);
}

double BenchPicture::threshold() const
{
    if (m_dragged)
        return *m_dragged;
    return m_content.record->chosen.value_or(m_surfaces ? m_surfaces->threshold : 512.0);
}

double BenchPicture::countsAt(qreal x) const
{
    const auto area = plane();
    return std::clamp(std::round((x - area.left()) / area.width() * fullScale), 0.0, fullScale);
}

void BenchPicture::paintNothing(QPainter &p, const QString &text) const
{
    p.setFont(m_theme.text(Type::Lead));
    p.setPen(m_theme.color(Tone::Ink2));
    p.drawText(plane(), Qt::AlignCenter | Qt::TextWordWrap, text);
}

void BenchPicture::paintStep(QPainter &p) const
{
    const auto words = tr("Nothing is measured yet. Set it up as on the right, then listen to the "
                          "board and press space, or type what you read.");
    if (!m_content.step)
        return paintNothing(p, words);
    const auto &step = *m_content.step;
    switch (m_content.what) {
    case What::Ruler:
        paintBoardAhead(p, step.truth, 1.2);
        break;
    case What::NoEcho:
        paintBoardAhead(p, std::nullopt, 1.2);
        break;
    case What::Reflectance:
        paintBoardAhead(p, step.truth, 0.2);
        break;
    case What::Surfaces:
    case What::Trimmer:
        paintOverSurface(p, step.label == "light");
        break;
    default:
        return paintNothing(p, tr("Nothing is measured yet. Do what stands on the right, and type "
                                  "what you measured."));
    }
    p.setFont(m_theme.text(Type::Body));
    p.setPen(m_theme.color(Tone::Ink2));
    const auto area = plane();
    p.drawText(QRectF(area.left(), area.top(), area.width(), 0.22 * area.height()),
               Qt::AlignHCenter | Qt::AlignBottom | Qt::TextWordWrap, words);
}

/// The car from the side with its sensor's beam, a ruler under it, and the board on it.
void BenchPicture::paintBoardAhead(QPainter &p, std::optional<double> away_m, double most_m) const
{
    const qreal s = m_theme.scale();
    const auto area = plane();
    const qreal ground = area.top() + 0.72 * area.height();
    const qreal nose = area.left() + 110 * s;
    const qreal sensorY = ground - 44 * s;
    const qreal end = area.right() - 20 * s;
    const auto at = [&](double m) { return nose + (end - nose) * m / most_m; };
    const qreal reach = away_m ? at(*away_m) : end;
    p.setPen(Qt::NoPen);
    p.setBrush(m_theme.color(Tone::Go));
    const qreal wide = 0.13 * (reach - nose);
    p.drawPolygon(QPolygonF{QPointF(nose, sensorY), QPointF(reach, sensorY - wide),
                            QPointF(reach, std::min(ground - 2 * s, sensorY + wide))});
    p.setPen(QPen(m_theme.color(Tone::Ink), m_theme.line() * 1.4));
    p.setBrush(m_theme.color(Tone::Sheet));
    p.drawRect(QRectF(nose - 100 * s, ground - 40 * s, 92 * s, 18 * s));
    p.drawRect(QRectF(nose - 14 * s, sensorY - 8 * s, 14 * s, 16 * s));
    for (const qreal x : {nose - 78 * s, nose - 26 * s})
        p.drawEllipse(QPointF(x, ground - 17 * s), 17 * s, 17 * s);
    p.setPen(QPen(m_theme.color(Tone::Ink2), 1));
    p.drawLine(QPointF(area.left(), ground), QPointF(end, ground));
    const auto unit = units::shownIn(units::Unit::Centimetre, listener().display);
    p.setFont(m_theme.text(Type::Small));
    for (int i = 0; i <= 6; ++i) {
        const double m = most_m * i / 6.0;
        p.drawLine(QPointF(at(m), ground), QPointF(at(m), ground + 6 * s));
        p.drawText(QRectF(at(m) - 40 * s, ground + 8 * s, 80 * s, 16 * s), Qt::AlignCenter,
                   str(units::plain(units::fromSi(m, unit), 1)) +
                       (i == 0 ? QString(" ") + units::info(unit).symbol : QString()));
    }
    if (!away_m)
        return;
    p.setPen(QPen(m_theme.color(Tone::Ink), 2));
    p.setBrush(m_theme.color(Tone::Stand));
    p.drawRect(QRectF(reach, ground - 90 * s, 7 * s, 90 * s));
    p.setPen(QPen(m_theme.color(Tone::Ochre), 2 * s));
    const qreal mark = ground - 104 * s;
    p.drawLine(QPointF(nose, mark), QPointF(reach, mark));
    for (const qreal x : {nose, reach})
        p.drawLine(QPointF(x, mark - 5 * s), QPointF(x, mark + 5 * s));
    p.setFont(m_theme.text(Type::Body, true));
    p.setPen(m_theme.color(Tone::Ink));
    const auto label = str(units::quantity(*away_m, units::Unit::Centimetre, 1));
    const qreal w = p.fontMetrics().horizontalAdvance(label);
    p.drawText(QPointF(std::max(nose, (nose + reach - w) / 2), mark - 8 * s), label);
}

/// Both surfaces from the side, and the sensor over the one whose turn it is.
void BenchPicture::paintOverSurface(QPainter &p, bool isLight) const
{
    const qreal s = m_theme.scale();
    const auto area = plane();
    const qreal ground = area.top() + 0.66 * area.height();
    const qreal half = area.width() / 2.0 - 10 * s;
    for (const bool light : {true, false}) {
        const QRectF patch(light ? area.left() : area.left() + half + 20 * s, ground, half, 26 * s);
        p.setPen(QPen(m_theme.color(Tone::Ink), m_theme.line()));
        p.setBrush(surfaceColour(m_theme, light, Tone::Sheet, Tone::Ink));
        p.drawRect(patch);
        p.setFont(m_theme.text(Type::Body, light == isLight));
        p.setPen(m_theme.color(light == isLight ? Tone::Ink : Tone::Ink2));
        p.drawText(QRectF(patch.left(), patch.bottom() + 6 * s, half, 20 * s), Qt::AlignCenter,
                   light ? tr("light") : tr("dark"));
    }
    const qreal x = area.left() + (isLight ? half / 2.0 : half * 1.5 + 20 * s);
    p.setPen(Qt::NoPen);
    p.setBrush(m_theme.color(Tone::Go));
    p.drawPolygon(QPolygonF{QPointF(x - 8 * s, ground - 40 * s),
                            QPointF(x + 8 * s, ground - 40 * s), QPointF(x + 20 * s, ground),
                            QPointF(x - 20 * s, ground)});
    p.setPen(QPen(m_theme.color(Tone::Ink), m_theme.line() * 1.4));
    p.setBrush(m_theme.color(Tone::Sheet));
    p.drawRect(QRectF(x - 24 * s, ground - 66 * s, 48 * s, 26 * s));
    p.setPen(QPen(m_theme.color(Tone::Ochre), 2 * s));
    p.drawLine(QPointF(x - 44 * s, ground - 78 * s), QPointF(x + 44 * s, ground - 78 * s));
    for (const qreal way : {-1.0, 1.0}) {
        p.drawLine(QPointF(x + way * 44 * s, ground - 78 * s),
                   QPointF(x + way * 37 * s, ground - 83 * s));
        p.drawLine(QPointF(x + way * 44 * s, ground - 78 * s),
                   QPointF(x + way * 37 * s, ground - 73 * s));
    }
}

void BenchPicture::paintRuler(QPainter &p) const
{
    const qreal s = m_theme.scale();
    const auto &fit = *m_ruler;
    auto area = plane();
    const qreal sticks = std::min(70 * s, 0.26 * area.height());
    const auto residualArea = QRectF(area.left(), area.bottom() - sticks, area.width(), sticks);
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
    // The fit and, where three pairs allow it, the band in which it lies 19 times in 20.
    const auto trueOf = [&](double read) { return fit->slope * read + fit->offset_m; };
    p.setClipRect(area);
    if (fit->slopeError && fit->offsetError_m) {
        double mean = 0.0;
        for (const auto &pair : fit->used)
            mean += pair.read_m / static_cast<double>(fit->used.size());
        const double atMean = fit->deviation_m / std::sqrt(double(fit->used.size()));
        QPolygonF band;
        const auto half = [&](double read) {
            return 2.0 * std::hypot(atMean, *fit->slopeError * (read - mean));
        };
        for (int i = 0; i <= 40; ++i)
            band << plot.at(far * 1.05 * i / 40,
                            trueOf(far * 1.05 * i / 40) + half(far * 1.05 * i / 40));
        for (int i = 40; i >= 0; --i)
            band << plot.at(far * 1.05 * i / 40,
                            trueOf(far * 1.05 * i / 40) - half(far * 1.05 * i / 40));
        p.setPen(Qt::NoPen);
        p.setBrush(m_theme.color(Tone::Go));
        p.drawPolygon(band);
    }
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
    // Residuals by themselves, in millimetres, each a stick from the line it is measured from.
    const double most = std::max(0.002, fit->maxResidual_m * 1.25);
    const Plane left(residualArea, 0.0, far * 1.05, -most, most, m_theme);
    left.paintSide(p, tr("off by, mm"), [](double m) { return m * 1000.0; });
    p.setPen(QPen(m_theme.color(Tone::Result), m_theme.line()));
    p.drawLine(left.at(0, 0), left.at(far * 1.05, 0));
    p.setBrush(m_theme.color(Tone::Ink));
    for (const auto &pair : fit->used) {
        p.setPen(QPen(m_theme.color(Tone::Ink), 2));
        p.drawLine(left.at(pair.read_m, 0), left.at(pair.read_m, pair.residual_m));
        p.setPen(Qt::NoPen);
        p.drawEllipse(left.at(pair.read_m, pair.residual_m), 3 * s, 3 * s);
    }
}

void BenchPicture::paintSurfaces(QPainter &p) const
{
    const qreal s = m_theme.scale();
    const auto area = plane();
    const Plane plot(area, 0.0, fullScale, 0.0, 1.0, m_theme);
    plot.paintBase(p, tr("counts"), [](double v) { return v; });
    const auto &found = m_surfaces;
    const double at = threshold();
    for (const bool isLight : {true, false}) {
        const QRectF row(area.left(), area.top() + (isLight ? 0.10 : 0.56) * area.height(),
                         area.width(), 0.34 * area.height());
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
            const qreal y = row.bottom() -
                            (0.12 + 0.7 * static_cast<double>((i * 7) % 11) / 11.0) * row.height();
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
    if (!found)
        return;
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
    const QString errors[] = {tr("light taken for dark: %1").arg(percent(rates.light)),
                              tr("dark taken for light: %1").arg(percent(rates.dark))};
    for (int i = 0; i < 2; ++i) {
        const qreal we = p.fontMetrics().horizontalAdvance(errors[i]);
        p.drawText(QPointF(right ? x + 10 * s : x - we - 10 * s, area.top() + (28 + 16 * i) * s),
                   errors[i]);
    }
}

void BenchPicture::paintTrimmer(QPainter &p) const
{
    const qreal s = m_theme.scale();
    const auto area = plane();
    const auto look = tune::trimmerOf(*m_content.record);
    for (const bool isLight : {true, false}) {
        const QRectF row(area.left(), area.top() + (isLight ? 0.08 : 0.54) * area.height(),
                         area.width(), 0.36 * area.height());
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
    p.drawText(QRectF(area.left(), area.bottom() - 0.06 * area.height(), area.width(), 36 * s),
               Qt::AlignLeft | Qt::AlignVCenter, str(tune::verdictOf(*m_content.record).sentence));
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
    p.setPen(QPen(m_theme.color(Tone::Ink), 1));
    for (const auto &st : m_content.record->stretches) {
        const size_t step = std::max<size_t>(1, st.readings.size() / 60);
        for (size_t i = 0; i < st.readings.size(); i += step) {
            const bool out = st.readings[i] >= fullScale || st.readings[i] <= 0.0;
            p.setBrush(out ? QBrush(Qt::NoBrush) : QBrush(m_theme.color(Tone::Ink)));
            p.drawEllipse(plot.at(st.truth.value_or(0.0), st.readings[i]), 3 * s, 3 * s);
        }
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
    for (const char *side : {"left", "right"}) {
        const bool left = side[0] == 'l';
        const auto fit = tune::turnOf(*m_content.record, side);
        const auto tone = left ? Tone::Result : Tone::Ochre;
        if (fit) {
            const double dead = fit->dead_s.value_or(0.0) * 1e3;
            const double rate = fit->rate_rad_s * 180.0 / std::numbers::pi * 1e-3;
            p.setPen(QPen(m_theme.color(tone), m_theme.line() * 1.4,
                          left ? Qt::SolidLine : Qt::DashLine));
            p.drawLine(plot.at(dead, 0), plot.at(longest * 1.1, rate * (longest * 1.1 - dead)));
            p.setFont(m_theme.text(Type::Small, true));
            p.setPen(m_theme.color(Tone::Ink));
            p.drawText(plot.at(longest, rate * (longest - dead)) +
                           QPointF(-60 * s, left ? -10 * s : 20 * s),
                       left ? tr("left") : tr("right"));
        }
        p.setPen(QPen(m_theme.color(tone), 2 * s));
        for (const auto &st : m_content.record->stretches)
            if (st.label == side)
                for (const double r : st.readings)
                    p.drawEllipse(plot.at(st.truth.value_or(0.0), r), 3.5 * s, 3.5 * s);
    }
}

void BenchPicture::paintStraightness(QPainter &p) const
{
    const qreal s = m_theme.scale();
    const auto area = plane();
    const auto &stretches = m_content.record->stretches;
    const auto run = std::find_if(stretches.begin(), stretches.end(), [](const tune::Stretch &st) {
        return st.truth && !st.readings.empty();
    });
    if (run == stretches.end())
        return paintNothing(p, tr("No run was measured."));
    const double end = run->readings[0];
    const double widest = std::max(0.1, std::abs(end) * 1.4);
    const Plane plot(area, 0.0, *run->truth * 1.05, -widest, widest, m_theme);
    const auto unit = units::shownIn(units::Unit::Centimetre, listener().display);
    plot.paintAxes(p, tr("along, %1").arg(units::info(unit).symbol),
                   tr("to the left, %1").arg(units::info(unit).symbol),
                   [unit](double m) { return units::fromSi(m, unit); });
    p.setPen(QPen(m_theme.color(Tone::Ink2), 1, Qt::DotLine));
    p.drawLine(plot.at(0, 0), plot.at(*run->truth, 0));
    QPolygonF path;
    for (int i = 0; i <= 40; ++i) {
        const double x = *run->truth * i / 40.0;
        const double half = run->readings.size() > 1 ? run->readings[1] : end / 4.0;
        // The parabola through start, middle and end.
        const double u = x / *run->truth;
        path << plot.at(x, (4.0 * half - end) * u + 2.0 * (end - 2.0 * half) * u * u);
    }
    p.setPen(QPen(m_theme.color(Tone::Result), 2 * s));
    p.drawPolyline(path);
    p.setBrush(m_theme.color(Tone::Ink));
    p.setPen(Qt::NoPen);
    p.drawEllipse(plot.at(*run->truth, end), 4 * s, 4 * s);
    if (run->readings.size() > 1)
        p.drawEllipse(plot.at(*run->truth / 2.0, run->readings[1]), 4 * s, 4 * s);
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

void BenchPicture::paintPending(QPainter &p) const
{
    const qreal s = m_theme.scale();
    const auto burst = tune::burstOf(*m_content.pending);
    const QRectF box(width() - 236 * s, 10 * s, 220 * s, 92 * s);
    p.setPen(QPen(m_theme.color(Tone::Ochre), 1.6 * s));
    p.setBrush(m_theme.color(Tone::Sheet));
    p.drawRect(box);
    const auto look = tune::lookAt(burst);
    p.setFont(m_theme.text(Type::Small, true));
    p.setPen(m_theme.color(Tone::Ink));
    p.drawText(box.adjusted(8 * s, 4 * s, -4 * s, 0), Qt::AlignLeft | Qt::AlignTop,
               tr("recorded, not kept yet: %1").arg(burst.size()));
    if (!look.spread)
        return;
    const double low = look.spread->least;
    const double high = std::max(low + 1.0, look.spread->most);
    const auto inner = box.adjusted(8 * s, 24 * s, -8 * s, -22 * s);
    p.setPen(QPen(m_theme.color(Tone::Ink), 1.2 * s));
    const size_t step = std::max<size_t>(1, burst.size() / 200);
    for (size_t i = 0; i < burst.size(); i += step)
        if (burst[i])
            p.drawPoint(
                QPointF(inner.left() + inner.width() * static_cast<double>(i) /
                                           static_cast<double>(burst.size()),
                        inner.bottom() - inner.height() * (*burst[i] - low) / (high - low)));
    p.setFont(m_theme.text(Type::Small));
    p.setPen(m_theme.color(Tone::Ink2));
    p.drawText(box.adjusted(8 * s, 0, -4 * s, -4 * s), Qt::AlignLeft | Qt::AlignBottom,
               tr("median %1, jitter %2, none %3, wild %4")
                   .arg(counts(look.spread->median), QString::number(look.jitter, 'f', 1))
                   .arg(look.none)
                   .arg(look.wild));
}

void BenchPicture::paintEvent(QPaintEvent *)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const bool kept =
        m_content.record && (!m_content.record->stretches.empty() || m_content.record->chosen);
    if (!kept)
        paintStep(p);
    else
        switch (m_content.what) {
        case What::Ruler:
            paintRuler(p);
            break;
        case What::NoEcho:
            paintNoEcho(p);
            break;
        case What::Surfaces:
            paintSurfaces(p);
            break;
        case What::Trimmer:
            paintTrimmer(p);
            break;
        case What::Reflectance:
            paintReflectance(p);
            break;
        case What::Neutral:
            paintNeutral(p);
            break;
        case What::Turn:
            paintTurn(p);
            break;
        case What::Straightness:
            paintStraightness(p);
            break;
        }
    if (m_content.pending)
        paintPending(p);
    if (hasFocus())
        paintFocus(p, *this, m_theme);
}

void BenchPicture::mousePressEvent(QMouseEvent *event)
{
    if (!m_surfaces)
        return;
    const auto area = plane();
    const qreal x = area.left() + area.width() * threshold() / fullScale;
    if (std::abs(event->position().x() - x) < grip * m_theme.scale()) {
        m_dragged = threshold();
        update();
    }
}

void BenchPicture::mouseMoveEvent(QMouseEvent *event)
{
    if (!m_dragged)
        return;
    m_dragged = countsAt(event->position().x());
    emit thresholdMoved(*m_dragged, false);
    update();
}

void BenchPicture::mouseReleaseEvent(QMouseEvent *)
{
    if (!m_dragged)
        return;
    const double counts = *m_dragged;
    m_dragged.reset();
    emit thresholdMoved(counts, true);
}

void BenchPicture::keyPressEvent(QKeyEvent *event)
{
    const int step = event->key() == Qt::Key_Left ? -1 : event->key() == Qt::Key_Right ? 1 : 0;
    if (step == 0 || !m_surfaces)
        return QWidget::keyPressEvent(event);
    emit thresholdMoved(std::clamp(threshold() + step, 0.0, fullScale), true);
}

} // namespace badger::app
