// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/arena/arena.h"
#include "support/drive.h"

#include <limits>
#include <random>

using namespace badger;
using arena::Vec;

namespace
{

arena::Outline rectangle(double rear, double front, double half)
{
    arena::Outline o;
    o.corners = {{rear, -half}, {front, -half}, {front, half}, {rear, half}};
    o.middle = {(rear + front) / 2.0, 0.0};
    for (const Vec c : o.corners) {
        o.radius = std::max(o.radius, arena::length(c - o.middle));
        o.reach = std::max(o.reach, arena::length(c));
    }
    return o;
}

} // namespace

class TestArena final : public QObject
{
    Q_OBJECT
private slots:
    /// The clearance against a search over a fine row of points on both, for drawn cars and walls.
    void theNearestIsTheNearest()
    {
        std::mt19937 random(5);
        std::uniform_real_distribution<double> at(0.2, 3.8), turn(-3.1, 3.1), size(0.03, 0.3);
        for (int draw = 0; draw < 400; ++draw) {
            floor::Floor f;
            f.name = "drawn";
            f.width_m = f.depth_m = 4.0;
            for (int i = 0; i < 5; ++i)
                f.walls.push_back({"w" + std::to_string(i),
                                   {at(random), at(random)},
                                   {at(random), at(random)},
                                   {},
                                   floor::Face::Board});
            f.posts.push_back({"post", {at(random), at(random)}, size(random) / 3.0, {}});
            const auto a = arena::compile(f);
            VERIFY_OK(a);
            const auto car = rectangle(-size(random), size(random), size(random));
            const double angle = turn(random);
            const arena::Pose pose{{at(random), at(random)}, {std::cos(angle), std::sin(angle)}};
            const auto found = arena::nearest(*a, car, pose, 0.0);
            double least = 1e9;
            constexpr int n = 160;
            for (size_t c = 0; c < 4; ++c)
                for (int i = 0; i <= n; ++i) {
                    const Vec own = car.corners[c] +
                                    (double(i) / n) * (car.corners[(c + 1) % 4] - car.corners[c]);
                    const Vec p = pose.at + arena::turned(own, pose.looks);
                    for (const auto &s : a->segments) {
                        const double along =
                            std::clamp(arena::dot(p - s.a, s.along), 0.0, s.length);
                        least = std::min(least, arena::length(p - s.a - along * s.along));
                    }
                    least = std::min(least, std::max(0.0, arena::length(p - a->rounds[0].at) -
                                                              a->rounds[0].radius));
                }
            if (found.distance_m == 0.0)
                continue; // overlaps: the search sees the rim alone
            QVERIFY2(found.distance_m <= least + 1e-9 && found.distance_m > least - 0.004,
                     qPrintable(
                         QString("draw %1: %2 and %3").arg(draw).arg(found.distance_m).arg(least)));
            COMPARE_NEAR(arena::length(found.onFloor - pose.at), arena::length(found.onCar), 1e-9);
        }
    }

    void aWallInsideTheCarTouches()
    {
        auto f = test::floorOf("straight", {{"distance", "50cm"}, {"width", "2cm"}});
        const auto a = arena::compile(f);
        const auto car = rectangle(-0.1, 0.1, 0.1);
        const auto near = arena::nearest(*a, car, {{1.5, f.depth_m / 2}, {1, 0}}, 0.0);
        QCOMPARE(near.distance_m, 0.0); // the board of 2 cm stands within it
    }

    void endsAreFoundOnce()
    {
        // A room has four square corners; a box in it four more; the door ends freely once.
        auto f = test::floorOf("room", {{"boxes", "1"}});
        f.walls.push_back(
            {"door", {f.width_m, 1.0}, {f.width_m - 0.5, 1.4}, {}, floor::Face::Board});
        const auto a = arena::compile(f);
        VERIFY_OK(a);
        QCOMPARE(
            std::count_if(a->ends.begin(), a->ends.end(), [](const auto &e) { return e.square; }),
            8);
        QCOMPARE(
            std::count_if(a->ends.begin(), a->ends.end(), [](const auto &e) { return !e.joined; }),
            1);
    }

    void whatLiesUnderASpot()
    {
        auto f = test::floorOf("loop", {{"line", "19mm"}});
        const auto a = arena::compile(f);
        const Vec on{f.width_m / 2.0, f.lines[0].points[0].y_m};
        COMPARE_NEAR(arena::groundAt(*a, on, 0.010).albedo, floor::darkAlbedo, 1e-9);
        // On its edge half of the spot is dark.
        const auto edge = arena::groundAt(*a, on + Vec{0.0, 0.0095}, 0.010);
        COMPARE_NEAR(edge.line, 0.5, 1e-6);
        COMPARE_NEAR(edge.albedo, (floor::darkAlbedo + floor::lightAlbedo) / 2.0, 1e-6);
        COMPARE_NEAR(arena::groundAt(*a, on + Vec{0.0, 0.03}, 0.010).albedo, floor::lightAlbedo,
                     0.0);
        const auto track = arena::onTrack(*a, on + Vec{0.1, 0.03});
        COMPARE_NEAR(track.away_m, 0.03, 1e-9); // left of the way the line runs
        COMPARE_NEAR(track.along_m, 0.1, 1e-9);
    }

    void aTableEnds()
    {
        const auto f =
            test::floorOf("table", {{"width", "1m"}, {"depth", "60cm"}, {"ahead", "50cm"}});
        const auto a = arena::compile(f);
        QVERIFY(arena::isOnTable(*a, {0.6, 0.5}));
        QVERIFY(!arena::isOnTable(*a, {1.35, 0.5}));
        COMPARE_NEAR(arena::toEdge_m(*a, {1.25, 0.6}), 0.05, 1e-9);
        const auto off = arena::groundAt(*a, {1.35, 0.6}, 0.01);
        QVERIFY(!off.table && off.albedo == 0.0);
        COMPARE_NEAR(arena::groundAt(*a, {1.3, 0.6}, 0.01).albedo, floor::lightAlbedo / 2.0, 1e-6);
    }

    void aMoverObeysItsLaw()
    {
        floor::Floor f = test::floorOf("straight");
        f.movers.push_back({"hand", {2, 1}, {2, 1.2}, -0.5, 0.0, 1.0, 3.0, 4.0, {}});
        const auto a = arena::compile(f);
        VERIFY_OK(a);
        arena::Segment face;
        QVERIFY(arena::at(a->movers[0], 0.5, face));
        COMPARE_NEAR(face.a.x, 2.0, 0.0);
        QVERIFY(arena::at(a->movers[0], 2.0, face));
        COMPARE_NEAR(face.a.x, 1.5, 1e-12);
        QVERIFY(arena::at(a->movers[0], 3.9, face));
        COMPARE_NEAR(face.b.x, 1.0, 1e-12);
        QVERIFY(!arena::at(a->movers[0], 4.0, face));
    }

    void badFloorsAreRefused()
    {
        const auto bad = [](auto change) {
            auto f = test::floorOf("straight");
            change(f);
            const auto a = arena::compile(f);
            return a ? std::string() : english(a.error().text());
        };
        using F = floor::Floor;
        const double nan = std::numeric_limits<double>::quiet_NaN();
        QVERIFY(bad([](F &f) { f.walls[0].to = f.walls[0].from; }).find("it has no length") !=
                std::string::npos);
        QVERIFY(!bad([&](F &f) { f.walls[0].to.x_m = nan; }).empty());
        QVERIFY(!bad([&](F &f) { f.posts.push_back({"p", {nan, 0}, 0.1, {}}); }).empty());
        QVERIFY(!bad([](F &f) { f.width_m = 10000.0; }).empty());
        QVERIFY(!bad([](F &f) {
                     f.lines.push_back({"l", {{0, 0}}, 0.019, false, false, {}});
                 }).empty());
        QVERIFY(!bad([](F &f) { f.edge = {{0, 0}, {1, 0}}; }).empty());
        QVERIFY(!bad([](F &f) {
                     f.movers.push_back({"m", {0, 0}, {1, 0}, 0, 0, 3, 2, {}, {}});
                 }).empty());
        QVERIFY(!bad([](F &f) { f.walls.assign(1000000, f.walls[0]); }).empty());
        QVERIFY(bad([](F &) {}).empty());
    }
};

BADGER_TEST(TestArena)
#include "test_arena.moc"
