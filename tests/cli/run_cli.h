// SPDX-License-Identifier: GPL-3.0-or-later
// Runs the real command-line program.
#pragma once

#include "support/limited.h"
#include "support/places.h"

#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QString>
#include <QStringList>

namespace badger::test
{

struct Ran {
    int status = -1;
    QString out;
    QString err;
    QJsonObject json() const { return QJsonDocument::fromJson(out.toUtf8()).object(); }
};

inline Ran cli(const QStringList &arguments)
{
    QProcess p;
    runLimited(p, places::cli, arguments);
    return {p.exitStatus() == QProcess::NormalExit ? p.exitCode() : -1,
            QString::fromUtf8(p.readAllStandardOutput()),
            QString::fromUtf8(p.readAllStandardError())};
}

inline const QString demoFile = places::demo;

} // namespace badger::test
