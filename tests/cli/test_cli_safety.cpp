// SPDX-License-Identifier: GPL-3.0-or-later
// What the command line does with files it is not asked to replace, with names that are commands
// for a terminal, with values that are none, and with files that are made to be slow.
#include "core/io/storage.h"
#include "core/io/workshop_file.h"
#include "support/fixture.h"
#include "support/limited.h"
#include "support/places.h"

#include <QElapsedTimer>
#include <QFile>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QTemporaryDir>

using namespace badger;

namespace
{

struct RanBytes {
    int status = -1;
    QByteArray out;
    QByteArray err;
};

RanBytes bytesOf(const QStringList &arguments)
{
    QProcess p;
    test::runLimited(p, test::places::cli, arguments);
    return {p.exitStatus() == QProcess::NormalExit ? p.exitCode() : -1, p.readAllStandardOutput(),
            p.readAllStandardError()};
}

QByteArray contents(const QString &path)
{
    QFile f(path);
    return f.open(QIODevice::ReadOnly) ? f.readAll() : QByteArray();
}

void write(const QString &path, const QByteArray &bytes)
{
    QFile f(path);
    QVERIFY(f.open(QIODevice::WriteOnly));
    f.write(bytes);
}

QString save(const QTemporaryDir &folder, const workshop::Workshop &w)
{
    const auto path = folder.filePath("w.badger.json");
    if (!io::saveFile(path.toStdString(), io::writeWorkshop(w)))
        qFatal("the file cannot be saved");
    return path;
}

bool hasEscape(const QByteArray &text)
{
    return text.contains('\x1b') || text.contains("\xc2\x9b") || text.contains("\xe2\x80\xae");
}

rules::Rule rule(const std::string &name, const std::string &value, const std::string &go)
{
    return {name, {{"ahead", rules::Compare::Less, value, {}}}, go, true, {}};
}

void manyRules(rules::Program &program)
{
    for (int i = 0; i < 63; ++i) {
        auto state = program.states[0];
        state.name = "s" + std::to_string(i);
        for (int k = 0; k < 2; ++k)
            state.rules.push_back(rule(std::to_string(k), "halt", "stands"));
        program.states.push_back(state);
    }
    for (int i = 0; i < 190; ++i) {
        program.values.push_back(
            {"v" + std::to_string(i), "", rules::ValueKind::Distance, 0.005 * (i + 7), {}});
        if (i < 60)
            program.everywhere.push_back(
                rule("r" + std::to_string(i), program.values.back().name, "drives"));
    }
    program.readings[0].unit = units::Unit::Millimetre;
    program.readings[0].limit_m = 5.0;
}

void ringOfSupplies(kit::Car &car)
{
    for (int i = 0; i < 80; ++i) {
        kit::Instance fitted;
        fitted.id = "reg" + std::to_string(i);
        fitted.partId = "regulator-5v";
        car.parts.push_back(fitted);
        car.wires.push_back({fitted.id + ".OUT", "reg0.IN", "red", {}});
        if (i > 0)
            car.wires.push_back({fitted.id + ".IN", "reg0.IN", "red", {}});
    }
}

} // namespace

class TestCliSafety final : public QObject
{
    Q_OBJECT
private slots:
    void outputReplacesNothingUnasked_data()
    {
        QTest::addColumn<QStringList>("call");
        QTest::addColumn<QString>("option");
        QTest::newRow("csv") << QStringList{"wiring", "", "--car", "Avocet"} << "--csv";
        QTest::newRow("trace") << QStringList{"trial", "", "--car", "Avocet", "--floor", "Slipway"}
                               << "--trace";
    }
    void outputReplacesNothingUnasked()
    {
        QFETCH(QStringList, call);
        QFETCH(QString, option);
        QTemporaryDir folder;
        const auto file = save(folder, test::demo());
        const auto before = contents(file);
        call[1] = file;
        const auto there = folder.filePath("there.csv");
        write(there, "mine");
        auto r = bytesOf(call + QStringList{option, there});
        QCOMPARE(r.status, 2);
        QVERIFY2(r.err.contains("is there already") && r.err.contains("--replace"),
                 r.err.constData());
        QVERIFY(r.out.isEmpty());
        QCOMPARE(contents(there), QByteArray("mine"));
        QCOMPARE(bytesOf(call + QStringList{option, there, "--replace"}).status, 0);
        QVERIFY(contents(there).size() > 20);
        // The input never, by any name.
        const auto other = folder.filePath("link.json");
        QVERIFY(QFile::link(file, other));
        for (const auto &name : {file, folder.path() + "/./w.badger.json", other}) {
            r = bytesOf(call + QStringList{option, name, "--replace"});
            QCOMPARE(r.status, 2);
            QVERIFY2(r.err.contains("is the file that is read"), r.err.constData());
        }
        QCOMPARE(contents(file), before);
    }

    void codeWritesAllOrNothing()
    {
        QTemporaryDir folder;
        const auto file = save(folder, test::demo());
        const QStringList call = {"code",   file,    "--car",
                                  "Avocet", "--out", folder.filePath("code")};
        QCOMPARE(bytesOf(call).status, 0);
        QCOMPARE(bytesOf(call).status, 0); // the same text once more is no conflict
        const auto program = folder.filePath("code/avocet_halt.cpp");
        const auto header = folder.filePath("code/board_support.h");
        write(program, "mine");
        write(header, "mine too");
        const auto r = bytesOf(call);
        QCOMPARE(r.status, 2);
        QVERIFY(r.err.contains("is there already"));
        QCOMPARE(contents(program), QByteArray("mine"));
        QCOMPARE(contents(header), QByteArray("mine too"));
        QCOMPARE(bytesOf(call + QStringList{"--replace"}).status, 0);
        QVERIFY(contents(program).contains("Avocet"));
    }

    void noNameCommandsTheTerminal()
    {
        QTemporaryDir folder;
        auto w = test::demo();
        const std::string evil = "\x1b]0;owned\x07\x1b[2J\xc2\x9b"
                                 "31m\xe2\x80\xae";
        w.name = evil;
        for (auto &car : w.cars)
            car.team = evil;
        for (auto &wire : w.cars[0].wires)
            wire.colour = evil;
        for (auto &r : w.cars[0].history)
            r.reason = evil;
        w.programs[0].values[0].meaning = evil;
        w.programs[0].everywhere[0].name = evil;
        const auto file = save(folder, w);
        for (const QStringList &call : {QStringList{"list"},
                                        {"check"},
                                        {"wiring", "--car", "Avocet"},
                                        {"table", "--car", "Avocet"},
                                        {"wiring", "--car", "Avocet", "--between", "1", "3"},
                                        {"trial", "--car", "Avocet", "--floor", "Slipway"},
                                        {"pins", "--car", "Avocet"}}) {
            auto arguments = call;
            arguments.insert(1, file);
            const auto plain = bytesOf(arguments);
            QVERIFY2(!hasEscape(plain.out) && !hasEscape(plain.err), qPrintable(call[0]));
            const auto json = bytesOf(arguments + QStringList{"--json"});
            QVERIFY2(!hasEscape(json.out), qPrintable(call[0]));
            QVERIFY(QJsonDocument::fromJson(json.out).isObject());
        }
        const auto listed = QJsonDocument::fromJson(bytesOf({"list", file, "--json"}).out).object();
        QCOMPARE(listed["name"].toString().toStdString(), evil); // the value is the same
        QVERIFY(!hasEscape(bytesOf({"check", file, "--car", "\x1b[31mX"}).err));
        QVERIFY(!hasEscape(bytesOf({"\x1b[31mX"}).err));
        QVERIFY(!hasEscape(bytesOf({"echo", "--time", "\x1b[31mX", "--air", "22C"}).err));
    }

    void emptyIsNotZero()
    {
        const QStringList base = {"stop-budget", "--threshold", "32cm",    "--speed", "0.24m/s",
                                  "--roll",      "3.5cm",       "--error", "1cm"};
        for (const auto *nothing : {"", "  "}) {
            const auto r = bytesOf(base + QStringList{"--loop", nothing});
            QCOMPARE(r.status, 2);
            QVERIFY2(r.err.contains("--loop") && r.err.contains("no value"), r.err.constData());
            QVERIFY(bytesOf(base + QStringList{"--loop", "65ms", "--age", nothing}).status == 2);
        }
        QCOMPARE(bytesOf(base + QStringList{"--loop", "65ms"}).status, 0);
        QCOMPARE(bytesOf({"check", ""}).status, 2);
    }

    void noNumberIsInfinite()
    {
        const QString many = QString(300, '9');
        for (const QStringList &call :
             {QStringList{"echo", "--time", many + "us", "--air", "22C"},
              {"led", "--supply", many + "V", "--forward", "2V", "--current", "12mA"},
              {"divider", "--in", many + "V", "--top", "1kohm", "--bottom", "2kohm"},
              {"stop-budget", "--threshold", many + "cm", "--speed", "1m/s", "--loop", "1ms",
               "--roll", "1cm", "--error", "1cm"}}) {
            const auto r = bytesOf(call);
            QCOMPARE(r.status, 2);
            QVERIFY2(r.err.contains("is too large"), r.err.constData());
        }
        // A car that never needs to brake: any speed leaves the gap, and that is said in words.
        QTemporaryDir folder;
        auto w = test::demo();
        w.cars[0].calibrations.rollOuts.clear();
        w.programs[0].values[2].si = 0.0;
        w.programs[0].readings[0].medianOf = 1;
        const auto r = bytesOf({"budget", save(folder, w), "--car", "Avocet"});
        QVERIFY2(!r.out.contains("inf") && !r.out.contains("nan"), r.out.constData());
    }

    /// A car without a board has no program to write: its wires are it.
    void codeIsForACarWithABoard()
    {
        QTemporaryDir folder;
        auto w = test::demo();
        for (auto &car : w.cars)
            car.program = test::programCalled("halt");
        const auto file = save(folder, w);
        const auto r = bytesOf({"code", file, "--car", "Turnstone", "--out", folder.filePath("c")});
        QCOMPARE(r.status, 2);
        QVERIFY2(r.err.contains("it has no board to program"), r.err.constData());
        QVERIFY(!QFile::exists(folder.filePath("c")));
    }

    void messagesAreCutBetweenCharacters()
    {
        QTemporaryDir folder;
        const auto path = folder.filePath("w.json");
        auto text = QByteArray::fromStdString(io::writeWorkshop(test::demo()));
        text.replace("\"Saltmarsh Sheds\"", "[\"" + QByteArray("é").repeated(50) + "\"]");
        write(path, text);
        const auto r = bytesOf({"list", path});
        QCOMPARE(r.status, 2);
        QVERIFY(r.err.contains("..."));
        QVERIFY(!QString::fromUtf8(r.err).contains(QChar(0xFFFD)));
    }

    /// Small files that took minutes or gigabytes; each is answered or refused with a bound.
    void smallFilesStopNothing_data()
    {
        QTest::addColumn<int>("kind");
        QTest::newRow("rules") << 0;
        QTest::newRow("keys of one object") << 1;
        QTest::newRow("rangers for the pin plan") << 2;
        QTest::newRow("motors for the motion table") << 3;
        QTest::newRow("supplies in a ring") << 4;
        QTest::newRow("wrong entries") << 5;
    }
    void smallFilesStopNothing()
    {
        QFETCH(int, kind);
        QTemporaryDir folder;
        auto w = test::demo();
        auto &car = w.cars[0];
        auto &program = w.programs[0];
        QStringList calls = {"check"};
        const auto fit = [&](const std::string &part, int count) {
            for (int i = 0; i < count; ++i) {
                kit::Instance fitted;
                fitted.id = part + std::to_string(i);
                fitted.partId = part;
                fitted.side = i % 2 ? kit::Side::Left : kit::Side::Right;
                car.parts.push_back(fitted);
            }
        };
        if (kind == 0) {
            manyRules(program);
            calls << "table"
                  << "budget";
        }
        if (kind == 2) {
            fit("ranger-4-pin", 150);
            calls << "pins";
        }
        if (kind == 3) {
            fit("gear-motor-plastic", 60);
            fit("dual-bridge-module", 30);
            calls << "motion";
        }
        if (kind == 4) {
            ringOfSupplies(car);
            calls << "power"
                  << "wiring";
        }
        auto text = QByteArray::fromStdString(io::writeWorkshop(w));
        if (kind == 1) {
            QByteArray object = "{";
            for (int i = 0; i < 40000; ++i)
                object += "\"k" + QByteArray::number(i) + "\":0,";
            text.insert(text.indexOf('{') + 1, "\"more\":" + object + "\"z\":0},");
        }
        if (kind == 5) {
            QByteArray walls = "[";
            for (int i = 0; i < 60000; ++i)
                walls += "{\"a\":[]},";
            text.insert(text.indexOf("\"trials\": [") + 11, walls.mid(1));
        }
        const auto path = folder.filePath("w.json");
        write(path, text);
        for (const auto &call : calls) {
            QElapsedTimer clock;
            clock.start();
            const auto r = bytesOf(QStringList{call, path, "--car", "Avocet"});
            QVERIFY2(r.status >= 0, qPrintable(call));
            QVERIFY2(!r.out.isEmpty() || !r.err.isEmpty(), qPrintable(call));
            qInfo("%s: %lld ms: %s", qPrintable(call), clock.elapsed(),
                  r.err.left(160).constData());
        }
    }
};

BADGER_TEST(TestCliSafety)

#include "test_cli_safety.moc"
