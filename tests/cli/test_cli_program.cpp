// SPDX-License-Identifier: GPL-3.0-or-later
// Templates, programs, readings and comparisons at the command line.
#include "cli/run_cli.h"
#include "support/suite.h"

#include <QFile>
#include <QJsonArray>
#include <QJsonDocument>
#include <QTemporaryDir>
#include <QTest>

using badger::test::cli;
using badger::test::demoFile;

class TestCliProgram final : public QObject
{
    Q_OBJECT

    QTemporaryDir m_dir;

    QString path(const QString &name) const { return m_dir.filePath(name); }
    QString write(const QString &name, const QByteArray &text) const
    {
        QFile f(path(name));
        if (!f.open(QIODevice::WriteOnly))
            qFatal("cannot write");
        f.write(text);
        return f.fileName();
    }
    /// A workshop in which a car runs a template.
    QString made(const QString &car, const QString &name, const QStringList &set) const
    {
        QStringList call = {"program", demoFile, "--car", car, "--from", name};
        for (const auto &s : set)
            call << "--set" << s;
        const auto file = path(name + ".json");
        const auto ran = cli(call << "--out" << file << "--replace");
        if (ran.status != 0)
            qFatal("%s", qPrintable(ran.err));
        return file;
    }
    static QJsonArray findings(const QString &file, const QString &car, const QString &code)
    {
        QJsonArray all;
        for (const auto &f :
             cli({"check", file, "--car", car, "--json"}).json()["findings"].toArray())
            if (f.toObject()["code"].toString() == code)
                all.append(f);
        return all;
    }
    const QStringList ranger = {"no-echo=clear", "limit=400cm", "air=20C", "speed=140"};

private slots:
    void whatIsOpenIsProposed()
    {
        QTemporaryDir folder;
        const auto out = folder.filePath("proposed.json");
        const auto r = cli({"program", demoFile, "--car", "Avocet", "--from", "halt", "--set",
                            "no-echo=stop", "--propose", "--out", out, "--json"});
        QCOMPARE(r.status, 0);
        QCOMPARE(r.json()["unset"].toArray().size(), qsizetype(0));
        QCOMPARE(r.json()["proposed"].toArray().size(), qsizetype(4));
        for (const auto &p : r.json()["proposed"].toArray())
            QVERIFY(!p.toObject()["why"].toString().isEmpty());
        QCOMPARE(cli({"budget", out, "--car", "Avocet"}).status, 0);
    }

    void templatesListTheirChoices()
    {
        const auto all = cli({"templates", "--json"}).json()["templates"].toArray();
        QCOMPARE(all.size(), 19);
        for (const auto &t : all) {
            QVERIFY(!t.toObject()["what"].toString().isEmpty());
            for (const auto &c : t.toObject()["choices"].toArray())
                QVERIFY(c.toObject().contains("default"));
        }
        const auto glance = all[6].toObject();
        QCOMPARE(glance["name"].toString(), QStringLiteral("glance"));
        QCOMPARE(glance["readings"].toArray(), (QJsonArray{"ahead", "right", "left"}));
        const auto threshold = glance["choices"].toArray()[0].toObject();
        QCOMPARE(threshold["kind"].toString(), QStringLiteral("distance"));
        QCOMPARE(threshold["unit"].toString(), QStringLiteral("cm"));
        QVERIFY(threshold["default"].isNull());
        QCOMPARE(cli({"templates"}).status, 0);
    }

    void aProgramIsMadeAndChanged()
    {
        const auto file = made("Avocet", "halt", ranger + QStringList{"threshold=30cm"});
        const auto table = cli({"table", file, "--car", "Avocet", "--json"}).json();
        QCOMPARE(table["runs"].toArray()[1].toObject()["to"].toInt(), 30);
        const auto next = path("next.json");
        const auto changed = cli({"program", file, "--car", "Avocet", "--set", "threshold=12in",
                                  "--set", "compare=lt", "--out", next, "--json"});
        QCOMPARE(changed.status, 0);
        const auto after = cli({"table", next, "--car", "Avocet", "--json"}).json();
        QCOMPARE(after["runs"].toArray()[1].toObject()["to"].toInt(), 30); // below 30.48
        // The input is never written to, and what is there only on request.
        QCOMPARE(cli({"program", file, "--car", "Avocet", "--set", "threshold=12in", "--out", next})
                     .status,
                 2);
        QCOMPARE(cli({"program", file, "--car", "Avocet", "--set", "threshold=12in", "--out", file,
                      "--replace"})
                     .status,
                 2);
    }

    void whatIsNotChosenIsNamed()
    {
        const auto out = path("unset.json");
        const auto ran =
            cli({"program", demoFile, "--car", "Avocet", "--from", "halt", "--out", out, "--json"});
        QCOMPARE(ran.status, 0);
        QVERIFY(ran.json()["unset"].toArray().size() >= 4);
        const auto readings = write("one.csv", "time_ms,ahead\n0,60\n");
        const auto run = cli({"run-program", out, "--car", "Avocet", "--readings", readings});
        QCOMPARE(run.status, 2);
        QVERIFY(run.err.contains("threshold"));
        QVERIFY(run.out.isEmpty());
    }

    void refusals_data()
    {
        QTest::addColumn<QStringList>("call");
        QTest::addColumn<QString>("says");
        const QStringList start = {"program", demoFile, "--car", "Avocet"};
        const QStringList out = {"--out", path("never.json")};
        QTest::newRow("template") << start + QStringList{"--from", "ramble"} + out
                                  << "keep-station";
        QTest::newRow("choice") << start + QStringList{"--from", "halt", "--set", "tie=left"} + out
                                << "no such choice";
        QTest::newRow("twice") << start + QStringList{"--from",  "halt",  "--set",
                                                      "speed=1", "--set", "speed=2"} +
                                      out
                               << "twice";
        QTest::newRow("no value") << start + QStringList{"--from", "halt", "--set", "speed"} + out
                                  << "KEY=VALUE";
        QTest::newRow("nothing") << start + out << "nothing is asked";
        QTest::newRow("by hand") << start + QStringList{"--set", "tie=left"} + out
                                 << "changed by hand";
        QTest::newRow("compare nothing")
            << QStringList{"compare", demoFile, "--car", "Avocet"} << "what with";
        QTest::newRow("compare whom")
            << QStringList{"compare", demoFile, "--car", "Avocet", "--with", "Heron"} << "Heron";
        QTest::newRow("no readings")
            << QStringList{"run-program", demoFile, "--car", "Avocet", "--readings", "/nowhere.csv"}
            << "/nowhere.csv";
    }
    void refusals()
    {
        QFETCH(QStringList, call);
        QFETCH(QString, says);
        const auto ran = cli(call);
        QCOMPARE(ran.status, 2);
        QVERIFY(ran.out.isEmpty());
        QVERIFY2(ran.err.contains(says), qPrintable(ran.err));
        QVERIFY(!QFile::exists(path("never.json")));
    }

    void aCarWithoutAProgram()
    {
        QFile demo(demoFile);
        QVERIFY(demo.open(QIODevice::ReadOnly));
        auto w = QJsonDocument::fromJson(demo.readAll()).object();
        auto cars = w["cars"].toArray();
        auto curlew = cars[1].toObject();
        curlew.remove("program");
        cars[1] = curlew;
        w["cars"] = cars;
        const auto file = write("bare.json", QJsonDocument(w).toJson());
        for (const auto &call :
             {QStringList{"program", file, "--car", "Curlew", "--set", "threshold=30cm", "--out",
                          path("never.json")},
              QStringList{"run-program", file, "--car", "Curlew", "--readings", demoFile},
              QStringList{"table", file, "--car", "Curlew"},
              QStringList{"compare", file, "--car", "Curlew", "--with", "halt"}}) {
            const auto ran = cli(call);
            QCOMPARE(ran.status, 2);
            QVERIFY2(ran.err.contains("runs no program"), qPrintable(ran.err));
        }
    }

    void readingsInActionsOut()
    {
        const auto readings = write("a.csv", "time_ms,ahead\n0,60\n300,32\n600,33\n900,none\n");
        const auto csv = path("told.csv");
        const auto ran = cli({"run-program", demoFile, "--car", "Avocet", "--readings", readings,
                              "--csv", csv, "--json"});
        QCOMPARE(ran.status, 0);
        const auto actions = ran.json()["actions"].toArray();
        QStringList states;
        for (const auto &a : actions)
            states << a.toObject()["state"].toString();
        QCOMPARE(states.join(','), QStringLiteral("stands,drives,stands,drives"));
        const auto first = actions[1].toObject();
        QCOMPARE(first["wheels"].toString(), QStringLiteral("drive"));
        QCOMPARE(first["left"].toInt(), 140);
        QVERIFY(first["why"].toString().contains("'clear'"));
        QFile f(csv);
        QVERIFY(f.open(QIODevice::ReadOnly));
        QCOMPARE(f.readAll().count('\n'), qsizetype(actions.size() + 1));
    }

    void badReadingsAreNamed_data()
    {
        QTest::addColumn<QByteArray>("text");
        QTest::addColumn<QString>("says");
        QTest::newRow("empty") << QByteArray("") << "no row";
        QTest::newRow("header alone") << QByteArray("time_ms,ahead\n") << "no reading";
        QTest::newRow("another column") << QByteArray("time_ms,left\n0,3\n") << "time_ms, ahead";
        QTest::newRow("one too many") << QByteArray("time_ms,ahead,left\n0,3,4\n") << "columns";
        QTest::newRow("not at 0") << QByteArray("time_ms,ahead\n5,3\n") << "begin at 0";
        QTest::newRow("back in time") << QByteArray("time_ms,ahead\n0,3\n9,3\n7,3\n") << "row 4";
        QTest::newRow("a word") << QByteArray("time_ms,ahead\n0,near\n") << "none or wild";
        QTest::newRow("nan") << QByteArray("time_ms,ahead\n0,nan\n") << "none or wild";
        QTest::newRow("short row") << QByteArray("time_ms,ahead\n0\n") << "row 2";
    }
    void badReadingsAreNamed()
    {
        QFETCH(QByteArray, text);
        QFETCH(QString, says);
        const auto ran =
            cli({"run-program", demoFile, "--car", "Avocet", "--readings", write("bad.csv", text)});
        QCOMPARE(ran.status, 2);
        QVERIFY2(ran.err.contains(says), qPrintable(ran.err));
    }

    void aTableOfPatterns()
    {
        const auto file = made("Dunlin", "straddle",
                               {"light-level=1", "both-dark=stop", "turn-speed=120", "speed=140"});
        const auto table = cli({"table", file, "--car", "Dunlin", "--json"}).json();
        QVERIFY(table["holes"].toArray().isEmpty());
        int found = 0;
        for (const auto &r : table["rows"].toArray()) {
            const auto row = r.toObject();
            const auto at = row["readings"].toObject();
            if (row["state"].toString() != "drives")
                continue;
            ++found;
            const auto both = at["left"].toString() + at["right"].toString();
            QCOMPARE(row["to"].toString(), both == "00"   ? QStringLiteral("drives")
                                           : both == "11" ? QStringLiteral("stands")
                                           : both == "10" ? QStringLiteral("turns left")
                                                          : QStringLiteral("turns right"));
        }
        QCOMPARE(found, 4);
        // Dunlin's modules are of two kinds; the program takes them for one.
        const auto f = findings(file, "Dunlin", "sensor-sense-opposite");
        QCOMPARE(f.size(), 1);
        QCOMPARE(f[0].toObject()["readings"].toArray(), (QJsonArray{"right light"}));
    }

    void aSensorThatIsNotThere()
    {
        const auto file =
            made("Avocet", "edge-zigzag", {"threshold=530", "edge=left", "speed=100"});
        QCOMPARE(findings(file, "Avocet", "reading-without-sensor").size(), 1);
        const auto there =
            made("Godwit", "edge-zigzag", {"threshold=530", "edge=left", "speed=100"});
        QVERIFY(findings(there, "Godwit", "reading-without-sensor").isEmpty());
    }

    void everyTemplateIsTakenByItsCar()
    {
        const QString cars[] = {"Avocet",   "Avocet", "Sanderling", "Avocet",   "Ruff",
                                "Avocet",   "Curlew", "Curlew",     "Redshank", "Sanderling",
                                "Whimbrel", "Godwit", "Godwit",     "Godwit",   "Dunlin",
                                "Godwit",   "Godwit", "Plover",     "Turnstone"};
        const QHash<QString, QString> usual = {
            {"distance", "30cm"}, {"duration", "300ms"}, {"pwm", "120"},
            {"count", "500"},     {"times", "3"},        {"temperature", "20C"},
            {"number", "0.5"},    {"per-degree", "9ms"}, {"by-source", "400"}};
        int i = 0;
        for (const auto &entry : cli({"templates", "--json"}).json()["templates"].toArray()) {
            const auto t = entry.toObject();
            QStringList set;
            for (const auto &c : t["choices"].toArray()) {
                const auto choice = c.toObject();
                const auto key = choice["key"].toString();
                if (!choice["default"].isNull() || choice["optional"].toBool() ||
                    !choice["when"].isNull())
                    continue;
                const auto words = choice["words"].toArray();
                set << key + "=" +
                           (!words.isEmpty()                        ? words[0].toString()
                            : choice["kind"].toString() == "angles" ? QStringLiteral("30,150")
                            : key == "limit"                        ? QStringLiteral("400cm")
                            : key == "far"   ? (usual[choice["kind"].toString()] == "400"
                                                    ? QStringLiteral("200")
                                                    : QStringLiteral("45cm"))
                            : key == "light" ? QStringLiteral("820")
                                             : usual[choice["kind"].toString()]);
            }
            const auto file = made(cars[i], t["name"].toString(), set);
            const auto table = cli({"table", file, "--car", cars[i], "--json"});
            QVERIFY2(table.status == 0, qPrintable(t["name"].toString() + table.err));
            QVERIFY(!table.json()["rows"].toArray().isEmpty());
            ++i;
        }
    }

    void twoTemplatesByBehaviour()
    {
        const auto ran = cli({"compare",    demoFile,
                              "--car",      "Curlew",
                              "--template", "glance",
                              "--template", "first-free-side",
                              "--set",      "threshold=30cm",
                              "--set",      "angles=30,150",
                              "--set",      "dwell=300ms",
                              "--set",      "tolerance=5cm",
                              "--set",      "tie=right",
                              "--set",      "free=50cm",
                              "--set",      "back-time=400ms",
                              "--set",      "turn-time-left=400ms",
                              "--set",      "turn-time-right=400ms",
                              "--set",      "turn-around=800ms",
                              "--set",      "turn-speed=120",
                              "--set",      "no-echo=clear",
                              "--set",      "limit=400cm",
                              "--set",      "air=20C",
                              "--set",      "speed=140",
                              "--json"});
        // A choice that only one of them has, and only under a condition, is refused as there.
        QCOMPARE(ran.status, 2);
        const auto halts =
            cli({"compare", demoFile, "--car", "Avocet", "--template", "halt", "--template",
                 "retreat", "--set", "threshold=30cm", "--set", "no-echo=clear", "--set",
                 "limit=400cm", "--set", "air=20C", "--set", "speed=140", "--json"});
        QCOMPARE(halts.status, 0);
        QVERIFY(halts.json()["differences"].toArray().size() >= 2);
        QVERIFY(halts.json()["costs"].toObject()["a"].toObject()["longest_pass_ms"].toDouble() >
                23.0);
        QVERIFY(halts.json()["costs"].toObject()["b"].toObject().contains("gap_cm"));
    }

    /// A program that no distance stops has no budget, and it says so.
    void whatNoDistanceStopsHasNoBudget()
    {
        const auto file = made("Dunlin", "straddle",
                               {"light-level=1", "both-dark=stop", "turn-speed=120", "speed=140"});
        const auto ran = cli({"budget", file, "--car", "Dunlin"});
        QCOMPARE(ran.status, 2);
        QVERIFY2(ran.err.contains("no distance that it measures ahead stops it"),
                 qPrintable(ran.err));
    }

    /// In each style, for each board; errors are refused until they are asked for, and stand in the
    /// head then.
    void codeIsWrittenInEitherStyle()
    {
        const auto file =
            made("Avocet", "back-and-turn",
                 {"threshold=30cm", "no-echo=clear", "limit=200cm", "air=18C", "speed=140",
                  "turn-speed=120", "back-time=500ms", "turn-time=400ms", "turn-side=left"});
        const auto write = [&](const QStringList &more, const QString &folder) {
            return cli(QStringList{"code", file, "--car", "Avocet", "--out", path(folder)} + more);
        };
        const auto text = [&](const QString &name) {
            QFile f(path(name));
            return f.open(QIODevice::ReadOnly) ? QString::fromUtf8(f.readAll()) : QString();
        };
        QCOMPARE(write({"--style", "blocking"}, "b").status, 0);
        QCOMPARE(write({"--style", "timed"}, "t").status, 0);
        const auto blocking = text("b/avocet_back_and_turn_avocet.cpp");
        const auto timed = text("t/avocet_back_and_turn_avocet.cpp");
        QVERIFY(blocking.contains("wait_us(BACK_TIME_US);"));
        QVERIFY(timed.contains("state_end = clock_us() + BACK_TIME_US;"));
        QVERIFY(!timed.contains("wait_us(BACK_TIME_US);"));
        QCOMPARE(write({"--style", "sideways"}, "s").status, 2);
    }

    /// What stands against a program carries the ways out that were tried.
    void waysOutAreSaid()
    {
        const auto ran = cli({"check", demoFile, "--car", "Dunlin"});
        QCOMPARE(ran.status, 1);
        QVERIFY2(ran.out.contains("Tried: Say 0 for 1."), qPrintable(ran.out));
        // Nothing was found for a policy that nobody has chosen.
        QVERIFY(!cli({"check", demoFile, "--car", "Redshank"}).out.contains("Tried:"));
    }

    void codeDespiteErrors()
    {
        const QStringList call{"code", demoFile, "--car", "Whimbrel", "--out", path("w")};
        const auto refused = cli(call);
        QCOMPARE(refused.status, 2);
        QVERIFY2(refused.err.contains("--despite-errors"), qPrintable(refused.err));
        QVERIFY(!QFile::exists(path("w")));
        const auto asked = cli(call + QStringList{"--despite-errors"});
        QCOMPARE(asked.status, 0);
        QFile f(path("w/whimbrel_guarded_drive.py"));
        QVERIFY(f.open(QIODevice::ReadOnly));
        QVERIFY(f.readAll().contains("# WARNING: "));
        QVERIFY(QFile::exists(path("w/car_pins.py")) && QFile::exists(path("w/stand_in.py")));
    }
};

BADGER_TEST(TestCliProgram)
#include "test_cli_program.moc"
