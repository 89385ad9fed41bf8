// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/speed.h"
#include "support/fixture.h"

using namespace badger;
using test::Bench;

class TestSpeed final : public QObject
{
    Q_OBJECT
private slots:
    void groundSpeedByHand()
    {
        // Full duty at 7.2 V less 2.0 V on a 4.5 V motor of 160 rpm without load: 184.9 rpm, on a
        // 65 mm wheel 0.6292 m/s.
        drive::MotorLine line{7.2, 2.0, 4.5, 160.0, 0.0, 0.065, 0.25};
        COMPARE_NEAR(drive::groundSpeed_mps(line, 1.0), 0.6292, 0.0002);
        COMPARE_NEAR(drive::groundSpeed_mps(line, 0.5), 0.3146, 0.0002);
        // A tenth of the stall torque costs a tenth of the no-load speed.
        line.loadShare = 0.1;
        COMPARE_NEAR(drive::groundSpeed_mps(line, 1.0), 0.6292 - 0.1 * 0.5445, 0.0003);
    }

    void standsInsideTheDeadBand()
    {
        drive::MotorLine line{7.2, 2.0, 4.5, 160.0, 0.1, 0.065, 0.25};
        COMPARE_NEAR(drive::groundSpeed_mps(line, 0.25), 0.0, 0.0);
        COMPARE_NEAR(drive::groundSpeed_mps(line, 0.0), 0.0, 0.0);
        QVERIFY(drive::groundSpeed_mps(line, 0.3) > 0.0);
    }

    void noVoltsLeftIsNoSpeed()
    {
        const drive::MotorLine line{1.5, 2.0, 4.5, 160.0, 0.0, 0.065, 0.25};
        COMPARE_NEAR(drive::groundSpeed_mps(line, 1.0), 0.0, 0.0);
    }

    void measuredComesFirst()
    {
        Bench b;
        const auto v = drive::speedAt({b.car, b.catalogue}, 140);
        VERIFY_OK(v);
        COMPARE_NEAR(v->value, 0.24, 0.0);
        QVERIFY(v->measured);
        QCOMPARE(english(v->from), std::string("measured at 7.6 V on Slipway, 2026-11-12"));
    }

    void otherCountsScaleOverTheDeadBand()
    {
        Bench b;
        // dead band 63.75 counts: 0.24 * (200 - 63.75) / (140 - 63.75)
        const auto v = drive::speedAt({b.car, b.catalogue}, 200);
        VERIFY_OK(v);
        COMPARE_NEAR(v->value, 0.24 * 136.25 / 76.25, 1e-9);
        QVERIFY(!v->measured);
        COMPARE_NEAR(drive::speedAt({b.car, b.catalogue}, 60)->value, 0.0, 0.0);
    }

    void partsStandInWhereNothingIsMeasured()
    {
        Bench b;
        b.car.calibrations.speeds.clear();
        const auto v = drive::speedAt({b.car, b.catalogue}, 255);
        VERIFY_OK(v);
        QVERIFY(!v->measured);
        // Fresh, 8.4 V: 0.601 A through six cells of 0.03 ohm and the switch's 0.02 ohm, and a drop
        // of 1.8 V and 1.4 ohm at 0.25 A; load share (0.25 - 0.15) / (0.9 - 0.15).
        const double motor_V = 8.4 - 0.601 * 0.2 - 1.8 - 1.4 * 0.25;
        COMPARE_NEAR(v->value, M_PI * 0.065 * 160.0 / 60.0 * (motor_V / 4.5 - 0.1 / 0.75), 1e-5);
    }

    void speedGrowsWithTheCount()
    {
        for (const bool measured : {true, false}) {
            Bench b;
            if (!measured)
                b.car.calibrations.speeds.clear();
            double before = 0.0;
            for (int n = 0; n <= 255; ++n) {
                const double v = drive::speedAt({b.car, b.catalogue}, n)->value;
                QVERIFY(v >= before);
                before = v;
            }
            QVERIFY(before > 0.0);
        }
    }

    void refusals()
    {
        Bench b;
        QVERIFY(!drive::speedAt({b.car, b.catalogue}, -1));
        QVERIFY(!drive::speedAt({b.car, b.catalogue}, 256));
        b.car.calibrations.speeds.clear();
        std::erase_if(b.car.parts, [](const kit::Instance &i) { return i.id == "driver"; });
        const auto v = drive::speedAt({b.car, b.catalogue}, 140);
        QVERIFY(!v);
        QCOMPARE(english(v.error().what), std::string("no volts reach its motors"));
        std::erase_if(b.car.parts, [](const kit::Instance &i) { return i.id == "left"; });
        std::erase_if(b.car.parts, [](const kit::Instance &i) { return i.id == "right"; });
        b.car.calibrations.rollOuts.clear();
        QVERIFY(!drive::rollOutOf({b.car, b.catalogue}, true));
    }

    void rollOutMeasuredAndNot()
    {
        Bench b;
        const auto brake = drive::rollOutOf({b.car, b.catalogue}, true);
        VERIFY_OK(brake);
        QVERIFY(brake->measured);
        COMPARE_NEAR(brake->curve.distance_m, 0.035, 0.0);
        b.car.calibrations.rollOuts.clear();
        const auto estimated = drive::rollOutOf({b.car, b.catalogue}, true);
        const auto coasting = drive::rollOutOf({b.car, b.catalogue}, false);
        QVERIFY(!estimated->measured);
        COMPARE_NEAR(drive::rollOut_m(estimated->curve, 0.24), 0.24 * 0.25, 1e-12);
        COMPARE_NEAR(drive::rollOut_m(coasting->curve, 0.24), 0.24 * 0.75, 1e-12);
    }
};

BADGER_TEST(TestSpeed)
#include "test_speed.moc"
