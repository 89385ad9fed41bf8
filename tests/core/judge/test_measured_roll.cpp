// SPDX-License-Identifier: GPL-3.0-or-later
// The roll-out that measured runs come to, and that the budget then says what was measured.
#include "core/judge/measured_roll.h"
#include "support/fixture.h"

using namespace badger;
using test::Bench;

class TestMeasuredRoll final : public QObject
{
    Q_OBJECT

    static logbook::MeasuredTrial run(const Bench &b, double gap_m)
    {
        logbook::MeasuredTrial t;
        t.id = {"run" + std::to_string(gap_m)};
        t.car = b.car.id;
        t.program = b.program.id;
        t.programVersion = b.program.version;
        t.date = "2026-11-20";
        t.floorName = "Slipway";
        t.battery_V = 7.6;
        t.threshold_m = 0.32;
        t.pwm_counts = 140;
        t.gap_m = gap_m;
        return t;
    }
    static Pieces<logbook::MeasuredTrial> runs(const Bench &b, std::vector<double> gaps_m)
    {
        Pieces<logbook::MeasuredTrial> all;
        for (const double g : gaps_m)
            all.push_back(run(b, g));
        return all;
    }
    static Result<judge::MeasuredRoll> of(const Bench &b,
                                          const Pieces<logbook::MeasuredTrial> &trials)
    {
        const auto budget = judge::budgetOf({b.car, b.catalogue}, b.program);
        if (!budget)
            qFatal("no budget");
        return judge::measuredRoll(*budget, trials);
    }

private slots:
    /// 32 - 27.5 - 24 cm/s x 32.5 ms - 0 = 3.72 cm.
    void byHand()
    {
        Bench b;
        const auto r = of(b, runs(b, {0.270, 0.275, 0.280}));
        VERIFY_OK(r);
        COMPARE_NEAR(r->roll.distance_m, 0.32 - 0.275 - 0.24 * 0.0325, 2e-5);
        QCOMPARE(r->roll.trials, 3);
        QVERIFY(r->roll.brake);
        QCOMPARE(r->roll.speed_mps, 0.24);
        QVERIFY(r->roll.law == kit::RollLaw::Friction);
        COMPARE_NEAR(r->spread_m, 0.005, 1e-9);
        QCOMPARE(r->why.steps.size(), size_t(4));
        b.car.parts[1].mount->setBack_m = 0.01;
        COMPARE_NEAR(of(b, runs(b, {0.270, 0.275, 0.280}))->roll.distance_m,
                     r->roll.distance_m - 0.01, 1e-12);
    }

    /// With it the typical gap of the budget is the mean that was measured, but for the error term.
    void theBudgetThenSaysWhatWasMeasured()
    {
        Bench b;
        const auto r = of(b, runs(b, {0.262, 0.265, 0.268}));
        VERIFY_OK(r);
        b.car.calibrations.rollOuts = {r->roll};
        const auto budget = judge::budgetOf({b.car, b.catalogue}, b.program);
        VERIFY_OK(budget);
        COMPARE_NEAR(budget->budget.typicalGap_m + budget->setup.sensorError_m, 0.265, 1e-12);
        QVERIFY(budget->roll.measured);
    }

    void whatIsRefused_data()
    {
        QTest::addColumn<int>("kind");
        QTest::addColumn<QString>("what");
        QTest::newRow("two runs") << 0 << "three runs are needed";
        QTest::newRow("contact") << 1 << "a run ended in a contact";
        QTest::newRow("another threshold") << 2 << "the runs differ in threshold";
        QTest::newRow("speed not measured") << 3 << "the speed was not measured at 140 of 255";
        QTest::newRow("less than the reaction") << 4 << "and the reaction alone takes 0.78 cm";
        QTest::newRow("turns away") << 5 << "the program does not drive and stand";
    }
    void whatIsRefused()
    {
        QFETCH(int, kind);
        QFETCH(QString, what);
        Bench b;
        auto trials = runs(b, {0.270, 0.275, 0.280});
        if (kind == 0)
            trials = runs(b, {0.270, 0.275});
        if (kind == 1) {
            trials[1].contact = true;
            trials[1].gap_m.reset();
        }
        if (kind == 2)
            trials[1].threshold_m = 0.35;
        if (kind == 3)
            b.car.calibrations.speeds.clear();
        if (kind == 4)
            trials = runs(b, {0.318, 0.319, 0.320});
        if (kind == 5)
            for (auto &s : b.program.states)
                if (s.name == "stands")
                    s.motion = {rules::Wheels::Drive, {1, "speed"}, {-1, "speed"}};
        const auto r = of(b, trials);
        QVERIFY(!r);
        QVERIFY2(QString::fromStdString(english(r.error().what)).contains(what),
                 english(r.error().what).c_str());
        QVERIFY(!r.error().mend.empty());
    }
};

BADGER_TEST(TestMeasuredRoll)
#include "test_measured_roll.moc"
