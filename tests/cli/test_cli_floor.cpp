// SPDX-License-Identifier: GPL-3.0-or-later
// Runs and floors at the command line.
#include "cli/run_cli.h"
#include "support/fixture.h"

#include <QFile>
#include <QJsonArray>
#include <QTemporaryDir>

using badger::test::cli;
using badger::test::demoFile;

class TestCliFloor final : public QObject
{
    Q_OBJECT
private slots:
    void everyCarHasAVerdict_data()
    {
        QTest::addColumn<QString>("car");
        QTest::addColumn<QString>("floor");
        QTest::addColumn<QString>("task");
        QTest::newRow("halt") << "Avocet"
                              << "Slipway"
                              << "stops";
        QTest::newRow("glance") << "Curlew"
                                << "Boathouse boards"
                                << "keeps-moving";
        QTest::newRow("straddle") << "Dunlin"
                                  << "Loft mat"
                                  << "line";
        QTest::newRow("edge glide") << "Godwit"
                                    << "Loft mat"
                                    << "line";
        QTest::newRow("lane") << "Plover"
                              << "Twin-line mat"
                              << "line";
        QTest::newRow("direct") << "Turnstone"
                                << "Loft mat"
                                << "line";
        QTest::newRow("keep station") << "Sanderling"
                                      << "Rope walk"
                                      << "holds";
        QTest::newRow("turn away") << "Ruff"
                                   << "Boathouse boards"
                                   << "keeps-moving";
        QTest::newRow("guarded drive") << "Whimbrel"
                                       << "Drop bench"
                                       << "keeps-moving";
    }
    void everyCarHasAVerdict()
    {
        QFETCH(QString, car);
        QFETCH(QString, floor);
        QFETCH(QString, task);
        const auto r = cli({"trial", demoFile, "--car", car, "--floor", floor, "--json"});
        QVERIFY2(r.status < 2, qPrintable(r.err));
        const auto o = r.json();
        QCOMPARE(o["task"].toString(), task);
        QVERIFY(!o["verdict"].toString().isEmpty());
        QVERIFY(o["end_ms"].toDouble() <= 20000.0);
        QCOMPARE(r.status, o["contact"].toBool() || !o["fell"].isNull() ? 1 : 0);
        for (const auto *key :
             {"gap_cm", "contacts", "nearest_cm", "coverage", "laps", "losses", "swing_mm",
              "blind_ms", "blind_cm", "turns", "moves", "wrong_readings", "end", "fingerprint"})
            QVERIFY2(o.contains(QLatin1String(key)), key);
    }

    void aRunCanBeShapedFromOutside()
    {
        const QStringList base = {"trial",   demoFile,  "--car", "Avocet",
                                  "--floor", "Slipway", "--json"};
        const auto plain = cli(base + QStringList{"--no-noise"}).json();
        const auto other = cli(base + QStringList{"--no-noise", "--seed", "99"}).json();
        QCOMPARE(plain["end"], other["end"]); // without noise a seed changes nothing
        const auto brief = cli(base + QStringList{"--for", "2s"}).json();
        COMPARE_NEAR(brief["end_ms"].toDouble(), 2000.0, 1e-9);
        const auto turned =
            cli(base + QStringList{"--reverse", "--no-noise", "--for", "1s"}).json();
        QVERIFY(turned["end"].toObject()["x_cm"].toDouble() > -15.1);
        const auto judged = cli(base + QStringList{"--task", "keeps-moving"}).json();
        QCOMPARE(judged["task"].toString(), QString("keeps-moving"));
        const auto deaf = cli(base + QStringList{"--fault", "ranger-unplugged"});
        QCOMPARE(deaf.status, 1);
        const auto touch = deaf.json()["contacts"].toArray()[0].toObject();
        QCOMPARE(touch["what"].toString(), QString("board"));
        QCOMPARE(touch["phase"].toString(), QString("ahead"));
        const auto ends = cli(base + QStringList{"--fault", "ranger-unplugged", "--on-contact",
                                                 "end", "--no-noise"})
                              .json();
        COMPARE_NEAR(ends["end_ms"].toDouble(), touch["time_ms"].toDouble(), 400.0);
        // By hand: 1.8 m to the board, the axle 15 cm behind the nose.
        COMPARE_NEAR(ends["end"].toObject()["x_cm"].toDouble(), 180.0 - 15.0, 0.001);
    }

    void keysComeFromAFile()
    {
        QTemporaryDir d;
        const auto path = d.filePath("keys.csv");
        const auto with = [&](const char *text) {
            QFile f(path);
            if (!f.open(QIODevice::WriteOnly))
                qFatal("no file");
            f.write(text);
            f.close();
            return cli({"trial", demoFile, "--car", "Whimbrel", "--floor", "Slipway", "--keys",
                        path, "--json"});
        };
        const auto run = with("time_ms,key\n0,ahead\n1500,none\n");
        QCOMPARE(run.status, 0);
        QVERIFY(run.json()["driven_cm"].toDouble() > 15.0);
        QVERIFY(run.json()["rest_ms"].toDouble() > 1500.0);
        QVERIFY(with("time_ms,key\n0,sideways\n").err.contains("row 2"));
        QVERIFY(with("time_ms,key\n500,ahead\n100,none\n").err.contains("row 3"));
        QVERIFY(with("when,what\n").err.contains("time_ms,key"));
        QCOMPARE(with("").status, 2);
    }

    void refusals_data()
    {
        QTest::addColumn<QStringList>("more");
        QTest::addColumn<QString>("says");
        QTest::newRow("too short") << QStringList{"--for", "10ms"} << "outside 100 ms to 600 s";
        QTest::newRow("too long") << QStringList{"--for", "700s"} << "outside 100 ms to 600 s";
        QTest::newRow("no unit") << QStringList{"--for", "10"} << "has no unit";
        QTest::newRow("no task") << QStringList{"--task", "juggle"} << "use one of: stops";
        QTest::newRow("no fault") << QStringList{"--fault", "gremlins"}
                                  << "use one of: left-leads-swapped";
        QTest::newRow("a fault it cannot have")
            << QStringList{"--fault", "servo-late"} << "cannot have it";
        QTest::newRow("no such word") << QStringList{"--on-contact", "bounce"} << "on-contact";
    }
    void refusals()
    {
        QFETCH(QStringList, more);
        QFETCH(QString, says);
        const auto r =
            cli(QStringList{"trial", demoFile, "--car", "Avocet", "--floor", "Slipway"} + more);
        QCOMPARE(r.status, 2);
        QVERIFY2(r.err.contains(says), qPrintable(r.err));
        QVERIFY(r.out.isEmpty());
    }

    void faultsAreListed()
    {
        const auto r = cli({"trial", "--faults"});
        QCOMPARE(r.status, 0);
        QVERIFY(
            r.out.contains("trigger-echo-swapped  trigger and echo of every ranger are swapped"));
    }

    void floorsAreListedAndMade()
    {
        const auto listed = cli({"floors", demoFile, "--json"}).json()["floors"].toArray();
        QCOMPARE(listed.size(), 6);
        QTemporaryDir d;
        const auto out = d.filePath("more.json");
        const QStringList make = {"floor",  demoFile, "--from", "corridor",
                                  "--name", "Hall",   "--out",  out};
        const auto made =
            cli(make + QStringList{"--set", "doorway=50cm", "--set", "length=6m", "--json"});
        QCOMPARE(made.status, 0);
        COMPARE_NEAR(made.json()["width_cm"].toDouble(), 600.0, 1e-9);
        QCOMPARE(cli({"floors", out, "--json"}).json()["floors"].toArray().size(), 7);
        const auto drives = cli({"trial", out, "--car", "Avocet", "--floor", "Hall", "--json"});
        QVERIFY(drives.status < 2);
        QCOMPARE(cli(make).status, 2); // it is there already
        QVERIFY(cli({"floor", demoFile, "--from", "moon", "--name", "x", "--out", d.filePath("x")})
                    .err.contains("use one of: straight"));
        QVERIFY(
            cli(make + QStringList{"--replace", "--set", "doorway"}).err.contains("has no '='"));
        QVERIFY(cli({"floor", demoFile, "--from", "ring", "--name", "Slipway", "--out",
                     d.filePath("y")})
                    .err.contains("there is a floor 'Slipway' already"));
        QCOMPARE(cli({"floor", demoFile, "--from", "ring", "--name", "R", "--out", demoFile,
                      "--replace"})
                     .status,
                 2); // never its input
    }

    /// A floor goes out as SVG or JSON, and comes back as it was: the same car drives the same run.
    void floorsGoOutAndComeBack()
    {
        QTemporaryDir d;
        const auto svg = d.filePath("b.svg"), json = d.filePath("b.json");
        QCOMPARE(cli({"floor", demoFile, "--name", "Boathouse boards", "--svg", svg}).status, 0);
        QCOMPARE(cli({"floor", demoFile, "--name", "Boathouse boards", "--write", json}).status, 0);
        QCOMPARE(cli({"floor", demoFile, "--name", "Boathouse boards", "--svg", svg}).status, 2);
        const auto end = [&](const QString &file, const QString &name) {
            const auto r = cli({"trial", file, "--car", "Curlew", "--floor", name, "--no-noise",
                                "--for", "8s", "--json"});
            return r.json()["end"].toObject();
        };
        const auto was = end(demoFile, "Boathouse boards");
        QVERIFY(!was.isEmpty());
        for (const auto &from : {svg, json}) {
            const auto out = d.filePath("with.json");
            const auto read = cli({"floor", demoFile, "--read", from, "--name", "Again", "--out",
                                   out, "--replace", "--json"});
            QCOMPARE(read.status, 0);
            QCOMPARE(read.json()["walls"].toInt(), 20);
            const auto is = end(out, "Again");
            for (const auto *key : {"x_cm", "y_cm", "heading_deg"})
                COMPARE_NEAR(is[key].toDouble(), was[key].toDouble(), from == json ? 0.0 : 0.01);
        }
    }

    void aDrawingIsToldWhatItsColoursAre()
    {
        QTemporaryDir d;
        QFile f(d.filePath("mat.svg"));
        QVERIFY(f.open(QIODevice::WriteOnly));
        f.write("<svg viewBox='0 0 2000 1000'><rect width='100%' height='100%' fill='white'/>"
                "<path d='M200 500 H1800' stroke='#0a0a0a' stroke-width='19' fill='none'/>"
                "<circle cx='900' cy='900' r='40' fill='#804020'/><text>mat</text></svg>");
        f.close();
        const auto read = [&](const QStringList &more) {
            return cli(QStringList{"floor", demoFile, "--read", f.fileName(), "--name", "Mat",
                                   "--out", d.filePath("o.json"), "--replace", "--json"} +
                       more);
        };
        QVERIFY(read({}).err.contains("which colour is a wall"));
        QVERIFY(read({}).err.contains("#0a0a0a (1 outlined, 0 filled)"));
        QVERIFY(read({"--set", "line=#0a0a0a"}).err.contains("units-per-cm"));
        QVERIFY(read({"--set", "line=#0a0a0a", "--set", "units-per-cm=ten"}).status == 2);
        QVERIFY(read({"--set", "lava=#0a0a0a", "--set", "units-per-cm=10"})
                    .err.contains("use one of: wall, rough"));
        const auto is = read({"--set", "line=#0a0a0a", "--set", "wall=#804020", "--set",
                              "units-per-cm=10", "--set", "air=12C"});
        QCOMPARE(is.status, 0);
        COMPARE_NEAR(is.json()["width_cm"].toDouble(), 200.0, 1e-9);
        QCOMPARE(is.json()["lines"].toInt(), 1);
        QCOMPARE(is.json()["posts"].toInt(), 1);
        QCOMPARE(is.json()["said"].toArray().size(), 3); // white, the text, no start
        const auto floors =
            cli({"floors", d.filePath("o.json"), "--json"}).json()["floors"].toArray();
        COMPARE_NEAR(floors.last().toObject()["air_C"].toDouble(), 12.0, 1e-9);
    }

    void floorFilesThatCannotBeUsed()
    {
        QTemporaryDir d;
        QFile f(d.filePath("x.json"));
        QVERIFY(f.open(QIODevice::WriteOnly));
        const auto read = [&](const QByteArray &text, const QStringList &more = {}) {
            f.resize(0);
            f.seek(0);
            f.write(text);
            f.flush();
            const auto r = cli(QStringList{"floor", demoFile, "--read", f.fileName(), "--name", "F",
                                           "--out", d.filePath("o.json")} +
                               more);
            return r.status == 2 && r.out.isEmpty() ? r.err : QString("taken");
        };
        QVERIFY(read("{}").contains("no floor"));
        QVERIFY(read("{\"format\": \"swift-badger-floor\", \"version\": 9}").contains("not 1"));
        QVERIFY(read("{\"format\": \"swift-badger-floor\", \"version\": 1}").contains("missing"));
        QVERIFY(read("{\"format\": ").contains("line 1"));
        QVERIFY(read("{}", {"--set", "wall=#000"}).contains("leave --set away"));
        QVERIFY(cli({"floor", demoFile, "--name", "F"}).err.contains("one of --from"));
        QVERIFY(cli({"floor", demoFile, "--name", "Slipway", "--from", "ring", "--svg", "x"})
                    .err.contains("two things at once"));
        QVERIFY(cli({"floor", demoFile, "--name", "F", "--from", "ring"}).err.contains("--out"));
        QVERIFY(cli({"floor", demoFile, "--name", "Moon", "--svg", d.filePath("m.svg")})
                    .err.contains("use one of: Slipway"));
    }
};

BADGER_TEST(TestCliFloor)
#include "test_cli_floor.moc"
