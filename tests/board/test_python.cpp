// SPDX-License-Identifier: GPL-3.0-or-later
// The Python text of every template, run off the car with its stand-in for the pins, against the
// interpreter: both on clocks of their own that only calls move, so times are the same to the
// microsecond.
#include "board/boards.h"
#include "board/equal.h"
#include "core/judge/program_around.h"
#include "support/limited.h"

#include <QFile>
#include <QProcess>
#include <QTemporaryDir>
#include <fmt/format.h>
#include <random>

using namespace badger;
using boardcode::Style;
using rules::Source;

namespace
{

/// Readings that hold from a time on.
struct Row {
    std::uint64_t time_us = 0;
    std::map<std::string, int> pins; ///< echo pins: the echo's time; others: the level
    std::string key;
};

using Pins = std::map<int, int>; ///< duty of 255, or a servo's pulse
using Timeline = std::map<std::uint64_t, Pins>;

struct Ends {
};

class RowsBoard final : public machine::Board
{
public:
    RowsBoard(const rules::Program &program, const machine::Machine &machine,
              const boardcode::Wires &wires, const std::vector<Row> &rows)
        : m_program(program), m_machine(machine), m_wires(wires), m_rows(rows)
    {
        for (const auto &[servo, pin] : wires.servos)
            put(pin, 544 + 90 * 1856 / 180);
    }

    Timeline run()
    {
        machine::Runner runner(m_machine, *this);
        try {
            runner.start();
            for (;;)
                runner.pass();
        } catch (const Ends &) {
        }
        return m_timeline;
    }

    std::uint64_t now_us() const override { return m_now_us; }
    void wait_us(std::uint64_t time_us) override
    {
        m_now_us += time_us;
        if (m_now_us >= m_rows.back().time_us)
            throw Ends();
    }
    machine::Echo ping(int sensor, double) override
    {
        const auto &pins = m_wires.pings.at(reading(sensor).instance);
        const auto told = static_cast<std::uint32_t>(row().pins.at(pins.second));
        const auto timeOut_us = m_machine.sensors[static_cast<size_t>(sensor)].timeOut_us;
        const auto answer = told > 0 && told <= timeOut_us ? told : 0;
        wait_us(12 + (answer != 0 ? answer : timeOut_us));
        return {answer, {}};
    }
    int level(int sensor) override
    {
        return row().pins.at(m_wires.inputs.at(reading(sensor).name));
    }
    int count(int) override { return 0; }
    bool await(int sensor) override
    {
        while (level(sensor) != m_machine.sensors[static_cast<size_t>(sensor)].seenLevel)
            wait_us(1000);
        return true;
    }
    rules::Command key(int sensor) override
    {
        const auto &sign = row().key;
        const auto timeOut_us = m_machine.sensors[static_cast<size_t>(sensor)].keyTimeOut_us;
        if (!sign.empty() && m_keyRow != m_row) {
            const auto at = std::string(" ablr").find(sign);
            m_key =
                at == std::string::npos ? rules::Command::None : static_cast<rules::Command>(at);
            m_key_us = m_now_us;
        } else if (timeOut_us > 0 && m_now_us - m_key_us >= timeOut_us) {
            m_key = rules::Command::None;
        }
        m_keyRow = m_row;
        return m_key;
    }
    void drive(const machine::Orders &orders) override
    {
        for (const auto side : {kit::Side::Left, kit::Side::Right}) {
            const bool left = side == kit::Side::Left;
            const auto &names = (left ? m_wires.left : m_wires.right).pins;
            const auto pins = board::wheelPins(m_wires, side, left ? orders.left : orders.right);
            const std::string *order[] = {&names.forward, &names.backward, &names.enable};
            for (size_t i = 0; i < pins.size(); ++i)
                put(*order[i], pins[i]);
        }
    }
    void servo(int servo, double angle_deg) override
    {
        put(m_wires.servos.at(m_machine.servos[static_cast<size_t>(servo)]),
            static_cast<int>(544 + angle_deg * 1856 / 180));
    }
    void buzz(bool on) override { put(m_wires.buzzers.begin()->second, on ? 255 : 0); }
    void beep(std::uint64_t time_us) override
    {
        put(m_wires.buzzers.begin()->second, 255);
        wait_us(time_us);
        put(m_wires.buzzers.begin()->second, 0);
    }
    void print(std::string_view, int) override {}
    void entered(const machine::Mind &, const machine::Cause &) override {}

private:
    const rules::Reading &reading(int sensor) const
    {
        return m_program.readings[static_cast<size_t>(sensor)];
    }
    const Row &row()
    {
        while (m_row + 1 < m_rows.size() && m_rows[m_row + 1].time_us <= m_now_us)
            ++m_row;
        return m_rows[m_row];
    }
    void put(const std::string &pin, int value)
    {
        m_pins[boardcode::pinNumber(m_wires.target, pin).value_or(-1)] = value;
        m_timeline[m_now_us] = m_pins;
    }

    const rules::Program &m_program;
    const machine::Machine &m_machine;
    const boardcode::Wires &m_wires;
    const std::vector<Row> &m_rows;
    Timeline m_timeline;
    Pins m_pins;
    std::uint64_t m_now_us = 0, m_key_us = 0;
    size_t m_row = 0, m_keyRow = size_t(-1);
    rules::Command m_key = rules::Command::None;
};

/// "12.345 P12 duty 140": what is printed by the stand-in.
Timeline timelineOf(const QString &text)
{
    Timeline all;
    Pins pins;
    for (const auto &line : text.split('\n', Qt::SkipEmptyParts)) {
        const auto words = line.split(' ');
        if (words.size() != 4 || !words[1].startsWith('P'))
            continue;
        pins[words[1].mid(1).toInt()] =
            words[2] == "level" ? words[3].toInt() * 255 : words[3].toInt();
        all[static_cast<std::uint64_t>(std::llround(words[0].toDouble() * 1000.0))] = pins;
    }
    return all;
}

/// Without moments at which nothing changed.
Timeline changes(const Timeline &of)
{
    Timeline all;
    Pins before;
    for (const auto &[time, pins] : of) {
        if (pins != before)
            all[time] = pins;
        before = pins;
    }
    return all;
}

std::string said(const Timeline &of)
{
    std::string text;
    for (const auto &[time, pins] : of) {
        text += fmt::format("\n{}:", time);
        for (const auto &[pin, value] : pins)
            text += fmt::format(" P{}={}", pin, value);
    }
    return text;
}

} // namespace

class TestPython final : public QObject
{
    Q_OBJECT
private slots:
    void eachTemplateInEachStyle_data()
    {
        QTest::addColumn<QString>("name");
        QTest::addColumn<bool>("timed");
        for (const auto &t : io::templates())
            for (const bool timed : {false, true})
                QTest::newRow((t.name + (timed ? " timed" : " blocking")).c_str())
                    << QString::fromStdString(t.name) << timed;
    }
    void eachTemplateInEachStyle()
    {
        QFETCH(QString, name);
        QFETCH(bool, timed);
        const auto id = name.toStdString();
        test::Bench b(test::carFor(id));
        test::putOn(b, "computer-3v3");
        const kit::Assembly car(b.car, b.catalogue);
        const auto program = test::briefly(id, car);
        VERIFY_OK(program);
        auto writing = judge::writing(b.workshop, car, *program);
        QVERIFY(writing.facts.wide);
        writing.style = timed ? Style::Timed : Style::Blocking;
        const auto code = boardcode::boardCode(*program, car, writing);
        const bool analogue =
            std::any_of(program->readings.begin(), program->readings.end(),
                        [](const rules::Reading &r) { return r.source == Source::Analogue; });
        if (analogue) {
            QVERIFY(!code);
            QVERIFY(english(code.error().what).find("no analogue pins") != std::string::npos);
            return;
        }
        VERIFY_OK(code);
        QTemporaryDir folder;
        for (const auto &f : code->files)
            write(folder.filePath(QString::fromStdString(f.name)), f.text);
        const auto styled = boardcode::inStyle(*program, *writing.style);
        const auto machine = machine::lower(styled, writing.facts);
        const auto wires = boardcode::wiresFor(styled, car, {});
        VERIFY_OK(machine);
        VERIFY_OK(wires);
        for (std::uint32_t seed = 1; seed <= 3; ++seed) {
            const auto rows = rowsFor(styled, *machine, *wires, seed);
            write(folder.filePath("readings.csv"), csv(rows));
            QProcess python;
            python.setWorkingDirectory(folder.path());
            QVERIFY(test::runLimited(
                python, "python3",
                {"stand_in.py", QString::fromStdString(code->files.front().name), "readings.csv"}));
            QVERIFY2(python.exitCode() == 0, python.readAllStandardError().constData());
            const auto ran = changes(timelineOf(QString::fromUtf8(python.readAllStandardOutput())));
            const auto model = changes(RowsBoard(styled, *machine, *wires, rows).run());
            QVERIFY(ran.size() > 3);
            QVERIFY2(ran == model,
                     (std::to_string(seed) + said(ran) + "\n--" + said(model)).c_str());
        }
    }

    /// Whatever things are called, the text is a program, and no name becomes part of it.
    void anyNamesAreNames_data()
    {
        QTest::addColumn<QStringList>("names"); // reading, states, threshold, speed, pause
        const auto row = [](const char *name, const QStringList &names) {
            QTest::newRow(name) << names;
        };
        row("language", {"lambda", "None", "global", "print", "import", "def"});
        row("pins", {"echo us", "Wheel", "NO_PIN", "set duty", "clock us", "run"});
        row("the text itself", {"state", "LEFT", "enter", "one_pass", "counts", "pass"});
        row("signs", {"a\nimport os", "\"; x", "\\", "\"\"\"", "#", "{x}"});
        row("not ASCII", {"vorn é", "é", "ü", "好", "🦡", "?"});
    }
    void anyNamesAreNames()
    {
        QFETCH(QStringList, names);
        const auto name = [&](int i) { return names[i].toStdString(); };
        test::Bench b;
        test::putOn(b, "computer-3v3");
        auto &p = b.program;
        for (auto &r : p.everywhere) {
            r.name = name(1);
            r.go = r.go == p.states[0].name ? name(1) : name(2);
            for (auto &c : r.when)
                c = {name(0), c.compare, name(3), {}};
        }
        p.readings[0].name = name(0);
        p.readings[0].noEcho = rules::NoEcho::HoldLast;
        p.readings[0].medianOf = 3;
        p.prints.on = true;
        p.stopState = p.states[0].name = name(1);
        p.states[1].name = name(2);
        for (auto *wheel : {&p.states[1].motion.left, &p.states[1].motion.right})
            wheel->speed = name(4);
        p.passWait = name(5);
        for (size_t i = 0; i < 3; ++i) {
            p.values[i].name = name(int(i) + 3);
            p.values[i].meaning = "what\n\"\"\" " + name(int(i)) + "\\";
        }
        b.car.name = name(0);
        b.workshop.name = "Sheds\nimport os";
        QVERIFY(rules::broken(p).empty());
        const kit::Assembly car(b.car, b.catalogue);
        const auto code = boardcode::boardCode(p, car, judge::writing(b.workshop, car, p));
        VERIFY_OK(code);
        QTemporaryDir folder;
        for (const auto &f : code->files)
            write(folder.filePath(QString::fromStdString(f.name)), f.text);
        const auto &pins = boardcode::wiresFor(p, car, {})->pings.begin()->second;
        write(folder.filePath("readings.csv"),
              "time_ms," + pins.second + "\n0,3000\n200,1000\n400,0\n600,0\n");
        QProcess python;
        python.setProcessChannelMode(QProcess::MergedChannels);
        python.setWorkingDirectory(folder.path());
        QVERIFY(test::runLimited(
            python, "python3",
            {"stand_in.py", QString::fromStdString(code->files.front().name), "readings.csv"}));
        const auto said = python.readAll();
        QVERIFY2(python.exitCode() == 0 && said.contains(" duty "), said.constData());
        for (const auto &line : QString::fromStdString(code->files.front().text).split('\n'))
            QVERIFY2(!line.startsWith("import"), qPrintable(line));
    }

private:
    static void write(const QString &path, const std::string &text)
    {
        QFile file(path);
        if (!file.open(QIODevice::WriteOnly))
            qFatal("cannot write %s", qPrintable(path));
        file.write(text.data(), qint64(text.size()));
    }

    /// Feeds as the chip gets them, each entry for some milliseconds.
    static std::vector<Row> rowsFor(const rules::Program &program, const machine::Machine &machine,
                                    const boardcode::Wires &wires, std::uint32_t seed)
    {
        constexpr int count = 60;
        auto feed = board::feedFor(program, machine, seed, count);
        std::mt19937 random(seed);
        std::vector<Row> rows;
        std::uint64_t time_us = 0;
        for (int i = 0; i < count; ++i) {
            Row row;
            row.time_us = time_us;
            for (const auto &[instance, pins] : wires.pings)
                row.pins[pins.second] = static_cast<int>(feed.echoes_us[instance][size_t(i)]);
            for (const auto &[reading, pin] : wires.inputs)
                row.pins[pin] = feed.levels[reading][size_t(i)];
            if (!feed.keys.empty() && feed.keys[size_t(i)] > ' ')
                row.key = std::string(1, feed.keys[size_t(i)]);
            rows.push_back(row);
            time_us += 1000 + random() % 30'000;
        }
        return rows;
    }

    static std::string csv(const std::vector<Row> &rows)
    {
        std::string text = "time_ms";
        for (const auto &[pin, value] : rows.front().pins)
            text += "," + pin;
        text += ",key\n";
        for (const auto &row : rows) {
            text += fmt::format("{:.3f}", double(row.time_us) / 1000.0);
            for (const auto &[pin, value] : row.pins)
                text += fmt::format(",{}", value);
            text += "," + row.key + "\n";
        }
        return text;
    }
};

BADGER_TEST(TestPython)
#include "test_python.moc"
