// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/floor/time_strip.h"

#include "app/widgets/marks.h"
#include "app/widgets/text.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>

namespace badger::app
{

TimeStrip::TimeStrip(const Theme &theme, QWidget *parent) : QWidget(parent), m_theme(theme)
{
    setFocusPolicy(Qt::StrongFocus);
    setMinimumHeight(qRound(150 * theme.scale()));
    setAccessibleName(tr("Time strip"));
}

void TimeStrip::show(trial::Trial trial, const rules::Reading &reading, rules::Program program,
                     std::optional<double> threshold_m)
{
    m_reading = reading;
    m_trial = std::move(trial);
    m_program = std::move(program);
    m_threshold_m = threshold_m;
    update();
}

void TimeStrip::clear()
{
    m_trial = {};
    update();
}

void TimeStrip::setTime(std::uint64_t time_us)
{
    m_time_us = time_us;
    update();
}

int TimeStrip::pingAt(std::uint64_t time_us) const
{
    int found = -1;
    for (size_t i = 0; i < m_trial.pings.size(); ++i)
        if (m_trial.pings[i].decided && m_trial.pings[i].decided_us <= time_us)
            found = static_cast<int>(i);
    return found;
}

QRectF TimeStrip::plot() const
{
    const qreal s = m_theme.scale();
    return QRectF(rect()).adjusted(44 * s, 30 * s, -14 * s, -22 * s);
}

qreal TimeStrip::x(std::uint64_t time_us) const
{
    const auto area = plot();
    const double end =
        std::max<double>(1.0, m_trial.path.empty() ? 1.0 : double(m_trial.path.back().time_us));
    return area.left() + area.width() * double(time_us) / end;
}

void TimeStrip::paintStates(QPainter &p) const
{
    const auto area = plot();
    const qreal s = m_theme.scale();
    const QRectF band(area.left(), 4 * s, area.width(), 20 * s);
    size_t i = 0;
    p.setFont(m_theme.text(Type::Small, true));
    while (i < m_trial.pings.size()) {
        const auto &name = m_trial.pings[i].decision.state;
        size_t k = i;
        while (k < m_trial.pings.size() && m_trial.pings[k].decision.state == name)
            ++k;
        const qreal from = x(m_trial.pings[i].decided_us);
        const qreal to = k < m_trial.pings.size() ? x(m_trial.pings[k].decided_us) : band.right();
        const QRectF part(from, band.top(), to - from, band.height());
        if (const auto *state = m_program.state(name))
            p.fillRect(part, m_theme.color(rules::actOf(state->motion)));
        const auto word = str(name);
        if (p.fontMetrics().horizontalAdvance(word) + 8 < part.width()) {
            p.setPen(m_theme.color(Tone::Ink));
            p.drawText(part, Qt::AlignCenter, word);
        }
        i = k;
    }
}

void TimeStrip::paintReadings(QPainter &p) const
{
    const auto area = plot();
    const qreal s = m_theme.scale();
    const auto *reading = &m_reading;
    const double limit = units::fromSi(reading->limit_m.value_or(1.0), reading->unit);
    const auto y = [&](double number) {
        return area.bottom() - area.height() * std::min(number, limit) / limit;
    };
    p.setPen(QPen(m_theme.color(Tone::Rule), 1));
    p.drawLine(area.bottomLeft(), area.bottomRight());
    p.drawLine(area.topLeft(), area.bottomLeft());
    p.setFont(m_theme.text(Type::Small));
    p.setPen(m_theme.color(Tone::Ink2));
    for (const double share : {0.0, 0.5, 1.0})
        p.drawText(QRectF(0, y(limit * share) - 9, area.left() - 6, 18),
                   Qt::AlignRight | Qt::AlignVCenter, str(units::plain(limit * share, 0)));
    p.drawText(QRectF(0, 4 * s, area.left() - 6, 20 * s), Qt::AlignRight | Qt::AlignVCenter,
               QString::fromLatin1(units::info(reading->unit).symbol));
    if (m_threshold_m) {
        const qreal ty = y(units::fromSi(*m_threshold_m, reading->unit));
        p.setPen(QPen(m_theme.color(Tone::Ochre), m_theme.line()));
        p.drawLine(QPointF(area.left(), ty), QPointF(area.right(), ty));
        p.drawText(QPointF(area.left() + 6, ty - 4),
                   str(units::plain(units::fromSi(*m_threshold_m, reading->unit), 2)) + " " +
                       QString::fromLatin1(units::info(reading->unit).symbol)); // as the axis
    }
    for (size_t i = 0; i < m_trial.pings.size(); ++i) {
        const auto &ping = m_trial.pings[i];
        if (!ping.decided || ping.decision.reading != m_reading.name)
            continue;
        const bool deciding = static_cast<int>(i) == m_trial.deciding;
        const bool none = ping.decision.number == 0.0;
        const QPointF at(x(ping.decided_us), none ? area.top() : y(ping.decision.number));
        p.setPen(QPen(m_theme.color(deciding ? Tone::Ochre : Tone::Result), 1.3));
        if (none) { // a missing echo is a cross at the top
            p.drawLine(at - QPointF(3, 3), at + QPointF(3, 3));
            p.drawLine(at - QPointF(3, -3), at + QPointF(3, -3));
        } else {
            p.setBrush(deciding ? m_theme.color(Tone::Ochre) : m_theme.color(Tone::Result));
            p.drawEllipse(at, deciding ? 5.0 : 2.0, deciding ? 5.0 : 2.0);
        }
    }
    p.setPen(m_theme.color(Tone::Ink2));
    const double end_s = m_trial.path.empty() ? 0.0 : double(m_trial.path.back().time_us) * 1e-6;
    for (int second = 0; second <= int(end_s); ++second)
        p.drawText(QRectF(x(std::uint64_t(second) * 1000000) - 20, area.bottom() + 2, 40, 18),
                   Qt::AlignCenter, QString::number(second) + (second == 0 ? " s" : ""));
}

void TimeStrip::paintEvent(QPaintEvent *)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    if (m_trial.pings.empty())
        return;
    paintStates(p);
    paintReadings(p);
    const qreal now = x(m_time_us);
    p.setPen(QPen(m_theme.color(Tone::Ink), 1.6));
    p.drawLine(QPointF(now, 2), QPointF(now, plot().bottom() + 4));
    paintFocus(p, *this, m_theme);
}

void TimeStrip::scrubTo(qreal px)
{
    if (m_trial.path.empty())
        return;
    const auto area = plot();
    const double share = std::clamp((px - area.left()) / area.width(), 0.0, 1.0);
    emit scrubbed(static_cast<std::uint64_t>(share * double(m_trial.path.back().time_us)));
}

void TimeStrip::mousePressEvent(QMouseEvent *event)
{
    scrubTo(event->position().x());
}

void TimeStrip::mouseMoveEvent(QMouseEvent *event)
{
    if (event->buttons() & Qt::LeftButton)
        scrubTo(event->position().x());
}

void TimeStrip::keyPressEvent(QKeyEvent *event)
{
    if (event->key() == Qt::Key_Right)
        emit stepped(1);
    else if (event->key() == Qt::Key_Left)
        emit stepped(-1);
    else
        QWidget::keyPressEvent(event);
}

} // namespace badger::app
