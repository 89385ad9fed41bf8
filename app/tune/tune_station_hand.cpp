// SPDX-License-Identifier: GPL-3.0-or-later
// Beside the picture: what the hand does next, and what it has kept.
#include "app/tune/tune_station.h"
#include "app/tune/wrapped.h"
#include "app/widgets/empty_layout.h"
#include "app/widgets/text.h"
#include "core/judge/tune_sums.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>

namespace badger::app
{

using tune::What;
using units::Dimension;
using units::Unit;

void TuneStation::connectHand()
{
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
}

/// Air and pack, as they are while it is measured.
QHBoxLayout *TuneStation::makeConditions()
{
    auto *conditions = new QHBoxLayout;
    const auto add = [&](const QString &name, QuantityField *field, const char *object) {
        auto *label = new QLabel(name);
        label->setProperty("small", true);
        label->setBuddy(field);
        field->setObjectName(object);
        field->setAccessibleName(name);
        field->setMinimumWidth(qRound(44 * theme().scale()));
        conditions->addWidget(label);
        conditions->addWidget(field, 1);
    };
    m_air = new QuantityField(Dimension::Temperature, Unit::Celsius);
    m_air->setHint("20 °C");
    m_battery = new QuantityField(Dimension::Voltage, Unit::Volt);
    m_battery->setHint("7.6 V");
    add(tr("Air"), m_air, "benchAir");
    add(tr("Pack"), m_battery, "benchBattery");

    return conditions;
}

QWidget *TuneStation::makeHand()
{
    // On a small screen, or with large type, the hand is longer than the picture is high.
    auto *around = new QScrollArea;
    around->setWidgetResizable(true);
    around->setFrameShape(QFrame::NoFrame);
    around->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    around->setMinimumWidth(qRound(200 * theme().scale()));
    around->setMaximumWidth(qRound(256 * theme().scale()));
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
    m_typed->installEventFilter(this);
    layout->addWidget(m_typed);
    layout->addLayout(makeConditions());
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
    connectHand();
    return around;
}

void TuneStation::refreshHand()
{
    const auto *i = item();
    const auto *s = step();
    const bool recording = m_live->isRecording();
    const bool table = !m_table.stretches.empty();
    const bool waits = m_pending || table;
    const bool board = i && s && s->entry == tune::Entry::Board;
    m_live->setVisible(board || recording || m_pending);
    const auto several = static_cast<int>(m_protocol.size());
    m_stepTitle->setText(
        table         ? tr("Before it is kept")
        : several > 1 ? (s && s->isOptional ? tr("Step %1 of %2, if wanted") : tr("Step %1 of %2"))
                            .arg(m_step + 1)
                            .arg(several)
                      : tr("At the bench"));
    m_back->setVisible(m_step > 0 && !table);
    m_on->setVisible(m_step + 1 < several && !table);
    m_stepText->setText(table ? m_table.words : s ? str(s->text) : QString());
    m_caution->setText(s ? str(s->caution) : QString());
    m_caution->setVisible(s && !s->caution.empty() && !table);
    m_record->setVisible(board && !waits);
    m_record->setEnabled(m_live->listener().state() == PortListener::State::Open || recording);
    m_record->setText(recording ? tr("Stop recording (space)") : tr("Record (space)"));
    m_record->setToolTip(m_record->isEnabled() ? QString() : tr("Listen to a board first."));
    m_keep->setVisible(waits);
    m_keep->setText(table ? tr("&Keep these") : tr("&Keep it"));
    m_discard->setVisible(waits);
    m_typed->setVisible(i && !waits && !recording);
    if (s)
        m_typed->setPlaceholderText(
            s->entry == tune::Entry::Board ? tr("or type %1").arg(str(s->hint)) : str(s->hint));
    QString use;
    if (i && i->record && i->verdict.good) {
        if (i->what == What::Ruler)
            use = tr("&Use in the stopping budget (F7)");
        else if (i->what == What::Speed)
            use = tr("&Use in the stopping budget (F7)");
        else if (i->what == What::Horn && lacksNow(*i) != *i->record->chosen)
            use = tr("&Use in the car's horn (F7)");
        else if (!takenOver().changes.empty())
            use = tr("&Use in the program (F7)");
        else if ((i->what == What::Surfaces || i->what == What::Lamp) && i->record->chosen)
            use = tr("&Use the computed line (F7)");
    }
    m_use->setVisible(!use.isEmpty() && !waits);
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

} // namespace badger::app
