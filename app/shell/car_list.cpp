// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/car_list.h"

#include "app/widgets/marks.h"

#include "app/widgets/empty_layout.h"

#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QStyleOption>
#include <QVBoxLayout>

namespace badger::app
{

CarTag::CarTag(const QString &name,
               const std::array<workshop::Gate, workshop::stations.size()> &gates, bool selected,
               const Theme &theme, QWidget *parent)
    : QAbstractButton(parent), m_gates(gates), m_selected(selected), m_theme(theme)
{
    setText(name);
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    QStringList states;
    for (const auto &g : gates)
        states << QStringLiteral("%1: %2").arg(workshop::name(g.station),
                                               QString::fromStdString(g.why));
    setToolTip(states.join('\n'));
    setAccessibleName(name);
    setAccessibleDescription(states.join(QStringLiteral(". ")));
}

QSize CarTag::sizeHint() const
{
    return {m_theme.space(36), qRound(54 * m_theme.scale())};
}

void CarTag::paintEvent(QPaintEvent *)
{
    QPainter p(this);
    const auto area = QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5);
    if (m_selected) {
        p.setPen(m_theme.color(Tone::Rule));
        p.setBrush(m_theme.color(Tone::Sheet));
        p.drawRoundedRect(area, 3, 3);
        p.fillRect(QRectF(0, 0, 4, height()), m_theme.color(Tone::Ochre));
    }
    if (hasFocus()) {
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(m_theme.color(Tone::Ochre), 2));
        p.drawRoundedRect(area.adjusted(1, 1, -1, -1), 3, 3);
    }
    const int left = m_theme.space(4);
    const qreal mark = 11 * m_theme.scale();
    p.setPen(m_theme.color(Tone::Ink));
    p.setFont(m_theme.text(Type::Body, m_selected));
    const QRectF nameArea(left, 0, width() - left - m_theme.space(2), height() * 0.58);
    p.drawText(nameArea, Qt::AlignLeft | Qt::AlignVCenter,
               p.fontMetrics().elidedText(text(), Qt::ElideRight, int(nameArea.width())));
    qreal x = left;
    for (const auto &g : m_gates) {
        paintMark(p, QRectF(x, height() * 0.60, mark, mark), g.state, m_theme);
        x += mark * 2.0;
    }
}

CarList::CarList(Session &session, const Theme &theme, QWidget *parent)
    : QWidget(parent), m_session(session), m_theme(theme)
{
    setObjectName("leftPanel");
    setAttribute(Qt::WA_StyledBackground);
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(theme.space(2), theme.space(4), theme.space(2), theme.space(2));
    layout->setSpacing(theme.space(1));
    m_name = new QLabel;
    m_name->setWordWrap(true);
    m_name->setProperty("heading", true);
    m_bench = new QLabel;
    m_bench->setProperty("small", true);
    for (auto *label : {m_name, m_bench}) {
        label->setContentsMargins(theme.space(3), 0, 0, 0);
        layout->addWidget(label);
    }
    layout->addSpacing(theme.space(3));
    auto *scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFrameShape(QFrame::NoFrame);
    m_tags = new QWidget;
    m_tagLayout = new QVBoxLayout(m_tags);
    m_tagLayout->setContentsMargins(0, 0, 0, 0);
    m_tagLayout->setSpacing(theme.space(1));
    scroll->setWidget(m_tags);
    layout->addWidget(scroll, 1);
}

void CarList::refresh()
{
    const auto &w = m_session.workshop();
    m_name->setText(m_session.document().title());
    m_bench->setText(QString::fromStdString(w.bench));
    m_bench->setVisible(!w.bench.empty());
    const auto *focus = focusWidget();
    const bool hadFocus = focus != nullptr && focus->hasFocus();
    emptyLayout(*m_tagLayout);
    int number = 1;
    for (const auto &car : w.cars) {
        const auto name = QString::fromStdString(car.name);
        const bool selected = name == m_session.carName();
        auto *tag = new CarTag(name, m_session.judgement(car.name).gates, selected, m_theme);
        if (number <= 10) // the tenth has the nought
            tag->setShortcut(QKeySequence(Qt::ALT | Qt::Key(Qt::Key_0 + number % 10)));
        ++number;
        connect(tag, &CarTag::clicked, this, [this, name] { m_session.selectCar(name); });
        m_tagLayout->addWidget(tag);
        if (selected && hadFocus)
            tag->setFocus();
    }
    auto *add = new QPushButton(tr("+ new car"));
    add->setProperty("link", true);
    add->setCursor(Qt::PointingHandCursor);
    add->setContentsMargins(0, 0, 0, 0);
    connect(add, &QPushButton::clicked, this, &CarList::newCarWanted);
    auto *row = new QHBoxLayout;
    row->setContentsMargins(m_theme.space(4), m_theme.space(1), 0, 0);
    auto *holder = new QWidget;
    holder->setLayout(row);
    row->addWidget(add);
    row->addStretch();
    m_tagLayout->addWidget(holder);
    m_tagLayout->addStretch(1);
}

} // namespace badger::app
