// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/wire/wire_edits.h"

#include "app/document/edits.h"
#include "app/widgets/text.h"
#include "core/revisions/history.h"

#include <QDate>

namespace badger::app
{

bool editWiring(Session &session, const QString &text,
                const std::function<void(kit::Car &)> &change)
{
    return session.editCar(text, [&](kit::Car &car) {
        change(car);
        revisions::edited(car);
    });
}

std::string today()
{
    return QDate::currentDate().toString(Qt::ISODate).toStdString();
}

QStringList allTerminals(const kit::Car &car, const parts::Catalogue &catalogue)
{
    QStringList names;
    for (const auto &fitted : car.parts)
        if (const auto *part = catalogue.find(fitted.partId))
            for (const auto &t : part->terminals)
                names << str(fitted.id + "." + t.name);
    return names;
}

} // namespace badger::app
