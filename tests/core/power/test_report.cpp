// SPDX-License-Identifier: GPL-3.0-or-later
// What a report on a car's power says besides its findings.
#include "core/power/check.h"
#include "support/kits.h"
#include "tests/support/leaks.h"

#include <map>

using namespace badger;
using kit::Charge;
using test::codes;
using test::Kit;
using Codes = std::vector<std::string>;

class TestPowerReport final : public QObject
{
    Q_OBJECT
private slots:
    void twoPercentAreNoError()
    {
        // Four NiMH cells sag a little under 4.8 V: a meter differs by as much.
        const Kit k("Look both ways");
        const auto v = k.report().tree;
        const auto &servo = v.at(v.indexOf("servo.VCC"), power::nominalRunning);
        QVERIFY(servo.volts_V < 4.8 && servo.volts_V > 4.7);
        QVERIFY(k.trouble().empty());
    }

    void capAndSpeed()
    {
        const Kit k;
        const auto report = k.report();
        const auto &m = report.at(Charge::Nominal).front();
        COMPARE_NEAR(m.cap.fullDutyMean_V, 5.05, test::leaks); // 7.2 - 1.8 - 1.4 x 0.25
        QCOMPARE(m.cap.count, 227);
        QCOMPARE(report.at(Charge::Fresh).front().cap.count, 183);
        QCOMPARE(report.at(Charge::NearEmpty).front().cap.count, 255);
        // While it runs 0.601 A take 0.14 V in pack, fuse and switch: 7.06 - 1.8 - 1.4 x 0.25
        // = 4.91 V. 160 rpm x (4.91 / 4.5 - 0.1 / 0.75) = 153.3 rpm; x pi x 65 mm / 60 = 0.522 m/s.
        COMPARE_NEAR(m.running_V, 7.2 - 0.601 * (0.18 + 0.03 + 0.02) - 2.15, test::leaks);
        COMPARE_NEAR(*m.wheel_rpm, 153.31, 0.01);
        COMPARE_NEAR(*m.speedFull_mps, 0.5218, 0.0001);
        QCOMPARE(m.deadBand_counts, 63);
        QCOMPARE(english(power::whyCap(m, Charge::Nominal).result), std::string("227 of 255"));
        QCOMPARE(english(power::whyFullDuty(m, Charge::Nominal).result), std::string("5.05 V"));
        QCOMPARE(english(power::whySpeed(m, {k.car, k.catalogue()}).result),
                 std::string("0.52 m/s"));
        const auto found = k.power();
        QVERIFY(english(test::find(found, "motor-over-rated")->mend).find("183") !=
                std::string::npos);
    }

    void speedNeedsItsFigures()
    {
        Kit k;
        k.forget("gear-motor-plastic", "no_load_A");
        const auto m = k.report().at(Charge::Nominal).front();
        QVERIFY(!m.speedFull_mps); // not invented
        QCOMPARE(m.cap.count, 227);
        QVERIFY(power::whySpeed(m, {k.car, k.catalogue()}).steps.empty());
    }

    void runTimeOfTheWeakestSource()
    {
        Kit k;
        const auto r = *k.report().runTime;
        COMPARE_NEAR(r.typical_h, 2.0 * 0.8 / 0.601, test::leaks);
        QVERIFY(r.low_h < r.typical_h && r.typical_h < r.high_h);
        k.part("pack").cellsInParallel = 2;
        COMPARE_NEAR(k.report().runTime->typical_h, 2.0 * r.typical_h, test::leaks);
        k.forget("cell-nimh", "capacity_Ah");
        QVERIFY(!k.report().runTime);
    }

    void leastSource()
    {
        const Kit k;
        const auto c = k.catalogue();
        const auto report = k.report();
        const int rail = report.tree.indexOf("board.5V");
        const power::State stalled{Charge::Nominal, power::Load::Stalled, power::Case::Typical};
        // Each motor's 5 ohm get 7.2 V less 1.8 V and 1.4 ohm, and what 0.101 A and both motors
        // lose in 0.23 ohm.
        const double motor_A = (7.2 - 1.8 - 0.101 * 0.23) / (5.0 + 1.4 + 2 * 0.23);
        // 5 + 1.1 + 0.7 and what all of it loses in 0.23 ohm.
        COMPARE_NEAR(*power::leastSource_V(report, {k.car, c}, rail, stalled),
                     6.8 + (0.101 + 2 * motor_A) * 0.23, 1e-4);
        QVERIFY(!power::leastSource_V(report, {k.car, c}, 0, stalled));
    }
};

BADGER_TEST(TestPowerReport)
#include "test_report.moc"
