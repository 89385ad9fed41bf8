// SPDX-License-Identifier: GPL-3.0-or-later
// Part tests are compiled for the real chip, and use the pins that the wires lead to.
#include "core/boardcode/part_tests.h"
#include "core/edit/kit_edits.h"
#include "core/link/assembler.h"
#include "embedded/standIn.h"
#include "support/fixture.h"
#include "support/limited.h"

#include <QFile>
#include <QProcess>
#include <QTemporaryDir>

using namespace badger;
using test::Bench;

namespace
{

const boardcode::BoardFile *file(const std::vector<boardcode::BoardFile> &files,
                                 const std::string &name)
{
    for (const auto &f : files)
        if (f.name == name)
            return &f;
    return nullptr;
}

bool contains(const boardcode::BoardFile *f, const char *text)
{
    return f != nullptr && f->text.find(text) != std::string::npos;
}

/// A board for this computer: its clock turns over within the first pass but one.
const char *const hostSupport = R"(#include <cstdint>
#include <cstdio>
const uint8_t NO_PIN = 255;
static uint32_t now = 4294000000u; // it turns over within the first pass but one
static int passes = 0;
inline uint32_t clock_us() { return now; }
inline void wait_us(uint32_t t) { now += t; }
inline void make_output(uint8_t) {}
inline void make_input(uint8_t) {}
inline bool level(uint8_t pin) { return (passes + pin) % 3 == 0; }
inline uint16_t analogue(uint8_t pin) { return (uint16_t)(1000 + pin); }
inline uint32_t echo_us(uint8_t, uint8_t, uint32_t) { now += 1700; return passes % 4 ? 1700 : 0; }
inline void begin_serial(uint32_t) {}
inline bool asked(char) { return passes == 5; }
inline void print_text(const char *text) { std::fputs(text, stdout); }
void start();
void pass();
int main() { start(); for (; passes < 100; ++passes) pass(); }
)";

} // namespace

class TestPartTests final : public QObject
{
    Q_OBJECT
private slots:
    void everyCarsTestsCompile_data()
    {
        QTest::addColumn<std::string>("car");
        for (const auto *name : {"Avocet", "Curlew", "Dunlin", "Plover", "Redshank", "Ruff"})
            QTest::newRow(name) << std::string(name);
    }
    void everyCarsTestsCompile()
    {
        QFETCH(std::string, car);
        Bench b(car);
        const auto led = edit::addPart(b.car, b.catalogue, "led-red");
        b.car.wires.push_back({led + ".PLUS", "board.D13", "pink", {}});
        const auto files = boardcode::partTests({b.car, b.catalogue}, "Sheds\n*/ \"x\"");
        VERIFY_OK(files);
        QTemporaryDir folder;
        for (const auto &f : *files) {
            QFile out(folder.filePath(QString::fromStdString(f.name)));
            QVERIFY(out.open(QIODevice::WriteOnly));
            out.write(f.text.data(), qint64(f.text.size()));
        }
        for (const auto &f : *files) {
            if (!f.name.ends_with(".cpp"))
                continue;
            QProcess compile;
            compile.setProcessChannelMode(QProcess::MergedChannels);
            compile.setWorkingDirectory(folder.path());
            QVERIFY(test::runLimited(compile, "avr-g++",
                                     QString(CHIP_FLAGS).split(' ') +
                                         QStringList{"-Os", "-std=gnu++14", "-Wall", "-Wextra",
                                                     "-Werror", "-o", "test.elf",
                                                     QString::fromStdString(f.name)}));
            QVERIFY2(compile.exitCode() == 0, compile.readAll().constData());
        }
    }

    /// The program that sends readings, run on this machine: every line of it is read.
    void readingsAreSentInLines()
    {
        Bench b("Dunlin");
        const auto files = boardcode::partTests({b.car, b.catalogue}, "Sheds");
        VERIFY_OK(files);
        const auto *f = file(*files, "dunlin_test_readings.cpp");
        QVERIFY(f);
        QTemporaryDir folder;
        const auto put = [&](const QString &name, const std::string &text) {
            QFile out(folder.filePath(name));
            QVERIFY(out.open(QIODevice::WriteOnly));
            out.write(text.data(), qint64(text.size()));
        };
        put("readings.cpp", f->text);
        const auto *lines = file(*files, "link_lines.h");
        QVERIFY(lines);
        put("link_lines.h", lines->text);
        put("board_support.h", hostSupport);

        QProcess run;
        run.setProcessChannelMode(QProcess::MergedChannels);
        run.setWorkingDirectory(folder.path());
        QVERIFY(test::runLimited(
            run, "c++", {"-Wall", "-Wextra", "-Werror", "-o", "readings", "readings.cpp"}));
        QVERIFY2(run.exitCode() == 0, run.readAll().constData());
        QVERIFY(test::runLimited(run, folder.filePath("readings"), QStringList()));
        link::Assembler assembler;
        const auto events = assembler.take(run.readAll().toStdString(), 0.0);
        QCOMPARE(assembler.tally().badLines, std::uint64_t(0));
        QCOMPARE(assembler.tally().samples, std::uint64_t(100));
        QCOMPARE(assembler.tally().lost, std::uint64_t(0));
        QCOMPARE(assembler.tally().restarts, std::uint64_t(0));
        const auto &header = *assembler.header();
        QCOMPARE(header.build, std::string("dunlin-w1"));
        QCOMPARE(header.channels.size(), size_t(2));
        QCOMPARE(header.channels[0].name, std::string("left-eye"));
        int headers = 0;
        double last_ms = -1.0;
        for (const auto &e : events) {
            headers += std::holds_alternative<link::HeaderCame>(e) ? 1 : 0;
            if (const auto *s = std::get_if<link::SampleCame>(&e)) {
                QVERIFY(s->sample.time_ms > last_ms || last_ms < 0);
                last_ms = s->sample.time_ms;
                for (const auto &v : s->sample.values)
                    QVERIFY(v.number == 0.0 || v.number == 1.0);
            }
        }
        QVERIFY(headers >= 5); // at the start, when asked, and every three seconds of ten
        // A ranger's channel is called like it, in us.
        Bench avocet;
        const auto own = boardcode::partTests({avocet.car, avocet.catalogue}, "Sheds");
        QVERIFY(contains(file(*own, "avocet_test_readings.cpp"), "every=100 ranger:us !"));
    }

    /// Names of parts and terminals are text, and a part without terminals has no test.
    void hostileNamesAreText()
    {
        Bench b;
        auto led = *b.catalogue.find("led-red");
        led.id = "own-led";
        led.terminals.clear();
        auto eye = *b.catalogue.find("infrared-light-low");
        eye.id = "own-eye";
        for (auto &t : eye.terminals)
            if (t.role == parts::Role::DigitalOut)
                t.name = "OUT\n#error \"x";
        b.workshop.parts = {led, eye};
        b.catalogue = io::catalogueOf(b.workshop);
        for (const auto &[id, part] :
             {std::pair{"wheel\n#error", "own-eye"}, {"slow", "own-led"}}) {
            kit::Instance fitted;
            fitted.id = id;
            fitted.partId = part;
            b.car.parts.push_back(fitted);
        }
        b.car.wires.push_back({"wheel\n#error.OUT\n#error \"x", "board.D3", "pink", {}});
        const auto files = boardcode::partTests({b.car, b.catalogue}, "Sheds");
        VERIFY_OK(files);
        const auto *sensors = file(*files, "avocet_test_sensors.cpp");
        QVERIFY(sensors);
        for (const auto &line : QString::fromStdString(sensors->text).split('\n'))
            QVERIFY2(!line.startsWith("#error"), qPrintable(line));
    }

    void thePinsAreThoseOfTheWires()
    {
        Bench b;
        b.wire("ranger.TRIG").to = "board.D9"; // the program's pins are not asked
        const auto files = boardcode::partTests({b.car, b.catalogue}, "Sheds");
        VERIFY_OK(files);
        QVERIFY(contains(file(*files, "avocet_test_ranger.cpp"), "TRIG = 9; // D9"));
        QVERIFY(contains(file(*files, "avocet_test_ranger.cpp"), "ECHO = 12; // D12"));
        const auto *motors = file(*files, "avocet_test_motors.cpp");
        QVERIFY(contains(motors, "RIGHT = {7, 14, 6}; // D7 A0 D6"));
        QVERIFY(contains(motors, "Wheels off the ground"));
        QVERIFY(file(*files, "board_support.h"));
        QVERIFY(!file(*files, "avocet_test_sensors.cpp")); // it has none
    }

    void aJumperedEnableHasNoPin()
    {
        Bench b;
        b.unwire("driver.ENA");
        for (auto &i : b.car.parts)
            if (i.id == "driver")
                i.jumpers = {"ENA"};
        const auto files = boardcode::partTests({b.car, b.catalogue}, "Sheds");
        VERIFY_OK(files);
        QVERIFY(contains(file(*files, "avocet_test_motors.cpp"), "LEFT = {2, 4, NO_PIN}"));
    }

    void whatHasNoPinIsNamed()
    {
        Bench b;
        b.unwire("driver.IN3");
        const auto files = boardcode::partTests({b.car, b.catalogue}, "Sheds");
        VERIFY_OK(files);
        QVERIFY(contains(file(*files, "avocet_test_motors.cpp"), "// right: no pins to drive it"));
    }

    /// Python for the computer: it runs on the stand-in, and the pins do what the text says.
    void onTheComputer()
    {
        const Bench b("Whimbrel");
        const auto files = boardcode::partTests({b.car, b.catalogue}, "Sheds");
        VERIFY_OK(files);
        QTemporaryDir folder;
        const auto put = [&](const QString &name, const std::string &text) {
            QFile out(folder.filePath(name));
            QVERIFY(out.open(QIODevice::WriteOnly));
            out.write(text.data(), qint64(text.size()));
        };
        for (const auto &f : *files)
            put(QString::fromStdString(f.name), f.text);
        put("stand_in.py", std::string(embedded::standIn));
        put("readings.csv", "time_ms,P24,P25\n0,1740,1\n9000,0,0\n");
        const auto ran = [&](const char *name) {
            QProcess run;
            run.setProcessChannelMode(QProcess::MergedChannels);
            run.setWorkingDirectory(folder.path());
            test::runLimited(run, "python3", {"stand_in.py", name, "readings.csv"});
            return QString::fromUtf8(run.readAll());
        };
        const auto motors = ran("whimbrel_test_motors.py");
        QVERIFY2(motors.contains("left forward"), qPrintable(motors));
        QVERIFY2(motors.contains("3000.000 P12 duty 150"), qPrintable(motors));
        QVERIFY2(motors.contains("P18 duty 150"), qPrintable(motors)); // backward
        const auto ranger = ran("whimbrel_test_ranger.py");
        QVERIFY2(ranger.contains("1740 us, 29.8"), qPrintable(ranger));
        const auto sensors = ran("whimbrel_test_sensors.py");
        QVERIFY2(sensors.contains("edge OUT high"), qPrintable(sensors));
        QVERIFY(!file(*files, "whimbrel_test_readings.py")); // no serial line to the bench
    }

    /// The bare chip prints nothing: what is only read has no program there.
    void onTheBareChip()
    {
        Bench b("Dunlin");
        for (auto &i : b.car.parts)
            if (i.id == "board")
                i.partId = "chip-14-pin";
        for (auto &w : b.car.wires)
            for (auto *end : {&w.from, &w.to})
                for (const auto &[from, to] : {std::pair("board.D2", "board.P9"),
                                               {"board.D4", "board.P10"},
                                               {"board.D5", "board.P5"},
                                               {"board.D7", "board.P0"},
                                               {"board.A0", "board.P1"},
                                               {"board.D6", "board.P6"},
                                               {"board.D8", "board.P2"},
                                               {"board.D12", "board.P3"},
                                               {"board.5V", "board.VCC"},
                                               {"board.GND1", "board.GND"}})
                    if (*end == from)
                        *end = to;
        const auto files = boardcode::partTests({b.car, b.catalogue}, "Sheds");
        VERIFY_OK(files);
        QCOMPARE(files->size(), size_t(2));
        const auto *motors = file(*files, "dunlin_test_motors.cpp");
        QVERIFY(contains(motors, "LEFT = {9, 10, 5}; // P9 P10 P5"));
        QVERIFY(!contains(motors, "print_text"));
        QTemporaryDir folder;
        for (const auto &f : *files) {
            QFile out(folder.filePath(QString::fromStdString(f.name)));
            QVERIFY(out.open(QIODevice::WriteOnly));
            out.write(f.text.data(), qint64(f.text.size()));
        }
        QProcess compile;
        compile.setProcessChannelMode(QProcess::MergedChannels);
        compile.setWorkingDirectory(folder.path());
        QVERIFY(test::runLimited(compile, "avr-g++",
                                 QString(SMALL_CHIP_FLAGS).split(' ') +
                                     QStringList{"-Os", "-std=c++17", "-Wall", "-Wextra", "-Werror",
                                                 "-o", "test.elf", "dunlin_test_motors.cpp"}));
        QVERIFY2(compile.exitCode() == 0, compile.readAll().constData());
    }

    void boardsItIsNotWrittenFor()
    {
        const Bench none("Turnstone");
        const auto files = boardcode::partTests({none.car, none.catalogue}, "Sheds");
        QVERIFY(!files && !files.error().mend.empty());
        Bench b;
        b.car.wires.clear();
        QVERIFY(!boardcode::partTests({b.car, b.catalogue}, "Sheds"));
    }
};

BADGER_TEST(TestPartTests)
#include "test_part_tests.moc"
