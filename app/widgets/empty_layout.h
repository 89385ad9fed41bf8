// SPDX-License-Identifier: GPL-3.0-or-later
// How is a layout emptied while one of its own buttons may be calling?
#pragma once

#include <QLayout>
#include <QWidget>

namespace badger::app
{

/// Takes everything out. Widgets vanish at once and are deleted when control is back in the event
/// loop, since the click that led here may come from one of them.
inline void emptyLayout(QLayout &layout)
{
    while (auto *item = layout.takeAt(0)) {
        if (auto *widget = item->widget()) {
            widget->setObjectName({}); // whoever looks for that name means the one that comes
            widget->hide();
            widget->deleteLater();
        } else if (auto *inner = item->layout()) {
            emptyLayout(*inner);
        }
        delete item;
    }
}

} // namespace badger::app
