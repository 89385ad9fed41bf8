// SPDX-License-Identifier: GPL-3.0-or-later
// The numbers under the car: which there are, and how each came about.
#include "app/kit/kit_station.h"

#include "app/widgets/choice.h"
#include "app/widgets/empty_layout.h"
#include "app/widgets/text.h"
#include "core/mechanics/horn.h"
#include "core/units/quantity.h"

#include <QHBoxLayout>
#include <QPushButton>

namespace badger::app
{

using units::Unit;

void KitStation::refreshNumbers()
{
    emptyLayout(*m_numbers);
    const auto *j = session().current();
    if (j == nullptr)
        return;
    const auto add = [this](const QString &key, const QString &text) {
        auto *b = new QPushButton(text);
        b->setObjectName("number:" + key);
        b->setProperty("link", true);
        b->setCursor(Qt::PointingHandCursor);
        b->setAccessibleDescription(tr("shows its arithmetic below"));
        connect(b, &QPushButton::clicked, this, [this, key] { pickNumber(key); });
        m_numbers->addWidget(b);
    };
    const auto charge = kit::Charge(m_charge->index());
    const auto &motors = j->kit.power.at(charge);
    if (!motors.empty()) {
        const auto &m = motors.front();
        add("motor", tr(m.servo ? "%1 at the servos" : "%1 at full duty")
                         .arg(str(units::quantity(m.cap.fullDutyMean_V, Unit::Volt, 2))));
        if (!m.servo)
            add("cap", tr("%1 of 255").arg(m.cap.count));
        if (m.speedFull_mps)
            add("speed", str(units::fixed(*m.speedFull_mps, Unit::MetrePerSecond, 2)));
    }
    if (j->kit.power.runTime)
        add("run-time", tr("%1 h").arg(j->kit.power.runTime->typical_h, 0, 'f', 1));
    if (const auto &b = j->kit.balance; b.mass_kg > 0.0)
        add("balance", (b.withoutMass.empty() ? QString() : tr("at least ")) +
                           str(units::quantity(b.mass_kg, Unit::Gram, 0)) +
                           (b.axleShare && *b.axleShare >= 0.0 && *b.axleShare <= 1.0
                                ? tr(", %1 % on wheels").arg(qRound(*b.axleShare * 100.0))
                            : b.axleShare ? tr(", it tips")
                                          : QString()));
    for (const auto &c : j->kit.covers) {
        const auto from = sense::fullCoverFrom_m(c.swept);
        if (!c.ahead || !from)
            continue;
        add("cover",
            *from ? tr("covered from %1").arg(str(units::quantity(**from, Unit::Millimetre, 0)))
                  : tr("one side never covered"));
        break;
    }
    const auto *led = j->kit.power.leds.empty() ? nullptr : &j->kit.power.leds.front();
    for (const auto &l : j->kit.power.leds)
        if (str(l.instance) == m_plan->picked())
            led = &l;
    if (led != nullptr)
        add("led:" + str(led->instance),
            str(units::quantity(led->answer.standard_ohm, Unit::Ohm, 1)));
    for (const auto &divider : j->kit.power.dividers)
        add("divider:" + str(divider.instance),
            tr("%1 to the pin").arg(str(units::quantity(divider.out_V, Unit::Volt, 2))));
    const auto *fitted = session().car()->instance(m_plan->picked().toStdString());
    if (fitted != nullptr && fitted->hornError_rad)
        add("horn:" + str(fitted->id), tr("horn"));
    m_numbers->addStretch(1);
}

void KitStation::pickNumber(const QString &key)
{
    m_number = key;
    emit sumChanged();
}

Derivation KitStation::pickedDerivation() const
{
    const auto *car = session().car();
    const auto *j = session().current();
    if (car == nullptr || j == nullptr)
        return {};
    const auto &catalogue = session().catalogue();
    const auto charge = kit::Charge(m_charge->index());
    const auto &motors = j->kit.power.at(charge);
    const bool byDefault = m_number.isEmpty() && m_tree->picked().isEmpty();
    if (m_number == "balance")
        return kit::whyBalance({*car, catalogue});
    if (m_number == "cover")
        for (const auto &c : j->kit.covers)
            if (c.ahead)
                return sense::whyFullCover(c.swept);
    if (!motors.empty() && (m_number == "motor" || byDefault))
        return power::whyFullDuty(motors.front(), charge);
    if (!motors.empty() && m_number == "cap")
        return power::whyCap(motors.front(), charge);
    if (!motors.empty() && m_number == "speed")
        return power::whySpeed(motors.front(), {*car, catalogue});
    if (m_number == "run-time" && j->kit.power.runTime)
        return j->kit.power.runTime->why;
    for (const auto &l : j->kit.power.leds)
        if (m_number == "led:" + str(l.instance))
            return power::whyLed(l);
    for (const auto &divider : j->kit.power.dividers)
        if (m_number == "divider:" + str(divider.instance))
            return power::whyDivider(divider);
    if (m_number.startsWith("horn:"))
        if (const auto *servo = car->instance(m_number.mid(5).toStdString());
            servo && servo->hornError_rad)
            if (const auto *teeth = catalogue.find(servo->partId)->figure("spline_teeth"))
                return mechanics::whyHorn(int(std::lround(teeth->typical)), *servo->hornError_rad);
    return power::why(j->kit.power.tree, {*car, catalogue}, m_tree->picked().toStdString(),
                      m_tree->quantity(),
                      {charge, power::Load(m_load->index()), power::Case(m_case->index())});
}

Sum KitStation::ownSum() const
{
    const auto d = pickedDerivation();
    Sum sum;
    sum.result = str(d.result);
    sum.aside = str(d.aside);
    for (const auto &s : d.steps)
        sum.parts.push_back(
            {str(s.value) + (s.how.empty() ? QString() : " " + str(s.how)), str(s.name)});
    sum.unfold(d);
    if (!d.title.empty() && !sum.derivation.empty())
        sum.derivation.insert(sum.derivation.begin(),
                              {str(d.title), str(d.result), {}, str(d.aside)});
    return sum;
}

} // namespace badger::app
