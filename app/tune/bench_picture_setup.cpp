// SPDX-License-Identifier: GPL-3.0-or-later
// How the hand sets up what is not measured yet.
#include "app/tune/bench_picture.h"

#include "app/tune/bench_marks.h"
#include "app/widgets/text.h"

#include <QPainter>
#include <algorithm>

namespace badger::app
{

using tune::What;

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
    if (area.height() < 200 * m_theme.scale())
        return; // the words would stand on the car
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
    const int parts = std::clamp(static_cast<int>((end - nose) / (64 * s)), 1, 6);
    for (int i = 0; i <= parts; ++i) {
        const double m = most_m * i / parts;
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

} // namespace badger::app
