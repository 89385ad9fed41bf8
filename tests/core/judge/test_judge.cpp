// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/firstpower/walk.h"
#include "core/judge/judge.h"
#include "core/mechanics/build.h"
#include "core/revisions/history.h"
#include "support/fixture.h"

#include <set>

using namespace badger;
using judge::GateState;
using judge::Station;
using test::Bench;

class TestJudge final : public QObject
{
    Q_OBJECT
private slots:
    void theDemoPassesEveryGate()
    {
        Bench b;
        const auto j = b.judge();
        for (const auto s : judge::stations) {
            QVERIFY2(j.gate(s).state == GateState::Passed, judge::name(s));
            QVERIFY(!j.gate(s).why.empty());
        }
        QCOMPARE(j.measured.size(), size_t(3));
        QCOMPARE(english(j.next.title), std::string("Run it once at 0.48 m/s."));
        // 32 - 3.12 - 14 - 1 = 13.88, with the loop's last tenth of a millisecond 13.9
        QVERIFY(english(j.next.text).find("13.9 cm left at worst") != std::string::npos);
        QVERIFY(!j.next.caution.empty());
    }

    void aReadingOfARangerThatIsNotThere()
    {
        Bench b;
        b.reading().instance = "ghost";
        const auto j = b.judge();
        const auto *f = test::find(j.rule.findings, "reading-without-ranger");
        QVERIFY(f && f->severity == Severity::Error);
        QCOMPARE(f->target(), std::string("reading:ahead"));
        QVERIFY(j.gate(Station::Rule).state == GateState::Blocked);
    }

    /// What the wires make of a speed is what the budget reckons with.
    void aHeldEnableMeansFullSpeed()
    {
        Bench b;
        b.value("speed").si = 120.0;
        const auto slow = b.judge();
        QCOMPARE(slow.budget->acts_counts, 120);
        b.wire("driver.ENA") = {"driver.ENA", "board.5V", "red"};
        b.wire("driver.ENB") = {"driver.ENB", "board.5V", "red"};
        b.car.programPins.erase("driver.ENA");
        b.car.programPins.erase("driver.ENB");
        const auto full = b.judge();
        const auto *f = test::find(full.rule.findings, "speed-line-held");
        QVERIFY(f && f->severity == Severity::Warning);
        QCOMPARE(full.budget->pwm_counts, 120);
        QCOMPARE(full.budget->acts_counts, 255);
        QVERIFY(full.budget->speed.value > 1.5 * slow.budget->speed.value);
        QVERIFY(english(full.budget->speed.from).starts_with("120 of 255 are asked for"));
        QVERIFY(full.budget->budget.worstGap_m < slow.budget->budget.worstGap_m);
        QVERIFY(!test::find(full.rule.findings, "no-board-program")); // it can still be written
        // One side only: the car goes round in a circle.
        b.wire("driver.ENB") = {"driver.ENB", "board.D6", "green"};
        b.car.programPins["driver.ENB"] = "D6";
        QVERIFY(test::find(b.judge().rule.findings, "wheels-uneven"));
    }

    void anActionThatTheDriverCannotDo()
    {
        Bench b;
        QVERIFY(!test::find(b.judge().rule.findings, "action-not-done"));
        for (auto &s : b.program.states)
            if (s.motion.wheels == rules::Wheels::Brake)
                s.motion.wheels = rules::Wheels::Coast;
        QVERIFY(!test::find(b.judge().rule.findings, "action-not-done"));
        b.instance("driver").jumpers = {"ENA", "ENB"};
        b.unwire("driver.ENA");
        b.unwire("driver.ENB");
        const auto found = b.judge().rule.findings; // it coasts by letting the enable go
        const auto *f = test::find(found, "action-not-done");
        QVERIFY(f && f->severity == Severity::Error);
        QVERIFY(test::find(found, "no-board-program"));
    }

    void freshCellsAreFaster()
    {
        Bench b;
        QVERIFY(!test::find(b.judge().rule.findings, "fresh-cells-faster"));
        const double gap = b.judge().budget->budget.worstGap_m;
        b.car.wantedGap_m = gap - 0.001; // a gap that the measured speed just leaves
        const auto found = b.judge().rule.findings;
        const auto *f = test::find(found, "fresh-cells-faster");
        QVERIFY(f && f->severity == Severity::Warning);
        QVERIFY(english(f->why).find("a fresh pack of 8.4 V") != std::string::npos);
        QVERIFY(!test::find(found, "gap-under-wanted"));
        // Unmeasured, the speed is that of fresh cells from the start.
        b.car.calibrations.speeds.clear();
        QVERIFY(english(b.judge().budget->speed.from).find("fresh cells") != std::string::npos);
    }

    /// Six NiMH cells nominal reach the motors' 4.5 V at 227 of 255: 7.2 V less 1.8 V and 1.4 ohm
    /// at 0.25 A.
    void aSpeedOverTheCap()
    {
        Bench b;
        b.value("speed").si = 183.0; // 4.5 V of 6.25 V, fresh
        QVERIFY(!test::find(b.judge().rule.findings, "speed-over-cap"));
        b.value("speed").si = 228.0;
        const auto found = b.judge().rule.findings;
        const auto *f = test::find(found, "speed-over-cap");
        QVERIFY(f && f->severity == Severity::Warning);
        QVERIFY(english(f->what).find("at 227 with nominal") != std::string::npos);
        b.value("speed").si = 200.0; // over the fresh cells' count only
        const auto fresh = b.judge().rule.findings;
        f = test::find(fresh, "speed-over-cap");
        QVERIFY(f && f->severity == Severity::Advice);
    }

    void wireGate()
    {
        Bench b;
        b.unwire("ranger.GND");
        auto j = b.judge();
        QVERIFY(j.gate(Station::Wire).state == GateState::Blocked);
        QCOMPARE(j.next.station, Station::Wire);
        QCOMPARE(english(j.next.caution),
                 std::string("Power off and cells out before a wire is moved."));
        b.car.wires.clear();
        j = b.judge();
        QVERIFY(j.gate(Station::Wire).state == GateState::Open);
        QCOMPARE(english(j.next.title), std::string("Wire the car."));
    }

    void ruleGate()
    {
        Bench b;
        b.value("halt").si.reset();
        auto j = b.judge();
        QVERIFY(j.gate(Station::Rule).state == GateState::Blocked);
        QVERIFY(j.gate(Station::Floor).state == GateState::Open);
        QVERIFY(j.noBudget);
        QCOMPARE(english(j.next.title), std::string("Choose 'halt'."));
        b.value("halt").si = 0.18; // under the 15 cm that are wanted
        j = b.judge();
        QVERIFY(j.gate(Station::Rule).state == GateState::Warning);
        QVERIFY(test::find(j.rule.findings, "gap-under-wanted"));
    }

    void tooLateIsAnError()
    {
        Bench b;
        b.value("halt").si = 0.05;
        const auto j = b.judge();
        const auto *f = test::find(j.rule.findings, "stops-too-late");
        QVERIFY(f);
        QCOMPARE(english(f->what), std::string("At worst the car is 1.1 cm past the obstacle."));
        QVERIFY(f->severity == Severity::Error);
    }

    void floorGateBlocksOnContact()
    {
        Bench b;
        b.value("halt").si = 0.04;
        b.car.calibrations.rollOuts.front().distance_m = 0.2;
        const auto j = b.judge();
        QVERIFY(j.gate(Station::Floor).state == GateState::Blocked);
        QCOMPARE(j.runs.size(), size_t(judge::judgedRuns));
    }

    void wrongWiresPromiseNoRun()
    {
        // What a run shows while the supply burns a part is no promise of the mended car.
        Bench b;
        b.instance("pack").cellsInSeries = 14;
        const auto j = b.judge();
        QVERIFY(!j.runs.empty());
        QVERIFY(j.gate(Station::Floor).state == GateState::Open);
        // With a loose lead no board program can say which way is forward.
        Bench loose;
        loose.unwire("left.A");
        QCOMPARE(english(loose.judge().gate(Station::Floor).why),
                 std::string("Its wires come first; then it can be driven."));
        QCOMPARE(
            english(judge::headline(Station::Floor, b.workshop, {b.car, b.catalogue}, j).sentence),
            std::string("Avocet: 5 of 5 simulated runs do their task with the wires as they are; "
                        "mend those first."));
    }

    void logGate()
    {
        Bench b;
        b.workshop.trials.pop_back();
        auto j = b.judge();
        QVERIFY(j.gate(Station::Log).state == GateState::Open);
        QCOMPARE(english(j.next.title), std::string("Run it and measure: 3 of 3."));
        b.workshop.trials.front().gap_m = 0.2; // nearer than the worst case
        QVERIFY(b.judge().gate(Station::Log).state == GateState::Warning);
        b.workshop.trials.front().contact = true;
        QVERIFY(b.judge().gate(Station::Log).state == GateState::Blocked);
        b.workshop.trials.clear();
        QVERIFY(b.judge().gate(Station::Log).state == GateState::Open);
    }

    void otherSettingsMakeTrialsStale()
    {
        Bench b;
        b.value("halt").si = 0.3;
        auto j = b.judge();
        QVERIFY(j.gate(Station::Log).state == GateState::Stale);
        QCOMPARE(j.older.size(), size_t(3));
        b.value("halt").si = 0.32;
        b.program.version = 8;
        QVERIFY(b.judge().gate(Station::Log).state == GateState::Stale);
        b.program.version = 7;
        b.value("speed").si = 141;
        QVERIFY(b.judge().gate(Station::Log).state == GateState::Stale);
    }

    void findingsOfProgramOnCar()
    {
        Bench b;
        b.unwire("driver.ENA");
        for (auto &i : b.car.parts)
            if (i.id == "driver")
                i.jumpers = {"ENA"};
        // One wheel at full speed: that they are uneven is said, and why.
        const auto one = b.judge().rule.findings;
        const auto *uneven = test::find(one, "wheels-uneven");
        QVERIFY(uneven && !test::find(one, "speed-line-held"));
        QCOMPARE(english(uneven->then.front()),
                 std::string("'speed' is 140 of 255, but driver.ENA is held high."));
        b.unwire("driver.ENB");
        for (auto &i : b.car.parts)
            if (i.id == "driver")
                i.jumpers = {"ENA", "ENB"};
        const auto held = test::codes(b.judge().rule.findings);
        QCOMPARE(std::count(held.begin(), held.end(), "speed-line-held"), 2);
        b.value("speed").si = 255;
        QVERIFY(!test::find(b.judge().rule.findings, "speed-line-held"));
        QVERIFY(test::find(b.judge().rule.findings, "not-measured"));
        b.value("speed").si = 50; // the held wheel runs at full speed
        QVERIFY(!test::find(b.judge().rule.findings, "below-dead-band"));
        Bench slow;
        slow.value("speed").si = 50;
        QVERIFY(test::find(slow.judge().rule.findings, "below-dead-band"));
    }

    void coldAirIsSaid()
    {
        Bench b;
        b.floor.air_degC = 11.0;
        const auto j = b.judge();
        const auto *f = test::find(j.rule.findings, "air-differs");
        QVERIFY(f);
        // c(22) / c(11) = 344.38 / 337.91: at 50 cm 9.6 mm too long
        QCOMPARE(english(f->why), std::string("At 50 cm the reading is off by 9.6 mm."));
        b.floor.air_degC = 18.0;
        QVERIFY(!test::find(b.judge().rule.findings, "air-differs"));
    }

    void errorsComeFirst()
    {
        Bench b;
        b.unwire("ranger.GND");
        b.wire("ranger.VCC").colour = "blue";
        const auto all = b.judge().all();
        QVERIFY(all.size() > 2);
        for (size_t i = 1; i < all.size(); ++i)
            QVERIFY(int(all[i - 1].severity) <= int(all[i].severity));
    }

    void carsWithoutAnything()
    {
        Bench b;
        kit::Car bare;
        bare.name = "Bare";
        const auto j = judge::judge(b.workshop, {bare, b.catalogue});
        QCOMPARE(english(j.next.title), std::string("Fit the parts."));
        QCOMPARE(english(j.noBudget->what), std::string("it runs no program"));
        workshop::Workshop noFloor = b.workshop;
        noFloor.floors.clear();
        const auto k = judge::judge(noFloor, {b.car, b.catalogue});
        QVERIFY(k.runs.empty());
        QVERIFY(k.gate(Station::Floor).state == GateState::Open);
    }
};

BADGER_TEST(TestJudge)
#include "test_judge.moc"
