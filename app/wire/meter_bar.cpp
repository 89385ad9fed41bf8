// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/wire/meter_bar.h"

#include "app/widgets/choice.h"
#include "app/widgets/text.h"
#include "core/units/quantity.h"

#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QSignalBlocker>
#include <cmath>

namespace badger::app
{

using circuit::Level;
using circuit::Seen;

namespace
{

constexpr double turns_V = 0.3; ///< less does not turn a wheel: a choice of ours

QString volts(double v)
{
    return str(units::quantity(v, units::Unit::Volt, std::abs(v) < 10.0 ? 2 : 1));
}

QString amps(double a)
{
    a = std::abs(a);
    return a < 0.0995 ? str(units::quantity(a, units::Unit::Milliampere, a < 0.00995 ? 1 : 0))
                      : str(units::quantity(a, units::Unit::Ampere, 2));
}

QString levelWord(Level level)
{
    return level == Level::High  ? QObject::tr("set high")
           : level == Level::Low ? QObject::tr("set low")
                                 : QObject::tr("lets go");
}

QString seenWord(Seen seen)
{
    switch (seen) {
    case Seen::Low:
        return QObject::tr("low");
    case Seen::High:
        return QObject::tr("high");
    case Seen::Between:
        return QObject::tr("neither high nor low");
    case Seen::Open:
        return QObject::tr("open");
    }
    return {};
}

QString turnWord(const circuit::MotorReading &m)
{
    if (std::abs(m.volts_V) < turns_V)
        return QObject::tr("stands");
    if (m.side == kit::Side::None)
        return QObject::tr("turns");
    return m.volts_V > 0.0 ? QObject::tr("forward") : QObject::tr("backward");
}

} // namespace

MeterBar::MeterBar(const Theme &theme, QWidget *parent) : QWidget(parent), m_theme(theme)
{
    auto *row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(theme.space(2));
    m_on = new QPushButton(tr("&Meter"));
    m_on->setObjectName("meterOn");
    m_on->setProperty("segment", true); // it stays down
    m_on->setCheckable(true);
    m_on->setToolTip(tr("Volts, levels and amps of every terminal and wire, in a state you set"));
    m_charge = new QComboBox;
    m_charge->setObjectName("meterCharge");
    m_charge->addItems({tr("fresh cells"), tr("nominal cells"), tr("near empty")});
    m_charge->setCurrentIndex(1);
    m_open = new QCheckBox(tr("switch open"));
    m_open->setObjectName("meterOpen");
    m_held = new QCheckBox(tr("wheels held"));
    m_held->setObjectName("meterHeld");
    m_terminal = new QLabel;
    m_terminal->setObjectName("meterTerminal");
    m_terminal->setTextFormat(Qt::PlainText);
    m_level = new Choice({tr("low"), tr("high"), tr("open")});
    m_level->setObjectName("meterLevel");
    m_trouble = new QLabel;
    m_trouble->setObjectName("meterTrouble");
    m_trouble->setTextFormat(Qt::PlainText);
    row->addWidget(m_charge);
    row->addWidget(m_open);
    row->addWidget(m_held);
    row->addSpacing(theme.space(2));
    row->addWidget(m_terminal);
    row->addWidget(m_level);
    row->addStretch(1);
    row->addWidget(m_trouble);
    hide();
    connect(m_on, &QPushButton::toggled, this, [this](bool on) {
        setVisible(on);
        solve();
    });
    connect(m_charge, &QComboBox::activated, this, [this](int index) {
        m_setting.charge = static_cast<kit::Charge>(index);
        solve();
    });
    connect(m_open, &QCheckBox::clicked, this, [this](bool open) {
        m_setting.switched = !open;
        solve();
    });
    connect(m_held, &QCheckBox::clicked, this, [this](bool held) {
        m_setting.held = held;
        solve();
    });
    connect(m_level, &Choice::chosen, this, &MeterBar::setLevel);
}

bool MeterBar::isOn() const
{
    return m_on->isChecked();
}

void MeterBar::show(const kit::Car &car, const parts::Catalogue &catalogue)
{
    if (!(car.id == m_car.id)) {
        m_setting.levels.clear();
        m_picked.clear();
    }
    m_car = car;
    m_catalogue = catalogue;
    m_probe.reset();
    if (isOn()) {
        m_probe.emplace(m_car, m_catalogue);
        m_probe->set(m_setting);
    }
    refresh();
}

void MeterBar::solve()
{
    if (!isOn())
        m_probe.reset();
    else if (!m_probe)
        m_probe.emplace(m_car, m_catalogue);
    if (m_probe)
        m_probe->set(m_setting);
    refresh();
    emit changed();
}

void MeterBar::pick(const std::string &terminal)
{
    m_picked = terminal;
    refresh();
}

void MeterBar::toggle(const std::string &terminal)
{
    if (!m_probe || !m_probe->at(terminal).given)
        return;
    auto &level = m_setting.levels[terminal];
    level = m_probe->at(terminal).given == Level::Low ? Level::High : Level::Low;
    m_picked = terminal;
    solve();
}

void MeterBar::setLevel(int index)
{
    if (m_picked.empty())
        return;
    m_setting.levels[m_picked] = index == 0 ? Level::Low : index == 1 ? Level::High : Level::Open;
    solve();
}

void MeterBar::refresh()
{
    const auto given = m_probe && !m_picked.empty() ? m_probe->at(m_picked).given : std::nullopt;
    m_level->setVisible(given.has_value());
    if (given)
        m_level->setIndex(*given == Level::Low ? 0 : *given == Level::High ? 1 : 2);
    const bool links = std::any_of(m_car.parts.begin(), m_car.parts.end(), [&](const auto &i) {
        const auto *part = m_catalogue.find(i.partId);
        return part && part->kind == parts::Kind::Link && part->shape == "switch";
    });
    m_open->setVisible(links);
    m_terminal->setText(given                         ? str(m_picked)
                        : m_probe && m_picked.empty() ? tr("Double-click a pin to make it high.")
                                                      : QString());
    m_trouble->setText(m_probe && !m_probe->solved()
                           ? tr("No steady state: something switches itself off.")
                           : QString());
}

std::optional<HarnessMeter> MeterBar::shown() const
{
    if (!m_probe || !m_probe->solved())
        return std::nullopt;
    HarnessMeter meter;
    meter.switchOpen = !m_setting.switched;
    for (const auto &fitted : m_car.parts)
        if (const auto *part = m_catalogue.find(fitted.partId))
            for (const auto &t : part->terminals) {
                const auto name = fitted.id + "." + t.name;
                const auto r = m_probe->at(name);
                if (r.volts_V && t.role != parts::Role::Ground)
                    meter.volts[name] = volts(*r.volts_V);
                if (r.given && *r.given != Level::Low)
                    meter.set[name] = *r.given == Level::High;
            }
    for (const auto &m : m_probe->motors())
        meter.parts[m.motor] =
            (m_setting.held && std::abs(m.volts_V) >= turns_V ? tr("held") : turnWord(m)) +
            (std::abs(m.volts_V) < turns_V ? QString() : ", " + amps(m.amps_A));
    return meter;
}

QString MeterBar::words(const std::string &terminal) const
{
    if (!m_probe || terminal.empty())
        return {};
    const auto r = m_probe->at(terminal);
    QStringList words;
    if (r.given)
        words << levelWord(*r.given);
    if (r.seen)
        words << seenWord(*r.seen);
    words << (r.volts_V ? volts(*r.volts_V) : tr("on nothing"));
    return words.join(" · ");
}

QString MeterBar::wireWords(size_t wire) const
{
    if (!m_probe || wire >= m_probe->wires_A().size())
        return {};
    const auto &current_A = m_probe->wires_A()[wire];
    if (!current_A)
        return tr("one of several ways");
    return amps(*current_A);
}

} // namespace badger::app
