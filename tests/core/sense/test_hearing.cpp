// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/sense/hearing.h"
#include "core/sense/spot.h"
#include "support/fixture.h"

using namespace badger;
using sense::Hearing;

namespace
{

const Hearing &usual()
{
    static const Hearing h(4.0, 7.5 * M_PI / 180.0);
    return h;
}

/// The farthest at which it is heard, walked up to from afar in millimetres.
double from_m(double angle_deg, double (*echo)(double))
{
    const double c = std::cos(angle_deg * M_PI / 180.0);
    for (double r = 5.0; r > 0.02; r -= 0.001)
        if (usual().margin(r, c, c, echo(r)) >= 1.0)
            return r;
    return 0.0;
}

} // namespace

class TestHearing final : public QObject
{
    Q_OBJECT
private slots:
    /// The sonar equation's figures as they were worked out with the library's own J1 and lg.
    void reaches_data()
    {
        QTest::addColumn<double>("angle_deg");
        QTest::addColumn<double>("radius_m"); // 0: a flat board; below 0: cloth
        QTest::addColumn<double>("heard_m");
        QTest::newRow("board, square") << 0.0 << 0.0 << 4.0;
        QTest::newRow("board, 5 degrees") << 5.0 << 0.0 << 3.67;
        QTest::newRow("board, 10 degrees") << 10.0 << 0.0 << 2.70;
        QTest::newRow("board, 15 degrees") << 15.0 << 0.0 << 1.30;
        QTest::newRow("board, 18 degrees") << 18.0 << 0.0 << 0.52;
        QTest::newRow("board, 20 degrees") << 20.0 << 0.0 << 0.17;
        QTest::newRow("board, 30 degrees: the side lobe") << 30.0 << 0.0 << 0.21;
        QTest::newRow("post of 50 mm") << 0.0 << 0.025 << 1.26;
        QTest::newRow("leg of 12 mm") << 0.0 << 0.006 << 0.86;
        QTest::newRow("edge") << 0.0 << 0.001 << 0.51;
        QTest::newRow("cloth") << 0.0 << -1.0 << 1.50;
    }
    void reaches()
    {
        QFETCH(double, angle_deg);
        QFETCH(double, radius_m);
        QFETCH(double, heard_m);
        static double radius;
        radius = radius_m;
        const auto echo = radius_m > 0.0    ? [](double r) { return sense::postEcho(radius, r); }
                          : radius_m == 0.0 ? [](double) { return sense::boardEcho; }
                                            : [](double) { return sense::clothEcho; };
        COMPARE_NEAR(from_m(angle_deg, echo), heard_m, 0.006);
    }

    void theDirectivityIsTheLibrarys()
    {
        COMPARE_NEAR(usual().k(), 9.84, 0.005);
        for (double s = 0.001; s < 1.0; s += 0.00137) {
            const double x = usual().k() * s;
            COMPARE_NEAR(usual().directivity(s), std::abs(2.0 * std::cyl_bessel_j(1.0, x) / x),
                         2e-6);
        }
    }

    void whatIsBehindIsNotHeard()
    {
        QCOMPARE(usual().margin(0.5, -0.5, -0.5, 1.0), 0.0);
        QVERIFY(!usual().widest_rad(4.5, sense::boardEcho));
        COMPARE_NEAR(*usual().widest_rad(1.30, sense::boardEcho), 15.0 * M_PI / 180.0, 0.002);
    }

    /// The share of a spot against a count of points on a fine grid.
    void aSpotIsCountedOut()
    {
        for (const double away : {0.0, 0.002, 0.0047, 0.008, 0.0112, 0.02})
            for (const double width : {0.003, 0.015, 0.019}) {
                constexpr double d = 0.010;
                int in = 0, all = 0;
                for (double x = -d / 2; x < d / 2; x += d / 700)
                    for (double y = -d / 2; y < d / 2; y += d / 700)
                        if (x * x + y * y < d * d / 4) {
                            ++all;
                            in += std::abs(x - away) < width / 2;
                        }
                COMPARE_NEAR(sense::coveredByLine(away, width, d), double(in) / all, 0.003);
            }
    }
};

BADGER_TEST(TestHearing)
#include "test_hearing.moc"
