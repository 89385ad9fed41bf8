// SPDX-License-Identifier: GPL-3.0-or-later
// From core's texts to the window's.
#pragma once

#include "core/base/medium.h"
#include "core/base/say.h"
#include "core/units/quantity.h"

#include <QString>
#include <string>

namespace badger::app
{

/// Who sits before the window: the units of lengths that the View menu says, for all its parts.
Listener &listener();

inline QString str(const std::string &text)
{
    return QString::fromStdString(text);
}

/// A text or a quantity of core, in the window's units.
inline QString str(const Say &text)
{
    return QString::fromStdString(words(text, listener()));
}
inline QString str(const char *text)
{
    return QString::fromUtf8(text);
}

/// A length in the window's units, with as many digits as those of its kind stand with.
inline QString cm(double m, int decimals = 1)
{
    return str(units::fixed(m, units::Unit::Centimetre, decimals));
}

/// A number keeps its unit on its line: the space between them does not break.
QString together(QString text);

/// A text inside a label that holds links, which is the one place where markup is read.
inline QString markup(const QString &text)
{
    return QString::fromStdString(medium::xml(text.toStdString()));
}

} // namespace badger::app
