// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/judge/budget.h"
#include "core/oncar/program_on_car.h"
#include "support/fixture.h"

using namespace badger;
using test::Bench;

class TestBudget final : public QObject
{
    Q_OBJECT
private slots:
    void theDemo()
    {
        Bench b;
        const auto r = judge::budgetOf({b.car, b.catalogue}, b.program);
        VERIFY_OK(r);
        COMPARE_NEAR(r->budget.worstGap_m, 0.2594, 0.00005);
        COMPARE_NEAR(r->budget.typicalGap_m, 0.2672, 0.00005);
        COMPARE_NEAR(r->setup.loop_s, 0.065, 0.0001);
        COMPARE_NEAR(*r->leastThreshold_m, 0.2106, 0.00005);
        COMPARE_NEAR(*r->edge_m, 0.33, 1e-9);
        QCOMPARE(r->valueName, std::string("halt"));
        QCOMPARE(r->pwm_counts, 140);
        QVERIFY(r->brakes);
        QCOMPARE(r->terms.size(), size_t(4));
        for (const auto &t : r->terms)
            QVERIFY2(!t.from.empty(), t.key.c_str());
        QCOMPARE(english(r->terms[1].from),
                 std::string("3.5 cm at 0.24 m/s, 3 trials at 7.6 V on Slipway, 2026-11-12"));
    }

    void setBackIsItsOwnTerm()
    {
        Bench b;
        const double before = judge::budgetOf({b.car, b.catalogue}, b.program)->budget.worstGap_m;
        b.car.parts[1].mount->setBack_m = 0.03;
        const auto r = judge::budgetOf({b.car, b.catalogue}, b.program);
        COMPARE_NEAR(before - r->budget.worstGap_m, 0.03, 1e-12);
        QCOMPARE(r->terms.back().key, std::string("set_back"));
        COMPARE_NEAR(r->terms.back().worst_m, 0.03, 1e-12);
    }

    void greatestSpeedLeavesTheWantedGap()
    {
        Bench b;
        const auto r = judge::budgetOf({b.car, b.catalogue}, b.program);
        const double v = *r->greatestSpeed_mps;
        // 32 - v * 65 ms - 3.5 (v / 0.24)^2 - 1 = 15
        COMPARE_NEAR(0.32 - v * r->setup.loop_s - 0.035 * v * v / 0.0576 - 0.01, 0.15, 1e-9);
        b.car.wantedGap_m = 0.5;
        const auto none = judge::budgetOf({b.car, b.catalogue}, b.program);
        QVERIFY(!none->greatestSpeed_mps);
        b.car.wantedGap_m.reset();
        QVERIFY(!judge::budgetOf({b.car, b.catalogue}, b.program)->leastThreshold_m);
    }

    void sensorErrorFallsBackToThePart()
    {
        Bench b;
        b.car.calibrations.ruler.reset();
        const auto r = judge::budgetOf({b.car, b.catalogue}, b.program);
        COMPARE_NEAR(r->setup.sensorError_m, 0.01, 1e-12);
        QVERIFY(english(r->terms[2].from).starts_with("part data"));
    }

    /// A ranger that rides on a servo sits where the servo does.
    void aRangerOnAServo()
    {
        Bench b("Curlew");
        b.car.program = b.program.id;
        const auto servo = *b.instance("servo").mount;
        const auto r = judge::budgetOf({b.car, b.catalogue}, b.program);
        VERIFY_OK(r);
        COMPARE_NEAR(r->setup.setBack_m, servo.setBack_m, 1e-12);
        QVERIFY(!test::find(b.judge().rule.findings, "reading-without-ranger"));
        const auto on = oncar::ProgramOnCar::make({b.car, b.catalogue}, b.program, {});
        VERIFY_OK(on);
        // From the drive axle: as far behind the nose as its servo sits.
        COMPARE_NEAR(on->model().rangers.front().at.x,
                     b.car.geometry.axleToNose_m - servo.setBack_m, 1e-12);
        b.instance("servo").mount->yaw_rad = 1.2; // it looks to a side
        QVERIFY(!judge::budgetOf({b.car, b.catalogue}, b.program));
    }

    void otherWays()
    {
        Bench b;
        const auto ways = judge::otherWays({b.car, b.catalogue}, regions::Exact(b.program, {}), {});
        QCOMPARE(ways.size(), size_t(4));
        QCOMPARE(english(ways[0].name), std::string("brake"));
        QVERIFY(ways[0].isCurrent && !ways[1].isCurrent && ways[2].isCurrent);
        COMPARE_NEAR(ways[0].worstGap_m, 0.2594, 0.0001);
        COMPARE_NEAR(ways[1].worstGap_m, 0.1924, 0.0001); // coast: 10.2 cm
        COMPARE_NEAR(ways[3].worstGap_m, 0.2438, 0.0001); // median of 3
    }

    void whatIsMissingIsNamed_data()
    {
        QTest::addColumn<int>("kind");
        QTest::addColumn<QString>("what");
        QTest::newRow("no value") << 0 << "not chosen yet: the value 'halt', stop at this distance";
        QTest::newRow("no ranger")
            << 1 << "there is no mounted ranger 'ranger' for the reading 'ahead'";
        QTest::newRow("never stops") << 2 << "no rule stops the car on the way ahead";
        QTest::newRow("reads nothing") << 3 << "it reads nothing";
        QTest::newRow("not mounted")
            << 4 << "there is no mounted ranger 'ranger' for the reading 'ahead'";
    }
    void whatIsMissingIsNamed()
    {
        QFETCH(int, kind);
        QFETCH(QString, what);
        Bench b;
        if (kind == 0)
            b.value("halt").si.reset();
        if (kind == 1)
            b.car.parts.erase(b.car.parts.begin() + 1);
        if (kind == 2)
            b.program.everywhere[0].go = "drives";
        if (kind == 3) {
            b.program.readings.clear();
            b.program.everywhere.clear();
        }
        if (kind == 4)
            b.car.parts[1].mount.reset();
        const auto r = judge::budgetOf({b.car, b.catalogue}, b.program);
        QVERIFY(!r);
        QCOMPARE(QString::fromStdString(english(r.error().what)), what);
    }

    void theFarthestStopCounts()
    {
        Bench b;
        b.program.values.push_back({"slow", "", rules::ValueKind::Distance, 0.6});
        b.program.everywhere.push_back(
            {"slow", {{"ahead", rules::Compare::Less, "slow"}}, "stands", true});
        QCOMPARE(judge::stopRule(b.program, b.car).value->name, std::string("slow"));
        QCOMPARE(judge::goState(b.program)->name, std::string("drives"));
        QCOMPARE(judge::stopRule(b.program, b.car).state->name, std::string("stands"));
    }

    void aRunUsesTheCarsOwnFigures()
    {
        Bench b;
        const auto on = oncar::ProgramOnCar::make({b.car, b.catalogue}, b.program, {});
        VERIFY_OK(on);
        const auto &w = on->model().wheels;
        QCOMPARE(w.speed_mps[0].size(), size_t(256));
        COMPARE_NEAR(w.speed_mps[0][140], 0.24, 0.0);
        COMPARE_NEAR(w.brakeRoll.distance_m, 0.035, 0.0);
        COMPARE_NEAR(w.coastRoll.distance_m, 0.102, 0.0);
        COMPARE_NEAR(on->model().rangers[0].figures.cosHalfAngle, std::cos(7.5 * M_PI / 180.0),
                     1e-6);
    }
};

BADGER_TEST(TestBudget)
#include "test_budget.moc"
