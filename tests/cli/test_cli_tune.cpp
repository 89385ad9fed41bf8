// SPDX-License-Identifier: GPL-3.0-or-later
// Calls of the tune station, and readings of the stand-in through a real pseudo-terminal.
#include "cli/run_cli.h"
#include "support/fixture.h"
#include "support/standin.h"

#include <QFile>
#include <QJsonArray>
#include <QTemporaryDir>

using badger::test::cli;
using badger::test::Standin;
namespace places = badger::test::places;

namespace
{

QStringList lines(const QString &path)
{
    QFile file(path);
    return file.open(QIODevice::ReadOnly)
               ? QString::fromUtf8(file.readAll()).split('\n', Qt::SkipEmptyParts)
               : QStringList{};
}

} // namespace

class TestCliTune final : public QObject
{
    Q_OBJECT
    QTemporaryDir m_dir;

    QString file(const QString &name, const QString &text)
    {
        QFile f(m_dir.filePath(name));
        if (f.open(QIODevice::WriteOnly))
            f.write(text.toUtf8());
        return f.fileName();
    }

private slots:
    void rulerFit()
    {
        const auto csv = file("r.csv", "true_cm,reading_cm\n6,5.8\n12,11.7\n25,24.5\n40,39.3\n"
                                       "80,78.6\n120,117.9\n150,0\n");
        const auto r = cli({"ruler-fit", "--csv", csv, "--json"});
        QCOMPARE(r.status, 0);
        COMPARE_NEAR(r.json()["slope"].toDouble(), 1.0169, 5e-5);
        COMPARE_NEAR(r.json()["offset_cm"].toDouble(), 0.08, 5e-3);
        COMPARE_NEAR(r.json()["max_residual_cm"].toDouble(), 0.05, 5e-3);
        const auto rejected = r.json()["rejected"].toArray();
        QCOMPARE(rejected.size(), qsizetype(1));
        QCOMPARE(rejected[0].toObject()["why"].toString(), QString("no echo"));
        QCOMPARE(rejected[0].toObject()["row"].toInt(), 8);
        QVERIFY(r.json()["implied_air_C"].isNull());
        QVERIFY(cli({"ruler-fit", "--csv", csv, "--why"}).out.contains("least squares"));
        const auto none = cli({"ruler-fit", "--csv", m_dir.filePath("no.csv")});
        QCOMPARE(none.status, 2);
        QVERIFY(none.out.isEmpty() && none.err.contains("cannot be opened"));
        QCOMPARE(cli({"ruler-fit", "--csv", m_dir.path()}).status, 2);
    }

    void surfacesAndReflectance()
    {
        QString text = "surface,reading\n";
        for (const int v : {812, 799, 840, 826, 805})
            text += QString("light,%1\n").arg(v);
        for (const int v : {233, 251, 219, 240, 262})
            text += QString("dark,%1\n").arg(v);
        auto r = cli({"surfaces", "--csv", file("s.csv", text), "--json"});
        QCOMPARE(r.json()["threshold"].toDouble(), 530.5);
        QCOMPARE(r.json()["margin"].toDouble(), 268.5);
        QVERIFY(r.json()["separable"].toBool());
        r = cli({"surfaces", "--csv", file("s.csv", text + "dark,803\n"), "--json"});
        QCOMPARE(r.json()["margin"].toDouble(), -2.0);
        QVERIFY(!r.json()["separable"].toBool());
        QCOMPARE(r.json()["wild"].toObject()["row"].toInt(), 12);
        text = "distance_cm,reading\n1,1023\n40,0\n";
        for (int d = 2; d <= 20; ++d)
            text += QString("%1,%2\n").arg(d).arg(std::lround(std::pow(60.0 / (d + 0.9), 2)));
        r = cli({"reflectance-fit", "--csv", file("f.csv", text), "--json"});
        COMPARE_NEAR(r.json()["k"].toDouble(), 60.0, 1.0);
        COMPARE_NEAR(r.json()["c_cm"].toDouble(), 0.9, 0.1);
        QCOMPARE(r.json()["model"].toString(), QString("inverse-square"));
        QCOMPARE(r.json()["left_out_rows"].toArray().size(), qsizetype(2));
    }

    void smallCalculators()
    {
        const auto number = [](const QStringList &call, const char *key) {
            const auto r = cli(call + QStringList{"--json"});
            return r.json()[key].toDouble(std::nan(""));
        };
        QCOMPARE(cli({"trimmer", "--on-light", "off", "--on-dark", "on", "--json"})
                     .json()["advice"]
                     .toString(),
                 QString("inverted"));
        QCOMPARE(cli({"trimmer", "--on-light", "maybe", "--on-dark", "on"}).status, 2);
        COMPARE_NEAR(
            number({"straightness", "--drift", "8cm", "--length", "200cm", "--track", "13cm"},
                   "slow_over_fast"),
            0.9948, 5e-5);
        COMPARE_NEAR(number({"turn", "--time", "400ms", "--angle", "70deg"}, "ms_per_deg"), 5.714,
                     1e-3);
        COMPARE_NEAR(number({"turn", "--time", "400ms", "--angle", "58deg", "--time2", "800ms",
                             "--angle2", "134deg"},
                            "dead_time_ms"),
                     94.74, 0.01);
        QCOMPARE(cli({"turn", "--time", "400ms", "--angle", "58deg", "--time2", "1s"}).status, 2);
        COMPARE_NEAR(
            number({"dwell", "--angle", "100deg", "--speed", "0.12s/60deg", "--settle", "50ms"},
                   "dwell_ms"),
            250.0, 1e-9);
        QCOMPARE(cli({"dwell", "--angle", "100deg", "--speed", "0.12s"}).status, 2);
        COMPARE_NEAR(number({"straddle", "--line", "19mm", "--gap", "40mm"}, "slack_mm"), 10.5,
                     1e-9);
        const QStringList lane = {"lane", "--inner", "12mm", "--outer", "30mm", "--line", "15mm"};
        COMPARE_NEAR(number(lane + QStringList{"--lane-width", "42mm"}, "slack_mm"), 9.0, 1e-9);
        COMPARE_NEAR(number(lane + QStringList{"--lane-width", "42mm"}, "lost_from_mm"), 24.0,
                     1e-9);
        COMPARE_NEAR(number(lane, "wrong_line_beyond_mm"), 33.0, 1e-9);
        COMPARE_NEAR(number(lane + QStringList{"--single"}, "slack_mm"), 4.5, 1e-9);
        const QStringList edge = {"edge",    "--ahead", "60mm",    "--spot",  "10mm",
                                  "--track", "130mm",   "--speed", "0.2m/s",  "--share",
                                  "0.5",     "--lag",   "0.15s",   "--delay", "30ms"};
        COMPARE_NEAR(number(edge, "low_gain_limit_m_s"), 0.3333, 1e-4);
        QVERIFY(number(edge, "phase_margin_deg") < 0.0);
        COMPARE_NEAR(number({"runs", "--contacts", "0", "--of", "299"}, "wilson_high"), 0.0127,
                     5e-5);
        COMPARE_NEAR(number({"runs", "--contacts", "0", "--of", "299"}, "upper_bound"), 0.00997,
                     1e-5);
        QCOMPARE(cli({"runs", "--contacts", "3", "--of", "2"}).status, 2);
    }

    void aBoardIsRecorded()
    {
        const auto link = m_dir.filePath("board");
        Standin board(link, {"--seed", "5", "--sensors", "ahead,left"});
        QVERIFY(board.path().startsWith("/dev/"));
        const auto csv = m_dir.filePath("q.csv");
        const auto r = cli({"record", link, "--csv", csv, "--for", "1.2s", "--json"});
        QCOMPARE(r.status, 0);
        QVERIFY(r.json()["samples"].toInt() > 10);
        QCOMPARE(r.json()["lost"].toInt(), 0);
        const auto rows = lines(csv);
        QCOMPARE(rows.front(), QString("time_ms,ahead_us,left_level"));
        QCOMPARE(rows.size(), qsizetype(r.json()["samples"].toInt() + 1));
        // A file that is there stays.
        QCOMPARE(cli({"record", link, "--csv", csv, "--for", "1s"}).status, 2);
        QCOMPARE(lines(csv), rows);
    }

    void aWrongRateIsSaidWithTheRightOne()
    {
        const auto link = m_dir.filePath("fast");
        Standin board(link);
        const auto csv = m_dir.filePath("rubbish.csv");
        const auto r =
            cli({"record", link, "--baud", "9600", "--csv", csv, "--for", "2s", "--json"});
        QCOMPARE(r.status, 1);
        QCOMPARE(r.json()["hearing"].toString(), QString("rubbish"));
        QCOMPARE(r.json()["likely_baud"].toInt(), 115200);
        QVERIFY(r.err.contains("baud mismatch"));
        QVERIFY(!QFile::exists(csv));
    }

    void aKilledBoardLeavesAGapAndNoHalfReading()
    {
        const auto link = m_dir.filePath("killed");
        auto board = std::make_unique<Standin>(link, QStringList{"--rate", "200"});
        const auto csv = m_dir.filePath("gap.csv");
        QProcess recorder;
        recorder.start(places::cli, {"record", link, "--csv", csv});
        QVERIFY(recorder.waitForStarted());
        const auto part = csv + ".part";
        QTRY_VERIFY_WITH_TIMEOUT(QFile::exists(part) && QFileInfo(part).size() > 4096,
                                 badger::test::patience_ms);
        board->kill();
        board = std::make_unique<Standin>(link, QStringList{"--rate", "200", "--seed", "3"});
        const auto before = QFileInfo(part).size();
        QTRY_VERIFY_WITH_TIMEOUT(QFileInfo(part).size() > before + 4096, badger::test::patience_ms);
        recorder.terminate();
        QVERIFY(recorder.waitForFinished(10000));
        const auto rows = lines(csv);
        QVERIFY(rows.filter("gap").size() >= 1);
        QCOMPARE(rows.filter("restart").size(), qsizetype(1));
        for (qsizetype i = 1; i < rows.size(); ++i) {
            const auto cells = rows[i].split(',');
            QCOMPARE(cells.size(), qsizetype(7));
            if (cells[0] != "gap" && cells[0] != "restart")
                QVERIFY2(cells[1].toInt() > 2200 && cells[1].toInt() < 2450, qPrintable(rows[i]));
        }
    }

    void wrongFlagsOfTheStandinAreRefused()
    {
        const auto status = [](const QStringList &flags) {
            QProcess p;
            p.start(places::standin, flags);
            p.closeWriteChannel();
            p.waitForFinished(10000);
            return p.exitCode();
        };
        QCOMPARE(status({"--distance", "40"}), 2);
        QCOMPARE(status({"--fault", "rust"}), 2);
        QCOMPARE(status({"--baud", "10"}), 2);
        QCOMPARE(status({"--link", m_dir.path()}), 2); // a folder is there
        QCOMPARE(status({"--for", "0.2s"}), 0);
        QCOMPARE(status({}), 0); // end of input
    }

    /// Settings change while it runs.
    void itsBenchIsMovedByLines()
    {
        const auto link = m_dir.filePath("moved");
        Standin board(link, {"--sensors", "ahead"});
        board.process().write("distance 80cm\nnonsense\n");
        const auto csv = m_dir.filePath("moved.csv");
        QTRY_VERIFY_WITH_TIMEOUT(
            cli({"record", link, "--csv", csv, "--for", "0.4s", "--replace"}).status == 0 &&
                lines(csv).last().split(',')[1].toInt() > 4500,
            10000);
    }

    /// Every record of the demo with what it comes to, and the sum behind it.
    void whatWasMeasuredIsSaidWithItsSum()
    {
        const auto r = cli({"measured", badger::test::demoFile, "--json"});
        QCOMPARE(r.status, 0);
        const auto all = r.json()["measurements"].toArray();
        QVERIFY(all.size() >= 8);
        for (const auto &m : all) {
            const auto o = m.toObject();
            QVERIFY(!o["says"].toString().isEmpty() && o["stale"].toArray().isEmpty());
            QVERIFY(o["usable"].toBool() || !o["to_do"].toString().isEmpty());
            const auto what = o["what"].toString();
            if (what == "ruler" || what == "surfaces" || what == "straightness")
                QVERIFY(!o["steps"].toArray().isEmpty() && !o["result"].toString().isEmpty());
        }
        const auto words = cli({"measured", badger::test::demoFile, "--car", "Redshank"});
        QVERIFY(words.out.contains("ranger: ranger against ruler: not measured yet"));
        const auto why = cli({"measured", badger::test::demoFile, "--car", "Avocet", "--why"});
        QVERIFY(why.out.contains("slope"));
        QCOMPARE(cli({"measured", badger::test::demoFile, "--car", "Nobody"}).status, 2);
    }
};

BADGER_TEST(TestCliTune)

#include "test_cli_tune.moc"
