// SPDX-License-Identifier: GPL-3.0-or-later
// From core's texts to the window's.
#pragma once

#include <QString>
#include <string>

namespace badger::app
{

inline QString str(const std::string &text)
{
    return QString::fromStdString(text);
}

} // namespace badger::app
