// SPDX-License-Identifier: GPL-3.0-or-later
// What a meter finds, drawn into the harness.
#include "app/widgets/text.h"
#include "app/wire/harness_view.h"

#include <QPainter>

namespace badger::app
{

void HarnessView::showMeter(std::optional<HarnessMeter> meter)
{
    m_meter = std::move(meter);
    update();
}

/// Beside the terminal's name, which is `name` wide; a level that was set by hand stands out.
void HarnessView::paintVolts(QPainter &p, const HarnessTerminal &t, QRectF box, qreal name) const
{
    const auto volts = m_meter->volts.find(t.name);
    if (volts == m_meter->volts.end())
        return;
    const auto set = m_meter->set.find(t.name);
    const bool stands = set != m_meter->set.end();
    p.setFont(m_theme.text(Type::Small, stands));
    p.setPen(m_theme.color(stands ? Tone::Ochre : Tone::Result));
    name += 7 * m_theme.scale();
    auto words =
        stands ? (set->second ? tr("high %1") : tr("open %1")).arg(volts->second) : volts->second;
    if (p.fontMetrics().horizontalAdvance(words) > box.width() - name)
        words = volts->second; // bold and in its own colour, it stands out as it is
    (t.onRight ? box.setRight(box.right() - name) : box.setLeft(box.left() + name));
    p.drawText(box, (t.onRight ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter, words);
}

/// What a motor does stands in its title; a switch shows its lever.
void HarnessView::paintDoes(QPainter &p, const HarnessPart &part) const
{
    const QRectF title(part.area.left() + 8, part.area.top(), part.area.width() - 16,
                       22 * m_theme.scale());
    if (const auto does = m_meter->parts.find(part.id); does != m_meter->parts.end()) {
        p.setFont(m_theme.text(Type::Small, true));
        p.setPen(m_theme.color(Tone::Result));
        p.drawText(title, Qt::AlignRight | Qt::AlignVCenter, does->second);
    }
    const auto *fitted = m_car.instance(part.id);
    const auto *kind = fitted ? m_catalogue.find(fitted->partId) : nullptr;
    if (kind == nullptr || kind->kind != parts::Kind::Link || kind->shape != "switch")
        return;
    const qreal s = m_theme.scale();
    const QPointF hinge(title.right() - 44 * s, title.center().y() + 2 * s);
    const QPointF contact(title.right() - 14 * s, hinge.y());
    p.setPen(QPen(m_theme.color(m_meter->switchOpen ? Tone::Ochre : Tone::Result), 2 * s,
                  Qt::SolidLine, Qt::RoundCap));
    p.drawLine(hinge - QPointF(10 * s, 0), hinge);
    p.drawLine(contact, contact + QPointF(10 * s, 0));
    p.drawLine(hinge, m_meter->switchOpen ? hinge + QPointF(26 * s, -9 * s) : contact);
}

} // namespace badger::app
