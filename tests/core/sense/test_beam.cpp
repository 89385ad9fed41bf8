// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/sense/beam.h"
#include "support/fixture.h"

#include <numbers>
#include <random>

using namespace badger;
using sense::Beam;

namespace
{
double rad(double deg)
{
    return deg * std::numbers::pi / 180.0;
}
} // namespace

class TestBeam final : public QObject
{
    Q_OBJECT
private slots:
    void fullCover()
    {
        Beam b{rad(7.5), 0.0, 0.170, 0.0, 0.0};
        COMPARE_NEAR(**sense::fullCoverFrom_m(b), 0.646, 0.0005);
        b.sweep_rad = rad(9.0);
        COMPARE_NEAR(**sense::fullCoverFrom_m(b), 0.287, 0.0005);
        QCOMPARE(english(sense::whyFullCover(b).result), std::string("287 mm"));
    }

    void atADistance()
    {
        const auto c = sense::coverAt({rad(7.5), 0.0, 0.170, 0.0, 0.0}, 0.4);
        VERIFY_OK(c);
        COMPARE_NEAR(c->width_m, 0.105, 0.0005);
        COMPARE_NEAR(c->blindLeft_m, 0.032, 0.0005);
        COMPARE_NEAR(c->blindRight_m, 0.032, 0.0005);
    }

    void offTheMiddle()
    {
        // 30 mm to the left: the left side is covered sooner, the right side later.
        const Beam b{rad(7.5), 0.0, 0.170, 0.030, 0.0};
        const auto c = sense::coverAt(b, 0.4);
        COMPARE_NEAR(c->blindRight_m - c->blindLeft_m, 0.060, 1e-9);
        COMPARE_NEAR(**sense::fullCoverFrom_m(b), 0.115 / std::tan(rad(7.5)), 1e-9);
    }

    void turnedAway()
    {
        // Turned by more than its half-angle, one edge never comes back to the car's way.
        const auto from = sense::fullCoverFrom_m({rad(7.5), 0.0, 0.170, 0.0, rad(10.0)});
        VERIFY_OK(from);
        QVERIFY(!*from);
        QCOMPARE(english(sense::whyFullCover({rad(7.5), 0.0, 0.170, 0.0, rad(10.0)}).result),
                 std::string("nowhere"));
    }

    void mirrored()
    {
        std::mt19937 random(11);
        std::uniform_real_distribution<double> off(-0.08, 0.08), yaw(-0.1, 0.1), at(0.05, 2.0);
        for (int i = 0; i < 500; ++i) {
            const Beam left{rad(7.5), rad(3.0), 0.17, off(random), yaw(random)};
            Beam right = left;
            right.offset_m = -left.offset_m;
            right.yaw_rad = -left.yaw_rad;
            const double d = at(random);
            const auto a = *sense::coverAt(left, d);
            const auto b = *sense::coverAt(right, d);
            COMPARE_NEAR(a.blindLeft_m, b.blindRight_m, 1e-9);
            COMPARE_NEAR(a.width_m, b.width_m, 1e-9);
            // From the full-cover distance on nothing is blind, just before it something is.
            if (const auto from = *sense::fullCoverFrom_m(left); from && *from > 0.0) {
                const auto beyond = *sense::coverAt(left, *from * 1.001);
                COMPARE_NEAR(beyond.blindLeft_m + beyond.blindRight_m, 0.0, 1e-9);
                const auto before = *sense::coverAt(left, *from * 0.99);
                QVERIFY(before.blindLeft_m + before.blindRight_m > 0.0);
            }
        }
    }

    void floorEcho()
    {
        COMPARE_NEAR(*sense::meetsFloorAt_m(0.05, rad(7.5), 0.0), 0.380, 0.0005);
        QVERIFY(*sense::meetsFloorAt_m(0.05, rad(7.5), rad(3.0)) > 0.6);
        QVERIFY(!sense::meetsFloorAt_m(0.05, rad(7.5), rad(7.5)));
        QVERIFY(!sense::meetsFloorAt_m(0.0, rad(7.5), 0.0));
    }

    void refuses()
    {
        QVERIFY(!sense::fullCoverFrom_m({0.0, 0.0, 0.17, 0.0, 0.0}));
        QVERIFY(!sense::fullCoverFrom_m({rad(7.5), -0.1, 0.17, 0.0, 0.0}));
        QVERIFY(!sense::fullCoverFrom_m({rad(7.5), 0.0, 0.0, 0.0, 0.0}));
        QVERIFY(!sense::fullCoverFrom_m({rad(50.0), rad(45.0), 0.17, 0.0, 0.0}));
        const auto near = sense::coverAt({rad(7.5), 0.0, 0.17, 0.0, 0.0}, 0.0);
        QVERIFY(!near);
        QCOMPARE(english(near.error().where), std::string("distance"));
    }
};

BADGER_TEST(TestBeam)
#include "test_beam.moc"
