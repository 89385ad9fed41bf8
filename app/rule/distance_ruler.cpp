// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rule/distance_ruler.h"

#include "app/document/edits.h"
#include "app/rule/budget_strip.h"
#include "app/widgets/marks.h"
#include "app/widgets/text.h"
#include "core/sense/ultrasonic.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <cmath>

namespace badger::app
{

using units::Unit;

namespace
{

/// Heights of the parts, in pixels at bench size, from the top.
constexpr qreal labelTop = 2;
constexpr qreal carMiddle = 70;
constexpr qreal bandTop = 116;
constexpr qreal bandHeight = 32;
constexpr qreal scaleBottom = 173;
constexpr qreal budgetTop = 180;
constexpr qreal budgetHeight = 17;
constexpr qreal fullHeight = 224;
constexpr qreal boardWidth = 16;

QString text(double m, Unit unit, int decimals)
{
    return str(units::quantity(m, unit, decimals));
}

} // namespace

DistanceRuler::DistanceRuler(const Theme &theme, QWidget *parent) : QWidget(parent), m_theme(theme)
{
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

QSize DistanceRuler::sizeHint() const
{
    return {qRound(700 * m_theme.scale()), qRound(fullHeight * m_theme.scale())};
}

QSize DistanceRuler::minimumSizeHint() const
{
    return {300, qRound(fullHeight * m_theme.scale())};
}

void DistanceRuler::show(RulerContent content)
{
    m_content = std::move(content);
    setAccessibleName(tr("Distance ruler"));
    if (m_content.threshold_m)
        setAccessibleDescription(
            tr("threshold %1").arg(text(*m_content.threshold_m, m_content.unit, 2)));
    updateGeometry();
    update();
}

qreal DistanceRuler::x(double distance_m) const
{
    const qreal left = (boardWidth + 2) * m_theme.scale();
    const qreal right = width() - 46 * m_theme.scale();
    return left + (right - left) * distance_m / m_content.limit_m;
}

double DistanceRuler::distance(qreal px) const
{
    const qreal left = x(0.0);
    return (px - left) / (x(1.0) - left);
}

QPointF DistanceRuler::pointOf(double distance_m) const
{
    return {x(distance_m), (labelTop + 12) * m_theme.scale()};
}

bool DistanceRuler::onHandle(QPointF at) const
{
    if (!m_content.threshold_m)
        return false;
    const qreal s = m_theme.scale();
    return std::abs(at.x() - x(*m_content.threshold_m)) < 12 * s &&
           at.y() < (bandTop + bandHeight) * s;
}

void DistanceRuler::paintEvent(QPaintEvent *)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    paintBoard(p);
    if (const auto &b = m_content.budget) {
        const double stops_m = b->setup.threshold_m - m_content.setBack_m;
        if (stops_m > 0.0)
            paintCar(p, stops_m, false, {});
        paintCar(p, std::max(0.0, b->budget.worstGap_m), true,
                 b->budget.worstGap_m < 0.0 ? tr("contact") : tr("at rest"));
    }
    paintBands(p);
    paintWindow(p);
    paintScale(p);
    paintBudget(p);
    paintHandle(p);
    paintFocus(p, *this, m_theme);
}

void DistanceRuler::paintBoard(QPainter &p) const
{
    const qreal s = m_theme.scale();
    const QRectF board(x(0.0) - boardWidth * s, 18 * s, boardWidth * s, (scaleBottom - 18) * s);
    hatch(p, board, m_theme.color(Tone::Ink2), 7 * s);
    p.setPen(QPen(m_theme.color(Tone::Ink), 2));
    p.drawLine(board.topRight(), board.bottomRight());
    p.setFont(m_theme.text(Type::Small));
    p.setPen(m_theme.color(Tone::Ink2));
    p.drawText(QPointF(x(0.0) + 6 * s, 30 * s), tr("board"));
}

void DistanceRuler::paintCar(QPainter &p, double nose_m, bool solid, const QString &word) const
{
    const auto &g = m_content.car;
    if (g.length_m <= 0.0)
        return;
    const qreal s = m_theme.scale();
    const qreal perMetre = x(1.0) - x(0.0);
    const qreal middle = carMiddle * s;
    // To scale along the ruler; across, no more than the room there is.
    const qreal across = std::min<qreal>(g.width_m * perMetre, 72 * s) / g.width_m;
    const QRectF deck(x(nose_m), middle - g.width_m * across * 0.36, g.length_m * perMetre,
                      g.width_m * across * 0.72);
    p.save();
    if (solid) {
        const qreal reach = (nose_m + m_content.setBack_m);
        const qreal half = std::tan(m_content.halfAngle_rad) * reach * across;
        QPainterPath beam;
        beam.moveTo(x(nose_m + m_content.setBack_m), middle);
        beam.lineTo(x(0.0), middle - half);
        beam.lineTo(x(0.0), middle + half);
        beam.closeSubpath();
        auto beamColour = m_theme.color(Tone::Result);
        beamColour.setAlphaF(0.16f);
        p.fillPath(beam, beamColour);
    }
    QPen pen(m_theme.color(solid ? Tone::Ink : Tone::Ink2), m_theme.line(),
             solid ? Qt::SolidLine : Qt::DashLine);
    p.setPen(pen);
    p.setBrush(solid ? QBrush(m_theme.color(Tone::Sheet)) : QBrush(Qt::NoBrush));
    const qreal axle = x(nose_m + g.axleToNose_m);
    const qreal wheelLength = 0.065 * perMetre;
    const qreal wheelWidth = 9 * s;
    for (const qreal side : {-1.0, 1.0}) {
        const qreal y = middle + side * g.width_m * across / 2.0;
        p.drawRoundedRect(
            QRectF(axle - wheelLength / 2, side < 0 ? y : y - wheelWidth, wheelLength, wheelWidth),
            2, 2);
    }
    p.drawRoundedRect(deck, 8 * s, 8 * s);
    p.drawRoundedRect(QRectF(deck.right() - 26 * s, middle - 4 * s, 16 * s, 8 * s), 4 * s, 4 * s);
    if (solid) {
        p.setFont(m_theme.text(Type::Small));
        p.setPen(m_theme.color(Tone::Ink));
        // Beside the threshold's line, not under it.
        auto room = deck.adjusted(12 * s, 0, -30 * s, 0);
        if (m_content.threshold_m && room.contains(x(*m_content.threshold_m), middle))
            room.setLeft(x(*m_content.threshold_m) + 8 * s);
        p.drawText(room, Qt::AlignVCenter | Qt::AlignLeft, word);
    }
    p.restore();
}

void DistanceRuler::paintBands(QPainter &p) const
{
    const qreal s = m_theme.scale();
    const auto ink = m_theme.color(Tone::Ink);
    for (const auto &band : m_content.bands) {
        const QRectF area(x(band.from_m), bandTop * s, x(band.to_m) - x(band.from_m),
                          bandHeight * s);
        const int to = band.row.to();
        const auto *state = to < 0 ? nullptr : &m_content.program.states[static_cast<size_t>(to)];
        const bool hole = band.row.hasHole();
        if (state && !hole)
            p.fillRect(area, m_theme.color(rules::actOf(state->motion)));
        else
            hatch(p, area, m_theme.color(hole ? Tone::Brick : Tone::Ink2), 6 * s);
        const QString word = hole ? tr("no rule") : state ? str(state->name) : tr("goes on");
        p.setFont(m_theme.text(Type::Body, true));
        if (p.fontMetrics().horizontalAdvance(word) + 8 < area.width()) {
            p.setPen(ink);
            p.drawText(area, Qt::AlignCenter, word);
        }
    }
    if (m_content.bands.empty()) {
        const QRectF area(x(0.0), bandTop * s, x(m_content.limit_m) - x(0.0), bandHeight * s);
        hatch(p, area, m_theme.color(Tone::Ink2), 7 * s);
        p.setFont(m_theme.text(Type::Body, true));
        const auto word = tr(" nothing decided yet ");
        const qreal w = p.fontMetrics().horizontalAdvance(word);
        p.fillRect(QRectF(area.center().x() - w / 2, area.top() + 6 * s, w, area.height() - 12 * s),
                   m_theme.color(Tone::Paper));
        p.setPen(ink);
        p.drawText(area, Qt::AlignCenter, word);
    }
    if (m_content.deadZone_m > 0.0) {
        const QRectF dead(x(0.0), bandTop * s, x(m_content.deadZone_m) - x(0.0), bandHeight * s);
        hatch(p, dead, m_theme.color(Tone::Ink), 5 * s);
    }
}

/// Outlined over the bands, as its own ruler has it; dashed where it rests on what was.
void DistanceRuler::paintWindow(QPainter &p) const
{
    const auto &w = m_content.window;
    if (!w || w->low_m >= m_content.limit_m)
        return;
    const qreal s = m_theme.scale();
    const qreal right = x(std::min(w->high_m, m_content.limit_m));
    const QRectF box(x(w->low_m), (bandTop - 1) * s, right - x(w->low_m), (bandHeight + 2) * s);
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(m_theme.color(w->stale ? Tone::Ink2 : Tone::Result), w->stale ? 1.4 : 2.4,
                  w->stale ? Qt::DashLine : Qt::SolidLine));
    p.drawRect(box);
    p.setFont(m_theme.text(Type::Small));
    p.setPen(m_theme.color(w->stale ? Tone::Ink2 : Tone::Result));
    const qreal lead = p.fontMetrics().height();
    p.drawText(QRectF(0, bandTop * s - lead - 3 * s, x(m_content.limit_m), lead),
               Qt::AlignRight | Qt::AlignVCenter, w->words);
}

void DistanceRuler::paintScale(QPainter &p) const
{
    const qreal s = m_theme.scale();
    const double unit_m = units::info(m_content.unit).inSi;
    const double wanted = m_content.limit_m / unit_m / 6.0; // about six numbers fit well
    const double magnitude = std::pow(10.0, std::floor(std::log10(wanted)));
    double major = 10.0;
    for (const double step : {1.0, 2.0, 5.0, 10.0})
        if (step * magnitude >= wanted) {
            major = step * magnitude;
            break;
        }
    p.setPen(QPen(m_theme.color(Tone::Ink2), 1));
    p.setFont(m_theme.text(Type::Small));
    const qreal top = (bandTop + bandHeight) * s;
    const int steps = static_cast<int>(std::floor(m_content.limit_m / unit_m / major * 4 + 1e-9));
    for (int i = 0; i <= steps; ++i) {
        const double value = major * i / 4.0;
        const bool numbered = i % 4 == 0;
        const qreal px = x(value * unit_m);
        p.drawLine(QPointF(px, top), QPointF(px, top + (numbered ? 9 : i % 2 ? 4 : 6) * s));
        if (!numbered)
            continue;
        auto label = str(units::plain(value, 1));
        if (i == 0)
            label += QStringLiteral(" ") + units::info(m_content.unit).symbol;
        const qreal w = p.fontMetrics().horizontalAdvance(label);
        p.drawText(QPointF(i == 0 ? px + 2 : px - w / 2, top + 22 * s), label);
    }
    if (m_content.reading_m && *m_content.reading_m <= m_content.limit_m) {
        const qreal px = x(*m_content.reading_m);
        QPainterPath pin;
        pin.moveTo(px, top - 1);
        pin.lineTo(px - 5 * s, top + 8 * s);
        pin.lineTo(px + 5 * s, top + 8 * s);
        pin.closeSubpath();
        p.fillPath(pin, m_theme.color(Tone::Result));
    }
}

void DistanceRuler::paintBudget(QPainter &p) const
{
    if (!m_content.budget)
        return;
    const qreal s = m_theme.scale();
    paintBudgetStrip(p, m_theme, *m_content.budget, m_content.unit,
                     {budgetTop * s, budgetHeight * s, [this](double m) { return x(m); }});
}

void DistanceRuler::paintHandle(QPainter &p) const
{
    if (!m_content.threshold_m)
        return;
    const qreal s = m_theme.scale();
    const qreal px = x(*m_content.threshold_m);
    const auto ochre = m_theme.color(Tone::Ochre);
    p.setPen(QPen(ochre, 2.2 * s));
    p.drawLine(QPointF(px, 16 * s), QPointF(px, (bandTop + bandHeight) * s));
    QPainterPath grip;
    grip.moveTo(px - 9 * s, labelTop * s);
    grip.lineTo(px + 9 * s, labelTop * s);
    grip.lineTo(px + 9 * s, (labelTop + 14) * s);
    grip.lineTo(px, (labelTop + 21) * s);
    grip.lineTo(px - 9 * s, (labelTop + 14) * s);
    grip.closeSubpath();
    p.fillPath(grip, ochre);

    p.setFont(m_theme.text(Type::Lead, true));
    const auto label = (m_content.inclusive ? QStringLiteral("≤ ") : QStringLiteral("< ")) +
                       text(*m_content.threshold_m, m_content.unit, 2);
    const qreal w = p.fontMetrics().horizontalAdvance(label);
    p.setFont(m_theme.text(Type::Small));
    QString aside;
    if (const auto &b = m_content.budget; b && b->edge_m && *b->edge_m > *m_content.threshold_m)
        aside = tr("whole numbers: acts just under %1").arg(text(*b->edge_m, m_content.unit, 2));
    const qreal asideWidth = p.fontMetrics().horizontalAdvance(aside);
    // To the right of the grip, or to the left where there is no room.
    const qreal all = w + (aside.isEmpty() ? 0 : asideWidth + 18 * s);
    const qreal left = px + 16 * s + all < width() ? px + 16 * s : px - 16 * s - all;
    p.setFont(m_theme.text(Type::Lead, true));
    p.setPen(ochre);
    p.drawText(QPointF(left, (labelTop + 16) * s), label);
    p.setFont(m_theme.text(Type::Small));
    p.setPen(m_theme.color(Tone::Ink2));
    p.drawText(QPointF(left + w + 18 * s, (labelTop + 15) * s), aside);
}

} // namespace badger::app
