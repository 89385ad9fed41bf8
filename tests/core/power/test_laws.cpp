// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/power/laws.h"
#include "support/fixture.h"

#include <limits>
#include <random>

using namespace badger;
using namespace badger::power;

class TestLaws final : public QObject
{
    Q_OBJECT
private slots:
    void regulator_data()
    {
        QTest::addColumn<double>("in");
        QTest::addColumn<double>("amps");
        QTest::addColumn<double>("watts");
        QTest::newRow("1.5 V over, 120 mA") << 7.2 << 0.12 << 0.18;
        QTest::newRow("1.5 V over, 570 mA") << 7.2 << 0.57 << 0.855;
        QTest::newRow("3.3 V over, 570 mA") << 9.0 << 0.57 << 1.881;
        QTest::newRow("nothing flows") << 12.0 << 0.0 << 0.0;
        QTest::newRow("just held") << 5.7 << 1.0 << 0.0;
    }
    void regulator()
    {
        QFETCH(double, in);
        QFETCH(double, amps);
        QFETCH(double, watts);
        const auto heat = regulatorHeat_W({in, 5.0, amps, 0.7});
        VERIFY_OK(heat);
        COMPARE_NEAR(*heat, watts, 1e-9);
    }

    void regulatorWithoutDiode()
    {
        COMPARE_NEAR(*regulatorHeat_W({7.4, 5.0, 0.5, 0.0}), 1.2, 1e-9);
        COMPARE_NEAR(regulatorNeeds_V(5.0, 1.1, 0.7), 6.8, 1e-12);
    }

    void regulatorRefuses()
    {
        const auto low = regulatorHeat_W({5.5, 5.0, 0.1, 0.7});
        QVERIFY(!low);
        QCOMPARE(english(low.error().what),
                 std::string("4.8 V leave nothing for 5 V: the regulator cannot hold its output"));
        QVERIFY(!regulatorHeat_W({-1.0, 5.0, 0.1, 0.0}));
        QVERIFY(!regulatorHeat_W({9.0, 0.0, 0.1, 0.0}));
        QVERIFY(!regulatorHeat_W({9.0, 5.0, -0.1, 0.0}));
        QVERIFY(!regulatorHeat_W({std::numeric_limits<double>::quiet_NaN(), 5.0, 0.1, 0.0}));
    }

    void duty_data()
    {
        QTest::addColumn<double>("supply");
        QTest::addColumn<double>("rated");
        QTest::addColumn<int>("count");
        // 255 x 4.5 / 5.2 = 220.67; / 6.4 = 179.3; / 4.0 = 286.9, which no count reaches.
        QTest::newRow("nominal") << 7.2 << 4.5 << 220;
        QTest::newRow("fresh") << 8.4 << 4.5 << 179;
        QTest::newRow("near empty") << 6.0 << 4.5 << 255;
        QTest::newRow("exactly rated") << 6.5 << 4.5 << 255;
        QTest::newRow("exactly half") << 11.0 << 4.5 << 127;
    }
    void duty()
    {
        QFETCH(double, supply);
        QFETCH(double, rated);
        QFETCH(int, count);
        const auto cap = dutyCap(supply, 2.0, rated);
        VERIFY_OK(cap);
        QCOMPARE(cap->count, count);
        COMPARE_NEAR(cap->fullDutyMean_V, supply - 2.0, 1e-12);
        QVERIFY(cap->mean_V <= rated + 1e-9);
    }

    void dutyOnACount()
    {
        // 255 x 3 / 5.1 is exactly 150, and floating point must not make it 149.
        QCOMPARE(dutyCap(7.1, 2.0, 3.0)->count, 150);
    }

    void dutyRefuses()
    {
        const auto none = dutyCap(2.0, 2.0, 4.5);
        QVERIFY(!none);
        QVERIFY(english(none.error().what).find("nothing is left for the motor") !=
                std::string::npos);
        QVERIFY(!dutyCap(0.0, 2.0, 4.5));
        QVERIFY(!dutyCap(7.2, -1.0, 4.5));
        QVERIFY(!dutyCap(7.2, 2.0, 0.0));
    }

    void led()
    {
        const auto a = ledResistor(5.0, 3.1, 0.012);
        VERIFY_OK(a);
        COMPARE_NEAR(a->exact_ohm, 158.333, 0.001);
        COMPARE_NEAR(a->standard_ohm, 180.0, 1e-9);
        COMPARE_NEAR(a->real_A, 0.010556, 1e-6);
        COMPARE_NEAR(a->resistor_W, 0.020056, 1e-6); // 1.9 V x 10.56 mA
        COMPARE_NEAR(a->naive_A, 0.027778, 1e-6);
        QVERIFY(!ledResistor(3.0, 3.1, 0.012));
        QVERIFY(!ledResistor(5.0, 3.1, 0.0));
    }

    void seriesIsTheNextUp()
    {
        COMPARE_NEAR(nextE12_ohm(158.3), 180.0, 1e-9);
        COMPARE_NEAR(nextE12_ohm(180.0), 180.0, 1e-9);
        COMPARE_NEAR(nextE12_ohm(181.0), 220.0, 1e-9);
        COMPARE_NEAR(nextE12_ohm(8.3), 10.0, 1e-9);
        COMPARE_NEAR(nextE12_ohm(0.9), 1.0, 1e-9);
        COMPARE_NEAR(nextE12_ohm(999999.0), 1e6, 1e-3);
        std::mt19937 random(7);
        std::uniform_real_distribution<double> exponent(-1.0, 6.0);
        for (int i = 0; i < 1000; ++i) {
            const double ohm = std::pow(10.0, exponent(random));
            const double next = nextE12_ohm(ohm);
            // Never below, and never more than the widest step of the series above.
            QVERIFY2(next >= ohm * (1 - 1e-9) && next < ohm * 1.26,
                     qPrintable(QString::number(ohm)));
        }
    }

    void divider()
    {
        COMPARE_NEAR(*dividerOut_V(5.0, 1000.0, 2000.0), 10.0 / 3.0, 1e-12);
        COMPARE_NEAR(*dividerOut_V(5.0, 0.0, 2000.0), 5.0, 1e-12); // straight in
        QVERIFY(!dividerOut_V(5.0, 1000.0, 0.0));
        QVERIFY(!dividerOut_V(-5.0, 1000.0, 2000.0));
    }

    void runTime()
    {
        COMPARE_NEAR(*runTime_h(2.0, 0.8, 0.64), 2.5, 1e-12);
        QVERIFY(!runTime_h(2.0, 1.2, 0.64));
        QVERIFY(!runTime_h(2.0, 0.8, 0.0));
        QVERIFY(!runTime_h(0.0, 0.8, 0.64));
    }
};

BADGER_TEST(TestLaws)
#include "test_laws.moc"
