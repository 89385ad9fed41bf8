// SPDX-License-Identifier: GPL-3.0-or-later
// What the comparison of programs takes for granted: the lines of the emulated chip themselves. A
// servo's pulses, the keys that come over the serial line, a time that does not fit into 16 bits,
// and waits as long as on a real car.
#include "board/boards.h"
#include "board/equal.h"
#include "core/judge/program_around.h"

#include <QTemporaryDir>

using namespace badger;
using boardcode::Style;

namespace
{

Result<board::Compiled> compiledFor(const test::Bench &b, const rules::Program &program,
                                    const QTemporaryDir &folder, std::optional<Style> style = {})
{
    const kit::Assembly car(b.car, b.catalogue);
    auto writing = judge::writing(b.workshop, car, program);
    writing.style = style;
    return board::compiled(program, car, writing, folder.path().toStdString());
}

} // namespace

class TestLines final : public QObject
{
    Q_OBJECT
private slots:
    /// 544 us at 0 degrees, 2400 at 180, every 20 ms, on the pin itself; its glances to the sides.
    void aServosPulses()
    {
        test::Bench b("Redshank");
        const kit::Assembly car(b.car, b.catalogue);
        const auto program = test::briefly(
            "glance", car, {{"dwell", "100ms"}, {"no-echo", "blocked"}, {"angles", "30,150"}});
        VERIFY_OK(program);
        QTemporaryDir folder;
        const auto compiled = compiledFor(b, *program, folder);
        VERIFY_OK(compiled);
        board::Chip chip(compiled->kind, compiled->elf, compiled->symbols);
        const int pin =
            *boardcode::pinNumber(compiled->wires.target, compiled->wires.servos.begin()->second);
        double rose_us = 0.0;
        std::vector<double> pulses_us, periods_us;
        chip.watch(pin);
        chip.onLevel = [&](int, bool high) {
            if (high && rose_us > 0.0)
                periods_us.push_back(chip.now_us() - rose_us);
            if (high)
                rose_us = chip.now_us();
            else if (rose_us > 0.0)
                pulses_us.push_back(chip.now_us() - rose_us);
        };
        QVERIFY(chip.run(900'000.0)); // nothing is heard: blocked, it looks round
        for (const double expected :
             {544.0 + 90 * 1856.0 / 180, 544.0 + 30 * 1856.0 / 180, 544.0 + 150 * 1856.0 / 180})
            QVERIFY2(std::any_of(pulses_us.begin(), pulses_us.end(),
                                 [&](double p) { return std::abs(p - expected) < 8.0; }),
                     qPrintable(QString::number(expected)));
        for (const double p : pulses_us)
            QVERIFY2(p > 540.0 && p < 2410.0, qPrintable(QString::number(p)));
        QVERIFY(periods_us.size() > 30);
        for (const double p : periods_us)
            QVERIFY2(std::abs(p - 20'000.0) < 30.0, qPrintable(QString::number(p)));
    }

    /// Continuous servos: each wheel's own neutral, forward by a longer pulse on the left and by a
    /// shorter one on the right.
    void wheelsOnServos()
    {
        test::Bench b("Ruff");
        const kit::Assembly car(b.car, b.catalogue);
        const auto program = test::briefly("turn-away", car, {{"no-echo", "clear"}});
        VERIFY_OK(program);
        QTemporaryDir folder;
        const auto compiled = compiledFor(b, *program, folder);
        VERIFY_OK(compiled);
        QVERIFY(compiled->wires.servoWheels);
        const auto feed = board::feedFor(compiled->program, compiled->machine, 4, 40);
        const auto ran = board::onChip(*compiled, feed);
        const auto parts = board::difference(ran, board::onModel(*compiled, ran));
        QVERIFY2(parts.empty(), parts.c_str());
        QVERIFY(ran.told.size() > 5);
        const int left = int(compiled->wires.leftNeutral_us);
        const int right = int(compiled->wires.rightNeutral_us);
        const std::vector<int> ahead = {left + 140 * 200 / 255, right - 140 * 200 / 255};
        QVERIFY(std::any_of(ran.told.begin(), ran.told.end(),
                            [&](const board::Told &t) { return t.pins == ahead; }));
    }

    /// The characters themselves, at the line's own rate; the signal is lost after its time-out.
    void keysOverTheSerialLine()
    {
        test::Bench b("Avocet");
        const kit::Assembly car(b.car, b.catalogue);
        const auto program =
            test::briefly("guarded-drive", car, {{"no-echo", "clear"}, {"lost-signal", "120ms"}});
        VERIFY_OK(program);
        QTemporaryDir folder;
        const auto compiled = compiledFor(b, *program, folder);
        VERIFY_OK(compiled);
        board::Chip chip(compiled->kind, compiled->elf, compiled->symbols);
        const auto duties = [&] {
            std::vector<int> all;
            for (const auto *pin :
                 {&compiled->wires.left.pins.forward, &compiled->wires.left.pins.backward,
                  &compiled->wires.right.pins.forward, &compiled->wires.right.pins.backward})
                all.push_back(chip.duty(*boardcode::pinNumber(compiled->wires.target, *pin)));
            return all;
        };
        QVERIFY(chip.run(60'000.0));
        QCOMPARE(duties(), (std::vector<int>{0, 0, 0, 0})); // stands
        chip.send('a');
        QVERIFY(chip.run(60'000.0));
        QCOMPARE(duties(), (std::vector<int>{255, 0, 255, 0}));
        chip.send('l');
        QVERIFY(chip.run(60'000.0));
        QCOMPARE(duties(), (std::vector<int>{0, 255, 255, 0}));
        chip.send('b');
        chip.send('r');
        QVERIFY(chip.run(60'000.0));
        QCOMPARE(duties(), (std::vector<int>{255, 0, 0, 255})); // the newest
        QVERIFY(chip.run(150'000.0));
        QCOMPARE(duties(), (std::vector<int>{0, 0, 0, 0})); // lost
    }

    /// 38,000 us in 16 bits are -27,536: at 15 degrees -468 cm, nearest of all.
    void aTimeInSixteenBits()
    {
        test::Bench b("Avocet");
        const kit::Assembly car(b.car, b.catalogue);
        const auto program = test::briefly("halt", car,
                                           {{"time-bits", "16"},
                                            {"limit", "700cm"},
                                            {"air", "15C"},
                                            {"no-echo", "clear"},
                                            {"prints", "yes"}});
        VERIFY_OK(program);
        QTemporaryDir folder;
        const auto compiled = compiledFor(b, *program, folder);
        VERIFY_OK(compiled);
        board::Feed feed;
        feed.echoes_us["ranger"] = {2900, 2900, 38'000, 38'000, 38'000};
        const auto ran = board::onChip(*compiled, feed);
        QVERIFY2(ran.error.empty(), ran.error.c_str());
        const auto parts = board::difference(ran, board::onModel(*compiled, ran, 80'000.0));
        QVERIFY2(parts.empty(), parts.c_str());
        QVERIFY2(ran.printed.find("ahead -468 ") != std::string::npos, ran.printed.c_str());
        QVERIFY(ran.printed.find("ahead 49 ") != std::string::npos);
        QVERIFY(ran.printed.starts_with("Avocet halt version 1, build "));
    }

    /// A count becomes a distance by the sensor's calibration, from a table in program memory;
    /// below 60 counts there is none. It steers before its first look, too.
    void aDistanceFromItsTable_data()
    {
        QTest::addColumn<QString>("numbers");
        QTest::addColumn<QString>("unit");
        for (const auto *numbers : {"whole", "fraction"})
            for (const auto *unit : {"cm", "mm", "in"})
                QTest::addRow("%s %s", numbers, unit) << QString(numbers) << QString(unit);
    }
    void aDistanceFromItsTable()
    {
        QFETCH(QString, numbers);
        QFETCH(QString, unit);
        test::Bench b("Godwit");
        const kit::Assembly car(b.car, b.catalogue);
        const auto program = test::briefly("wall-hold", car,
                                           {{"source", "distance"},
                                            {"near", "6cm"},
                                            {"far", "14cm"},
                                            {"unit", unit.toStdString()},
                                            {"numbers", numbers.toStdString()}});
        VERIFY_OK(program);
        QCOMPARE(program->readings[0].number == rules::NumberType::Whole, numbers == "whole");
        auto writing = judge::writing(b.workshop, car, *program);
        for (int counts = 0; counts < 1024; ++counts)
            writing.facts.distances["eye"].push_back(counts < 60 ? std::nullopt
                                                                 : std::optional(20.0 / counts));
        QTemporaryDir folder;
        const auto compiled = board::compiled(*program, car, writing, folder.path().toStdString());
        VERIFY_OK(compiled);
        auto feed = board::feedFor(compiled->program, compiled->machine, 9, 60);
        for (const int counts : {0, 59, 60, 143, 142, 333, 334, 1023})
            feed.counts.begin()->second.push_back(counts);
        const auto ran = board::onChip(*compiled, feed);
        const auto parts = board::difference(ran, board::onModel(*compiled, ran));
        QVERIFY2(parts.empty(), parts.c_str());
        QVERIFY(ran.told.size() > 10);
        QCOMPARE(ran.told.front().pins, (std::vector<int>{255, 0, 140, 255, 0, 140}));
    }

    /// As on a real car: waits of the demo's length, dwells that a servo needs.
    void realDurations_data()
    {
        QTest::addColumn<QString>("name");
        QTest::addColumn<bool>("timed");
        for (const auto *name : {"back-and-turn", "back-and-wander", "glance", "first-free-side",
                                 "fan", "table-edge", "guarded-drive"})
            for (const bool timed : {false, true})
                QTest::newRow((std::string(name) + (timed ? " timed" : " blocking")).c_str())
                    << QString(name) << timed;
    }
    void realDurations()
    {
        QFETCH(QString, name);
        QFETCH(bool, timed);
        test::Bench b(test::carFor(name.toStdString()));
        const kit::Assembly car(b.car, b.catalogue);
        auto choices = test::enough(name.toStdString());
        // A pass so short that the chip's own sums are most of it cannot be told to the
        // microsecond.
        choices["wait"] = "5ms";
        const auto program = io::fromTemplate(name.toStdString(), choices, kit::roles(car),
                                              Id<rules::Program>{"id"}, "as it is");
        VERIFY_OK(program);
        QTemporaryDir folder;
        const auto compiled =
            compiledFor(b, *program, folder, timed ? Style::Timed : Style::Blocking);
        VERIFY_OK(compiled);
        const auto feed = board::feedFor(compiled->program, compiled->machine, 2, timed ? 24 : 6);
        const auto ran = board::onChip(*compiled, feed, 30e6);
        const auto parts = board::difference(ran, board::onModel(*compiled, ran));
        QVERIFY2(parts.empty(), parts.c_str());
        QVERIFY(ran.told.size() >= 2);
        if (!timed)
            return;
        // Nothing blocks: no call is longer than a ping that waits for a far echo.
        for (size_t i = 1; i < ran.calls.size(); ++i)
            if (!ran.calls[i - 1].held)
                QVERIFY2(ran.calls[i].time_us - ran.calls[i - 1].time_us < 34'000.0,
                         qPrintable(QString::number(i)));
    }
};

BADGER_TEST(TestLines)
#include "test_lines.moc"
