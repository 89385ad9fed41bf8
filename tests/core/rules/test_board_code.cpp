// SPDX-License-Identifier: GPL-3.0-or-later
// Picture, text and code come from one rule set: the written program is compiled, for the real
// chip and for this machine, and does at every echo what the interpreter does.
#include "core/nets/drive_map.h"
#include "core/rules/board_code.h"
#include "core/rules/board_names.h"
#include "core/rules/board_variants.h"
#include "core/rules/interpreter.h"
#include "core/rules/part_tests.h"
#include "embedded/reservedNames.h"
#include "support/fixture.h"

#include <QDir>
#include <QFile>
#include <QProcess>
#include <QTemporaryDir>
#include <functional>
#include <random>
#include <set>

using namespace badger;
using rules::NoEcho;
using rules::WheelCommand;
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
    process.start(program, arguments);
    if (!process.waitForStarted())
        return program + " does not start";
    process.write(input);
    process.closeWriteChannel();
    process.waitForFinished(120000);
    const auto output = QString::fromUtf8(process.readAll());
    return process.exitCode() == 0 ? output : "failed: " + output;
}

/// Levels the interpreter's commands mean on the demo car's pins, as the host board prints them.
class ExpectedBoard final : public rules::Board
{
public:
    ExpectedBoard(const std::vector<std::uint32_t> &echoes, bool twoInputs)
        : m_echoes(echoes), m_twoInputs(twoInputs)
    {
    }
    std::uint64_t now_us() const override { return m_now; }
    void wait_us(std::uint64_t t) override { m_now += t; }
    std::uint32_t ping_us(std::string_view, std::uint32_t timeOut) override
    {
        const auto echo = m_echoes[m_next++];
        m_now += echo ? echo : timeOut;
        return echo > timeOut ? 0 : echo;
    }
    void drive(WheelCommand left, WheelCommand right) override
    {
        if (m_twoInputs) {
            pair(left, 5, 6);   // D5 D6
            pair(right, 9, 10); // D9 D10
            return;
        }
        wheel(left, 2, 4, 5);   // D2 D4 D5
        wheel(right, 7, 14, 6); // D7 A0 D6
    }
    void print(std::string_view, int) override {}
    void note(const rules::Decision &) override {}
    QString line() const
    {
        QString text;
        for (int i = 0; i < 20; ++i)
            text += QStringLiteral("%1/%2 ").arg(m_levels[i]).arg(m_duties[i]);
        return text;
    }

private:
    void wheel(WheelCommand c, int forward, int backward, int enable)
    {
        const bool turns = c.kind == WheelCommand::Kind::Turn;
        m_levels[forward] = turns && c.pwm_counts > 0;
        m_levels[backward] = turns && c.pwm_counts < 0;
        m_duties[enable] =
            turns ? std::abs(c.pwm_counts) : (c.kind == WheelCommand::Kind::Brake ? 255 : 0);
    }
    /// Both high brakes, both low coasts.
    void pair(WheelCommand c, int forward, int backward)
    {
        const bool turns = c.kind == WheelCommand::Kind::Turn;
        const int held = c.kind == WheelCommand::Kind::Brake ? 255 : 0;
        m_duties[forward] = turns ? std::max(0, c.pwm_counts) : held;
        m_duties[backward] = turns ? std::max(0, -c.pwm_counts) : held;
    }
    std::vector<std::uint32_t> m_echoes;
    bool m_twoInputs = false;
    size_t m_next = 0;
    std::uint64_t m_now = 0;
    int m_levels[20] = {};
    int m_duties[20] = {};
};

} // namespace

class TestBoardCode final : public QObject
{
    Q_OBJECT
private slots:
    void headerCarriesWhatIsOnTheCar()
    {
        Bench b;
        const auto code = rules::boardCode(b.program, {b.car, b.catalogue}, b.workshop.name);
        VERIFY_OK(code);
        const auto &text = code->files.front().text;
        QVERIFY(text.starts_with("// Avocet, program 'halt', version 7\n"
                                 "// Saltmarsh Sheds; wiring revision 3\n"));
        QCOMPARE(code->files.front().name, std::string("avocet_halt.cpp"));
        QCOMPARE(code->files.back().name, std::string("board_support.h"));
        for (const auto *line :
             {"const uint8_t AHEAD_TRIG = 8; // D8", "const int HALT_CM = 32;",
              "const uint8_t SPEED = 140;", "const Wheel RIGHT = {7, 14, 6}; // D7 A0 D6",
              "print_text(\"Avocet halt version 7\\r\\n\");"})
            QVERIFY2(text.find(line) != std::string::npos, line);
    }

    void tagsPointAtTheirLines()
    {
        Bench b;
        const auto code = rules::boardCode(b.program, {b.car, b.catalogue}, b.workshop.name);
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
        QVERIFY(stands.contains("go(STANDS);"));
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
        const auto code = rules::boardCode(b.program, {b.car, b.catalogue}, b.workshop.name);
        QVERIFY(!code);
        QVERIFY2(QString::fromStdString(english(code.error().text())).contains(names),
                 english(code.error().text()).c_str());
    }

    void identifiers()
    {
        QCOMPARE(rules::identifier("Stands still", true), std::string("STANDS_STILL"));
        QCOMPARE(rules::identifier("3 cm", false), std::string("n_3_cm"));
        QCOMPARE(rules::identifier("", true), std::string("N_"));
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
        const auto code = rules::boardCode(p, {b.car, b.catalogue}, "Sheds\n#error " + name(0));
        VERIFY_OK(code);
        compile(*code);
    }

    void theReservedNamesAreTheChips()
    {
        const auto macros = run(
            "avr-g++", QString(CHIP_FLAGS).split(' ') + QStringList{"-x", "c++", "-dM", "-E", "-"},
            "#include <avr/interrupt.h>\n#include <avr/io.h>\n"
            "#include <stdint.h>\n");
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
        const auto code = rules::boardCode(b.program, {b.car, b.catalogue}, "Sheds");
        QVERIFY(!code);
        QCOMPARE(english(code.error().what),
                 std::string("board programs are not written for the my board"));
        QVERIFY(!rules::partTests({b.car, b.catalogue}, "Sheds"));
    }

    void pins()
    {
        QCOMPARE(rules::pinNumber("D13").value_or(-1), 13);
        QCOMPARE(rules::pinNumber("A5").value_or(-1), 19);
        for (const auto *none : {"", "D", "D14", "A6", "GPIO5", "P3", "D-1", "D07", "D1x", "d5"})
            QVERIFY2(!rules::pinNumber(none), none);
    }

    void doesWhatTheInterpreterDoes_data()
    {
        QTest::addColumn<int>("index");
        for (size_t i = 0; i < variants().size(); ++i)
            QTest::newRow(variants()[i].name) << int(i);
    }
    void doesWhatTheInterpreterDoes()
    {
        QFETCH(int, index);
        Bench b;
        variants()[size_t(index)].bend(b);
        const auto code = rules::boardCode(b.program, {b.car, b.catalogue}, b.workshop.name);
        VERIFY_OK(code);

        QTemporaryDir folder;
        const auto source = folder.filePath("program.cpp");
        write(source, code->files.front().text);
        write(folder.filePath("board_support.h"), "#include \"" HOST_BOARD "\"\n");
        const auto binary = folder.filePath("program");
        const auto compiled =
            run("g++", {"-std=c++17", "-Wall", "-Wextra", "-Werror", "-Wno-comma-subscript",
                        "-Wno-narrowing", "-o", binary, source, "-I", folder.path()});
        QVERIFY2(!compiled.startsWith("failed"), qPrintable(compiled));

        // Every whole centimetre and its neighbours, a walk, stray and missing echoes.
        const unsigned seed = 17;
        std::mt19937 engine(seed);
        std::vector<std::uint32_t> echoes;
        for (std::uint32_t us = 0; us <= 7200; us += 29)
            echoes.push_back(us);
        for (int i = 0; i < 400; ++i)
            echoes.push_back(engine() % 4 == 0 ? 0 : static_cast<std::uint32_t>(engine() % 7300));
        for (std::uint32_t us = 1840; us <= 1930; ++us)
            echoes.push_back(us);
        QByteArray input;
        for (const auto us : echoes)
            input += QByteArray::number(us) + "\n";
        const auto did = run(binary, {}, input).split('\n', Qt::SkipEmptyParts);

        ExpectedBoard board(echoes, b.instance("driver").partId == "mosfet-dual-bridge");
        rules::Interpreter interpreter(b.program);
        interpreter.start(board);
        QCOMPARE(did.size(), qsizetype(echoes.size()));
        for (size_t i = 0; i < echoes.size(); ++i) {
            interpreter.pass(board);
            QVERIFY2(did[qsizetype(i)] == board.line(),
                     qPrintable(QStringLiteral("seed %1, echo %2 us: %3 instead of %4")
                                    .arg(seed)
                                    .arg(echoes[i])
                                    .arg(did[qsizetype(i)], board.line())));
        }
    }

    void compilesForTheChip_data() { doesWhatTheInterpreterDoes_data(); }
    void compilesForTheChip()
    {
        QFETCH(int, index);
        Bench b;
        variants()[size_t(index)].bend(b);
        const auto code = rules::boardCode(b.program, {b.car, b.catalogue}, b.workshop.name);
        VERIFY_OK(code);
        compile(*code);
    }

private:
    static void compile(const rules::BoardCode &code)
    {
        QTemporaryDir folder;
        for (const auto &f : code.files)
            write(folder.filePath(f.name == "board_support.h" ? "board_support.h" : "program.cpp"),
                  f.text);
        const auto compiled =
            run("avr-g++",
                QString(CHIP_FLAGS).split(' ') +
                    QStringList{"-Os", "-std=gnu++14", "-Wall", "-Wextra", "-Werror", "-o",
                                folder.filePath("program.elf"), folder.filePath("program.cpp")});
        QVERIFY2(!compiled.startsWith("failed"),
                 qPrintable(compiled + QString::fromStdString(code.files.front().text)));
        QVERIFY(QFile::exists(folder.filePath("program.elf")));
    }
};

BADGER_TEST(TestBoardCode)
#include "test_board_code.moc"
