// SPDX-License-Identifier: GPL-3.0-or-later
// The first echo of drawn floors against a search: every face as a row of small mirrors.
#include "core/arena/echo.h"
#include "support/drive.h"

#include <random>

using namespace badger;
using arena::Vec;

namespace
{

const sense::Hearing &ranger()
{
    static const sense::Hearing h(4.0, 7.5 * M_PI / 180.0);
    return h;
}

/// Does a way from p to q meet any wall? By the signs of areas; touching its ends does not count.
bool blocked(const floor::Floor &f, Vec p, Vec q)
{
    const Vec a = p + 1e-5 * (q - p);
    const Vec b = q - 1e-5 * (q - p);
    for (const auto &w : f.walls) {
        const Vec c{w.from.x_m, w.from.y_m};
        const Vec d{w.to.x_m, w.to.y_m};
        if (arena::cross(b - a, c - a) * arena::cross(b - a, d - a) < 0 &&
            arena::cross(d - c, a - c) * arena::cross(d - c, b - c) < 0)
            return true;
    }
    return false;
}

/// The nearest place on a face that sends a ping straight back: where the way to it is square to
/// the face, found among its places in steps of half a millimetre.
double nearestMirror(const floor::Floor &f, Vec ear, Vec axis)
{
    double best = 1e9;
    for (const auto &w : f.walls) {
        const Vec a{w.from.x_m, w.from.y_m};
        const Vec b{w.to.x_m, w.to.y_m};
        const double length = arena::length(b - a);
        const Vec along = (1.0 / length) * (b - a);
        constexpr double step = 0.0005;
        for (double s = 0.0; s <= length; s += step) {
            const Vec to = a + s * along - ear;
            if (std::abs(arena::dot(to, along)) > step / 2)
                continue;
            const double r = arena::length(to);
            const double c = arena::dot(to, axis) / r;
            if (c > 0.0 && ranger().margin(r, c, c, 1.0) >= 1.0 && !blocked(f, ear, ear + to))
                best = std::min(best, r);
        }
    }
    return best;
}

} // namespace

class TestDrawnEchoes final : public QObject
{
    Q_OBJECT
private slots:
    void facesAgreeWithASearch()
    {
        std::mt19937 random(77);
        std::uniform_real_distribution<double> at(0.3, 3.7), turn(-3.14, 3.14);
        int faces = 0, others = 0, silent = 0;
        for (int draw = 0; draw < 600; ++draw) {
            floor::Floor f;
            f.name = "drawn";
            f.width_m = f.depth_m = 4.0;
            for (int i = 0; i < 6; ++i)
                f.walls.push_back({"w" + std::to_string(i),
                                   {at(random), at(random)},
                                   {at(random), at(random)},
                                   {},
                                   floor::Face::Board});
            const auto a = arena::compile(f);
            VERIFY_OK(a);
            const double angle = turn(random);
            const arena::Ear ear{
                {at(random), at(random)}, {std::cos(angle), std::sin(angle)}, 0, 0, std::cos(0.13)};
            const double mirror = nearestMirror(f, ear.at, ear.axis);
            const auto heard = arena::hear(*a, ear, ranger(), 0.0);
            if (heard && heard->distance_m < 0.02)
                continue; // the search's steps are too coarse there
            if (!heard) {
                QVERIFY2(mirror > 1e8,
                         qPrintable(
                             QString("draw %1: a face at %2 was not heard").arg(draw).arg(mirror)));
                ++silent;
                continue;
            }
            // Nothing nearer than what was heard answers squarely; and what was heard as a face is
            // that.
            QVERIFY2(
                mirror >= heard->distance_m - 0.001,
                qPrintable(
                    QString("draw %1: %2 before %3").arg(draw).arg(mirror).arg(heard->distance_m)));
            if (heard->by == arena::By::Face) {
                COMPARE_NEAR(heard->distance_m, mirror, 0.001);
                ++faces;
            } else {
                ++others;
            }
            QVERIFY(arena::length(heard->place - ear.at) <= heard->distance_m + 1e-9 ||
                    heard->by == arena::By::TwoFaces || heard->by == arena::By::Mirror);
        }
        QVERIFY(faces > 60 && others > 20 && silent > 100);
    }

    /// Sound takes its ways in both directions: the images say the same from either end.
    void twoFacesEitherWay()
    {
        std::mt19937 random(5);
        std::uniform_real_distribution<double> angle(35.0, 88.0), away(0.2, 0.9);
        int heard = 0;
        for (int draw = 0; draw < 200; ++draw) {
            const double opening = angle(random);
            auto f = test::floorOf(
                "corner", {{"angle", std::to_string(opening) + "deg"}, {"distance", "1.2m"}});
            const auto a = *arena::compile(f);
            std::swap(f.walls[0], f.walls[1]);
            const auto b = *arena::compile(f);
            const double x = 1.0 + 1.2 - away(random);
            const arena::Ear ear{{x, f.depth_m / 2}, {1, 0}, 0, 0, std::cos(0.13)};
            const auto one = arena::hear(a, ear, ranger(), 0.0);
            const auto two = arena::hear(b, ear, ranger(), 0.0);
            QCOMPARE(one.has_value(), two.has_value());
            if (!one)
                continue;
            COMPARE_NEAR(one->distance_m, two->distance_m, 1e-9);
            ++heard;
        }
        QVERIFY(heard > 50);
    }

    /// What is nearest in the beam, against a fan of a thousand rays.
    void theBeamAgreesWithAFan()
    {
        std::mt19937 random(9);
        std::uniform_real_distribution<double> at(0.3, 3.7), turn(-3.14, 3.14);
        int seen = 0;
        for (int draw = 0; draw < 200; ++draw) {
            floor::Floor f;
            f.name = "drawn";
            f.width_m = f.depth_m = 4.0;
            for (int i = 0; i < 5; ++i)
                f.walls.push_back({"w",
                                   {at(random), at(random)},
                                   {at(random), at(random)},
                                   {},
                                   floor::Face::Board});
            const auto a = arena::compile(f);
            VERIFY_OK(a);
            const double angle = turn(random);
            constexpr double half = 0.13;
            const arena::Ear ear{
                {at(random), at(random)}, {std::cos(angle), std::sin(angle)}, 0, 0, std::cos(half)};
            double least = 1e9;
            for (int i = -500; i <= 500; ++i) {
                const double t = angle + half * i / 500.0;
                const Vec d{std::cos(t), std::sin(t)};
                for (const auto &s : a->segments) {
                    const double across = arena::cross(d, s.b - s.a);
                    const double way = arena::cross(s.a - ear.at, s.b - s.a) / across;
                    const double share = arena::cross(s.a - ear.at, d) / across;
                    if (way > 0.0 && share >= 0.0 && share <= 1.0)
                        least = std::min(least, way);
                }
            }
            const auto found = arena::nearestInBeam(*a, ear, 0.0);
            QCOMPARE(found.has_value(), least < 1e8);
            if (!found)
                continue;
            QVERIFY(found->distance_m <= least + 1e-9 && found->distance_m > least - 0.01);
            ++seen;
        }
        QVERIFY(seen > 60);
    }
};

BADGER_TEST(TestDrawnEchoes)
#include "test_drawn_echoes.moc"
