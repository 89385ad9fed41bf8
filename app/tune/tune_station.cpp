// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/tune/tune_station.h"

#include "app/document/edits.h"
#include "app/tune/item_tag.h"
#include "app/tune/wrapped.h"
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
#include <cmath>

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
    middle->addWidget(m_picture, 3);
    middle->addWidget(makeHand(), 2);
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
    add(tr("Put the line back where the readings have it"), QKeySequence(),
        &TuneStation::useComputedLine);
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
        m_table = {};
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
        m_table = {};
        m_step = 0;
        m_anew = false;
        // What is still wanted; else what the car needed; else whatever there is.
        const auto &items = j->tune.items;
        const auto firstOf = [&](auto want) {
            return std::find_if(items.begin(), items.end(), want);
        };
        auto first = firstOf([](const judge::BenchItem &i) { return i.needed && !i.isDone(); });
        if (first == items.end())
            first = firstOf([](const judge::BenchItem &i) { return i.needed; });
        if (first == items.end())
            first = items.begin();
        m_picked = first == items.end() ? QString() : keyOf(*first);
    }
    refreshItems();
    if (const auto *i = item()) {
        m_protocol = tune::protocolOf(i->what);
        m_live->prefer(str(i->instance), unitOf(i->what));
        m_live->standin().showFor(i->what);
    } else {
        m_protocol.clear();
    }
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
        const auto table = tableRecord();
        c.record = table ? table : i->record;
        c.pending = m_pending;
        c.earlier = i->earlier;
        means(c, *i);
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

void TuneStation::means(BenchPicture::Content &c, const judge::BenchItem &i) const
{
    if (!i.record)
        return;
    const kit::Assembly car(*session().car(), session().catalogue());
    const auto *program = session().program();
    if (i.what == What::Air && i.record->chosen) {
        if (auto look = judge::echoLook(car, program, i.instance, *i.record->chosen))
            c.echo = std::move(*look);
    } else if (i.what == What::Horn) {
        c.sweeps = judge::sweepLooks(car, program, i.instance, *i.record);
        const auto *fitted = car.find(i.instance);
        const auto *teeth = fitted ? fitted->part->figure("spline_teeth") : nullptr;
        c.teeth = teeth ? static_cast<int>(std::lround(teeth->typical)) : 0;
    } else if (i.what == What::Line) {
        c.edge = judge::edgeLook(car, program);
    }
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

Sum TuneStation::sum() const
{
    const auto *i = item();
    if (i == nullptr || !i->record)
        return {};
    const auto why = judge::whyRecord(*i->record, {*session().car(), session().catalogue()},
                                      session().program());
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
