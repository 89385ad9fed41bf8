// SPDX-License-Identifier: GPL-3.0-or-later
// The same car done another way, as bars.
#include "app/shell/hand_panel.h"
#include "app/widgets/marks.h"
#include "app/widgets/text.h"
#include "core/units/quantity.h"

#include <QPainter>
#include <algorithm>

namespace badger::app
{

OtherWays::OtherWays(const std::vector<judge::OtherWay> &ways, const Theme &theme, QWidget *parent)
    : QWidget(parent), m_theme(theme)
{
    show(ways);
}

void OtherWays::show(const std::vector<judge::OtherWay> &ways)
{
    m_ways = ways;
    update();
    QStringList lines;
    for (const auto &w : ways)
        lines << QStringLiteral("%1: %2").arg(str(w.name), cm(w.worstGap_m));
    setAccessibleName(lines.join(", "));
}

QSize OtherWays::sizeHint() const
{
    return {m_theme.space(50), qRound(static_cast<int>(m_ways.size()) * 25 * m_theme.scale())};
}

void OtherWays::paintEvent(QPaintEvent *)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setFont(m_theme.text(Type::Body));
    double most = 0.01;
    for (const auto &w : m_ways)
        most = std::max(most, w.worstGap_m);
    const qreal row = 25 * m_theme.scale();
    const qreal nameWidth = 92 * m_theme.scale();
    const qreal valueWidth = 72 * m_theme.scale();
    const qreal barWidth = std::max<qreal>(10, width() - nameWidth - valueWidth);
    qreal y = 0;
    for (const auto &w : m_ways) {
        const QRectF line(0, y, width(), row);
        p.setFont(m_theme.text(Type::Body, w.isCurrent));
        p.setPen(m_theme.color(Tone::Ink));
        p.drawText(line, Qt::AlignLeft | Qt::AlignVCenter, str(w.name));
        const QRectF bar(nameWidth, y + row * 0.24, barWidth * std::max(0.0, w.worstGap_m) / most,
                         row * 0.52);
        p.fillRect(bar, m_theme.color(w.isCurrent ? Tone::Go : Tone::Stand));
        if (!w.measured)
            hatch(p, bar, m_theme.color(Tone::Ink2), 6);
        const bool contact = w.worstGap_m < 0.0;
        p.setPen(m_theme.color(contact ? Tone::Brick : Tone::Ink));
        p.drawText(line, Qt::AlignRight | Qt::AlignVCenter,
                   contact ? tr("contact") : cm(w.worstGap_m));
        y += row;
    }
}

} // namespace badger::app
