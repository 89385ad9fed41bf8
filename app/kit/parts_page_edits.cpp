// SPDX-License-Identifier: GPL-3.0-or-later
// What the catalogue page changes: the own parts of the workshop.
#include "app/document/edits.h"
#include "app/kit/parts_page.h"
#include "app/widgets/text.h"
#include "core/io/shipped.h"

#include <QLineEdit>

namespace badger::app
{

void PartsPage::editOwn(const QString &text, const std::function<void(parts::Part &)> &edit)
{
    const bool done = m_session.edit(text, [&](workshop::Workshop &w) {
        for (auto &p : w.parts)
            if (p.id == m_chosen.toStdString())
                edit(p);
    });
    if (!done)
        showPart();
}

void PartsPage::editFigure(const std::string &key, const QString &what,
                           const std::function<void(parts::Figure &)> &edit)
{
    editOwn(what, [&](parts::Part &p) {
        const bool isNew = p.figures.count(key) == 0;
        auto &f = p.figures[key];
        if (isNew)
            f.source = "entered at the bench";
        edit(f);
        if (isNew) // one number is all that is known of it
            f.low = f.high = f.typical = std::max({f.low, f.high, f.typical});
    });
}

void PartsPage::copyPart(bool forThisCar)
{
    const auto *part = m_session.catalogue().find(m_chosen.toStdString());
    if (part == nullptr)
        return;
    auto copy = *part;
    auto base = copy.id;
    for (const auto *end : {"-own"})
        if (const auto at = base.find(end); at != std::string::npos)
            base = base.substr(0, at);
    int n = 1;
    do
        copy.id = base + (n == 1 ? std::string("-own") : "-own-" + std::to_string(n));
    while (++n, m_session.catalogue().find(copy.id) != nullptr);
    copy.name = (copy.name + (n == 2 ? ", our own" : ", our own " + std::to_string(n - 1)));
    if (const auto at = part->name.find(", our own"); at != std::string::npos)
        copy.name = part->name.substr(0, at) + ", our own " + std::to_string(n - 1);
    const auto from = m_chosen.toStdString();
    m_chosen = str(copy.id);
    m_session.edit(tr("Copy a part"), [&](workshop::Workshop &w) {
        w.parts.push_back(copy);
        if (!forThisCar)
            return;
        for (auto &car : w.cars)
            if (car.id == m_session.carId())
                for (auto &i : car.parts)
                    if (i.partId == from)
                        i.partId = copy.id;
    });
}

void PartsPage::deletePart()
{
    const auto id = m_chosen.toStdString();
    const auto cars = users(id);
    if (!cars.isEmpty())
        return emit m_session.said(
            tr("It is fitted to %1: exchange it there first.").arg(cars.join(", ")), true);
    m_session.edit(tr("Delete a part"), [&](workshop::Workshop &w) {
        w.parts.eraseIf([&](const parts::Part &p) { return p.id == id; });
    });
}

} // namespace badger::app
