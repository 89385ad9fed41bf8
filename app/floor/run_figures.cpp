// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/floor/run_figures.h"

#include "app/widgets/text.h"

#include <QPainter>
#include <algorithm>

namespace badger::app
{

RunFigures::RunFigures(const Theme &theme, QWidget *parent) : QWidget(parent), m_theme(theme)
{
    setObjectName("runFigures");
    setAccessibleName(tr("Figures of the run"));
    setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Preferred);
}

QSize RunFigures::sizeHint() const
{
    return {qRound(236 * m_theme.scale()), qRound(26 * m_theme.scale() * (1 + int(m_rows.size())))};
}

void RunFigures::clear()
{
    m_rows.clear();
    m_title.clear();
    setAccessibleDescription({});
    update();
}

void RunFigures::show(const ShownRun &run)
{
    const auto &t = run.trace();
    const auto &s = run.run->score;
    const auto seconds = [](double v) { return str(units::fixed(v, units::Unit::Second, 1)); };
    m_rows.clear();
    m_title = tr("%1 driven").arg(seconds(double(t.end_us) * 1e-6));
    const auto add = [&](const QString &figure, const QString &words, bool bad = false) {
        m_rows.push_back({figure, words, bad});
    };
    const auto touches = static_cast<int>(t.touches.size());
    if (s.kind == task::Kind::Stops && s.gap_m && touches == 0)
        add(cm(*s.gap_m), tr("left at rest"));
    if (s.kind == task::Kind::FollowsLine) {
        add(QString::number(s.laps, 'f', 1), tr("laps"));
        add(QString::number(s.losses.size()), tr("times lost"), !s.losses.empty());
        add(str(units::fixed(s.swing_m, units::Unit::Millimetre, 0)), tr("aside at most"));
    }
    add(QString::number(touches), touches == 1 ? tr("contact") : tr("contacts"), touches > 0);
    if (t.fell)
        add(seconds(double(t.fell->time_us) * 1e-6), tr("then over the edge"), true);
    if (s.toEdge_m && !t.fell)
        add(cm(*s.toEdge_m), tr("nearest to the edge"));
    if (t.nearestThing >= 0 && touches == 0)
        add(cm(t.nearest_m), tr("nearest to anything"));
    if (s.held_m) {
        add(cm(*s.held_m), tr("held on average"));
        add(QStringLiteral("± ") + cm(*s.spread_m), tr("give or take"));
    }
    add(seconds(s.ahead_s), tr("going ahead"));
    add(str(units::fixed(s.driven_m, units::Unit::Metre, 1)), tr("driven"));
    if (s.stuck_s > 0.05)
        add(seconds(s.stuck_s), tr("pushing"), true);
    if (s.coverage && s.kind == task::Kind::KeepsMoving)
        add(QStringLiteral("%1 %").arg(qRound(*s.coverage * 100)), tr("of the floor seen"));
    if (!s.sides.empty()) {
        const auto shorter =
            s.sides.size() - size_t(std::count_if(s.sides.begin(), s.sides.end(), task::isLonger));
        add(QString::number(shorter),
            s.sides.size() == 1 ? tr("turned to the shorter side")
                                : tr("of %1 turned shorter").arg(s.sides.size()),
            shorter > 0);
    }
    if (!t.pings.empty()) {
        add(s.blind_s < 1.0 ? str(units::fixed(s.blind_s, units::Unit::Millisecond, 0))
                            : seconds(s.blind_s),
            tr("longest unread"));
        add(cm(s.blind_m), tr("longest way unread"));
        add(QString::number(s.wrong.size()), tr("wrong of %1 readings").arg(t.pings.size()));
    }
    QStringList said;
    for (const auto &r : m_rows)
        said << r.figure + " " + r.words;
    setAccessibleDescription(said.join(", "));
    updateGeometry();
    update();
}

void RunFigures::paintEvent(QPaintEvent *)
{
    if (m_rows.empty())
        return;
    QPainter p(this);
    const qreal s = m_theme.scale();
    const qreal row = 22 * s;
    const qreal split = 72 * s;
    // In one column under its title; where it is wide, side by side without.
    const int columns = std::max(1, int(width() / (220 * s)));
    qreal y = 0;
    if (columns == 1) {
        p.setFont(m_theme.text(Type::Body, true));
        p.setPen(m_theme.color(Tone::Ink));
        p.drawText(QRectF(0, 0, width(), row), Qt::AlignLeft | Qt::AlignVCenter, m_title);
        y = row + 2 * s;
    }
    const qreal wide = qreal(width()) / columns;
    for (size_t i = 0; i < m_rows.size(); ++i) {
        const auto &r = m_rows[i];
        const QRectF place(wide * qreal(i % size_t(columns)), y + row * qreal(i / size_t(columns)),
                           wide, row);
        if (place.bottom() > height() + 1) // the first say most
            break;
        p.setFont(m_theme.text(Type::Small, true));
        p.setPen(m_theme.color(r.bad ? Tone::Brick : Tone::Result));
        p.drawText(place.adjusted(0, 0, split - 6 * s - wide, 0), Qt::AlignRight | Qt::AlignVCenter,
                   r.figure);
        p.setFont(m_theme.text(Type::Small));
        p.setPen(m_theme.color(Tone::Ink2));
        p.drawText(place.adjusted(split, 0, 0, 0), Qt::AlignLeft | Qt::AlignVCenter, r.words);
    }
}

QSize RunFigures::minimumSizeHint() const
{
    return {sizeHint().width(), qRound(48 * m_theme.scale())};
}

} // namespace badger::app
