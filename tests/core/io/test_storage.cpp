// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/io/storage.h"
#include "support/fixture.h"

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QTemporaryDir>
#include <csignal>
#include <sys/resource.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

using namespace badger;
using io::SaveStep;

namespace
{

std::string text(const QString &path)
{
    const auto t = io::readFile(path.toStdString());
    return t ? *t : "error: " + english(t.error().text());
}

} // namespace

class TestStorage final : public QObject
{
    Q_OBJECT
private slots:
    void savesAndReads()
    {
        QTemporaryDir d;
        const auto path = d.filePath("w.json");
        const auto mark = io::saveFile(path.toStdString(), "one\n");
        VERIFY_OK(mark);
        QCOMPARE(text(path), std::string("one\n"));
        QCOMPARE(*mark, io::markOf("one\n"));
        VERIFY_OK(io::saveFile(path.toStdString(), "two\n", *mark));
        QCOMPARE(text(path), std::string("two\n"));
        QCOMPARE(QDir(d.path()).entryList(QDir::Files).size(), qsizetype(1));
    }

    void aSaveThatBreaksOffLosesNothing_data()
    {
        QTest::addColumn<int>("step");
        QTest::newRow("create") << int(SaveStep::Create);
        QTest::newRow("write") << int(SaveStep::Write);
        QTest::newRow("flush") << int(SaveStep::Flush);
        QTest::newRow("rename") << int(SaveStep::Rename);
    }
    void aSaveThatBreaksOffLosesNothing()
    {
        QFETCH(int, step);
        QTemporaryDir d;
        const auto path = d.filePath("w.json");
        VERIFY_OK(io::saveFile(path.toStdString(), "old"));
        const auto r = io::saveFile(path.toStdString(), "new", std::nullopt,
                                    [&](SaveStep s) { return int(s) != step; });
        QVERIFY(!r);
        QVERIFY(r.error().kind == Error::Kind::Storage);
        QVERIFY(english(r.error().text()).find("No space left") != std::string::npos);
        QVERIFY(english(r.error().mend).find("the old file is untouched") != std::string::npos);
        QCOMPARE(text(path), std::string("old"));
        // No half-written file stays behind.
        QCOMPARE(QDir(d.path()).entryList(QDir::Files | QDir::Hidden).size(), qsizetype(1));
    }

    void everyStepIsAskedInOrder()
    {
        QTemporaryDir d;
        std::vector<int> steps;
        VERIFY_OK(
            io::saveFile(d.filePath("w.json").toStdString(), "x", std::nullopt, [&](SaveStep s) {
                steps.push_back(int(s));
                return true;
            }));
        QCOMPARE(steps, (std::vector<int>{0, 1, 2, 3}));
    }

    void aFullDiskIsSaidInWords()
    {
        // A real limit of the system: no file may grow beyond 4 kB.
        QTemporaryDir d;
        const auto path = d.filePath("w.json");
        VERIFY_OK(io::saveFile(path.toStdString(), "old"));
        struct rlimit before = {};
        getrlimit(RLIMIT_FSIZE, &before);
        std::signal(SIGXFSZ, SIG_IGN);
        struct rlimit tight = before;
        tight.rlim_cur = 4096;
        setrlimit(RLIMIT_FSIZE, &tight);
        const auto r = io::saveFile(path.toStdString(), std::string(100000, 'x'));
        setrlimit(RLIMIT_FSIZE, &before);
        QVERIFY(!r);
        QVERIFY(english(r.error().what).find("cannot be written") != std::string::npos);
        QCOMPARE(text(path), std::string("old"));
        QCOMPARE(QDir(d.path()).entryList(QDir::Files).size(), qsizetype(1));
    }

    void anotherProgramsChangeIsNoticed()
    {
        QTemporaryDir d;
        const auto path = d.filePath("w.json");
        const auto mark = io::saveFile(path.toStdString(), "mine");
        QFile other(path);
        QVERIFY(other.open(QIODevice::WriteOnly));
        other.write("theirs");
        other.close();
        auto r = io::saveFile(path.toStdString(), "mine again", *mark);
        QVERIFY(!r);
        QVERIFY(r.error().kind == Error::Kind::Conflict);
        QCOMPARE(text(path), std::string("theirs"));
        QFile::remove(path);
        r = io::saveFile(path.toStdString(), "mine again", *mark);
        QVERIFY(!r);
        QVERIFY(!QFile::exists(path));
        VERIFY_OK(io::saveFile(path.toStdString(), "mine again"));
    }

    void permissionsAndLinksAreKept()
    {
        QTemporaryDir d;
        const auto real = d.filePath("real.json");
        const auto link = d.filePath("link.json");
        VERIFY_OK(io::saveFile(real.toStdString(), "old"));
        ::chmod(real.toUtf8().constData(), 0640);
        QVERIFY(QFile::link(real, link));
        VERIFY_OK(io::saveFile(link.toStdString(), "new"));
        QVERIFY(QFileInfo(link).isSymLink());
        QCOMPARE(text(real), std::string("new"));
        struct stat s = {};
        ::stat(real.toUtf8().constData(), &s);
        QCOMPARE(int(s.st_mode & 0777), 0640);
    }

    void placesThatCannotBeWritten()
    {
        QTemporaryDir d;
        auto r = io::saveFile(d.filePath("no/such/folder/w.json").toStdString(), "x");
        QVERIFY(!r);
        QCOMPARE(english(r.error().mend), std::string("choose a folder that exists"));
        r = io::saveFile(d.path().toStdString(), "x");
        QVERIFY(!r);
        QCOMPARE(english(r.error().what), std::string("is not a file"));
        r = io::saveFile("/proc/w.json", "x"); // a file system that takes no files
        QVERIFY(!r);
    }

    void readOnlyFoldersAndFiles()
    {
        if (::geteuid() == 0) {
            // The superuser writes anywhere: run this part as somebody else, in a child.
            const pid_t child = ::fork();
            if (child == 0) {
                if (::setuid(65534) != 0)
                    ::_exit(9);
                ::_exit(readOnlyAsUser());
            }
            int status = 0;
            ::waitpid(child, &status, 0);
            QCOMPARE(WEXITSTATUS(status), 0);
        } else {
            QCOMPARE(readOnlyAsUser(), 0);
        }
    }

    void refusesWhatIsNoWorkshopFile()
    {
        QTemporaryDir d;
        QVERIFY(!io::readFile(d.path().toStdString()));
        QCOMPARE(english(io::readFile("/dev/zero").error().what), std::string("is not a file"));
        const auto missing = io::readFile(d.filePath("none.json").toStdString());
        QCOMPARE(english(missing.error().mend), std::string("check the name"));
        const auto pipe = d.filePath("pipe");
        ::mkfifo(pipe.toUtf8().constData(), 0600);
        QVERIFY(!io::readFile(pipe.toStdString())); // and does not wait for a writer
        QFile zeros(d.filePath("zeros.json"));
        QVERIFY(zeros.open(QIODevice::WriteOnly));
        zeros.resize(200ll << 20);
        zeros.close();
        const auto r = io::readFile(zeros.fileName().toStdString());
        QVERIFY(!r);
        QCOMPARE(english(r.error().what), std::string("is 200 MB; a workshop has at most 32 MB"));
    }

private:
    /// 0 when a read-only folder and a read-only file are both refused and left as they were.
    static int readOnlyAsUser()
    {
        char name[] = "/tmp/badger-test-XXXXXX";
        if (::mkdtemp(name) == nullptr)
            return 1;
        const std::string folder = name;
        const std::string path = folder + "/w.json";
        if (!io::saveFile(path, "old"))
            return 2;
        ::chmod(path.c_str(), 0444);
        const auto file = io::saveFile(path, "new");
        ::chmod(folder.c_str(), 0555);
        const auto other = io::saveFile(folder + "/other.json", "new");
        ::chmod(folder.c_str(), 0755);
        const bool kept = *io::readFile(path) == "old";
        ::unlink(path.c_str());
        ::rmdir(folder.c_str());
        if (file || other || !kept)
            return 3;
        return english(file.error().what).find("read-only") != std::string::npos ? 0 : 4;
    }

    /// A new file is as private as its owner wants new files to be.
    void theUmaskDecides()
    {
        QTemporaryDir dir;
        const auto before = ::umask(0077);
        const auto strict = dir.filePath("strict.json");
        VERIFY_OK(io::saveFile(strict.toStdString(), "a"));
        ::umask(0022);
        const auto usual = dir.filePath("usual.json");
        VERIFY_OK(io::saveFile(usual.toStdString(), "a"));
        VERIFY_OK(io::saveFile(strict.toStdString(), "b")); // the old file's own are kept
        ::umask(before);
        struct stat info = {};
        QCOMPARE(::stat(qPrintable(strict), &info), 0);
        QCOMPARE(info.st_mode & 0777, mode_t(0600));
        QCOMPARE(::stat(qPrintable(usual), &info), 0);
        QCOMPARE(info.st_mode & 0777, mode_t(0644));
    }
};

BADGER_TEST(TestStorage)
#include "test_storage.moc"
