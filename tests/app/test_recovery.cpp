// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/document/edits.h"
#include "app/document/recovery.h"
#include "support/fixture.h"

#include <QDir>
#include <QFile>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <csignal>
#include <sys/wait.h>
#include <unistd.h>

using namespace badger;
using app::Document;
using app::Recovery;

namespace
{

void rename(Document &d, const std::string &team)
{
    if (!app::changeCar(d, "Rename the team", "Avocet", [&](kit::Car &c) { c.team = team; }))
        qFatal("the edit is refused");
}

int files(const QString &folder)
{
    return int(QDir(folder).entryList(QDir::Files | QDir::Hidden).size());
}

} // namespace

class TestRecovery final : public QObject
{
    Q_OBJECT
private slots:
    void writesAMomentAfterAnEditAndForgetsWhenSaved()
    {
        QTemporaryDir dir;
        Document d;
        d.startDemo();
        Recovery r(d, dir.filePath("recovery"));
        r.start();
        rename(d, "Mara & Jun");
        QTRY_VERIFY_WITH_TIMEOUT(files(dir.filePath("recovery")) > 0, 10000);
        VERIFY_OK(d.saveAs(dir.filePath("w.json")));
        QTRY_COMPARE(files(dir.filePath("recovery")), 0);
    }

    void undoneWorkNeedsNoRescue()
    {
        QTemporaryDir dir;
        Document d;
        d.startDemo();
        Recovery r(d, dir.filePath("recovery"));
        r.start();
        rename(d, "x");
        r.writeNow();
        QVERIFY(files(dir.filePath("recovery")) > 0);
        d.undoStack().undo();
        QCOMPARE(files(dir.filePath("recovery")), 0);
    }

    void aRunningProgramsWorkIsNotOffered()
    {
        QTemporaryDir dir;
        Document d;
        d.startDemo();
        Recovery mine(d, dir.filePath("recovery"));
        rename(d, "x");
        mine.writeNow();
        Document other;
        Recovery theirs(other, dir.filePath("recovery"));
        QVERIFY(theirs.findLeft().empty());
        QVERIFY(mine.findLeft().empty());
    }

    void workOfAKilledProgramIsFound()
    {
        QTemporaryDir dir;
        const auto folder = dir.filePath("recovery");
        const auto saved = dir.filePath("w.json");
        // A child edits, autosaves, and is killed without a chance to clean up.
        const pid_t child = ::fork();
        if (child == 0) {
            Document d;
            d.startDemo();
            if (!d.saveAs(saved))
                ::_exit(2);
            Recovery r(d, folder);
            rename(d, "Tove & Sam");
            r.writeNow();
            ::kill(::getpid(), SIGKILL);
        }
        int status = 0;
        ::waitpid(child, &status, 0);
        QVERIFY(WIFSIGNALED(status));

        Document d;
        Recovery r(d, folder);
        auto left = r.findLeft();
        QCOMPARE(left.size(), size_t(1));
        QCOMPARE(left.front().workshop.cars.front().team, std::string("Tove & Sam"));
        QCOMPARE(left.front().originalPath, saved);

        d.openRecovered(left.front().workshop, left.front().originalPath);
        QVERIFY(d.isModified());
        QCOMPARE(d.path(), saved);
        // The saved file itself was never touched, and can now be saved over knowingly.
        Document untouched;
        VERIFY_OK(untouched.open(saved));
        QCOMPARE(untouched.workshop().cars.front().team, std::string("Ines & Otto"));
        VERIFY_OK(d.save());
        QVERIFY(!d.isModified());
        Recovery::remove(left.front());
        QVERIFY(r.findLeft().empty());
    }

    void unreadableLeftoversAreLeftAlone()
    {
        QTemporaryDir dir;
        const auto folder = dir.filePath("recovery");
        QDir().mkpath(folder);
        QFile f(folder + "/abc.recovery.json");
        QVERIFY(f.open(QIODevice::WriteOnly));
        f.write("{ half");
        f.close();
        Document d;
        Recovery r(d, folder);
        QVERIFY(r.findLeft().empty());
        QVERIFY(QFile::exists(f.fileName()));
    }

    void aFolderThatCannotBeMadeIsSaidOnce()
    {
        Document d;
        d.startDemo();
        Recovery r(d, "/proc/no/such/folder");
        QSignalSpy failed(&r, &Recovery::failed);
        rename(d, "x");
        r.writeNow();
        rename(d, "y");
        r.writeNow();
        QCOMPARE(failed.count(), qsizetype(1));
    }
};

BADGER_TEST(TestRecovery)
#include "test_recovery.moc"
