// SPDX-License-Identifier: GPL-3.0-or-later
// The command line as a person and a script meet it: the real program, its output and status.
#include "cli/run_cli.h"
#include "core/io/storage.h"
#include "support/fixture.h"
#include "support/limited.h"

#include <QDir>
#include <QFile>
#include <QJsonArray>
#include <QTemporaryDir>

using badger::test::cli;
using badger::test::demoFile;

class TestCli final : public QObject
{
    Q_OBJECT
private slots:
    void power()
    {
        const auto r = cli({"power", demoFile, "--car", "Avocet", "--json"});
        QCOMPARE(r.status, 0);
        const auto o = r.json();
        const auto pack = o["source_V"].toObject()["pack"].toObject();
        COMPARE_NEAR(pack["fresh"].toDouble(), 8.4, 1e-9);
        COMPARE_NEAR(pack["nominal"].toDouble(), 7.2, 1e-9);
        COMPARE_NEAR(pack["near_empty"].toDouble(), 6.0, 1e-9);
        QCOMPARE(o["max_duty_count"].toInt(), 227);
        const auto motor = o["motors"].toArray()[0].toObject();
        COMPARE_NEAR(motor["full_duty_mean_V"].toDouble(), 5.05, 1e-5);
        QCOMPARE(motor["by_charge"].toObject()["fresh"].toObject()["max_duty_count"].toInt(), 183);
        COMPARE_NEAR(o["run_time_h"].toDouble(), 1.6 / 0.601, 1e-5);
        for (const auto &n : o["nodes"].toArray()) {
            const auto node = n.toObject();
            for (const auto *kase : {"typical", "worst"}) {
                const auto values = node[QLatin1String(kase)].toObject();
                QVERIFY(values["volts_V"].toObject()["nominal"].toObject()["stalled"].isDouble());
                QVERIFY(values["amps_A"].toObject()["running"].isDouble());
            }
        }
        const auto why = cli({"power", demoFile, "--car", "Avocet", "--why"}).out;
        QVERIFY(why.contains("mean volts of left at full duty, nominal cells = 5.05 V"));
        const auto red = cli({"power", demoFile, "--car", "Redshank"});
        QCOMPARE(red.status, 1);
        QVERIFY(red.out.contains("channel-over-peak") && red.out.contains("share a channel"));
        QCOMPARE(cli({"power", demoFile, "--car", "Ruff"}).status, 0);
    }

    void refusals_data()
    {
        QTest::addColumn<QStringList>("arguments");
        QTest::addColumn<QString>("says");
        const auto row = [](const char *name, const QStringList &a, const char *says) {
            QTest::newRow(name) << a << QString(says);
        };
        row("bare number", {"echo", "--time", "1740", "--air", "22C"},
            "--time: '1740' has no unit; use one of: us, ms, s");
        row("wrong kind", {"echo", "--time", "30cm", "--air", "22C"}, "wrong kind of unit");
        row("too hot", {"echo", "--time", "1ms", "--air", "99C"}, "outside -40 to 60");
        row("option missing", {"echo", "--time", "1ms"}, "--air is required");
        row("no such call", {"fly"}, "there is no call 'fly'; use one of: echo, stop-budget");
        row("nothing", {}, "subcommand");
        row("a resistor in volts", {"divider", "--in", "5V", "--top", "1V", "--bottom", "2kohm"},
            "use one of: ohm, kohm");
        row("a dark LED", {"led", "--supply", "2V", "--forward", "3.1V", "--current", "12mA"},
            "the LED stays dark");
        row("nothing for the motor", {"duty", "--supply", "2V", "--drop", "2V", "--rated", "4.5V"},
            "nothing is left for the motor");
        row("three teeth", {"horn", "--teeth", "3", "--error", "2deg"}, "a spline of 3 teeth");
        row("a beam of nothing", {"beam", "--half-angle", "0deg", "--width", "170mm"},
            "is not above 0");
        row("a regulator that cannot",
            {"regulator", "--in", "5V", "--out", "5V", "--current", "1A", "--drop", "0.7V"},
            "cannot hold its output");
        row("power of no car", {"power", demoFile, "--car", "Dodo"}, "there is no car 'Dodo'");
        row("pins without a board", {"pins", demoFile, "--car", "Turnstone"}, "it has no board");
        row("pins of no part", {"pins", demoFile, "--car", "Avocet", "--add", "jet"},
            "there is no part 'jet'");
        row("no such revision", {"wiring", demoFile, "--car", "Avocet", "--between", "1", "9"},
            "no wiring revision 9; it has 1, 2, 3");
        row("one revision", {"wiring", demoFile, "--car", "Avocet", "--between", "1"}, "--between");
        row("no such file", {"list", "/nowhere.json"}, "No such file");
        row("no such car", {"budget", demoFile, "--car", "Dodo"},
            "--car: there is no car 'Dodo'; use one of: Avocet");
        row("no such floor", {"trial", demoFile, "--car", "Avocet", "--floor", "Moon"},
            "there is no floor 'Moon'; use one of: Slipway");
        row("no such sensor", {"table", demoFile, "--car", "Avocet", "--sensor", "nose"},
            "the program has no reading 'nose'");
        row("a bad seed",
            {"trial", demoFile, "--car", "Avocet", "--floor", "Slipway", "--seed", "x"}, "seed");
        row("a seed below nought",
            {"trial", demoFile, "--car", "Avocet", "--floor", "Slipway", "--seed", "-1"}, "seed");
        row("a folder that cannot be", {"code", demoFile, "--car", "Avocet", "--out", "/proc/x"},
            "cannot be made");
    }

    void refusals()
    {
        QFETCH(QStringList, arguments);
        QFETCH(QString, says);
        const auto r = cli(arguments);
        QCOMPARE(r.status, 2);
        QVERIFY2(r.err.contains(says), qPrintable(r.err));
        QCOMPARE(r.out, QString());
    }

    void list()
    {
        const auto r = cli({"list", demoFile, "--json"});
        QCOMPARE(r.status, 0);
        QCOMPARE(r.json()["cars"].toArray().size(), qsizetype(10));
        QCOMPARE(r.json()["floors"].toArray()[0].toObject()["name"].toString(), QString("Slipway"));
        QCOMPARE(r.json()["trials"].toArray().size(), qsizetype(3));
        QVERIFY(cli({"list", demoFile}).out.contains("Ines & Otto"));
    }

    void checkFineAndWithAnError()
    {
        auto r = cli({"check", demoFile, "--car", "Avocet", "--json"});
        QCOMPARE(r.status, 0);
        for (const auto &f : r.json()["findings"].toArray()) {
            const auto o = f.toObject();
            QVERIFY(o["severity"] != "error");
            for (const auto *key : {"code", "where", "what", "why", "mend", "car"})
                QVERIFY2(!o[QLatin1String(key)].toString().isEmpty(), key);
        }
        QTemporaryDir d;
        const auto file = d.filePath("bad.json");
        auto w = badger::test::demo();
        std::erase_if(w.cars[0].wires, [](const auto &x) { return x.to == "ranger.GND"; });
        QVERIFY(badger::io::saveFile(file.toStdString(), badger::io::writeWorkshop(w)));
        r = cli({"check", file});
        QCOMPARE(r.status, 1);
        QVERIFY(r.out.contains("module-ungrounded"));
        QCOMPARE(cli({"check", file, "--car", "Avocet", "--json"}).status, 1);
        // The class at once: each finding says whose it is.
        r = cli({"check", demoFile, "--json"});
        QCOMPARE(r.status, 1);
        QStringList errors;
        for (const auto &f : r.json()["findings"].toArray())
            if (f.toObject()["severity"] == "error")
                errors << f.toObject()["car"].toString() + " " + f.toObject()["code"].toString();
        QCOMPARE(errors,
                 QStringList({"Curlew pwm-taken-by-servo", "Dunlin sensor-sense-opposite",
                              "Redshank channel-over-peak", "Redshank no-echo-policy-unset",
                              "Redshank no-echo-policy-unset", "Whimbrel signal-over-volts"}));
        QCOMPARE(r.json()["cars"].toArray().size(), qsizetype(10));
    }

    void table()
    {
        const auto r = cli({"table", demoFile, "--car", "Avocet", "--json"});
        QCOMPARE(r.status, 0);
        const auto rows = r.json()["rows"].toArray();
        QCOMPARE(rows.size(), qsizetype(121));
        for (int n = 1; n <= 32; ++n)
            QCOMPARE(rows[n].toObject()["action"].toString(), QString("stop"));
        for (int n = 33; n <= 120; ++n)
            QCOMPARE(rows[n].toObject()["action"].toString(), QString("go"));
        QCOMPARE(r.json()["none"].toString(), QString("go"));
        QVERIFY(r.json()["holes"].toArray().isEmpty());
        QVERIFY(cli({"table", demoFile, "--car", "Avocet"}).out.contains("1..32 cm"));
    }

    void wiringOfACar()
    {
        auto r = cli({"wiring", demoFile, "--car", "Curlew", "--json"});
        QCOMPARE(r.status, 1); // the servo has taken a timer
        QCOMPARE(r.json()["wires"].toArray().size(), qsizetype(22));
        QCOMPARE(r.json()["revision"].toInt(), 2);
        QCOMPARE(r.json()["open"].toBool(), false);
        QCOMPARE(r.json()["history"].toArray().size(), qsizetype(2));
        const auto finding = r.json()["findings"].toArray().first().toObject();
        QCOMPARE(finding["code"].toString(), QString("pwm-taken-by-servo"));
        QCOMPARE(finding["where"].toString(), QString("driver.BIN2 at board.D10"));
        r = cli({"wiring", demoFile, "--car", "Avocet", "--between", "1", "3", "--json"});
        QCOMPARE(r.status, 0);
        QCOMPARE(r.json()["moved"].toArray().size(), qsizetype(3));
        QCOMPARE(r.json()["steps"].toArray().size(), qsizetype(4)); // one wire is held aside
        QCOMPARE(r.json()["stale_constants"].toArray().first().toObject()["after"].toString(),
                 QString("D8"));
        r = cli({"wiring", demoFile, "--car", "Avocet", "--between", "3", "3"});
        QVERIFY(r.out.contains("nothing changes"));
    }

    void wireAsTheKitSays()
    {
        QTemporaryDir folder;
        const auto in = folder.filePath("bare.json");
        const auto out = folder.filePath("wired.json");
        auto w = badger::test::demo();
        w.cars[0].wires.clear(); // Avocet
        w.cars[0].programPins.clear();
        w.cars[0].history.clear();
        QVERIFY(badger::io::saveFile(in.toStdString(), badger::io::writeWorkshop(w)));
        auto r = cli({"wire", in, "--car", "Avocet", "--out", out, "--json"});
        QCOMPARE(r.status, 0);
        auto o = r.json();
        QCOMPARE(o["complete"].toBool(), true);
        QVERIFY(o["impossible"].isNull());
        QVERIFY(o["wires"].toArray().size() >= 19 && o["kept"].toArray().isEmpty());
        for (const auto &wire : o["wires"].toArray())
            for (const auto *key : {"from", "to", "colour", "why"})
                QVERIFY(!wire.toObject()[QLatin1String(key)].toString().isEmpty());
        QCOMPARE(cli({"wiring", out, "--car", "Avocet"}).status, 0);
        // A finished one has nothing to do; a file that is there is not replaced unasked.
        QCOMPARE(cli({"wire", out, "--car", "Avocet", "--out", in}).status, 2);
        r = cli({"wire", out, "--car", "Avocet", "--out", in, "--replace"});
        QCOMPARE(r.status, 0);
        QVERIFY(r.out.contains("nothing to do"));
        // One module.
        QVERIFY(badger::io::saveFile(in.toStdString(), badger::io::writeWorkshop(w)));
        r = cli({"wire", in, "--car", "Avocet", "--module", "ranger", "--out", out, "--replace",
                 "--json"});
        const auto wires = r.json()["wires"].toArray();
        QVERIFY(wires.size() >= 4 && wires.size() <= 6);
        r = cli({"wire", in, "--car", "Avocet", "--module", "radio", "--out", out, "--replace"});
        QCOMPARE(r.status, 2);
        QVERIFY(r.err.contains("it has") && r.err.contains("ranger"));
        // Where there is none nothing is written.
        const auto none = folder.filePath("none.json");
        r = cli({"wire", demoFile, "--car", "Curlew", "--out", none, "--json"});
        QCOMPARE(r.status, 1);
        o = r.json();
        QVERIFY(o["impossible"].toObject()["why"].toString().contains("need a pin"));
        QVERIFY(!o["impossible"].toObject()["frees"].toArray().isEmpty());
        QCOMPARE(o["wrong"].toArray()[0].toObject()["to"].toString(), QString("board.D10"));
        QVERIFY(!QFile::exists(none));
    }

    void wireListToAFile()
    {
        QTemporaryDir folder;
        const auto path = folder.filePath("wires.csv");
        QCOMPARE(cli({"wiring", demoFile, "--car", "Avocet", "--csv", path}).status, 0);
        QFile f(path);
        QVERIFY(f.open(QIODevice::ReadOnly));
        QVERIFY(f.readLine().startsWith("from,to,colour"));
        QCOMPARE(f.readAll().count('\n'), qsizetype(19));
        QCOMPARE(cli({"wiring", demoFile, "--car", "Avocet", "--csv", "/no/such/x.csv"}).status, 2);
    }

    void pinsOfACar()
    {
        auto r = cli({"pins", demoFile, "--car", "Curlew", "--json"});
        QCOMPARE(r.status, 0);
        QCOMPARE(r.json()["moves"].toInt(), 2);
        for (const auto &p : r.json()["pins"].toArray())
            if (p.toObject()["function"] == "driver.BIN2")
                QCOMPARE(p.toObject()["to"].toString(), QString("D11"));
        r = cli({"pins", demoFile, "--car", "Avocet", "--add", "pan-servo-21", "--json"});
        QCOMPARE(r.json()["additions"].toInt(), 1);
        // Two more bridges with two PWM inputs a motor, a servo and a buzzer: no map.
        r = cli({"pins", demoFile, "--car", "Curlew", "--add", "mosfet-dual-bridge", "--add",
                 "mosfet-dual-bridge", "--add", "buzzer", "--json"});
        QCOMPARE(r.status, 1);
        QCOMPARE(r.json()["possible"].toBool(), false);
        QCOMPARE(r.json()["pins_left"].toArray(), (QJsonArray{"D5", "D6"}));
        QVERIFY(r.json()["proof"].toString().contains("12 functions need PWM"));
        QVERIFY(!r.json()["ways_out"].toArray().isEmpty());
    }

    void motionOfACar()
    {
        auto r = cli({"motion", demoFile, "--car", "Turnstone", "--json"});
        QCOMPARE(r.status, 0);
        QCOMPARE(r.json()["rows"].toArray().size(), qsizetype(4));
        const auto last = r.json()["rows"].toArray().last().toObject();
        QCOMPARE(last["car"].toString(), QString("straight ahead"));
        QVERIFY(r.json()["notes"].toArray().first().toString().contains("IN10 floats"));
        r = cli({"motion", demoFile, "--car", "Avocet"});
        QVERIFY(r.out.contains("spins left on the spot"));
        QVERIFY(r.out.contains("program 'halt', drives: straight ahead"));
    }

    void partTests()
    {
        QTemporaryDir folder;
        auto r = cli({"code", demoFile, "--car", "Curlew", "--out", folder.path(), "--part-tests",
                      "--json"});
        QCOMPARE(r.status, 0);
        QCOMPARE(r.json()["files"].toArray().size(), qsizetype(6));
        QVERIFY(QFile::exists(folder.filePath("curlew_test_servo.cpp")));
        r = cli({"code", demoFile, "--car", "Turnstone", "--out", folder.path(), "--part-tests"});
        QCOMPARE(r.status, 2);
        QVERIFY(r.out.isEmpty());
    }

    void budget()
    {
        const auto r = cli({"budget", demoFile, "--car", "Avocet", "--json"});
        QCOMPARE(r.status, 0);
        COMPARE_NEAR(r.json()["gap_cm"].toDouble(), 25.94, 0.005);
        COMPARE_NEAR(r.json()["effective_edge_cm"].toDouble(), 33.0, 1e-9);
        COMPARE_NEAR(r.json()["least_threshold_cm"].toDouble(), 21.06, 0.005);
    }

    void codeAndWithoutAPolicy()
    {
        QTemporaryDir d;
        const auto folder = d.filePath("new/folder");
        const auto r = cli({"code", demoFile, "--car", "Avocet", "--out", folder});
        QCOMPARE(r.status, 0);
        QVERIFY(QFile::exists(folder + "/avocet_halt.cpp"));
        QVERIFY(QFile::exists(folder + "/board_support.h"));

        auto w = badger::test::demo();
        w.programs[0].readings[0].noEcho = badger::rules::NoEcho::Unset;
        const auto file = d.filePath("open.json");
        QVERIFY(badger::io::saveFile(file.toStdString(), badger::io::writeWorkshop(w)));
        const auto refused = cli({"code", file, "--car", "Avocet", "--out", d.filePath("none")});
        QCOMPARE(refused.status, 2);
        QVERIFY(refused.err.contains("what no echo means for 'ahead'"));
        QVERIFY(!QFile::exists(d.filePath("none")));
        QCOMPARE(cli({"check", file}).status, 1);
    }

    void trialAndItsTrace()
    {
        QTemporaryDir d;
        const auto trace = d.filePath("trace.csv");
        const QStringList base = {"trial",   demoFile,  "--car", "Avocet",
                                  "--floor", "Slipway", "--json"};
        const auto a = cli(base + QStringList{"--seed", "7", "--trace", trace});
        QCOMPARE(a.status, 0);
        QVERIFY(a.json()["task_met"].toBool());
        QCOMPARE(a.json()["task"].toString(), QString("stops"));
        QVERIFY(!a.json()["contact"].toBool());
        QVERIFY(a.json()["gap_cm"].toDouble() > 25.9);
        QFile file(trace);
        QVERIFY(file.open(QIODevice::ReadOnly));
        // A line a ping, and moments of the way in between.
        const auto text = file.readAll();
        QCOMPARE(text.count(",ranger,"), qsizetype(a.json()["readings"].toInt()));
        QVERIFY(text.count('\n') > 300);
        const auto b = cli(base + QStringList{"--seed", "7"});
        QCOMPARE(a.json()["fingerprint"], b.json()["fingerprint"]);
        const auto c = cli(base + QStringList{"--seed", "8"});
        QVERIFY(a.json()["fingerprint"] != c.json()["fingerprint"]);
    }

    void schemaAndHelp()
    {
        const auto r = cli({"schema"});
        QCOMPARE(r.status, 0);
        QVERIFY(QJsonDocument::fromJson(r.out.toUtf8()).isObject());
        QCOMPARE(cli({"--help"}).status, 0);
        for (const auto *call :
             {"echo", "stop-budget", "beam", "horn", "led", "regulator", "divider", "duty", "list",
              "check", "power", "table", "budget", "code", "trial", "schema"}) {
            const auto help = cli({call, "--help"});
            QCOMPARE(help.status, 0);
            QVERIFY2(help.out.contains("--json"), call);
        }
        QVERIFY(cli({"--version"}).out.contains('.'));
    }

    void aClosedPipeIsNoticed()
    {
        QProcess p;
        badger::test::runLimited(
            p, "bash", {"-c", QString("'%1' schema > /dev/full").arg(badger::test::places::cli)});
        QCOMPARE(p.exitCode(), 2);
    }
};

BADGER_TEST(TestCli)
#include "test_cli.moc"
