// SPDX-License-Identifier: GPL-3.0-or-later
// Plain words that wrap.
#pragma once

#include <QLabel>

namespace badger::app
{

inline QLabel *wrapped(const char *property = nullptr)
{
    auto *label = new QLabel;
    label->setWordWrap(true);
    label->setTextFormat(Qt::PlainText);
    if (property != nullptr)
        label->setProperty(property, true);
    return label;
}

} // namespace badger::app
