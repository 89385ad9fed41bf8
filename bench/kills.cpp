// SPDX-License-Identifier: GPL-3.0-or-later
// badger_kills [--kills N]: how much work does a kill cost? A child edits the demo at some pace and
// is killed without warning; what it left is compared with what it had done by then.
//
// Prints a line a kill and ends with status 1 when one of them cost more than two seconds.
#include "app/document/edits.h"
#include "app/document/recovery.h"

#include <QCommandLineParser>
#include <QCoreApplication>
#include <QElapsedTimer>
#include <QFile>
#include <QProcess>
#include <QTemporaryDir>
#include <QTextStream>
#include <QTimer>
#include <csignal>
#include <random>

using namespace badger;

namespace
{

constexpr qint64 mostLost_ms = 2000;

/// Edits a note for ever, one step each `pace_ms`, and says each on its output with its time.
int edit(QCoreApplication &application, const QString &folder, int pace_ms, const QString &log)
{
    app::Document document;
    document.startDemo();
    app::Recovery recovery(document, folder);
    recovery.start();
    QFile out(log);
    if (!out.open(QIODevice::WriteOnly | QIODevice::Unbuffered))
        return 2;
    QElapsedTimer clock;
    clock.start();
    int n = 0;
    QTimer timer;
    QObject::connect(&timer, &QTimer::timeout, &application, [&] {
        ++n;
        (void)app::changeCar(document, "edit", Id<kit::Car>{derivedIdText("car", "Avocet")},
                             [&](kit::Car &car) { car.team = std::to_string(n); });
        out.write(QByteArray::number(n) + " " +
                  QByteArray::number(QDateTime::currentMSecsSinceEpoch()) + "\n");
    });
    timer.start(pace_ms);
    return QCoreApplication::exec();
}

struct Kill {
    int done = 0;
    int rescued = 0;
    qint64 lost_ms = 0;
};

/// What the child had done and what it left behind.
Kill killOnce(const QString &program, int pace_ms, int after_ms)
{
    QTemporaryDir folder;
    const auto log = folder.filePath("log");
    QProcess child;
    child.start(program, {"--edit", folder.filePath("recovery"), "--pace", QString::number(pace_ms),
                          "--log", log});
    child.waitForStarted();
    child.waitForFinished(after_ms);
    ::kill(pid_t(child.processId()), SIGKILL);
    const auto killed_ms = QDateTime::currentMSecsSinceEpoch();
    child.waitForFinished();

    Kill k;
    app::Document document;
    const auto left = app::Recovery(document, folder.filePath("recovery")).findLeft();
    if (!left.empty())
        k.rescued = std::stoi(left.front().workshop.car("Avocet")->team);
    QFile out(log);
    if (!out.open(QIODevice::ReadOnly))
        return k;
    qint64 firstLost_ms = killed_ms;
    for (const auto &line : out.readAll().split('\n')) {
        const auto parts = line.split(' ');
        if (parts.size() != 2)
            continue;
        k.done = parts[0].toInt();
        if (k.done > k.rescued)
            firstLost_ms = std::min(firstLost_ms, parts[1].toLongLong());
    }
    k.lost_ms = killed_ms - firstLost_ms;
    return k;
}

} // namespace

int main(int argc, char **argv)
{
    QCoreApplication application(argc, argv);
    QCommandLineParser options;
    options.addHelpOption();
    options.addOptions({{"kills", "How many.", "N", "40"},
                        {"edit", "Be the child that edits.", "folder"},
                        {"pace", "Milliseconds from edit to edit.", "ms", "100"},
                        {"log", "Where the child writes what it did.", "file"}});
    options.process(application);
    if (options.isSet("edit"))
        return edit(application, options.value("edit"), options.value("pace").toInt(),
                    options.value("log"));
    const int paces_ms[] = {15, 40, 90, 200, 450, 900, 1600, 3000};
    std::mt19937 random(1);
    QTextStream out(stdout);
    qint64 most_ms = 0;
    for (int i = 0; i < options.value("kills").toInt(); ++i) {
        const int pace_ms = paces_ms[i % 8];
        const int after_ms = 1200 + int(random() % 4000);
        const auto k = killOnce(QCoreApplication::applicationFilePath(), pace_ms, after_ms);
        most_ms = std::max(most_ms, k.lost_ms);
        out << "kill " << i + 1 << ": an edit each " << pace_ms << " ms, killed after " << after_ms
            << " ms, " << k.done << " edits done, " << k.rescued << " rescued, " << k.lost_ms
            << " ms lost\n";
        out.flush();
    }
    out << "most_lost_ms=" << most_ms << '\n';
    return most_ms <= mostLost_ms ? 0 : 1;
}
