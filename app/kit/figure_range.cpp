// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/kit/figure_range.h"

#include "app/widgets/text.h"

#include <QPainter>

namespace badger::app
{

using units::Dimension;
using units::Unit;

FigureUnit unitOf(std::string_view key)
{
    struct Row {
        std::string_view end;
        Dimension dimension;
        Unit unit;
    };
    static constexpr Row rows[] = {
        {"_kg", Dimension::Mass, Unit::Gram},       {"_Ah", Dimension::Charge, Unit::AmpereHour},
        {"_ohm", Dimension::Resistance, Unit::Ohm}, {"_rad", Dimension::Angle, Unit::Degree},
        {"_V", Dimension::Voltage, Unit::Volt},     {"_A", Dimension::Current, Unit::Milliampere},
        {"_W", Dimension::Power, Unit::Watt},       {"_m", Dimension::Length, Unit::Millimetre},
        {"_s", Dimension::Time, Unit::Millisecond},
    };
    for (const auto &r : rows)
        if (key.ends_with(r.end))
            return {r.dimension, r.unit};
    if (key == "s_per_60deg")
        return {Dimension::Time, Unit::Second};
    return {};
}

QString figureText(std::string_view key, double si)
{
    const auto u = unitOf(key);
    if (!u.dimension)
        return str(units::plain(si, 4));
    return str(units::quantity(si, u.unit, 2));
}

RangeBar::RangeBar(const parts::Figure &figure, double least, double most, const Theme &theme,
                   QWidget *parent)
    : QWidget(parent), m_figure(figure), m_least(least), m_most(most), m_theme(theme)
{
    setAttribute(Qt::WA_TransparentForMouseEvents);
}

QSize RangeBar::sizeHint() const
{
    return {qRound(110 * m_theme.scale()), qRound(22 * m_theme.scale())};
}

void RangeBar::paintEvent(QPaintEvent *)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const auto x = [&](double v) {
        const double span = m_most - m_least;
        return 5 + (width() - 10) * (span > 0.0 ? (v - m_least) / span : 0.5);
    };
    const qreal y = height() / 2.0;
    p.setPen(QPen(m_theme.color(Tone::Rule), 1));
    p.drawLine(QPointF(5, y), QPointF(width() - 5, y));
    p.setPen(Qt::NoPen);
    p.setBrush(m_theme.color(Tone::Go));
    const qreal h = 9 * m_theme.scale();
    p.drawRect(
        QRectF(QPointF(x(m_figure.low) - 1, y - h / 2), QPointF(x(m_figure.high) + 1, y + h / 2)));
    p.setPen(QPen(m_theme.color(Tone::Result), 2.2));
    p.drawLine(QPointF(x(m_figure.typical), y - h * 0.8),
               QPointF(x(m_figure.typical), y + h * 0.8));
}

} // namespace badger::app
