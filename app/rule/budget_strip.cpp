// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rule/budget_strip.h"

#include "app/widgets/text.h"

#include <QCoreApplication>
#include <QPainter>
#include <algorithm>
#include <array>

namespace badger::app
{

namespace
{

void paintRest(QPainter &p, const Theme &theme, double gap_m, double threshold_m, units::Unit unit,
               const StripPlace &place)
{
    const QRectF rest(place.x(0.0), place.top, place.x(gap_m) - place.x(0.0), place.height);
    p.setPen(QPen(theme.color(Tone::Result), theme.line()));
    p.setBrush(theme.color(Tone::Sheet));
    p.drawRect(rest);
    const auto word = QCoreApplication::translate("BudgetStrip", "%1 left")
                          .arg(str(units::fixed(gap_m, unit, 1)));
    p.setPen(theme.color(Tone::Result));
    const bool fits = p.fontMetrics().horizontalAdvance(word) + 6 < rest.width();
    // Where it is narrow the word stands behind the last term.
    const qreal after = place.x(threshold_m) + 8 * theme.scale();
    p.drawText(fits ? rest : QRectF(after, place.top, 1, place.height),
               fits ? int(Qt::AlignCenter) : int(Qt::AlignVCenter | Qt::TextDontClip), word);
}

} // namespace

void paintBudgetStrip(QPainter &p, const Theme &theme, const judge::CarBudget &budget,
                      units::Unit unit, const StripPlace &place)
{
    const qreal s = theme.scale();
    const double gap_m = budget.budget.worstGap_m;
    p.setFont(theme.text(Type::Body, true));
    if (gap_m > 0.0)
        paintRest(p, theme, gap_m, budget.setup.threshold_m, unit, place);
    // The terms, from the resting place outwards to the threshold.
    static const std::array<std::pair<const char *, rules::Act>, 4> tones = {{
        {"set_back", rules::Act::Stand},
        {"sensor_error", rules::Act::Stand},
        {"roll_out", rules::Act::Back},
        {"latency", rules::Act::Turn},
    }};
    p.setFont(theme.text(Type::Small));
    double at_m = std::max(0.0, gap_m);
    qreal labelRight = place.x(0.0) - 8;
    for (const auto &[key, tone] : tones) {
        const auto term = std::find_if(budget.terms.begin(), budget.terms.end(),
                                       [&](const auto &t) { return t.key == key; });
        if (term == budget.terms.end() || term->worst_m <= 0.0)
            continue;
        const QRectF area(place.x(at_m), place.top,
                          std::max(1.0, place.x(at_m + term->worst_m) - place.x(at_m)),
                          place.height);
        p.fillRect(area, theme.color(tone));
        p.setPen(QPen(theme.color(Tone::Ink2), 1));
        p.setBrush(Qt::NoBrush);
        p.drawRect(area);
        const auto label = QStringLiteral("%1 %2").arg(
            str(term->name), str(units::plain(units::fromSi(term->worst_m, unit), 1)));
        const qreal w = p.fontMetrics().horizontalAdvance(label);
        const qreal left = std::max(labelRight + 12 * s, area.center().x() - w / 2);
        const qreal foot = place.top + place.height;
        p.drawLine(QPointF(area.center().x(), foot),
                   QPointF(std::clamp(area.center().x(), left, left + w), foot + 11 * s));
        p.setPen(theme.color(Tone::Ink2));
        p.drawText(QPointF(left, foot + 25 * s), label);
        labelRight = left + w;
        at_m += term->worst_m;
    }
}

} // namespace badger::app
