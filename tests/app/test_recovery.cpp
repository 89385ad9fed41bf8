// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/document/edits.h"
#include "app/document/recovery.h"
#include "support/fixture.h"

#include <QDir>
#include <QFile>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTimer>
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
    if (!app::changeCar(d, "Rename the team", test::carCalled("Avocet"),
                        [&](kit::Car &c) { c.team = team; }))
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
        QTRY_VERIFY_WITH_TIMEOUT(files(dir.filePath("recovery")) > 0, test::patience_ms);
        VERIFY_OK(d.saveAs(dir.filePath("w.json")));
        QTRY_COMPARE_WITH_TIMEOUT(files(dir.filePath("recovery")), 0, test::patience_ms);
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

        d.openRecovered(left.front().workshop, left.front().originalPath, left.front().mark);
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

    /// Each edit of a drag comes before the pause after the one before is over.
    void steadyEditingDoesNotPostponeIt()
    {
        QTemporaryDir dir;
        Document d;
        d.startDemo();
        Recovery r(d, dir.filePath("recovery"));
        r.start();
        int n = 0;
        QTimer edits;
        connect(&edits, &QTimer::timeout, this, [&] { rename(d, std::to_string(++n)); });
        edits.start(30);
        QTRY_VERIFY_WITH_TIMEOUT(files(dir.filePath("recovery")) > 0, test::patience_ms);
        QVERIFY(n > 3);
        edits.stop();
        QTRY_VERIFY_WITH_TIMEOUT(r.isUpToDate(), test::patience_ms);
        QVERIFY(d.isModified());
    }

    void onlyItsOwnerReadsIt()
    {
        QTemporaryDir dir;
        Document d;
        d.startDemo();
        Recovery r(d, dir.filePath("recovery"));
        rename(d, "x");
        r.writeNow();
        const auto others = QFile::ReadGroup | QFile::WriteGroup | QFile::ExeGroup |
                            QFile::ReadOther | QFile::WriteOther | QFile::ExeOther;
        QVERIFY(!(QFile::permissions(dir.filePath("recovery")) & others));
        for (const auto &f :
             QDir(dir.filePath("recovery")).entryInfoList({"*.json", "*.about"}, QDir::Files))
            QVERIFY2(!(f.permissions() & others), qPrintable(f.fileName()));
    }

    /// The file changed after the program was killed: saving the rescued work asks first.
    void whatTheFileWasIsRemembered()
    {
        QTemporaryDir dir;
        const auto saved = dir.filePath("w.json");
        Document d;
        d.startDemo();
        VERIFY_OK(d.saveAs(saved));
        rename(d, "Tove & Sam");
        auto killed = std::make_unique<Recovery>(d, dir.filePath("recovery"));
        killed->writeNow();
        // As after a kill: the files stay, the lock's owner is gone.
        QDir(dir.path()).mkpath("copy");
        for (const auto &f : QDir(dir.filePath("recovery")).entryInfoList({"*.json", "*.about"}))
            QVERIFY(QFile::copy(f.filePath(), dir.filePath("copy/") + f.fileName()));
        killed.reset();
        Document other;
        VERIFY_OK(other.open(saved));
        rename(other, "Rui & Bea");
        VERIFY_OK(other.save());

        Document later;
        const auto left = Recovery(later, dir.filePath("copy")).findLeft();
        QCOMPARE(left.size(), size_t(1));
        later.openRecovered(left[0].workshop, left[0].originalPath, left[0].mark);
        const auto refused = later.save();
        QVERIFY(!refused);
        QVERIFY(refused.error().kind == Error::Kind::Conflict);
        Document untouched;
        VERIFY_OK(untouched.open(saved));
        QCOMPARE(untouched.workshop().cars.front().team, std::string("Rui & Bea"));
        // Nor may work whose file nobody marked replace it unasked.
        later.openRecovered(left[0].workshop, left[0].originalPath, std::nullopt);
        QVERIFY(!later.save());
        VERIFY_OK(later.save(Document::IfChanged::Overwrite));
    }

    void aLockOfAnotherMachineGetsOld()
    {
        QTemporaryDir dir;
        Document d;
        d.startDemo();
        {
            Recovery r(d, dir.filePath("first"));
            rename(d, "x");
            r.writeNow();
            QDir(dir.path()).mkpath("recovery");
            for (const auto &f : QDir(dir.filePath("first")).entryInfoList({"*.json", "*.about"}))
                QVERIFY(QFile::copy(f.filePath(), dir.filePath("recovery/") + f.fileName()));
        }
        const auto work = QDir(dir.filePath("recovery")).entryInfoList({"*.json"})[0].filePath();
        QFile lock(work + ".lock");
        QVERIFY(lock.open(QIODevice::WriteOnly));
        lock.write("12345\nswift-badger\nanother-machine\n\n\n");
        lock.close();
        Document later;
        Recovery r(later, dir.filePath("recovery"));
        QVERIFY(r.findLeft().empty()); // its program may well run
        QVERIFY(lock.open(QIODevice::ReadWrite));
        QVERIFY(lock.setFileTime(QDateTime::currentDateTime().addSecs(-3600),
                                 QFileDevice::FileModificationTime));
        lock.close();
        QCOMPARE(r.findLeft().size(), size_t(1));
        Recovery::remove(r.findLeft()[0]);
        QVERIFY(r.findLeft().empty());
        QVERIFY(!QFile::exists(work + ".lock"));
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
