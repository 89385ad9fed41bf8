// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/floor/bends.h"
#include "core/floor/generate.h"

#include "support/fixture.h"

using namespace badger;
using floor::bendAt;

class TestBends final : public QObject
{
    Q_OBJECT
private slots:
    /// A round bend has its own radius wherever its pieces join.
    void aCircle()
    {
        for (const double radius : {0.15, 0.3, 1.0}) {
            floor::Floor f;
            f.lines.resize(1);
            const int pieces = int(2.0 * std::numbers::pi * radius / 0.01);
            for (int i = 0; i < pieces; ++i) {
                const double a = 2.0 * std::numbers::pi * i / pieces;
                f.lines[0].points.push_back({radius * std::cos(a), radius * std::sin(a)});
            }
            f.lines[0].closed = true;
            const double round = floor::lengthOf_m(f.lines[0]);
            QVERIFY(std::abs(round - 2.0 * std::numbers::pi * radius) < 0.01 * radius);
            for (double along = -0.3; along < round + 0.3; along += 0.037)
                QVERIFY(std::abs(bendAt(f, 0, along).radius_m / radius - 1.0) < 0.06);
        }
    }

    /// A square corner has no radius; a straight line has 100 m.
    void aCornerAndAStraight()
    {
        floor::Floor f;
        f.lines.push_back({"line", {{0, 0}, {1, 0}, {1, 1}}});
        const auto tightest = floor::tightestBend(f);
        QVERIFY(tightest && tightest->radius_m == 0.0);
        QVERIFY(std::abs(tightest->along_m - 1.0) < 0.021);
        QVERIFY(std::hypot(tightest->at.x_m - 1.0, tightest->at.y_m) < 0.03);
        QVERIFY(bendAt(f, 0, 0.3).radius_m > 99.0);
        QVERIFY(bendAt(f, 0, -5.0).radius_m > 99.0); // inside its ends
        QVERIFY(bendAt(f, 0, 50.0).radius_m > 99.0);
        f.lines[0].points = {{0, 0}, {1, 0}, {1, 1}, {0, 1}};
        QVERIFY(bendAt(f, 0, 0.0).radius_m > 99.0);
        f.lines[0].closed = true; // and back to where it began
        QCOMPARE(bendAt(f, 0, 0.0).radius_m, 0.0);
        QCOMPARE(bendAt(f, 0, 4.0).radius_m, 0.0);
        f.lines[0] = {"short", {{0, 0}, {0.03, 0}}};
        QVERIFY(bendAt(f, 0, 0.02).radius_m > 99.0);
        f.lines.clear();
        QVERIFY(!floor::tightestBend(f));
    }

    void theKindsOfLines()
    {
        const auto loop = *floor::generate("loop", {{"radius", "30cm"}}, "L");
        QVERIFY(std::abs(floor::tightestBend(loop)->radius_m - 0.3) < 0.03);
    }
};

BADGER_TEST(TestBends)
#include "test_bends.moc"
