// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/text.h"

#include <QRegularExpression>

namespace badger::app
{

Listener &listener()
{
    static Listener window;
    return window;
}

QString together(QString text)
{
    static const QRegularExpression unit(
        QStringLiteral("(?<=\\d) (?=(?:V|A|mA|W|ohm|kohm|cm|mm|in|m|s|ms|us|g|kg|h|m/s)\\b|%)"));
    return text.replace(unit, QString(QChar(QChar::Nbsp)));
}

} // namespace badger::app
