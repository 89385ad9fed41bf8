// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/log/gap_ruler.h"

#include "app/widgets/marks.h"
#include "app/widgets/text.h"

#include <QPainter>
#include <QPainterPath>
#include <cmath>

namespace badger::app
{

namespace
{

constexpr qreal predictionTop = 40;
constexpr qreal predictionHeight = 34;
constexpr qreal trialsTop = 88;
constexpr qreal trialRow = 15;
constexpr qreal fullHeight = 250;
constexpr int mostRows = 7; ///< trials stand in as many rows, then begin again

/// The unit of the scale, as the person wants lengths.
units::Unit scaleUnit()
{
    return units::shownIn(units::Unit::Centimetre, listener().display);
}

} // namespace

GapRuler::GapRuler(const Theme &theme, QWidget *parent) : QWidget(parent), m_theme(theme)
{
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setAccessibleName(tr("Predicted against measured gaps"));
}

QSize GapRuler::sizeHint() const
{
    return {qRound(700 * m_theme.scale()), qRound(fullHeight * m_theme.scale())};
}

void GapRuler::show(GapContent content)
{
    m_content = std::move(content);
    updateGeometry();
    update();
}

double GapRuler::end_m() const
{
    double end = 0.2;
    if (m_content.budget)
        end = std::max(end, m_content.budget->setup.threshold_m);
    for (const auto *list : {&m_content.current, &m_content.older})
        for (const auto &t : *list)
            end = std::max({end, t.gap_m.value_or(0.0), t.threshold_m});
    if (m_content.proposal)
        end = std::max(end, m_content.proposal->next_m);
    return end * 1.12;
}

qreal GapRuler::x(double m) const
{
    const qreal left = 20 * m_theme.scale();
    return left + (width() - left - 24 * m_theme.scale()) * m / end_m();
}

void GapRuler::paintLine(QPainter &p, double m, Tone tone, const QString &label, qreal y) const
{
    const qreal s = m_theme.scale();
    p.setPen(QPen(m_theme.color(tone), m_theme.line() * 1.3));
    p.drawLine(QPointF(x(m), y + 4 * s), QPointF(x(m), (fullHeight - 40) * s));
    p.setFont(m_theme.text(Type::Small, true));
    const qreal w = p.fontMetrics().horizontalAdvance(label);
    p.drawText(QPointF(std::clamp(x(m) - w / 2, 2.0, width() - w - 2), y), label);
}

void GapRuler::paintPrediction(QPainter &p) const
{
    if (!m_content.budget)
        return;
    const qreal s = m_theme.scale();
    const auto &b = *m_content.budget;
    const double worst = std::max(0.0, b.budget.worstGap_m);
    const double most = std::max(worst, b.edge_m.value_or(b.setup.threshold_m) - b.setup.rollOut_m -
                                            b.setup.setBack_m + b.setup.sensorError_m);
    const QRectF band(x(worst), predictionTop * s, x(most) - x(worst), predictionHeight * s);
    p.fillRect(band, m_theme.color(Tone::Go));
    p.setPen(QPen(m_theme.color(Tone::Result), m_theme.line()));
    p.setBrush(Qt::NoBrush);
    p.drawRect(band);
    p.setFont(m_theme.text(Type::Body, true));
    p.setPen(m_theme.color(Tone::Ink));
    const auto word = tr("predicted");
    if (p.fontMetrics().horizontalAdvance(word) + 8 < band.width())
        p.drawText(band.adjusted(0, 0, -6 * s, 0), Qt::AlignRight | Qt::AlignVCenter, word);
    else
        p.drawText(band.adjusted(-200 * s, 0, -band.width() - 8 * s, 0),
                   Qt::AlignRight | Qt::AlignVCenter, word);
    const qreal typical = x(b.budget.typicalGap_m);
    p.setPen(QPen(m_theme.color(Tone::Result), 1.2, Qt::DashLine));
    p.drawLine(QPointF(typical, band.top()), QPointF(typical, band.bottom()));
    paintLine(p, worst, Tone::Result, tr("at worst %1").arg(cm(worst)), 32 * s);
}

void GapRuler::paintTrials(QPainter &p) const
{
    const qreal s = m_theme.scale();
    int row = 0;
    const auto paint = [&](const Pieces<logbook::MeasuredTrial> &list, bool current) {
        for (const auto &t : list) {
            if (!t.contact && !t.gap_m)
                continue;
            const QPointF at(x(t.contact ? 0.0 : *t.gap_m),
                             (trialsTop + (row % mostRows) * trialRow + 8) * s);
            ++row;
            if (t.contact) {
                p.setPen(QPen(m_theme.color(Tone::Brick), 2.2));
                for (int i = 0; i < 4; ++i) {
                    const double a = i * M_PI / 4;
                    const QPointF d(std::cos(a) * 6 * s, std::sin(a) * 6 * s);
                    p.drawLine(at - d, at + d);
                }
                continue;
            }
            p.setPen(QPen(m_theme.color(current ? Tone::Ink : Tone::Ink2), m_theme.line()));
            p.setBrush(current ? QBrush(m_theme.color(Tone::Ink)) : QBrush(Qt::NoBrush));
            p.drawEllipse(at, 4 * s, 4 * s);
            p.setFont(m_theme.text(Type::Small));
            p.drawText(at + QPointF(9 * s, 4 * s),
                       str(units::plain(units::fromSi(*t.gap_m, scaleUnit()), 1)));
        }
    };
    paint(m_content.current, true);
    paint(m_content.older, false);
}

void GapRuler::paintScale(QPainter &p) const
{
    const qreal s = m_theme.scale();
    const qreal y = (fullHeight - 38) * s;
    hatch(p, QRectF(x(0.0) - 14 * s, 30 * s, 14 * s, y - 30 * s), m_theme.color(Tone::Ink2), 7 * s);
    p.setPen(QPen(m_theme.color(Tone::Ink), 2));
    p.drawLine(QPointF(x(0.0), 30 * s), QPointF(x(0.0), y));
    p.setFont(m_theme.text(Type::Small));
    p.setPen(m_theme.color(Tone::Ink2));
    p.drawText(QPointF(x(0.0) + 5 * s, 40 * s), tr("board"));
    p.setPen(QPen(m_theme.color(Tone::Ink2), 1));
    p.drawLine(QPointF(x(0.0), y), QPointF(x(end_m()), y));
    const bool inches = scaleUnit() == units::Unit::Inch;
    const double step_m = inches ? 0.5 * 0.0254 : 0.01; // ten steps, or inches in halves, a number
    const int numbered = inches ? 4 : 10;
    for (int i = 0; i * step_m <= end_m(); ++i) {
        const bool number = i % numbered == 0;
        const int half = numbered / 2;
        if (i % half != 0 && end_m() > 0.6)
            continue;
        const qreal tick = number ? 9 : i % half ? 4 : 6;
        p.drawLine(QPointF(x(i * step_m), y), QPointF(x(i * step_m), y + tick * s));
        if (number)
            p.drawText(QRectF(x(i * step_m) - 30, y + 10 * s, 60, 16 * s), Qt::AlignCenter,
                       str(units::plain(units::fromSi(i * step_m, scaleUnit()), 0)) +
                           (i == 0 ? QString(" ") + units::info(scaleUnit()).symbol : QString()));
    }
}

void GapRuler::paintEvent(QPaintEvent *)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    paintScale(p);
    if (m_content.wanted_m)
        paintLine(p, *m_content.wanted_m, Tone::Ink2, tr("wanted %1").arg(cm(*m_content.wanted_m)),
                  14 * m_theme.scale());
    if (m_content.budget) {
        paintLine(p, m_content.budget->setup.threshold_m, Tone::Ochre,
                  tr("threshold %1").arg(cm(m_content.budget->setup.threshold_m)),
                  14 * m_theme.scale());
    }
    paintPrediction(p);
    paintTrials(p);
}

} // namespace badger::app
