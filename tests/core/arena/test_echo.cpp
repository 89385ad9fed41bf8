// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/arena/echo.h"
#include "support/drive.h"

using namespace badger;
using arena::By;
using arena::Vec;

namespace
{

constexpr double deg = M_PI / 180.0;

const sense::Hearing &usual()
{
    static const sense::Hearing h(4.0, 7.5 * deg);
    return h;
}

arena::Ear ear(double x, double y, double angle_deg)
{
    return {{x, y},
            {std::cos(angle_deg * deg), std::sin(angle_deg * deg)},
            0.0,
            0.0,
            std::cos(7.5 * deg)};
}

floor::Floor empty()
{
    floor::Floor f;
    f.name = "made";
    f.width_m = f.depth_m = 10.0;
    return f;
}

void wall(floor::Floor &f, const std::string &name, Vec a, Vec b,
          floor::Face face = floor::Face::Board)
{
    f.walls.push_back({name, {a.x, a.y}, {b.x, b.y}, {}, face});
}

} // namespace

class TestEcho final : public QObject
{
    Q_OBJECT
private slots:
    /// A flat board reads its perpendicular distance wherever it is heard at all.
    void aFlatBoardReadsThePerpendicular()
    {
        for (const auto &[angle, reach] :
             {std::pair(0.0, 4.0), {10.0, 2.70}, {15.0, 1.30}, {18.0, 0.52}}) {
            auto f = empty();
            wall(f, "board", {5, -50}, {5, 50});
            const auto a = *arena::compile(f);
            for (const double d : {reach - 0.02, reach + 0.02}) {
                const auto heard = arena::hear(a, ear(5.0 - d, 5.0, angle), usual(), 0.0);
                QCOMPARE(heard.has_value(), d < reach);
                if (heard)
                    COMPARE_NEAR(heard->distance_m, d, 1e-12);
            }
        }
    }

    void aPostIsLostPastTheHalfAngle()
    {
        auto f = empty();
        f.posts.push_back({"post", {5, 5}, 0.025, {}});
        const auto a = *arena::compile(f);
        QVERIFY(
            arena::hear(a, ear(5.0 - 1.285, 5, 0.0), usual(), 0.0).has_value()); // 1.26 to its face
        QVERIFY(!arena::hear(a, ear(5.0 - 1.295, 5, 0.0), usual(), 0.0));
        const auto heard = arena::hear(a, ear(5.0 - 1.025, 5, 7.4), usual(), 0.0);
        QVERIFY(heard && heard->by == By::Post);
        COMPARE_NEAR(heard->distance_m, 1.0, 1e-12);
        QVERIFY(!arena::hear(a, ear(5.0 - 1.025, 5, 7.7), usual(), 0.0));
    }

    /// A face slanted by 40 degrees at 50 cm, and a second that stands square to the mirrored way
    /// 60 cm along it.
    void aFaceInTheMirrorOfAnother()
    {
        auto f = empty();
        // The axis runs along x from (1, 5) and meets the slanted face at (1.5, 5); its normal is
        // turned by 40 degrees, so the mirrored way leaves at 180 - 80 = 100 degrees.
        const Vec normal{std::cos(140 * deg), std::sin(140 * deg)};
        const Vec along{-normal.y, normal.x};
        const Vec p{1.5, 5.0};
        wall(f, "slanted", p - 0.1 * along, p + 0.1 * along);
        const Vec back{std::cos(100 * deg), std::sin(100 * deg)};
        const Vec q = p + 0.6 * back;
        const Vec across{-back.y, back.x};
        wall(f, "north", q - 0.3 * across, q + 0.3 * across);
        const auto heard = arena::hear(*arena::compile(f), ear(1, 5, 0), usual(), 0.0);
        QVERIFY(heard.has_value());
        QVERIFY(heard->by == By::Mirror);
        COMPARE_NEAR(heard->distance_m, 1.10, 1e-9);
        QCOMPARE(heard->thing, 1);
        QCOMPARE(heard->other, 0);
    }

    /// Two faces at 80 degrees: out by one, back by the other, half of the whole way.
    void byWayOfTwoFaces()
    {
        auto f = empty();
        const Vec c{4, 5};
        const double half = 40 * deg;
        wall(f, "left", c, c + 1.5 * Vec{-std::cos(half), std::sin(half)});
        wall(f, "right", c, c + 1.5 * Vec{-std::cos(half), -std::sin(half)});
        const auto heard = arena::hear(*arena::compile(f), ear(3.4, 5, 0), usual(), 0.0);
        QVERIFY(heard.has_value());
        // By hand: the images of the ranger in both faces lie 2 · 0.6 · sin(40°) · cos(40°) apart
        // on each side of the axis: half of their distance is 0.6 · sin 80°.
        QVERIFY(heard->by == By::TwoFaces);
        COMPARE_NEAR(heard->distance_m, 0.6 * std::sin(80 * deg), 1e-9);
    }

    void aSquareCornerAnswersAlongTheWay()
    {
        const auto f = test::floorOf("corner", {{"angle", "90deg"}, {"distance", "1m"}});
        const auto a = *arena::compile(f);
        const auto heard = arena::hear(a, ear(1.0, f.depth_m / 2, 0.0), usual(), 0.0);
        QVERIFY(heard && heard->by == By::Corner);
        COMPARE_NEAR(heard->distance_m, 1.0, 1e-12);
    }

    void aNearerFaceHidesWhatIsBehind()
    {
        auto f = empty();
        wall(f, "board", {3, 4}, {3, 6});
        wall(f, "screen", {2, 4.5}, {2.5, 5.5}); // slanted: not heard itself
        const auto a = *arena::compile(f);
        const auto heard = arena::hear(a, ear(1, 5, 0), usual(), 0.0);
        QVERIFY(!heard || heard->thing != 0);
        const auto ahead = arena::nearestInBeam(a, ear(1, 5, 0), 0.0);
        QVERIFY(ahead && ahead->thing == 1);
        COMPARE_NEAR(ahead->slant_rad, std::atan2(0.5, 1.0), 1e-9);
    }

    void softAndRough()
    {
        for (const auto &[face, at_m, heard] : {std::tuple(floor::Face::Cloth, 1.49, true),
                                                {floor::Face::Cloth, 1.52, false},
                                                {floor::Face::Board, 1.52, true}}) {
            auto f = empty();
            wall(f, "sail", {1.0 + at_m, 2}, {1.0 + at_m, 8}, face);
            QCOMPARE(arena::hear(*arena::compile(f), ear(1, 5, 0), usual(), 0.0).has_value(),
                     heard);
        }
        // A rough face that stands 40 degrees off answers where the axis meets it; a smooth one
        // does not.
        for (const auto face : {floor::Face::Board, floor::Face::Rough}) {
            auto f = empty();
            const Vec along{-std::sin(140 * deg), std::cos(140 * deg)};
            wall(f, "wall", Vec{1.3, 5} - 3.0 * along, Vec{1.3, 5} + 3.0 * along, face);
            const auto heard = arena::hear(*arena::compile(f), ear(1, 5, 0), usual(), 0.0);
            QCOMPARE(heard.has_value(), face == floor::Face::Rough);
            if (heard)
                COMPARE_NEAR(heard->distance_m, 0.3, 1e-9);
        }
    }

    /// 50 mm over a floor with joints: from h / sin(7.5 degrees) on.
    void aRoughFloorAnswers()
    {
        auto f = empty();
        f.rough = true;
        auto e = ear(1, 5, 0);
        e.height_m = 0.05;
        e.below_rad = 7.5 * deg;
        const auto low = arena::hear(*arena::compile(f), e, usual(), 0.0);
        QVERIFY(low && low->by == By::Floor);
        COMPARE_NEAR(low->distance_m, 0.05 / std::sin(7.5 * deg), 1e-9);
        e.below_rad = 4.5 * deg; // tilted up by 3 degrees
        QVERIFY(!arena::hear(*arena::compile(f), e, usual(), 0.0));
    }

    /// What another ranger sent comes by way of the board: half of its whole way.
    void anotherRangersPing()
    {
        auto f = empty();
        wall(f, "board", {2, 0}, {2, 10});
        const auto heard =
            arena::overhear(*arena::compile(f), ear(1, 5, 0), ear(1, 4.9, 0), usual(), 0.0);
        QVERIFY(heard.has_value());
        COMPARE_NEAR(heard->distance_m, std::hypot(2.0, 0.1) / 2.0, 1e-9);
    }
};

BADGER_TEST(TestEcho)
#include "test_echo.moc"
