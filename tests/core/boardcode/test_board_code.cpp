// SPDX-License-Identifier: GPL-3.0-or-later
// The written program: what its text carries, what is never invented, and that it compiles for the
// real chip whatever things are called. What it does is compared in tests/board.
#include "core/boardcode/board_code.h"
#include "core/boardcode/board_variants.h"
#include "core/boardcode/names.h"
#include "core/boardcode/part_tests.h"
#include "core/judge/program_around.h"
#include "core/nets/drive_map.h"
#include "embedded/reservedNames.h"
#include "support/fixture.h"
#include "support/limited.h"

#include <QDir>
#include <QFile>
#include <QProcess>
#include <QTemporaryDir>
#include <functional>
#include <random>
#include <set>

using namespace badger;
using rules::NoEcho;
using test::Bench;
using test::variants;

namespace
{

void write(const QString &path, const std::string &text)
{
    QFile file(path);
    if (!file.open(QIODevice::WriteOnly))
        qFatal("cannot write %s", qPrintable(path));
    file.write(text.data(), qint64(text.size()));
}

QString run(const QString &program, const QStringList &arguments, const QByteArray &input = {})
{
    QProcess process;
    process.setProcessChannelMode(QProcess::MergedChannels);
    if (!test::runLimited(process, program, arguments, input))
        return program + " does not start";
    const auto output = QString::fromUtf8(process.readAll());
    return process.exitCode() == 0 ? output : "failed: " + output;
}

Result<boardcode::BoardCode> codeOf(const Bench &b)
{
    const kit::Assembly car(b.car, b.catalogue);
    return boardcode::boardCode(b.program, car, judge::writing(b.workshop, car, b.program));
}

} // namespace

class TestBoardCode final : public QObject
{
    Q_OBJECT
private slots:
    void headerCarriesWhatIsOnTheCar()
    {
        Bench b;
        const auto code = codeOf(b);
        VERIFY_OK(code);
        const auto &text = code->files.front().text;
        QVERIFY(text.starts_with("// Avocet, program 'halt', version 7, build "));
        QVERIFY(text.find("\n// Saltmarsh Sheds; wiring revision 3\n") != std::string::npos);
        QCOMPARE(code->files.front().name, std::string("avocet_halt.cpp"));
        QCOMPARE(code->files.back().name, std::string("board_support.h"));
        for (const auto *line : {"const uint8_t RANGER_TRIG = 8; // D8", "const int HALT_CM = 32;",
                                 "const uint8_t SPEED = 140;",
                                 "const Wheel RIGHT = {7, 14, 6}; // D7 A0 D6", "become(STANDS);"})
            QVERIFY2(text.find(line) != std::string::npos, line);
    }

    void tagsPointAtTheirLines()
    {
        Bench b;
        const auto code = codeOf(b);
        const auto lines = QString::fromStdString(code->files.front().text).split('\n');
        QStringList stands;
        QStringList halt;
        for (const auto &t : code->tags) {
            if (t.tag == "state:stands")
                stands << lines[t.line].trimmed();
            if (t.tag == "value:halt")
                halt << lines[t.line].trimmed();
        }
        QVERIFY(stands.contains("brake(LEFT);"));
        QVERIFY(stands.contains("become(STANDS);"));
        QCOMPARE(halt, QStringList{"const int HALT_CM = 32; // stop at this distance"});
    }

    void nothingIsInvented_data()
    {
        QTest::addColumn<int>("kind");
        QTest::addColumn<QString>("names");
        QTest::newRow("value") << 0 << "the value 'halt'";
        QTest::newRow("policy") << 1 << "what no echo means for 'ahead'";
        QTest::newRow("pin") << 2 << "the program has no pin for it";
        QTest::newRow("motor") << 3 << "the motor lead reaches no driver output";
        QTest::newRow("ranger") << 4 << "it has no ranger 'ranger'";
        QTest::newRow("broken") << 5 << "goes to the state 'x'";
        QTest::newRow("coast with a jumper") << 6 << "an enable is held high";
    }
    void nothingIsInvented()
    {
        QFETCH(int, kind);
        QFETCH(QString, names);
        Bench b;
        switch (kind) {
        case 0:
            b.value("halt").si.reset();
            break;
        case 1:
            b.reading().noEcho = NoEcho::Unset;
            break;
        case 2:
            b.car.programPins.erase("ranger.ECHO");
            break;
        case 3:
            b.unwire("left.A");
            break;
        case 4:
            b.car.parts.erase(b.car.parts.begin() + 1);
            break;
        case 5:
            b.program.everywhere[0].go = "x";
            break;
        default:
            b.program.states[0].motion.wheels = rules::Wheels::Coast;
            b.unwire("driver.ENA");
            for (auto &i : b.car.parts)
                if (i.id == "driver")
                    i.jumpers = {"ENA"};
        }
        const auto code = codeOf(b);
        QVERIFY(!code);
        QVERIFY2(QString::fromStdString(english(code.error().text())).contains(names),
                 english(code.error().text()).c_str());
    }

    void identifiers()
    {
        QCOMPARE(boardcode::identifier("Stands still", true), std::string("STANDS_STILL"));
        QCOMPARE(boardcode::identifier("3 cm", false), std::string("n_3_cm"));
        QCOMPARE(boardcode::identifier("", true), std::string("N_"));
    }

    /// Words of the language, of the header, of the chip, of the text itself, and each other's.
    void anyNamesCompile_data()
    {
        QTest::addColumn<QStringList>("names"); // reading, states, threshold, speed, pause
        const auto row = [](const char *name, const QStringList &names) {
            QTest::newRow(name) << names;
        };
        row("language", {"long", "and", "Goto", "not", "xor", "static assert"});
        row("header", {"echo us", "State", "Wheel", "no pin", "set duty", "clock us"});
        row("chip", {"cli", "adc", "PORTB", "sp", "OCR1A", "UDR0"});
        row("the text itself", {"names", "LEFT", "no echo", "state", "counts", "pass wait"});
        row("each other's", {"read_ahead_cm", "ahead", "AHEAD", "ahead", "ahead!", "ahead?"});
        row("made names", {"last", "raw x", "median x", "halt", "halt cm", "halt us"});
        row("not ASCII", {"vorn é", "é", "ü", "好", "🦡", "?"});
        row("signs", {"a\nint main", "\"; x", "\\", "*/", "#include <x>", "%s"});
        row("underscores", {"_", "__attribute__", "_Bool", "__", "_X", "_x"});
        row("figures", {"0", "1", "2.5", "3", "4", "5"});
    }
    void anyNamesCompile()
    {
        QFETCH(QStringList, names);
        const auto name = [&](int i) { return names[i].toStdString(); };
        Bench b;
        auto &p = b.program;
        for (auto *rules : {&p.everywhere})
            for (auto &r : *rules) {
                r.name = name(1);
                r.go = r.go == "stands" ? name(1) : name(2);
                for (auto &c : r.when)
                    c = {name(0), c.compare, name(3), {}};
            }
        p.readings[0].name = name(0);
        p.readings[0].noEcho = NoEcho::HoldLast;
        p.readings[0].medianOf = 3;
        p.prints.on = true;
        p.states[0].name = p.stopState = name(1);
        p.states[1].name = name(2);
        for (auto *wheel : {&p.states[1].motion.left, &p.states[1].motion.right})
            wheel->speed = name(4);
        p.passWait = name(5);
        for (size_t i = 0; i < 3; ++i) {
            p.values[i].name = name(int(i) + 3);
            p.values[i].meaning = "what?\?/ \"" + name(int(i)) + "\n\\";
        }
        b.car.name = name(1);
        QVERIFY(rules::broken(p).empty());
        b.workshop.name = "Sheds\n#error " + name(0);
        const auto code = codeOf(b);
        VERIFY_OK(code);
        compile(*code);
    }

    void theReservedNamesAreTheChips()
    {
        QString macros;
        for (const auto *chip : {CHIP_FLAGS, SMALL_CHIP_FLAGS})
            macros += run("avr-g++",
                          QString(chip).split(' ') + QStringList{"-x", "c++", "-dM", "-E", "-"},
                          "#include <avr/interrupt.h>\n#include <avr/io.h>\n"
                          "#include <avr/pgmspace.h>\n#include <stdint.h>\n");
        const auto listed = QByteArray::fromRawData(embedded::reservedNames.data(),
                                                    qsizetype(embedded::reservedNames.size()))
                                .split('\n');
        const std::set<QByteArray> known(listed.begin(), listed.end());
        int seen = 0;
        for (const auto &line : macros.split('\n')) {
            const auto name = line.section(' ', 1, 1).section('(', 0, 0);
            if (name.isEmpty() || name.startsWith('_'))
                continue;
            QVERIFY2(known.count(name.toUtf8()), qPrintable(name));
            ++seen;
        }
        QVERIFY(seen > 500);
    }

    void onlyTheBoardThatTheHeaderKnows()
    {
        Bench b;
        auto own = *b.catalogue.find("board-5v-8bit");
        own.id = "mine";
        own.name = "my board";
        for (auto &t : own.terminals)
            if (t.name == "D3")
                t.name = "GPIO5";
        b.workshop.parts.push_back(own);
        b.catalogue = io::catalogueOf(b.workshop);
        for (auto &i : b.car.parts)
            if (i.partId == "board-5v-8bit")
                i.partId = "mine";
        const auto code = codeOf(b);
        QVERIFY(!code);
        QCOMPARE(english(code.error().what),
                 std::string("board programs are not written for the my board"));
        QVERIFY(!boardcode::partTests({b.car, b.catalogue}, "Sheds"));
    }

    void pins()
    {
        QCOMPARE(boardcode::pinNumber("D13").value_or(-1), 13);
        QCOMPARE(boardcode::pinNumber("A5").value_or(-1), 19);
        for (const auto *none : {"", "D", "D14", "A6", "GPIO5", "P3", "D-1", "D07", "D1x", "d5"})
            QVERIFY2(!boardcode::pinNumber(none), none);
    }

    /// What cannot be written is refused with its reason.
    void whatABoardCannotDoIsRefused_data()
    {
        QTest::addColumn<int>("kind");
        QTest::addColumn<QString>("says");
        QTest::newRow("wait") << 0 << "longer than the board's clock can count";
        QTest::newRow("buzzer") << 1 << "the car has no buzzer";
        QTest::newRow("button") << 2 << "it has no sensor 'button'";
        QTest::newRow("scan") << 3 << "its wheels follow a scan";
        QTest::newRow("a second motor") << 4 << "it takes other pins than the motor before it";
    }
    void whatABoardCannotDoIsRefused()
    {
        QFETCH(int, kind);
        QFETCH(QString, says);
        Bench b;
        auto &p = b.program;
        switch (kind) {
        case 0:
            p.values.push_back({"nap", "", rules::ValueKind::Duration, 2400.0});
            p.states[1].wait = rules::Wait{"nap", rules::WaitKind::Timed, p.states[0].name};
            break;
        case 1:
            p.values.push_back({"beep", "", rules::ValueKind::Duration, 0.2});
            p.start.push_back({rules::Does::Beep, "", "beep"});
            break;
        case 2: {
            rules::Reading r;
            r.name = "go";
            r.instance = "button";
            r.source = rules::Source::Button;
            r.lightLevel = 1;
            p.readings.push_back(r);
            break;
        }
        case 4: {
            auto second = *kit::Assembly(b.car, b.catalogue).motorOn(kit::Side::Left);
            second.id = "left-2";
            b.car.parts.push_back(second);
            const auto right =
                b.wire("right.A").from == "right.A" ? b.wire("right.A").to : b.wire("right.A").from;
            const auto other =
                b.wire("right.B").from == "right.B" ? b.wire("right.B").to : b.wire("right.B").from;
            b.car.wires.push_back({"left-2.A", right, "pink", {}});
            b.car.wires.push_back({"left-2.B", other, "pink", {}});
            break;
        }
        default:
            p.readings[0].source = rules::Source::Scan;
            p.readings[0].swivel = rules::Swivel{"neck", {40.0, 90.0}, p.passWait};
            p.readings[0].choice = rules::Choice{};
            p.readings[0].medianOf = 1;
            p.actionsKind = rules::WaitKind::Timed;
            p.states[1].motion.proportion =
                rules::Proportion{rules::Follows::Slow, p.readings[0].name, "halt", "halt", {}};
        }
        const auto code = codeOf(b);
        QVERIFY(!code);
        QVERIFY2(english(code.error().text()).find(says.toStdString()) != std::string::npos,
                 english(code.error().text()).c_str());
        QVERIFY(!english(code.error().mend).empty());
    }

    /// The classroom controller's own tool gets the ports and the sentences.
    void aControllerGetsSteps()
    {
        Bench b;
        for (auto &i : b.car.parts)
            if (i.partId == "board-5v-8bit")
                i.partId = "controller-ports";
        const auto code = codeOf(b);
        VERIFY_OK(code);
        QCOMPARE(code->files.size(), size_t(1));
        QCOMPARE(code->files.front().name, std::string("avocet_halt_steps.txt"));
        const auto &text = code->files.front().text;
        for (const auto *line : {"Ports", "Steps", "32 cm"})
            QVERIFY2(text.find(line) != std::string::npos, text.c_str());
    }

    void compilesForTheChip_data()
    {
        QTest::addColumn<int>("index");
        for (size_t i = 0; i < variants().size(); ++i)
            QTest::newRow(variants()[i].name) << int(i);
    }
    void compilesForTheChip()
    {
        QFETCH(int, index);
        Bench b;
        variants()[size_t(index)].bend(b);
        const auto code = codeOf(b);
        VERIFY_OK(code);
        compile(*code);
    }

private:
    static void compile(const boardcode::BoardCode &code)
    {
        QTemporaryDir folder;
        for (const auto &f : code.files)
            write(folder.filePath(f.name == "board_support.h" ? "board_support.h" : "program.cpp"),
                  f.text);
        const auto compiled =
            run("avr-g++",
                QString(CHIP_FLAGS).split(' ') +
                    QStringList{"-Os", "-std=c++17", "-Wall", "-Wextra", "-Werror", "-o",
                                folder.filePath("program.elf"), folder.filePath("program.cpp")});
        QVERIFY2(!compiled.startsWith("failed"),
                 qPrintable(compiled + QString::fromStdString(code.files.front().text)));
        QVERIFY(QFile::exists(folder.filePath("program.elf")));
    }
};

BADGER_TEST(TestBoardCode)
#include "test_board_code.moc"
