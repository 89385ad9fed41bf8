// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/car_list.h"

#include "app/widgets/marks.h"
#include "app/widgets/text.h"

#include "app/widgets/empty_layout.h"

#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QStyleOption>
#include <QTimer>
#include <QVBoxLayout>

namespace badger::app
{

namespace
{

// Pixels at scale 1: ten cars and their workshop's name fit a window of 800 without scrolling.
constexpr int mostHeight = 54;
constexpr int leastHeight = 42;

} // namespace

CarTag::CarTag(const QString &name, bool selected, const Theme &theme, QWidget *parent)
    : QAbstractButton(parent), m_selected(selected), m_theme(theme)
{
    setObjectName("car:" + name);
    setAccessibleName(name);
    m_name = name;
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Preferred);
    setMaximumHeight(sizeHint().height());
    show(nullptr);
}

void CarTag::show(const judge::Judgement *judgement)
{
    QStringList states;
    const auto before = m_gates;
    const bool wasKnown = m_known;
    m_known = judgement != nullptr;
    if (m_known) {
        m_gates = judgement->gates;
        for (const auto &g : m_gates)
            states << QStringLiteral("%1: %2").arg(judge::name(g.station), str(g.why));
    } else {
        states << tr("being judged");
    }
    setToolTip(states.join('\n'));
    setAccessibleDescription(states.join(QStringLiteral(". ")));
    const bool looksAsBefore =
        wasKnown == m_known &&
        std::equal(before.begin(), before.end(), m_gates.begin(),
                   [](const auto &a, const auto &b) { return a.state == b.state; });
    if (!looksAsBefore)
        update();
}

QSize CarTag::sizeHint() const
{
    return {m_theme.space(36), qRound(mostHeight * m_theme.scale())};
}

QSize CarTag::minimumSizeHint() const
{
    return {m_theme.space(20), qRound(leastHeight * m_theme.scale())};
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
               p.fontMetrics().elidedText(m_name, Qt::ElideRight, int(nameArea.width())));
    if (!m_known) {
        p.setFont(m_theme.text(Type::Small));
        p.setPen(m_theme.color(Tone::Ink2));
        p.drawText(QRectF(left, height() * 0.52, width() - left, height() * 0.42),
                   Qt::AlignLeft | Qt::AlignVCenter, tr("being judged"));
        return;
    }
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
    m_scroll = new QScrollArea;
    auto *scroll = m_scroll;
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFrameShape(QFrame::NoFrame);
    m_tags = new QWidget;
    m_tagLayout = new QVBoxLayout(m_tags);
    m_tagLayout->setContentsMargins(0, 0, 0, 0);
    m_tagLayout->setSpacing(theme.space(1));
    scroll->setWidget(m_tags);
    layout->addWidget(scroll, 1);
    // Under the list, not in it: with ten cars it would be scrolled away.
    auto *add = new QPushButton(tr("+ new car"));
    add->setObjectName("newCar");
    add->setProperty("link", true);
    add->setCursor(Qt::PointingHandCursor);
    connect(add, &QPushButton::clicked, this, &CarList::newCarWanted);
    auto *row = new QHBoxLayout;
    row->setContentsMargins(theme.space(4), theme.space(1), 0, theme.space(2));
    row->addWidget(add);
    row->addStretch(1);
    layout->addLayout(row);
    for (const auto signal : {&Session::carJudged, &Session::runsDriven})
        connect(&session, signal, this, [this](const Id<kit::Car> &id) {
            const auto *car = m_session.workshop().car(id);
            if (auto *tag = car ? m_tags->findChild<CarTag *>("car:" + str(car->name)) : nullptr)
                tag->show(m_session.judged(id));
        });
}

void CarList::showSelected()
{
    if (m_selected == nullptr)
        return;
    m_tags->layout()->activate();
    m_scroll->ensureWidgetVisible(m_selected, 0, m_theme.space(2));
}

void CarList::resizeEvent(QResizeEvent *event)
{
    QWidget::resizeEvent(event);
    showSelected();
}

/// The class is the same, and the same car is picked: only marks may have changed.
bool CarList::keepTags()
{
    QStringList names;
    for (const auto &car : m_session.workshop().cars)
        names << str(car.name);
    const bool same = names == m_names && m_session.carId() == m_shownCar && m_selected;
    m_names = names;
    m_shownCar = m_session.carId();
    if (same)
        m_selected->show(m_session.current());
    return same;
}

void CarList::refresh()
{
    const auto &w = m_session.workshop();
    m_name->setText(m_session.document().title());
    m_bench->setText(str(w.bench));
    m_bench->setVisible(!w.bench.empty());
    if (keepTags())
        return;
    const auto *focus = focusWidget();
    const bool hadFocus = focus != nullptr && focus->hasFocus();
    emptyLayout(*m_tagLayout);
    m_selected = nullptr;
    int number = 1;
    for (const auto &car : w.cars) {
        const auto name = str(car.name);
        const bool selected = car.id == m_session.carId();
        auto *tag = new CarTag(name, selected, m_theme);
        // The selected one is judged at once, the others when there is time.
        tag->show(selected ? &m_session.judgement(car.id) : m_session.judged(car.id));
        if (number <= 10) // the tenth has the nought
            tag->setShortcut(QKeySequence(Qt::ALT | Qt::Key(Qt::Key_0 + number % 10)));
        ++number;
        connect(tag, &CarTag::clicked, this, [this, id = car.id] { m_session.selectCar(id); });
        m_tagLayout->addWidget(tag);
        if (selected)
            m_selected = tag;
        if (selected && hadFocus)
            tag->setFocus();
    }
    m_tagLayout->addStretch(1);
    // The list knows how long it is once its tags are laid out.
    QTimer::singleShot(0, this, &CarList::showSelected);
}

} // namespace badger::app
