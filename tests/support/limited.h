// SPDX-License-Identifier: GPL-3.0-or-later
// Another program, ended where it takes more processor time than any right answer does. How busy
// the machine is otherwise is of no matter.
#pragma once

#include <QProcess>
#include <QStringList>
#include <sys/resource.h>

namespace badger::test
{

/// Usual calls take less than a tenth of this.
inline constexpr unsigned processorSeconds = 120;

/// Starts it and waits for its end; false where it could not be started.
inline bool runLimited(QProcess &process, const QString &program, const QStringList &arguments,
                       const QByteArray &input = {})
{
    process.setChildProcessModifier([] {
        const rlimit limit{processorSeconds, processorSeconds};
        setrlimit(RLIMIT_CPU, &limit);
    });
    process.start(program, arguments);
    if (!process.waitForStarted(-1))
        return false;
    process.write(input);
    process.closeWriteChannel();
    return process.waitForFinished(-1) || process.state() == QProcess::NotRunning;
}

} // namespace badger::test
