// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/nets/drive_map.h"
#include "support/fixture.h"

using namespace badger;
using kit::Side;
using test::Bench;

class TestDriveMap final : public QObject
{
    Q_OBJECT
private slots:
    void leftAndRight()
    {
        Bench b;
        const auto left = nets::wheelDrive({b.car, b.catalogue}, Side::Left);
        VERIFY_OK(left);
        QCOMPARE(left->forward, std::string("driver.IN1"));
        QCOMPARE(left->backward, std::string("driver.IN2"));
        QCOMPARE(left->enable, std::string("driver.ENA"));
        QVERIFY(!left->held);
        // Mirrored on the car and crossed at the driver: the two cancel.
        const auto right = nets::wheelDrive({b.car, b.catalogue}, Side::Right);
        VERIFY_OK(right);
        QCOMPARE(right->forward, std::string("driver.IN3"));
        QCOMPARE(right->backward, std::string("driver.IN4"));
    }

    void swappedLeadsTurnTheWheelRound()
    {
        Bench b;
        std::swap(b.wire("left.A").from, b.wire("left.B").from);
        const auto left = nets::wheelDrive({b.car, b.catalogue}, Side::Left);
        QCOMPARE(left->forward, std::string("driver.IN2"));
    }

    void sidesCanTradeChannels()
    {
        Bench b;
        b.unwire("left.A");
        b.unwire("left.B");
        b.unwire("right.A");
        b.unwire("right.B");
        b.car.wires.push_back({"driver.OUT3", "left.A", "red"});
        b.car.wires.push_back({"driver.OUT4", "left.B", "black"});
        b.car.wires.push_back({"driver.OUT1", "right.A", "red"});
        b.car.wires.push_back({"driver.OUT2", "right.B", "black"});
        QCOMPARE(nets::wheelDrive({b.car, b.catalogue}, Side::Left)->enable,
                 std::string("driver.ENB"));
        // Not crossed, so the mirrored right motor goes forward on the second input.
        QCOMPARE(nets::wheelDrive({b.car, b.catalogue}, Side::Right)->forward,
                 std::string("driver.IN2"));
    }

    void whereTheTrailEnds_data()
    {
        QTest::addColumn<int>("kind");
        QTest::addColumn<QString>("what");
        QTest::newRow("lead off") << 0 << "the motor lead reaches no driver output";
        QTest::newRow("two outputs") << 1 << "the motor lead reaches two driver outputs";
        QTest::newRow("no motor") << 2 << "there is no motor on the left side";
    }
    void whereTheTrailEnds()
    {
        QFETCH(int, kind);
        QFETCH(QString, what);
        Bench b;
        if (kind == 0)
            b.unwire("left.A");
        else if (kind == 1)
            b.car.wires.push_back({"left.A", "driver.OUT4", "pink"});
        else
            std::erase_if(b.car.parts, [](const kit::Instance &i) { return i.id == "left"; });
        const auto drive = nets::wheelDrive({b.car, b.catalogue}, Side::Left);
        QVERIFY(!drive);
        QCOMPARE(QString::fromStdString(english(drive.error().what)), what);
    }

    void pinsOfTheProgram()
    {
        Bench b;
        const auto left = nets::wheelDrive({b.car, b.catalogue}, Side::Left);
        const auto pins = nets::wheelPins(b.car, *left);
        VERIFY_OK(pins);
        QCOMPARE(pins->forward, std::string("D2"));
        QCOMPARE(pins->backward, std::string("D4"));
        QCOMPARE(pins->enable, std::string("D5"));
        b.car.programPins.erase("driver.ENA");
        QVERIFY(!nets::wheelPins(b.car, *left));
    }

    void jumperNeedsNoPin()
    {
        Bench b;
        b.unwire("driver.ENA");
        b.car.programPins.erase("driver.ENA");
        for (auto &i : b.car.parts)
            if (i.id == "driver")
                i.jumpers = {"ENA"};
        const auto left = nets::wheelDrive({b.car, b.catalogue}, Side::Left);
        QVERIFY(left->held);
        QVERIFY(nets::wheelPins(b.car, *left)->enable.empty());
    }

    void truthTable()
    {
        Bench b;
        const auto *driver = b.catalogue.find("dual-bridge-module");
        const auto brake = nets::levelsFor(*driver, "brake");
        VERIFY_OK(brake);
        QVERIFY(brake->enable && brake->forward == brake->backward);
        const auto coast = nets::levelsFor(*driver, "coast");
        QVERIFY(!coast->enable);
        const auto drive = nets::levelsFor(*driver, "drive");
        QVERIFY(drive->enable && drive->forward && !drive->backward);
        auto mute = *driver;
        mute.truth.clear();
        QVERIFY(!nets::levelsFor(mute, "brake"));
    }

    void takesPinsFromWires()
    {
        Bench b;
        const auto before = b.car;
        QVERIFY(nets::withPinsFromWires(b.car, b.catalogue) == before);
        b.wire("ranger.TRIG").to = "board.D9";
        const auto after = nets::withPinsFromWires(b.car, b.catalogue);
        QCOMPARE(after.programPins.at("ranger.TRIG"), std::string("D9"));
        // A terminal that reaches two pins keeps what it had.
        b.car.wires.push_back({"ranger.TRIG", "board.D10", "pink"});
        QCOMPARE(nets::withPinsFromWires(b.car, b.catalogue).programPins.at("ranger.TRIG"),
                 std::string("D8"));
    }

    void signalsInOrder()
    {
        Bench b;
        const auto all = nets::signalTerminals({b.car, b.catalogue});
        QCOMPARE(all.size(), size_t(8));
        QCOMPARE(all.front(), std::string("ranger.TRIG"));
    }
};

BADGER_TEST(TestDriveMap)
#include "test_drive_map.moc"
