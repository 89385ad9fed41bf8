// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/tune/tune_station.h"

#include "app/document/edits.h"
#include "app/tune/item_tag.h"
#include "app/widgets/empty_layout.h"
#include "app/widgets/text.h"
#include "core/judge/tune_sums.h"

#include <QAction>
#include <QDate>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>

namespace badger::app
{

using tune::What;
using units::Dimension;
using units::Unit;

namespace
{

link::ChannelUnit unitOf(What what)
{
    switch (what) {
    case What::Ruler:
    case What::NoEcho:
        return link::ChannelUnit::Microseconds;
    case What::Trimmer:
        return link::ChannelUnit::Level;
    default:
        return link::ChannelUnit::Counts;
    }
}

/// Can a board send what is measured, or does a person read it off?
bool comesFromABoard(What what)
{
    return what != What::Turn && what != What::Straightness && what != What::Neutral &&
           what != What::Speed;
}

QLabel *wrapped(const char *property = nullptr)
{
    auto *label = new QLabel;
    label->setWordWrap(true);
    label->setTextFormat(Qt::PlainText);
    if (property != nullptr)
        label->setProperty(property, true);
    return label;
}

} // namespace

TuneStation::TuneStation(Session &session, const Theme &theme, QWidget *parent)
    : StationView(session, theme, parent)
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, theme.space(2));
    layout->setSpacing(theme.space(2));
    auto *tags = new QWidget;
    m_items = new QHBoxLayout(tags);
    m_items->setContentsMargins(0, 0, 0, 0);
    m_items->setSpacing(theme.space(1));
    auto *scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFixedHeight(qRound(56 * theme.scale()));
    scroll->setWidget(tags);
    layout->addWidget(scroll);
    m_stale = wrapped();
    m_stale->setObjectName("staleBecause");
    layout->addWidget(m_stale);
    auto *middle = new QHBoxLayout;
    middle->setSpacing(theme.space(4));
    m_picture = new BenchPicture(theme);
    m_picture->setObjectName("benchPicture");
    middle->addWidget(m_picture, 1);
    middle->addWidget(makeHand());
    layout->addLayout(middle, 1);
    m_live = new LiveBar(theme);
    layout->addWidget(m_live);
    connect(m_live, &LiveBar::said, this, [this](const QString &text, bool isError) {
        emit this->session().said(text, isError);
    });
    connect(m_live, &LiveBar::recordingChanged, this, &TuneStation::refreshHand);
    connect(m_live, &LiveBar::listeningChanged, this, &TuneStation::refreshHand);
    connect(m_picture, &BenchPicture::thresholdMoved, this, &TuneStation::setThreshold);
    makeActions();
}

QWidget *TuneStation::makeHand()
{
    // On a small screen, or with large type, the hand is longer than the picture is high.
    auto *around = new QScrollArea;
    around->setWidgetResizable(true);
    around->setFrameShape(QFrame::NoFrame);
    around->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    around->setFixedWidth(qRound(256 * theme().scale()));
    auto *hand = new QWidget;
    around->setWidget(hand);
    auto *layout = new QVBoxLayout(hand);
    layout->setContentsMargins(0, 0, theme().space(2), 0);
    layout->setSpacing(theme().space(2));
    auto *head = new QHBoxLayout;
    m_stepTitle = wrapped("heading");
    m_back = new QPushButton(tr("back"));
    m_on = new QPushButton(tr("next"));
    for (auto *b : {m_back, m_on})
        b->setProperty("link", true);
    head->addWidget(m_stepTitle, 1);
    head->addWidget(m_back);
    head->addWidget(m_on);
    layout->addLayout(head);
    m_stepText = wrapped();
    m_stepText->setObjectName("stepText");
    m_caution = wrapped("caution");
    layout->addWidget(m_stepText);
    layout->addWidget(m_caution);
    m_record = new QPushButton;
    m_record->setObjectName("record");
    m_keep = new QPushButton(tr("&Keep it"));
    m_keep->setObjectName("keep");
    m_discard = new QPushButton(tr("&Discard"));
    m_discard->setObjectName("discard");
    layout->addWidget(m_record);
    auto *pair = new QHBoxLayout;
    pair->addWidget(m_keep);
    pair->addWidget(m_discard);
    layout->addLayout(pair);
    m_typed = new QLineEdit;
    m_typed->setObjectName("typed");
    m_typed->setAccessibleName(tr("Readings, typed or pasted"));
    layout->addWidget(m_typed);
    auto *conditions = new QHBoxLayout;
    const auto add = [&](const QString &name, QuantityField *field, const char *object) {
        auto *label = new QLabel(name);
        label->setProperty("small", true);
        label->setBuddy(field);
        field->setObjectName(object);
        field->setAccessibleName(name);
        conditions->addWidget(label);
        conditions->addWidget(field, 1);
    };
    m_air = new QuantityField(Dimension::Temperature, Unit::Celsius);
    m_air->setHint("20 °C");
    m_battery = new QuantityField(Dimension::Voltage, Unit::Volt);
    m_battery->setHint("7.6 V");
    add(tr("Air"), m_air, "benchAir");
    add(tr("Pack"), m_battery, "benchBattery");
    layout->addLayout(conditions);
    auto *heading = wrapped("heading");
    heading->setText(tr("What is kept"));
    layout->addWidget(heading);
    m_use = new QPushButton;
    m_use->setObjectName("useInCar");
    layout->insertWidget(layout->count() - 1, m_use);
    auto *list = new QWidget;
    m_stretches = new QVBoxLayout(list);
    m_stretches->setContentsMargins(0, 0, 0, 0);
    m_stretches->setSpacing(0);
    layout->addWidget(list);
    layout->addStretch(1);
    connect(m_back, &QPushButton::clicked, this, [this] { showStep(m_step - 1); });
    connect(m_on, &QPushButton::clicked, this, [this] { showStep(m_step + 1); });
    connect(m_record, &QPushButton::clicked, this, &TuneStation::record);
    connect(m_keep, &QPushButton::clicked, this, &TuneStation::keep);
    connect(m_discard, &QPushButton::clicked, this, &TuneStation::discard);
    connect(m_typed, &QLineEdit::returnPressed, this, &TuneStation::typed);
    connect(m_use, &QPushButton::clicked, this, &TuneStation::use);
    connect(m_air, &QuantityField::taken, this, [this](double si) {
        m_air_degC = si;
        m_air->setValue(si);
    });
    connect(m_battery, &QuantityField::taken, this, [this](double si) {
        m_battery_V = si;
        m_battery->setValue(si);
    });
    for (auto *field : {m_air, m_battery})
        connect(field, &QuantityField::refused, this,
                [this](const QString &reason) { emit session().said(reason, true); });
    return around;
}

void TuneStation::makeActions()
{
    const auto add = [this](const QString &text, const QKeySequence &keys, auto call) {
        auto *action = new QAction(text, this);
        if (!keys.isEmpty())
            action->setShortcut(keys);
        connect(action, &QAction::triggered, this, call);
        addAction(action);
        m_actions << action;
    };
    add(tr("Record, or stop recording (space)"), QKeySequence(), &TuneStation::record);
    add(tr("Keep what was recorded"), Qt::CTRL | Qt::Key_K, &TuneStation::keep);
    add(tr("Use it in the car"), Qt::Key_F7, &TuneStation::use);
    add(tr("Readings from a file ..."), QKeySequence(), &TuneStation::fromFile);
    add(tr("Begin this measurement anew"), QKeySequence(), &TuneStation::startAnew);
}

void TuneStation::keyPressEvent(QKeyEvent *event)
{
    // Where no button and no field takes it.
    if (event->key() == Qt::Key_Space && !event->isAutoRepeat())
        record();
    else
        StationView::keyPressEvent(event);
}

void TuneStation::showEvent(QShowEvent *event)
{
    StationView::showEvent(event);
    m_picture->setFocus();
}

const judge::BenchItem *TuneStation::item() const
{
    const auto *j = session().current();
    if (j == nullptr)
        return nullptr;
    for (const auto &i : j->tune.items)
        if (keyOf(i) == m_picked)
            return &i;
    return nullptr;
}

void TuneStation::pick(const QString &key)
{
    if (m_picked != key) {
        m_pending.reset();
        m_step = 0;
        m_anew = false;
    }
    m_picked = key;
    refresh();
    emit sumChanged();
}

void TuneStation::reveal(const QString &target)
{
    const auto key = target.mid(QString("bench:").size());
    if (target.startsWith("bench:"))
        pick(key);
}

void TuneStation::refresh()
{
    const auto *j = session().current();
    setEnabled(j != nullptr);
    if (j == nullptr)
        return;
    if (item() == nullptr) {
        m_pending.reset();
        m_step = 0;
        m_anew = false;
        const auto open =
            std::find_if(j->tune.items.begin(), j->tune.items.end(),
                         [](const judge::BenchItem &i) { return i.needed && !i.isDone(); });
        const auto first = open != j->tune.items.end() ? open : j->tune.items.begin();
        m_picked = first == j->tune.items.end() ? QString() : keyOf(*first);
    }
    refreshItems();
    if (const auto *i = item()) {
        m_protocol = tune::protocolOf(i->what);
        m_live->prefer(str(i->instance), unitOf(i->what));
    } else {
        m_protocol.clear();
    }
    m_live->setVisible(item() && comesFromABoard(item()->what));
    refreshPicture();
    refreshStretches();
    refreshHand();
}

void TuneStation::refreshItems()
{
    emptyLayout(*m_items);
    for (const auto &i : session().current()->tune.items) {
        auto *tag = new ItemTag(i, theme());
        tag->setChecked(keyOf(i) == m_picked);
        connect(tag, &QPushButton::clicked, this, [this, key = keyOf(i)] { pick(key); });
        m_items->addWidget(tag);
    }
    if (session().current()->tune.items.empty()) {
        auto *none = wrapped("quiet");
        none->setText(tr("No part of this car has to be measured."));
        m_items->addWidget(none);
    }
    m_items->addStretch(1);
}

void TuneStation::refreshPicture()
{
    BenchPicture::Content c;
    if (const auto *i = item()) {
        c.what = i->what;
        c.record = i->record;
        c.pending = m_pending;
        if (const auto *s = step())
            c.step = *s;
        QStringList words;
        for (const auto &s : i->stale)
            words << str(s);
        m_stale->setVisible(!words.isEmpty() && !m_anew);
        m_stale->setText(tr("It was measured %1: measure it again.").arg(words.join(", ")));
    } else {
        m_stale->hide();
    }
    m_picture->show(std::move(c));
}

const tune::ProtocolStep *TuneStation::step() const
{
    return m_step >= 0 && m_step < static_cast<int>(m_protocol.size())
               ? &m_protocol[static_cast<size_t>(m_step)]
               : nullptr;
}

void TuneStation::showStep(int index)
{
    m_step = std::clamp(index, 0, std::max(0, static_cast<int>(m_protocol.size()) - 1));
    refreshPicture();
    refreshHand();
}

void TuneStation::refreshHand()
{
    const auto *i = item();
    const auto *s = step();
    const bool recording = m_live->isRecording();
    const bool board = i && comesFromABoard(i->what);
    const auto several = static_cast<int>(m_protocol.size());
    m_stepTitle->setText(several > 1 ? tr("Step %1 of %2").arg(m_step + 1).arg(several)
                                     : tr("At the bench"));
    m_back->setVisible(m_step > 0);
    m_on->setVisible(m_step + 1 < several);
    m_stepText->setText(s ? str(s->text) : QString());
    m_caution->setText(s ? str(s->caution) : QString());
    m_caution->setVisible(s && !s->caution.empty());
    m_record->setVisible(board && !m_pending);
    m_record->setEnabled(m_live->listener().state() == PortListener::State::Open || recording);
    m_record->setText(recording ? tr("Stop recording (space)") : tr("Record (space)"));
    m_record->setToolTip(m_record->isEnabled() ? QString() : tr("Listen to a board first."));
    m_keep->setVisible(m_pending.has_value());
    m_discard->setVisible(m_pending.has_value());
    m_typed->setVisible(i && !m_pending && !recording);
    if (i)
        m_typed->setPlaceholderText(
            i->what == What::Ruler          ? tr("or type what it reads, 24.5 cm")
            : i->what == What::Straightness ? tr("aside at the end, half way: 8 cm 3 cm")
            : i->what == What::Speed        ? tr("seconds from line to line: 6.2 6.3 6.2")
            : i->what == What::Turn         ? tr("the angle it turned, 58")
            : i->what == What::Neutral      ? tr("the pulse, 1490")
            : i->what == What::NoEcho       ? tr("or type echo times in us, none")
            : i->what == What::Trimmer      ? tr("or type 1 or 0")
                                            : tr("or type counts, 812 799 840"));
    QString use;
    if (i && i->record && i->verdict.good) {
        if (i->what == What::Ruler)
            use = tr("&Use in the stopping budget (F7)");
        else if (i->what == What::Speed)
            use = tr("&Use in the stopping budget (F7)");
        else if (i->what == What::Surfaces && i->record->chosen)
            use = tr("&Use the computed line (F7)");
    }
    m_use->setVisible(!use.isEmpty());
    m_use->setText(use);
}

void TuneStation::refreshStretches()
{
    emptyLayout(*m_stretches);
    const auto *i = item();
    if (i == nullptr || !i->record) {
        auto *none = wrapped("quiet");
        none->setText(tr("Nothing yet."));
        m_stretches->addWidget(none);
    } else {
        for (size_t at = 0; at < i->record->stretches.size(); ++at) {
            const auto &st = i->record->stretches[at];
            auto *row = new QWidget;
            auto *layout = new QHBoxLayout(row);
            layout->setContentsMargins(0, 0, 0, 0);
            auto *text = wrapped("small");
            text->setText(str(judge::wordsOf(i->what, st)));
            auto *out = new QPushButton(tr("remove"));
            out->setProperty("link", true);
            connect(out, &QPushButton::clicked, this,
                    [this, at] { removeStretch(static_cast<int>(at)); });
            layout->addWidget(text, 1);
            layout->addWidget(out);
            m_stretches->addWidget(row);
        }
        auto *basis = wrapped("small");
        basis->setText(str(judge::wordsOf(*i->record)));
        m_stretches->addWidget(basis);
    }
    m_stretches->addStretch(1);
}

Sum TuneStation::sum() const
{
    const auto *i = item();
    if (i == nullptr || !i->record)
        return {};
    const auto why = judge::whyRecord(*i->record, session().car()->geometry.track_m);
    Sum sum;
    if (why.steps.empty())
        return sum;
    sum.result = str(why.result);
    for (const auto &s : why.steps)
        if (sum.parts.size() < 4)
            sum.parts.push_back({str(s.value), str(s.name)});
    sum.aside = str(why.aside);
    sum.unfold(why);
    return sum;
}

} // namespace badger::app
