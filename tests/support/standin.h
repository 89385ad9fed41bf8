// SPDX-License-Identifier: GPL-3.0-or-later
// The stand-in for a board, as a program of its own.
#pragma once

#include "support/places.h"

#include <QProcess>

namespace badger::test
{

/// Runs until it is killed or goes out of scope.
class Standin
{
public:
    explicit Standin(const QString &link, const QStringList &more = {})
    {
        m_process.start(places::standin, QStringList{"--link", link} + more);
        m_process.waitForStarted();
        m_process.waitForReadyRead(10000); // its first line is the path
    }
    ~Standin() { kill(); }
    void kill()
    {
        m_process.kill();
        m_process.waitForFinished();
    }
    void say(const QByteArray &line) { m_process.write(line + "\n"); }
    QString path() { return QString::fromUtf8(m_process.readLine()).trimmed(); }
    QProcess &process() { return m_process; }

private:
    QProcess m_process;
};

} // namespace badger::test
