// SPDX-License-Identifier: GPL-3.0-or-later
// What stands beside two clouds or a burst: other rooms, the room's own light, the trimmer,
// medians.
#include "app/tune/bench_picture.h"

#include "app/tune/bench_marks.h"
#include "app/tune/plane.h"
#include "app/widgets/text.h"
#include "core/base/angle.h"

namespace badger::app
{

/// Records of the same sensor elsewhere, as a thin bar a surface, and whether today's line parts
/// them, too.
void BenchPicture::paintEarlier(QPainter &p) const
{
    if (!m_surfaces)
        return;
    constexpr int most = 2;
    const qreal s = m_theme.scale();
    const auto area = plane();
    const Plane plot(area, 0.0, fullScale, 0.0, 1.0, m_theme);
    p.setFont(m_theme.text(Type::Small));
    int shown = 0;
    for (const auto &record : m_content.earlier) {
        const auto there = tune::surfacesOf(*record);
        if (!there || shown == most)
            continue;
        const qreal y = area.top() + 0.40 * area.height() + (28 + 26 * shown++) * s;
        for (const bool isLight : {true, false}) {
            const auto &spread = isLight ? there->light : there->dark;
            const QRectF bar(plot.at(spread.least, 0).x() - 2 * s, y - 4 * s,
                             plot.at(spread.most, 0).x() - plot.at(spread.least, 0).x() + 4 * s,
                             8 * s);
            p.setPen(QPen(m_theme.color(Tone::Ink2), 1));
            p.setBrush(m_theme.color(isLight ? Tone::Go : Tone::Stand));
            p.drawRect(bar);
        }
        const auto drift = tune::drift(*m_surfaces, *there, threshold());
        auto where = str(record->basis.floor);
        if (where.isEmpty())
            where = str(record->basis.light);
        const auto when = where.isEmpty() ? str(record->basis.date)
                                          : QString("%1, %2").arg(where, str(record->basis.date));
        const auto words =
            drift.marginThere > 0.0
                ? tr("%1: this line parts them by %2").arg(when, counts(drift.marginThere))
                : tr("%1: this line does not part them").arg(when);
        const qreal w = p.fontMetrics().horizontalAdvance(words);
        const qreal middle = plot.at((there->light.mean + there->dark.mean) / 2.0, 0).x();
        const qreal x = std::clamp(middle - w / 2, area.left(), area.right() - w);
        p.fillRect(QRectF(x - 3 * s, y + 5 * s, w + 6 * s, 14 * s), m_theme.color(Tone::Paper));
        p.setPen(m_theme.color(drift.marginThere > 0.0 ? Tone::Ink2 : Tone::Brick));
        p.drawText(QPointF(x, y + 16 * s), words);
    }
}

/// Over the counts what a program has of them: 0 on dark, 1 on light.
void BenchPicture::paintNormalised(QPainter &p) const
{
    if (!tune::normalised(*m_surfaces, 0.0))
        return;
    const qreal s = m_theme.scale();
    const auto area = plane();
    const Plane plot(area, 0.0, fullScale, 0.0, 1.0, m_theme);
    const double dark = m_surfaces->dark.mean;
    const double light = m_surfaces->light.mean;
    const qreal y = area.bottom() - 2 * s;
    p.setFont(m_theme.text(Type::Small));
    p.setPen(QPen(m_theme.color(Tone::Result), 1));
    p.drawLine(QPointF(plot.at(dark, 0).x(), y), QPointF(plot.at(light, 0).x(), y));
    for (const double share : {0.0, 0.5, 1.0}) {
        const qreal x = plot.at(dark + share * (light - dark), 0).x();
        p.drawLine(QPointF(x, y - 5 * s), QPointF(x, y));
        const QRectF box(x - 14 * s, y - 20 * s, 28 * s, 14 * s);
        p.fillRect(box, m_theme.color(Tone::Paper));
        p.drawText(box, Qt::AlignCenter, QString::number(share, 'g', 2));
    }
}

/// What a light resistor reads of the room itself, each time it was taken.
void BenchPicture::paintRoom(QPainter &p) const
{
    if (m_content.what != tune::What::Lamp)
        return;
    const qreal s = m_theme.scale();
    const auto area = plane();
    const Plane plot(area, 0.0, fullScale, 0.0, 1.0, m_theme);
    p.setFont(m_theme.text(Type::Small, true));
    int row = 0;
    for (const auto &st : m_content.record->stretches) {
        if (st.label != "room" || st.readings.empty())
            continue;
        const auto spread = tune::spreadOf(st.readings);
        const qreal y = area.top() + 0.5 * area.height() + row++ * 12 * s;
        const qreal from = plot.at(spread.least, 0).x();
        const qreal to = plot.at(spread.most, 0).x();
        p.setPen(QPen(m_theme.color(Tone::Ink), 2 * s));
        p.drawLine(QPointF(from, y), QPointF(std::max(to, from + 2 * s), y));
        p.drawLine(QPointF(from, y - 4 * s), QPointF(from, y + 4 * s));
        p.drawLine(QPointF(std::max(to, from + 2 * s), y - 4 * s),
                   QPointF(std::max(to, from + 2 * s), y + 4 * s));
        p.drawText(QPointF(std::max(to, from) + 8 * s, y + 4 * s),
                   tr("the room, %1").arg(counts(std::round(spread.mean))));
    }
}

/// The trimmer's way as an arc, with the two places at which the light changes.
void BenchPicture::paintTrimmerArc(QPainter &p, const QRectF &box) const
{
    const auto set = tune::trimmerSettingOf(*m_content.record);
    if (!set)
        return;
    constexpr double fromDegrees = 225.0; // a trimmer's stops, as a clock's 7:30 and 4:30
    constexpr double way = 270.0;
    const qreal s = m_theme.scale();
    const qreal radius = std::min(box.width() / 2.0 - 48 * s, box.height() / 2.0 - 60 * s);
    const auto middle = QPointF(box.center().x(), box.top() + radius + 62 * s);
    const QRectF circle(middle - QPointF(radius, radius), QSizeF(2 * radius, 2 * radius));
    const auto at = [&](double share, double r) {
        const double a = (fromDegrees - way * share) * degree;
        return middle + QPointF(r * std::cos(a), -r * std::sin(a));
    };
    const auto arc = [&](double from, double to) {
        p.drawArc(circle, qRound((fromDegrees - way * from) * 16.0),
                  qRound(-way * (to - from) * 16.0));
    };
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(m_theme.color(Tone::Ink2), 3 * s));
    arc(0.0, 1.0);
    p.setPen(QPen(m_theme.color(Tone::Result), 9 * s, Qt::SolidLine, Qt::FlatCap));
    arc(set->position - set->margin, set->position + set->margin);
    p.setFont(m_theme.text(Type::Small));
    for (const auto &[label, words] :
         {std::pair("turn light", tr("over light")), std::pair("turn dark", tr("over dark"))})
        for (const auto &st : m_content.record->stretches) {
            if (st.label != label || st.readings.empty())
                continue;
            const double share = st.readings.front();
            p.setPen(QPen(m_theme.color(Tone::Ink), 2 * s));
            p.drawLine(at(share, radius - 8 * s), at(share, radius + 8 * s));
            const auto text = QString("%1\n%2 %").arg(words, counts(std::round(share * 100.0)));
            const auto spot = at(share, radius + 36 * s);
            p.drawText(QRectF(spot - QPointF(40, 17) * s, QSizeF(80, 34) * s), Qt::AlignCenter,
                       text);
        }
    p.setPen(QPen(m_theme.color(Tone::Ochre), 3 * s));
    p.drawLine(middle, at(set->position, radius - 4 * s));
    p.setFont(m_theme.text(Type::Big, true));
    p.setPen(m_theme.color(Tone::Ink));
    p.drawText(QRectF(box.left(), middle.y() + radius * 0.80, box.width(), 34 * s), Qt::AlignCenter,
               QString("%1 %").arg(counts(std::round(set->position * 100.0))));
}

/// From reading to reading: one, the median of three, of five.
void BenchPicture::paintMedians(QPainter &p, const tune::Burst &burst, const QRectF &box) const
{
    const auto lines = tune::mediansOf(burst);
    if (lines.empty())
        return;
    const qreal s = m_theme.scale();
    p.fillRect(box, m_theme.color(Tone::Sheet));
    p.setPen(QPen(m_theme.color(Tone::Rule), 1));
    p.setBrush(Qt::NoBrush);
    p.drawRect(box);
    p.setFont(m_theme.text(Type::Small, true));
    p.setPen(m_theme.color(Tone::Ink));
    p.drawText(box.adjusted(8 * s, 4 * s, 0, 0), Qt::AlignLeft | Qt::AlignTop,
               tr("jitter, and what is lost or wild"));
    double widest = 1e-9;
    for (const auto &l : lines)
        widest = std::max(widest, l.jitter);
    p.setFont(m_theme.text(Type::Small));
    const qreal height = (box.height() - 26 * s) / static_cast<double>(lines.size());
    for (size_t i = 0; i < lines.size(); ++i) {
        const auto &l = lines[i];
        const qreal y = box.top() + 24 * s + height * static_cast<double>(i);
        p.setPen(m_theme.color(Tone::Ink2));
        p.drawText(QPointF(box.left() + 8 * s, y + height / 2 + 3 * s),
                   l.of == 1 ? tr("single") : tr("of %1").arg(l.of));
        p.fillRect(
            QRectF(box.left() + 52 * s, y + 3 * s, 60 * s * l.jitter / widest, height - 8 * s),
            m_theme.color(Tone::Result));
        p.setPen(m_theme.color(Tone::Ink));
        p.drawText(QPointF(box.left() + 118 * s, y + height / 2 + 3 * s),
                   tr("%1 us, %2").arg(QString::number(l.jitter, 'f', 0)).arg(l.none + l.wild));
    }
}

} // namespace badger::app
