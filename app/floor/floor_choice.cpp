// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/floor/floor_choice.h"

#include "app/widgets/text.h"

#include <QSignalBlocker>

namespace badger::app
{

FloorChoice::FloorChoice(Session &session, const char *name, QWidget *parent)
    : QComboBox(parent), m_session(session)
{
    setObjectName(name);
    setAccessibleName(tr("Floor"));
    setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    setMinimumContentsLength(12);
    connect(this, &QComboBox::activated, this, [this] {
        const auto id = currentData().toString();
        if (id.isEmpty()) {
            refresh(); // until there is a new one
            emit newWanted();
        } else {
            m_session.selectFloor({id.toStdString()});
        }
    });
}

void FloorChoice::refresh()
{
    const QSignalBlocker quiet(this);
    clear();
    for (const auto &f : m_session.workshop().floors)
        addItem(str(f.name), str(f.id.text));
    addItem(tr("new floor ..."), QString());
    if (const auto *floor = m_session.floor())
        setCurrentIndex(findData(str(floor->id.text)));
}

} // namespace badger::app
