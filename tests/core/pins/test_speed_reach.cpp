// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/edit/kit_edits.h"
#include "core/pins/planner.h"
#include "core/pins/speed_reach.h"
#include "support/fixture.h"

using namespace badger;
using namespace badger::nets;
using namespace badger::pins;
using test::Bench;

class TestSpeedReach final : public QObject
{
    Q_OBJECT
private slots:
    void aBuzzerThatSoundsByItselfNeedsNoTone()
    {
        Bench b;
        const auto id = edit::addPart(b.car, b.catalogue, "buzzer");
        const auto tone = [&] {
            return librariesOf(Nets({b.car, b.catalogue})).count("tone") == 1;
        };
        QVERIFY(tone()); // it may come to a pin
        b.car.wires.push_back({id + ".PLUS", "board.D9", "green"});
        QVERIFY(tone());
        b.instance(id).plain = true;
        QVERIFY(!tone());
        b.instance(id).plain = false;
        b.wire(id + ".PLUS") = {id + ".PLUS", "switch.OUT", "red"};
        QVERIFY(!tone()); // no pin sounds it
    }

    void whatBecomesOfASpeed()
    {
        Bench b;
        const auto by = [&] { return speedReach(Nets({b.car, b.catalogue}))[0]; };
        QVERIFY(by().by == SpeedBy::Duty);
        QCOMPARE(by().line, std::string("driver.ENA"));
        const auto wire = b.wire("driver.ENA");
        b.wire("driver.ENA").to = b.wire("driver.ENA").from == "driver.ENA" ? "board.D13" : wire.to;
        QVERIFY(by().by == SpeedBy::Steps);
        b.wire("driver.ENA") = {"driver.ENA", "board.5V", "red"};
        QVERIFY(by().by == SpeedBy::Full);
        b.unwire("driver.ENA");
        const auto r = edit::addPart(b.car, b.catalogue, "pull-down-10k");
        b.car.wires.push_back({"driver.ENA", r + ".A", "green"});
        b.car.wires.push_back({r + ".B", "board.5V", "red"});
        QVERIFY(by().by == SpeedBy::Full); // pulled up, and no pin on it
        b.unwire("driver.ENA");
        b.instance("driver").jumpers = {"ENA"};
        QVERIFY(by().by == SpeedBy::Full);
        QCOMPARE(actingCounts(SpeedBy::Duty, 90), 90);
        QCOMPARE(actingCounts(SpeedBy::Full, 90), 255);
        QCOMPARE(actingCounts(SpeedBy::Full, 0), 0);
        QCOMPARE(actingCounts(SpeedBy::Steps, 127), 0);
        QCOMPARE(actingCounts(SpeedBy::Steps, 128), 255);
    }
};

BADGER_TEST(TestSpeedReach)
#include "test_speed_reach.moc"
