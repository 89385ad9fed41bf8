// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/stopping.h"
#include "support/fixture.h"

#include <random>

using namespace badger;
using drive::StopSetup;

namespace
{

/// Threshold 32 cm, 0.24 m/s, loop 65 ms, roll-out 3.5 cm, error 1 cm.
StopSetup worked()
{
    StopSetup s;
    s.threshold_m = 0.32;
    s.speed_mps = 0.24;
    s.loop_s = 0.065;
    s.rollOut_m = 0.035;
    s.sensorError_m = 0.01;
    return s;
}

} // namespace

class TestStopping final : public QObject
{
    Q_OBJECT
private slots:
    void workedExample()
    {
        const auto b = drive::stopBudget(worked());
        VERIFY_OK(b);
        COMPARE_NEAR(b->worstGap_m, 0.2594, 1e-9);   // 32 - 1.56 - 3.5 - 1
        COMPARE_NEAR(b->typicalGap_m, 0.2672, 1e-9); // half the loop: 32 - 0.78 - 3.5 - 1
        QCOMPARE(b->terms.size(), size_t(4));
        QCOMPARE(english(b->terms[0].how), std::string("0.24 m/s × 65 ms"));
        QCOMPARE(b->dominant()->key, std::string("roll_out"));
    }

    void twiceTheSpeed()
    {
        auto s = worked();
        s.speed_mps = 0.48;
        s.rollOut_m = 0.14;
        const auto b = drive::stopBudget(s);
        VERIFY_OK(b);
        COMPARE_NEAR(b->worstGap_m, 0.1388, 1e-9); // 32 - 3.12 - 14 - 1
    }

    void setBackTakesItsLength()
    {
        auto s = worked();
        s.setBack_m = 0.03;
        COMPARE_NEAR(drive::stopBudget(s)->worstGap_m, 0.2294, 1e-9);
    }

    void medianWaitsForTheMajority()
    {
        auto s = worked();
        s.medianOf = 3; // 2 loops: 32 - 3.12 - 3.5 - 1
        const auto b = drive::stopBudget(s);
        COMPARE_NEAR(b->worstGap_m, 0.2438, 1e-9);
        COMPARE_NEAR(b->typicalGap_m, 0.2516, 1e-9); // half a loop less
        QCOMPARE(english(b->terms[0].how), std::string("0.24 m/s × 2 loops × 65 ms"));
    }

    void ageAndActuationCount()
    {
        auto s = worked();
        s.age_s = 0.01;
        s.actuation_s = 0.02;
        COMPARE_NEAR(drive::stopBudget(s)->worstGap_m, 0.2594 - 0.24 * 0.03, 1e-9);
        QCOMPARE(english(drive::stopBudget(s)->terms[0].how),
                 std::string("0.24 m/s × (65 ms + 10 ms + 20 ms)"));
    }

    void leastThreshold()
    {
        const auto least = drive::leastThreshold_m(worked(), 0.15);
        VERIFY_OK(least);
        COMPARE_NEAR(*least, 0.2106, 1e-9);
        QVERIFY(!drive::leastThreshold_m(worked(), -0.01));
        QVERIFY(!drive::leastThreshold_m(worked(), std::nan("")));
    }

    void greatestSpeedFrictionIsTheRootOfTheSum()
    {
        const drive::RollCurve curve{0.035, 0.24, kit::RollLaw::Friction};
        const auto v = drive::greatestSpeed_mps(worked(), curve, 0.15);
        VERIFY_OK(v);
        QVERIFY(v->has_value());
        // Put back into the budget, the wanted gap is what is left.
        auto s = worked();
        s.speed_mps = **v;
        s.rollOut_m = drive::rollOut_m(curve, **v);
        COMPARE_NEAR(drive::stopBudget(s)->worstGap_m, 0.15, 1e-9);
    }

    void greatestSpeedElectrical()
    {
        const drive::RollCurve curve{0.035, 0.24, kit::RollLaw::Electrical};
        const auto v = drive::greatestSpeed_mps(worked(), curve, 0.15);
        // room 16 cm over (65 ms + 3.5/24 s)
        COMPARE_NEAR(**v, 0.16 / (0.065 + 0.035 / 0.24), 1e-9);
    }

    void greatestSpeedHasNoAnswer()
    {
        const drive::RollCurve curve{0.035, 0.24, kit::RollLaw::Friction};
        const auto v = drive::greatestSpeed_mps(worked(), curve, 0.40);
        VERIFY_OK(v);
        QVERIFY(!v->has_value());
    }

    void greatestSpeedIsUnboundedWithoutDelayAndRoll()
    {
        auto s = worked();
        s.loop_s = 0.0;
        const auto v = drive::greatestSpeed_mps(s, {0.0, 0.24, kit::RollLaw::Friction}, 0.1);
        QVERIFY(std::isinf(**v));
        QVERIFY(!drive::greatestSpeed_mps(s, {0.1, 0.0, kit::RollLaw::Friction}, 0.1));
    }

    void rollLaws()
    {
        COMPARE_NEAR(drive::rollOut_m({0.035, 0.24, kit::RollLaw::Friction}, 0.48), 0.14, 1e-12);
        COMPARE_NEAR(drive::rollOut_m({0.035, 0.24, kit::RollLaw::Electrical}, 0.48), 0.07, 1e-12);
    }

    void refuses_data()
    {
        QTest::addColumn<QString>("field");
        for (const auto *field : {"threshold", "speed", "loop", "age", "actuation", "roll-out",
                                  "sensor error", "set-back", "median"})
            QTest::newRow(field) << QString(field);
    }
    void refuses()
    {
        QFETCH(QString, field);
        for (const double bad : {-5.0, 100.0, std::nan("")}) {
            auto s = worked();
            if (field == "threshold")
                s.threshold_m = bad;
            else if (field == "speed")
                s.speed_mps = bad;
            else if (field == "loop")
                s.loop_s = bad;
            else if (field == "age")
                s.age_s = bad;
            else if (field == "actuation")
                s.actuation_s = bad;
            else if (field == "roll-out")
                s.rollOut_m = bad;
            else if (field == "sensor error")
                s.sensorError_m = bad;
            else if (field == "set-back")
                s.setBack_m = bad;
            else
                s.medianOf = std::isnan(bad) ? 2 : int(bad);
            const auto b = drive::stopBudget(s);
            QVERIFY(!b);
            QCOMPARE(english(b.error().where), field.toStdString());
        }
    }

    void refusalSaysTheRange()
    {
        auto s = worked();
        s.speed_mps = -0.3;
        QCOMPARE(english(drive::stopBudget(s).error().what),
                 std::string("-0.3 m/s is outside 0 m/s to 5 m/s"));
    }

    void properties()
    {
        const unsigned seed = 7;
        qInfo("seed %u", seed);
        std::mt19937 engine(seed);
        std::uniform_real_distribution<double> u(0.0, 1.0);
        for (int i = 0; i < 3000; ++i) {
            StopSetup s;
            s.threshold_m = 0.05 + u(engine) * 3.0;
            s.speed_mps = u(engine) * 2.0;
            s.loop_s = u(engine) * 0.3;
            s.age_s = u(engine) * 0.1;
            s.actuation_s = u(engine) * 0.1;
            s.rollOut_m = u(engine) * 0.5;
            s.sensorError_m = u(engine) * 0.05;
            s.setBack_m = u(engine) * 0.1;
            s.medianOf = 1 + 2 * int(u(engine) * 3);
            const auto b = drive::stopBudget(s);
            VERIFY_OK(b);
            // The terms add up, and the typical case leaves no less than the worst.
            double sum = b->worstGap_m;
            for (const auto &t : b->terms)
                sum += t.worst_m;
            COMPARE_NEAR(sum, s.threshold_m, 1e-9);
            QVERIFY(b->typicalGap_m >= b->worstGap_m);
            // Faster leaves less.
            auto faster = s;
            faster.speed_mps += 0.1;
            QVERIFY(drive::stopBudget(faster)->worstGap_m <= b->worstGap_m);
            // The least threshold for the gap there is, is the threshold there is.
            if (b->worstGap_m > 0.0)
                COMPARE_NEAR(*drive::leastThreshold_m(s, b->worstGap_m), s.threshold_m, 1e-9);
        }
    }

    void noTermDominatesWhenNothingIsTaken()
    {
        StopSetup s;
        s.threshold_m = 0.3;
        const auto b = drive::stopBudget(s);
        VERIFY_OK(b);
        QVERIFY(b->dominant() == nullptr);
        COMPARE_NEAR(b->worstGap_m, 0.3, 1e-12);
    }
};

BADGER_TEST(TestStopping)
#include "test_stopping.moc"
