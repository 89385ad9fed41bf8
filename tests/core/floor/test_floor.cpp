// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/floor/floor.h"
#include "support/fixture.h"

using namespace badger;
using floor::Direction;
using floor::Point;
using floor::Wall;

class TestFloor final : public QObject
{
    Q_OBJECT
private slots:
    void aFlatWallIsAMirror_data()
    {
        QTest::addColumn<double>("y");
        QTest::addColumn<double>("heading_deg");
        QTest::addColumn<double>("distance_m"); // negative: nothing is heard
        // The wall stands at x = 1 from y = -0.5 to 0.5; the half-angle is 7.5 degrees.
        QTest::newRow("straight on") << 0.0 << 0.0 << 1.0;
        QTest::newRow("7 degrees off: still the perpendicular") << 0.0 << 7.0 << 1.0;
        QTest::newRow("8 degrees off: the ping goes elsewhere") << 0.0 << 8.0 << -1.0;
        QTest::newRow("beside the wall's end") << 0.6 << 0.0 << -1.0;
        QTest::newRow("at the wall's end") << 0.5 << 0.0 << 1.0;
        QTest::newRow("looking away") << 0.0 << 180.0 << -1.0;
    }
    void aFlatWallIsAMirror()
    {
        QFETCH(double, y);
        QFETCH(double, heading_deg);
        QFETCH(double, distance_m);
        const Wall wall{"w", {1.0, -0.5}, {1.0, 0.5}};
        const auto heard =
            floor::mirrorDistance_m(wall, {0.0, y}, floor::direction(heading_deg * M_PI / 180.0),
                                    std::cos(7.5 * M_PI / 180.0));
        QCOMPARE(heard.has_value(), distance_m > 0.0);
        if (heard)
            COMPARE_NEAR(*heard, distance_m, 1e-12);
    }

    void slantedWallReadsThePerpendicular()
    {
        // A wall at 45 degrees, faced squarely: the distance is to its line.
        const Wall wall{"w", {0.0, 2.0}, {2.0, 0.0}};
        const auto heard =
            floor::mirrorDistance_m(wall, {0.0, 0.0}, floor::direction(M_PI / 4), std::cos(0.13));
        COMPARE_NEAR(*heard, std::sqrt(2.0), 1e-12);
    }

    void aWallWithoutLengthIsNotHeard()
    {
        QVERIFY(!floor::mirrorDistance_m({"w", {1, 0}, {1, 0}}, {0, 0}, {1, 0}, 0.9));
    }

    void theNearestAnswers()
    {
        floor::Floor f;
        f.walls = {{"far", {2, -1}, {2, 1}}, {"near", {1, -1}, {1, 1}}, {"aside", {0, 3}, {1, 3}}};
        const auto heard = floor::nearestHeard(f, {0, 0}, {1, 0}, 0.99);
        QVERIFY(heard);
        QCOMPARE(heard->wall, size_t(1));
        COMPARE_NEAR(heard->distance_m, 1.0, 1e-12);
        COMPARE_NEAR(heard->foot.x_m, 1.0, 1e-12);
        QVERIFY(!floor::nearestHeard(f, {0, 0}, {-1, 0}, 0.99));
    }

    void turningKeepsTheLengthAndTheAngle()
    {
        Direction d{1.0, 0.0};
        for (int i = 0; i < 1000; ++i)
            d = floor::turned(d, 0.001);
        COMPARE_NEAR(std::hypot(d.x, d.y), 1.0, 1e-12);
        COMPARE_NEAR(std::atan2(d.y, d.x), 1.0, 1e-6);
        d = floor::turned(floor::turned(d, 0.05), -0.05);
        COMPARE_NEAR(std::atan2(d.y, d.x), 1.0, 1e-6);
    }

    void clearance()
    {
        const Wall wall{"w", {1.0, -1.0}, {1.0, 1.0}};
        COMPARE_NEAR(floor::clearance_m(wall, {0.5, -0.1}, {0.5, 0.1}), 0.5, 1e-12);
        COMPARE_NEAR(floor::clearance_m(wall, {0.5, 0.0}, {0.8, 0.0}), 0.2, 1e-12);
        COMPARE_NEAR(floor::clearance_m(wall, {0.5, 0.0}, {1.5, 0.0}), 0.0, 0.0);
        // Past the wall's end it is the corner that is near.
        COMPARE_NEAR(floor::clearance_m(wall, {1.3, 1.4}, {1.3, 2.0}), 0.5, 1e-12);
    }
};

BADGER_TEST(TestFloor)
#include "test_floor.moc"
