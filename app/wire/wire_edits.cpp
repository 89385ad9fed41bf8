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

} // namespace badger::app
