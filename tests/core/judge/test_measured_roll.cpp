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

    /// Runs that were made by a law say that law, and its figures; another loop time only shifts
    /// what is known.
    void theLawIsFoundFromTwoSpeeds()
    {
        for (const bool friction : {true, false})
            for (const double noise_m : {0.0, 0.001}) {
                Bench b;
                b.car.calibrations.speeds = {{100, 0.16, {"2026-11-20", "Slipway", 7.6, {}}, {}},
                                             {140, 0.24, {"2026-11-20", "Slipway", 7.6, {}}, {}},
                                             {220, 0.48, {"2026-11-20", "Slipway", 7.6, {}}, {}}};
                const auto budget = judge::budgetOf({b.car, b.catalogue}, b.program);
                VERIFY_OK(budget);
                const double known_s = 0.0325;
                Pieces<logbook::MeasuredTrial> all;
                int i = 0;
                for (const auto &[counts, v] :
                     {std::pair(100, 0.16), std::pair(140, 0.24), std::pair(220, 0.48)})
                    for (const double off : {-1.0, 0.0, 1.0}) {
                        const double roll = friction ? v * v / (2.0 * 0.9) : v * 0.12;
                        auto t = run(b, 0.40 - v * known_s - roll + off * noise_m);
                        t.id = {"law" + std::to_string(i++)};
                        t.threshold_m = 0.40;
                        t.pwm_counts = counts;
                        all.push_back(t);
                    }
                const auto law = judge::measuredLaw({b.car, b.catalogue}, *budget, all);
                VERIFY_OK(law);
                QVERIFY(law->law == (friction ? kit::RollLaw::Friction : kit::RollLaw::Electrical));
                QVERIFY(law->isPlain);
                QCOMPARE(law->speeds, 3);
                COMPARE_NEAR(friction ? law->friction_s2_m : law->electrical_s,
                             friction ? 1.0 / 1.8 : 0.12, 1e-3);
                COMPARE_NEAR(law->roll_m, friction ? 0.24 * 0.24 / 1.8 : 0.24 * 0.12, 1e-4);
                // A contact and a count that was not timed change nothing.
                auto bad = run(b, 0.0);
                bad.contact = true;
                bad.gap_m.reset();
                all.push_back(bad);
                auto untimed = run(b, 0.1);
                untimed.pwm_counts = 180;
                all.push_back(untimed);
                COMPARE_NEAR(judge::measuredLaw({b.car, b.catalogue}, *budget, all)->roll_m,
                             law->roll_m, 1e-12);
            }
    }

    void oneSpeedTellsNoLaw()
    {
        Bench b;
        const auto budget = judge::budgetOf({b.car, b.catalogue}, b.program);
        VERIFY_OK(budget);
        const auto one = runs(b, {0.270, 0.275, 0.280});
        const auto law = judge::measuredLaw({b.car, b.catalogue}, *budget, one);
        QVERIFY(!law && law.error().kind == Error::Kind::Missing);
        auto flat = one;
        auto t = run(b, 0.20);
        t.battery_V = 6.9;
        flat.push_back(t);
        QCOMPARE(judge::measuredLaw({b.car, b.catalogue}, *budget, flat).error().kind,
                 Error::Kind::Conflict);
    }
};

BADGER_TEST(TestMeasuredRoll)
#include "test_measured_roll.moc"
