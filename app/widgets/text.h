// SPDX-License-Identifier: GPL-3.0-or-later
// From core's texts to the window's.
#pragma once

#include "core/base/medium.h"

#include <QString>
#include <string>

namespace badger::app
{

/// A text inside a label that holds links, which is the one place where markup is read.
inline QString markup(const QString &text)
{
    return QString::fromStdString(medium::xml(text.toStdString()));
}

inline QString str(const std::string &text)
{
    return QString::fromStdString(text);
}

} // namespace badger::app
