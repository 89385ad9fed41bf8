// SPDX-License-Identifier: GPL-3.0-or-later
// The safe window at the command line.
#include "cli/run_cli.h"
#include "support/fixture.h"

#include <QFile>
#include <QJsonArray>
#include <QTemporaryDir>

using badger::test::cli;
using badger::test::demoFile;

namespace
{

const QStringList onSlipway = {"window", demoFile, "--car", "Avocet", "--floor", "Slipway"};
const QStringList board = {"--row", "straight:distance=90cm"};

} // namespace

class TestCliWindow final : public QObject
{
    Q_OBJECT
private slots:
    void itsKeys()
    {
        QTemporaryDir d;
        const auto csv = d.filePath("window.csv");
        const auto r =
            cli(onSlipway + board + QStringList{"--row", "charge:0", "--csv", csv, "--json"});
        QCOMPARE(r.status, 0);
        const auto j = r.json();
        QVERIFY(j["low_cm"].toDouble() > 2.0 && j["low_cm"].toDouble() < 15.0);
        QVERIFY(j["high_cm"].toDouble() > j["low_cm"].toDouble());
        QVERIFY(!j["limited_below_by"].toString().isEmpty());
        QVERIFY(j["closed_by"].isNull());
        QVERIFY(j["upper_bound_at_low"].toDouble() <= 0.01);
        QVERIFY(j["whole_error"].toDouble() <= 0.05);
        QVERIFY(!j["not_simulated"].toArray().isEmpty());
        const auto rows = j["rows"].toArray();
        QCOMPARE(rows.size(), 2);
        for (const auto *key : {"name", "low_cm", "high_cm", "runs", "contacts_at_low",
                                "limited_below_by", "limited_above_by"})
            QVERIFY2(rows[0].toObject().contains(key), key);
        QFile f(csv);
        QVERIFY(f.open(QIODevice::ReadOnly));
        QCOMPARE(f.readAll().count('\n'), 1 + 2 * 80); // a line for each place of each row
    }

    void twoValuesTogether()
    {
        const auto args = onSlipway + board + QStringList{"--grid", "speed"};
        const auto r = cli(args + QStringList{"--json"});
        QCOMPARE(r.status, 0);
        const auto grid = r.json()["grid"].toObject();
        const auto across = grid["x"].toObject()["at"].toArray();
        const auto upwards = grid["y"].toObject()["at"].toArray();
        QCOMPARE(grid["y"].toObject()["value"].toString(), QString("speed"));
        QCOMPARE(across.first().toDouble(), 1.0); // cm
        const auto cells = grid["cells"].toArray();
        QCOMPARE(cells.size(), upwards.size());
        for (const auto &line : cells)
            QCOMPARE(line.toArray().size(), across.size());
        // Full speed at the least distance touches, slow and far does not.
        QCOMPARE(cells.last().toArray().first().toObject()["state"].toString(), QString("touches"));
        QCOMPARE(cells.at(5).toArray().last().toObject()["state"].toString(), QString("holds"));
        const int runs = grid["runs_each"].toInt();
        QVERIFY(std::abs(grid["left_open"].toDouble() - (1.0 - std::pow(0.05, 1.0 / runs))) < 1e-9);
        const auto text = QString(cli(args).out);
        QVERIFY(text.contains("'halt' across") && text.contains('#') && text.contains('.'));
        const auto none = cli(onSlipway + board + QStringList{"--grid", "nothing"});
        QVERIFY(none.status != 0 && none.err.contains("nothing"));
    }

    /// Conditions of the car's own are asked, unless the call names its rows.
    void theCarsOwnConditions()
    {
        QTemporaryDir d;
        QFile demo(onSlipway.at(1));
        QVERIFY(demo.open(QIODevice::ReadOnly));
        auto workshop = QJsonDocument::fromJson(demo.readAll()).object();
        auto cars = workshop["cars"].toArray();
        auto avocet = cars[0].toObject();
        avocet["conditions"] = QJsonArray{"doorway:gap=30cm..50cm"};
        cars[0] = avocet;
        workshop["cars"] = cars;
        const auto path = d.filePath("own.json");
        QFile own(path);
        QVERIFY(own.open(QIODevice::WriteOnly));
        own.write(QJsonDocument(workshop).toJson());
        own.close();
        auto args = onSlipway;
        args[1] = path;
        const auto rows = cli(args + QStringList{"--json"}).json()["rows"].toArray();
        QVERIFY(rows.last().toObject()["name"].toString().startsWith("doorway: gap 30 cm"));
        QCOMPARE(cli(args + board + QStringList{"--json"}).json()["rows"].toArray().size(), 1);
    }

    void theSameSeedOnAnyThreads()
    {
        const auto run = [&](const char *threads) {
            return cli(onSlipway + board + QStringList{"--threads", threads, "--seed", "7"}).out;
        };
        const auto one = run("1");
        QVERIFY(!one.isEmpty());
        QCOMPARE(run("2"), one);
        QCOMPARE(run("5"), one);
    }

    void aWantedGapIsAdded()
    {
        const auto low = [&](const QStringList &more) {
            return cli(onSlipway + board + QStringList{"--json", "--no-noise"} + more)
                .json()["low_cm"]
                .toDouble();
        };
        QVERIFY(std::abs(low({"--want", "10cm"}) - low({}) - 10.0) <= 1.01);
    }

    void noWindow()
    {
        const auto r = cli(onSlipway + board +
                           QStringList{"--row", "straight:distance=90cm,angle=25deg", "--json"});
        QCOMPARE(r.status, 1);
        const auto j = r.json();
        QVERIFY(j["low_cm"].isNull());
        QCOMPARE(j["closed_by"].toArray().size(), 2);
    }

    void refusals_data()
    {
        QTest::addColumn<QStringList>("more");
        QTest::addColumn<QString>("says");
        QTest::newRow("none") << QStringList{"--limit", "0%"} << "--limit";
        QTest::newRow("all") << QStringList{"--limit", "100%"} << "--limit";
        QTest::newRow("no share") << QStringList{"--limit", "few"} << "no share";
        QTest::newRow("certain") << QStringList{"--confidence", "100"} << "--confidence";
        QTest::newRow("no value") << QStringList{"--value", "courage"} << "use one of: ";
        QTest::newRow("no kind") << QStringList{"--row", "moat"} << "use one of: ";
        QTest::newRow("no key") << QStringList{"--row", "straight:tilt=3deg"} << "distance";
        QTest::newRow("falls") << QStringList{"--row", "charge:1..0"} << "falls";
        QTest::newRow("beyond") << QStringList{"--row", "straight:angle=0deg..89deg"} << "outside";
        QTest::newRow("no unit") << QStringList{"--want", "5"} << "unit";
        QTest::newRow("threads") << QStringList{"--threads", "0"} << "threads";
    }
    void refusals()
    {
        QFETCH(QStringList, more);
        QFETCH(QString, says);
        const auto r = cli(onSlipway + more);
        QCOMPARE(r.status, 2);
        QVERIFY2(r.err.contains(says), qPrintable(r.err));
        QVERIFY(r.out.isEmpty());
    }

    void unknownFloor()
    {
        const auto r = cli({"window", demoFile, "--car", "Avocet", "--floor", "Moon"});
        QCOMPARE(r.status, 2);
        QVERIFY(r.err.contains("Boathouse boards"));
    }
};

BADGER_TEST(TestCliWindow)
#include "test_cli_window.moc"
