// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/mechanics/discs.h"
#include "core/mechanics/horn.h"
#include "support/fixture.h"

#include <numbers>
#include <random>

using namespace badger;

namespace
{
double rad(double deg)
{
    return deg * std::numbers::pi / 180.0;
}
double deg(double r)
{
    return r * 180.0 / std::numbers::pi;
}
} // namespace

class TestHorn final : public QObject
{
    Q_OBJECT
private slots:
    void worked_data()
    {
        QTest::addColumn<int>("teeth");
        QTest::addColumn<double>("error");
        QTest::addColumn<int>("move");
        QTest::addColumn<double>("trim");
        QTest::newRow("21 teeth, 20 deg") << 21 << 20.0 << 1 << 20.0 - 360.0 / 21;
        QTest::newRow("25 teeth, 20 deg") << 25 << 20.0 << 1 << 5.6;
        QTest::newRow("the other way") << 25 << -20.0 << -1 << -5.6;
        QTest::newRow("two teeth") << 25 << 30.0 << 2 << 1.2;
        QTest::newRow("none") << 21 << 8.0 << 0 << 8.0;
        QTest::newRow("half a tooth: stay") << 24 << 7.5 << 0 << 7.5;
        QTest::newRow("straight") << 21 << 0.0 << 0 << 0.0;
    }
    void worked()
    {
        QFETCH(int, teeth);
        QFETCH(double, error);
        QFETCH(int, move);
        QFETCH(double, trim);
        const auto a = mechanics::horn(teeth, rad(error));
        VERIFY_OK(a);
        QCOMPARE(a->teethToMove, move);
        COMPARE_NEAR(deg(a->trim_rad), trim, 1e-9);
        COMPARE_NEAR(deg(a->step_rad), 360.0 / teeth, 1e-9);
    }

    void atMostHalfATooth()
    {
        std::mt19937 random(3);
        std::uniform_real_distribution<double> error(-180.0, 180.0);
        std::uniform_int_distribution<int> teeth(4, 100);
        for (int i = 0; i < 1000; ++i) {
            const int n = teeth(random);
            const double e = rad(error(random));
            const auto a = mechanics::horn(n, e);
            QVERIFY(std::abs(deg(a->trim_rad)) <= 180.0 / n + 1e-6);
            COMPARE_NEAR(a->teethToMove * a->step_rad + a->trim_rad, e, 1e-9);
        }
    }

    void refuses()
    {
        QVERIFY(!mechanics::horn(0, 0.1));
        QVERIFY(!mechanics::horn(-21, 0.1));
        QVERIFY(!mechanics::horn(21, 4.0));
        QCOMPARE(english(mechanics::horn(3, 0.1).error().where), std::string("teeth"));
        QVERIFY(mechanics::whyHorn(3, 0.1).steps.empty());
        QCOMPARE(english(mechanics::whyHorn(21, rad(20.0)).result), std::string("1 tooth"));
    }

    void pulses()
    {
        COMPARE_NEAR(mechanics::pulseAt_us(90.0), 1472.0, 1e-9);
        COMPARE_NEAR(mechanics::pulseAt_us(0.0), 544.0, 1e-9);
        COMPARE_NEAR(mechanics::pulseAt_us(1.0) - mechanics::pulseAt_us(0.0), 10.3, 0.02);
    }

    void discs()
    {
        const double r = 0.075;
        const double disc = std::numbers::pi * r * r;
        COMPARE_NEAR(*mechanics::overlap_m2(r, 0.0), disc, 1e-12);
        COMPARE_NEAR(*mechanics::overlap_m2(r, 2.0 * r), 0.0, 1e-12);
        COMPARE_NEAR(*mechanics::overlap_m2(r, 5.0), 0.0, 1e-12);
        COMPARE_NEAR(*mechanics::apartForShare_m(r, 0.5) / r, 0.808, 0.0005);
        for (const double share : {0.01, 0.25, 0.5, 0.9, 0.999})
            COMPARE_NEAR(*mechanics::overlap_m2(r, *mechanics::apartForShare_m(r, share)) / disc,
                         share, 1e-9);
        COMPARE_NEAR(*mechanics::apartForShare_m(r, 1.0), 0.0, 1e-12);
        COMPARE_NEAR(*mechanics::apartForShare_m(r, 0.0), 2.0 * r, 1e-12);
        QVERIFY(!mechanics::overlap_m2(0.0, 0.1));
        QVERIFY(!mechanics::overlap_m2(r, -0.1));
        QVERIFY(!mechanics::apartForShare_m(r, 1.1));
    }

    void discsByCounting()
    {
        // The area on a fine grid, found without the formula.
        const double r = 1.0;
        const double d = 0.7;
        int in = 0;
        constexpr int n = 800;
        for (int i = 0; i < n; ++i)
            for (int k = 0; k < n; ++k) {
                const double x = -1.0 + (i + 0.5) * 2.7 / n;
                const double y = -1.0 + (k + 0.5) * 2.0 / n;
                in += x * x + y * y < 1.0 && (x - d) * (x - d) + y * y < 1.0;
            }
        COMPARE_NEAR(*mechanics::overlap_m2(r, d), in * 2.7 * 2.0 / (n * n), 0.005);
    }
};

BADGER_TEST(TestHorn)
#include "test_horn.moc"
