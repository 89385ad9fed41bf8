// SPDX-License-Identifier: GPL-3.0-or-later
// What a person changes on the wires from the row under the harness.
#include "app/widgets/text.h"
#include "app/wire/wire_edits.h"
#include "app/wire/wire_station.h"
#include "core/nets/drive_map.h"
#include "core/pins/planner.h"

#include <QComboBox>
#include <QLineEdit>

namespace badger::app
{

std::string WireStation::fullName(const QString &typed) const
{
    // "echo" or "D7" alone is enough where only one terminal of the car has that name.
    const auto text = typed.trimmed();
    const auto *car = session().car();
    if (car == nullptr)
        return text.toStdString();
    std::string only;
    for (const auto &name : allTerminals(*car, session().catalogue())) {
        if (name.compare(text, Qt::CaseInsensitive) == 0)
            return name.toStdString();
        if (name.section('.', 1).compare(text, Qt::CaseInsensitive) == 0) {
            if (!only.empty())
                return text.toStdString();
            only = name.toStdString();
        }
    }
    return only.empty() ? text.toStdString() : only;
}

void WireStation::takeWire()
{
    const int picked = m_harness->pickedWire();
    if (picked < 0)
        return addWire();
    editWiring(session(), tr("Change a wire"), [&](kit::Car &car) {
        auto &w = car.wires[static_cast<size_t>(picked)];
        w.from = fullName(m_from->text());
        w.to = fullName(m_to->text());
        w.colour = m_colour->currentText().toStdString();
    });
}

/// echo, Enter, D7, Enter: the wire is there, in a colour that suits, and the next may be typed.
void WireStation::addWire()
{
    kit::Wire wire{fullName(m_from->text()), fullName(m_to->text()), {}, {}};
    if (wire.from.empty() || wire.to.empty()) {
        m_harness->pickWire(-1);
        if (!wire.from.empty())
            return m_to->setFocus();
        m_from->setFocus();
        return emit session().said(tr("Type the two ends of the new wire, as echo and D7."), false);
    }
    const auto *car = session().car();
    wire.colour = m_colourChosen || car == nullptr
                      ? m_colour->currentText().toStdString()
                      : pins::colourFor({*car, session().catalogue()}, wire.from, wire.to);
    if (!editWiring(session(), tr("Add a wire"),
                    [&](kit::Car &edited) { edited.wires.push_back(wire); }))
        return;
    emit session().said(tr("%1 from %2 to %3.").arg(str(wire.colour), str(wire.from), str(wire.to)),
                        false);
    m_colourChosen = false;
    m_harness->pickWire(-1);
    m_from->clear();
    m_to->clear();
    m_from->setFocus();
}

void WireStation::removeWire()
{
    const int picked = m_harness->pickedWire();
    if (picked < 0)
        return emit session().said(tr("Pick the wire to remove."), false);
    editWiring(session(), tr("Remove a wire"),
               [picked](kit::Car &car) { car.wires.erase(car.wires.begin() + picked); });
    showWire(-1);
}

void WireStation::takePins()
{
    const auto &catalogue = session().catalogue();
    editWiring(session(), tr("Take the pins from the wires"),
               [&](kit::Car &car) { car = nets::withPinsFromWires(car, catalogue); });
}

void WireStation::jumperToggled(bool on)
{
    const auto split = kit::splitTerminal(m_jumperTerminal);
    editWiring(session(), on ? tr("Put a jumper on") : tr("Remove a jumper"), [&](kit::Car &car) {
        for (auto &i : car.parts) {
            if (i.id != split.instance)
                continue;
            std::erase(i.jumpers, split.terminal);
            if (on)
                i.jumpers.push_back(split.terminal);
        }
    });
}

} // namespace badger::app
