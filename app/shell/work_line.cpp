// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/work_line.h"

#include "app/widgets/marks.h"
#include "app/widgets/text.h"

#include <QHBoxLayout>
#include <QPainter>

namespace badger::app
{

namespace
{
constexpr qreal stopCentre = 0.36; // of the stop's height
} // namespace

WorkStop::WorkStop(judge::Station station, const Theme &theme, QWidget *parent)
    : QAbstractButton(parent), m_theme(theme)
{
    setText(QString::fromLatin1(judge::name(station)));
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    setCheckable(true);
}

QSize WorkStop::sizeHint() const
{
    return {qRound(96 * m_theme.scale()), qRound(68 * m_theme.scale())};
}

qreal WorkStop::radius() const
{
    return (m_current ? 12.5 : 9.5) * m_theme.scale();
}

void WorkStop::show(const judge::Gate &gate, bool current)
{
    const bool looksAsBefore = gate.state == m_gate.state && current == m_current;
    m_gate = gate;
    m_current = current;
    setChecked(current);
    setToolTip(str(gate.why));
    setAccessibleName(text() + ": " + judge::name(gate.state));
    if (!looksAsBefore)
        update();
}

void WorkStop::paintEvent(QPaintEvent *)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const QPointF centre(width() / 2.0, height() * stopCentre);
    const qreal r = radius();
    const auto edge = m_current                                   ? Tone::Ochre
                      : m_gate.state == judge::GateState::Passed  ? Tone::Result
                      : m_gate.state == judge::GateState::Blocked ? Tone::Brick
                                                                  : Tone::Ink2;
    p.setPen(QPen(m_theme.color(edge), (m_current ? 2.6 : 1.6) * m_theme.scale()));
    p.setBrush(m_theme.color(Tone::Sheet));
    p.drawEllipse(centre, r, r);
    const qreal m = r * (m_gate.state == judge::GateState::Open ? 0.0 : 1.15);
    if (m > 0.0)
        paintMark(p, QRectF(centre.x() - m / 2, centre.y() - m / 2, m, m), m_gate.state, m_theme);

    p.setFont(m_theme.text(Type::Body, m_current));
    p.setPen(m_theme.color(Tone::Ink));
    const QRectF name(0, height() * 0.62, width(), height() * 0.30);
    p.drawText(name, Qt::AlignHCenter | Qt::AlignVCenter, text());
    if (m_current) {
        const qreal w = p.fontMetrics().horizontalAdvance(text()) + 10;
        p.fillRect(QRectF(width() / 2.0 - w / 2, name.bottom(), w, 3), m_theme.color(Tone::Ochre));
    }
    paintFocus(p, *this, m_theme);
}

WorkLine::WorkLine(Session &session, const Theme &theme, QWidget *parent)
    : QWidget(parent), m_session(session), m_theme(theme)
{
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(theme.space(5));
    for (const auto station : judge::stations) {
        auto *stop = new WorkStop(station, theme, this);
        m_stops[static_cast<size_t>(station)] = stop;
        connect(stop, &WorkStop::clicked, this,
                [this, station] { m_session.selectStation(station); });
        layout->addWidget(stop);
    }
    layout->addStretch(1);
}

void WorkLine::refresh()
{
    const auto *judgement = m_session.current();
    const auto before = m_stale;
    for (const auto station : judge::stations) {
        const auto i = static_cast<size_t>(station);
        const auto gate = judgement
                              ? judgement->gate(station)
                              : judge::Gate{station, judge::GateState::Open, "No car is selected."};
        m_stale[i] = gate.state != judge::GateState::Passed;
        m_stops[i]->show(gate, station == m_session.station());
    }
    if (before != m_stale)
        update();
}

void WorkLine::paintEvent(QPaintEvent *)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    bool reached = true;
    for (size_t i = 0; i + 1 < m_stops.size(); ++i) {
        const auto *a = m_stops[i];
        const auto *b = m_stops[i + 1];
        reached = reached && !m_stale[i];
        const qreal y = a->y() + a->height() * stopCentre;
        QPen pen(m_theme.color(reached ? Tone::Result : Tone::Ink2), m_theme.line() * 1.4);
        if (!reached)
            pen.setDashPattern({3, 3});
        p.setPen(pen);
        p.drawLine(QPointF(a->geometry().center().x() + a->radius() + 3, y),
                   QPointF(b->geometry().center().x() - b->radius() - 3, y));
    }
}

} // namespace badger::app
