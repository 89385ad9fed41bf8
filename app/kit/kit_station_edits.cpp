// SPDX-License-Identifier: GPL-3.0-or-later
// What the Kit station changes in the car.
#include "app/kit/kit_station.h"

#include "app/document/edits.h"
#include "app/widgets/text.h"
#include "core/edit/kit_edits.h"

#include <QLineEdit>

namespace badger::app
{

bool KitStation::edit(const QString &text, const std::function<void(kit::Car &)> &change, int drag)
{
    if (session().editCar(text, change, drag))
        return true;
    refresh(); // a field goes back to what is true
    return false;
}

void KitStation::setMission(const std::function<void(kit::Mission &)> &change)
{
    edit(tr("Set the mission"), [&](kit::Car &car) {
        if (!car.mission)
            car.mission.emplace();
        change(*car.mission);
    });
}

void KitStation::mendGap(const QString &link)
{
    const auto &catalogue = session().catalogue();
    const auto *car = session().car();
    if (car == nullptr)
        return;
    if (link.startsWith("fit:"))
        return addPart(link.mid(4));
    if (link == "off:") {
        if (const auto *board = kit::Assembly(*car, catalogue).first(parts::Kind::Board))
            removePart(str(board->id));
        return;
    }
    edit(tr("Put the ranger on the servo"), [&](kit::Car &edited) {
        const auto *servo = kit::Assembly(edited, catalogue).first(parts::Kind::Servo);
        for (auto &i : edited.parts) {
            const auto *p = catalogue.find(i.partId);
            if (servo == nullptr || p == nullptr || p->kind != parts::Kind::Ranger)
                continue;
            i.carriedBy = servo->id;
            i.mount.reset(); // it sits where the servo sits
            break;
        }
    });
}

void KitStation::movePart(const QString &instance, double setBack_m, double offset_m, int drag)
{
    edit(
        tr("Move %1").arg(instance),
        [&](kit::Car &car) {
            for (auto &i : car.parts) {
                if (i.id != instance.toStdString())
                    continue;
                if (!i.mount)
                    i.mount.emplace();
                i.mount->setBack_m = setBack_m;
                i.mount->offset_m = offset_m;
            }
        },
        drag);
}

void KitStation::addPart(const QString &partId)
{
    if (session().car() == nullptr)
        return emit session().said(tr("Add a car first: Ctrl+Shift+N."), true);
    std::string id;
    edit(tr("Add a part"), [&](kit::Car &car) {
        id = edit::addPart(car, session().catalogue(), partId.toStdString());
    });
    if (id.empty())
        return;
    m_plan->pick(str(id));
    refresh();
    pickPart(str(id));
    m_plan->setFocus();
}

void KitStation::addTyped()
{
    const auto typed = m_addField->text().trimmed();
    const parts::Part *found = nullptr;
    int matches = 0;
    for (const auto &p : session().catalogue().parts()) {
        if (str(p.name).compare(typed, Qt::CaseInsensitive) == 0 || str(p.id) == typed) {
            found = &p;
            matches = 1;
            break;
        }
        if (!typed.isEmpty() && str(p.name).contains(typed, Qt::CaseInsensitive)) {
            ++matches;
            found = found ? found : &p;
        }
    }
    if (matches != 1)
        return emit session().said(
            matches == 0
                ? tr("No part is called '%1'.").arg(typed)
                : tr("%1 parts have '%2' in their name: type more.").arg(matches).arg(typed),
            true);
    m_addField->clear();
    addPart(str(found->id));
}

void KitStation::removePart(const QString &instance)
{
    edit::Taken taken;
    const bool done = edit(tr("Remove %1").arg(instance), [&](kit::Car &car) {
        taken = edit::removePart(car, session().catalogue(), instance.toStdString());
    });
    if (const auto words = edit::words(taken); done && !words.empty())
        emit session().said(tr("%1: %2. Undo brings all back.").arg(instance, str(words)), false);
}

void KitStation::exchange(const QString &instance, const QString &partId, int cells)
{
    edit::Taken taken;
    const bool done = edit(tr("Exchange %1").arg(instance), [&](kit::Car &car) {
        taken = edit::exchangePart(car, session().catalogue(), instance.toStdString(),
                                   partId.toStdString());
        for (auto &i : car.parts)
            if (i.id == instance.toStdString() && cells > 0)
                i.cellsInSeries = cells;
    });
    if (const auto words = edit::words(taken); done && !words.empty())
        emit session().said(tr("%1: %2. Undo brings all back.").arg(instance, str(words)), false);
}

} // namespace badger::app
