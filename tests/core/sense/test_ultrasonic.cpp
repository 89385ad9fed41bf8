// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/sense/ultrasonic.h"
#include "support/fixture.h"

using namespace badger;

class TestUltrasonic final : public QObject
{
    Q_OBJECT
private slots:
    void speedOfSound_data()
    {
        QTest::addColumn<double>("air_degC");
        QTest::addColumn<double>("sound_mps");
        QTest::newRow("0: the law's own reference") << 0.0 << 331.3;
        QTest::newRow("20: check value") << 20.0 << 343.21;
        QTest::newRow("22: by hand, 331.3 * 1.039492") << 22.0 << 344.38;
        QTest::newRow("28: check value") << 28.0 << 347.87;
    }
    void speedOfSound()
    {
        QFETCH(double, air_degC);
        QFETCH(double, sound_mps);
        const auto c = sense::speedOfSound_mps(air_degC);
        VERIFY_OK(c);
        COMPARE_NEAR(*c, sound_mps, 0.005);
    }

    void speedOfSoundRefuses_data()
    {
        QTest::addColumn<double>("air_degC");
        QTest::newRow("too cold") << -40.1;
        QTest::newRow("too hot") << 60.1;
        QTest::newRow("NaN") << std::nan("");
    }
    void speedOfSoundRefuses()
    {
        QFETCH(double, air_degC);
        const auto c = sense::speedOfSound_mps(air_degC);
        QVERIFY(!c);
        QCOMPARE(english(c.error().where), std::string("air temperature"));
        QVERIFY(!sense::echoDistance_m(1000.0, air_degC));
    }

    void echoOf1740us()
    {
        // 344.38 m/s * 0.00174 s / 2 = 0.29961 m
        const auto d = sense::echoDistance_m(1740.0, 22.0);
        VERIFY_OK(d);
        COMPARE_NEAR(*d, 0.2996, 0.00005);
    }

    void echoRefuses()
    {
        QVERIFY(!sense::echoDistance_m(-1.0, 22.0));
        QVERIFY(!sense::echoDistance_m(1.1e6, 22.0));
        QVERIFY(!sense::echoDistance_m(std::nan(""), 22.0));
        QCOMPARE(english(sense::echoDistance_m(-1.0, 22.0).error().what),
                 std::string("-1 us is outside 0 to 1000000 us"));
    }

    void timeIsTheInverseOfDistance()
    {
        for (double m = 0.0; m < 4.0; m += 0.037) {
            const auto d = sense::echoDistance_m(sense::echoTime_us(m, 344.38), 22.0);
            VERIFY_OK(d);
            COMPARE_NEAR(*d, m, 1e-4);
        }
    }

    void pingSpacing()
    {
        // 4 m out and back at 344 m/s take 23.3 ms: the usual 40 ms are more.
        COMPARE_NEAR(sense::leastPingSpacing_s(4.0, 0.038, 344.0), 0.040, 1e-12);
        // 8 m take 46.5 ms and 2 ms of margin.
        COMPARE_NEAR(sense::leastPingSpacing_s(8.0, 0.038, 344.0), 0.0485, 1e-4);
        // A module that holds its line for 200 ms decides alone.
        COMPARE_NEAR(sense::leastPingSpacing_s(4.0, 0.200, 344.0), 0.200, 1e-12);
    }

    void beamWidth()
    {
        // 2 * 400 mm * tan 7.5 deg = 105.3 mm
        COMPARE_NEAR(sense::beamWidth_m(0.4, 7.5 * M_PI / 180.0), 0.1053, 0.0001);
    }
};

BADGER_TEST(TestUltrasonic)
#include "test_ultrasonic.moc"
