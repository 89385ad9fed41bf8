// SPDX-License-Identifier: GPL-3.0-or-later
// Many walls at once against each by itself: every kernel, on walls that were drawn.
#include "core/arena/arena.h"
#include "core/base/noise.h"
#include "support/fixture.h"

using namespace badger;
using arena::block;
using arena::Keys;
using arena::Vec;

namespace
{

struct Drawn {
    std::vector<Vec> a, b;
    arena::WallLanes lanes;
    Noise noise;

    Drawn(std::uint64_t seed, size_t count) : noise(seed)
    {
        for (size_t i = 0; i < count; ++i) {
            a.push_back(place());
            const double turn = 6.283 * noise.uniform();
            const double l = 0.02 + noise.uniform();
            b.push_back(a.back() + Vec{l * std::cos(turn), l * std::sin(turn)});
        }
        lanes = arena::wallLanes(a, b);
    }
    Vec place() { return {8.0 * noise.uniform(), 5.0 * noise.uniform()}; }

    double length(size_t i) const { return arena::length(b[i] - a[i]); }
    Vec along(size_t i) const { return (1.0 / length(i)) * (b[i] - a[i]); }
    double distance(size_t i, Vec p) const
    {
        const double s = std::clamp(arena::dot(p - a[i], along(i)), 0.0, length(i));
        return arena::length(p - a[i] - s * along(i));
    }
    /// The share of the way from p to q at which the wall is met; below 0: it is not.
    double met(size_t i, Vec p, Vec q) const
    {
        const Vec d = q - p, w = b[i] - a[i];
        const double over = arena::cross(d, w);
        const double way = arena::cross(a[i] - p, w) / over;
        const double share = arena::cross(a[i] - p, d) / over;
        return share >= 0.0 && share <= 1.0 && way > 0.0 && way < 1.0 ? way : -1.0;
    }
    /// Calls `compare(wall, key)` for each real lane of each block.
    template <class Kernel, class Compare> void each(Kernel kernel, Compare compare) const
    {
        Keys keys;
        for (size_t k = 0; k < lanes.blocks(); ++k) {
            const bool any = kernel(k, keys);
            for (size_t i = 0; i < block; ++i)
                if (const int n = lanes.order[k * block + i]; n >= 0)
                    compare(static_cast<size_t>(n), any ? keys[i] : arena::farAway);
        }
    }
};

} // namespace

class TestLanes final : public QObject
{
    Q_OBJECT
private slots:
    /// Every wall is in one lane, and in the box of its block.
    void everyWallHasItsLane()
    {
        for (const size_t count : {1UL, 15UL, 16UL, 17UL, 300UL}) {
            Drawn d(count, count);
            std::vector<int> seen(count, 0);
            for (size_t lane = 0; lane < d.lanes.order.size(); ++lane) {
                const int n = d.lanes.order[lane];
                if (n < 0)
                    continue;
                ++seen[static_cast<size_t>(n)];
                const size_t k = lane / block;
                const auto &box = d.lanes.boxes;
                for (const Vec p : {d.a[static_cast<size_t>(n)], d.b[static_cast<size_t>(n)]})
                    QVERIFY(box.lowX[k] <= p.x && p.x <= box.highX[k] && box.lowY[k] <= p.y &&
                            p.y <= box.highY[k]);
            }
            QCOMPARE(std::count(seen.begin(), seen.end(), 1), std::ptrdiff_t(count));
        }
        QCOMPARE(arena::wallLanes({}, {}).blocks(), size_t(0));
    }

    void distances()
    {
        Drawn d(2, 200);
        for (int round = 0; round < 50; ++round) {
            const Vec p = d.place();
            const double limit = 3.0 * d.noise.uniform();
            double least = 1e9;
            d.each(
                [&](size_t k, Keys &keys) {
                    least = std::min(least, arena::least2(d.lanes, k, p));
                    return arena::distances2(d.lanes, k, p, limit * limit, keys);
                },
                [&](size_t i, double key) {
                    const double want = d.distance(i, p);
                    if (want < limit - 1e-9)
                        COMPARE_NEAR(std::sqrt(key), want, 1e-9);
                });
            double nearest = 1e9;
            for (size_t i = 0; i < d.a.size(); ++i)
                nearest = std::min(nearest, d.distance(i, p));
            COMPARE_NEAR(std::sqrt(least), nearest, 1e-9);
        }
    }

    void feetOfThePerpendicular()
    {
        Drawn d(3, 200);
        int found = 0;
        for (int round = 0; round < 50; ++round) {
            const Vec p = d.place();
            d.each([&](size_t k, Keys &keys) { return arena::feet(d.lanes, k, p, 4.0, keys); },
                   [&](size_t i, double key) {
                       const double s = arena::dot(p - d.a[i], d.along(i));
                       const double away = std::abs(arena::cross(d.along(i), p - d.a[i]));
                       const bool on = s >= 0.0 && s <= d.length(i) && away < 4.0;
                       found += on;
                       COMPARE_NEAR(on ? key : 0.0, on ? away : 0.0, 1e-9);
                       QVERIFY(on || key == arena::farAway);
                   });
        }
        QVERIFY(found > 500);
    }

    void wallsOnTheWay()
    {
        Drawn d(4, 200);
        int crossed = 0;
        for (int round = 0; round < 300; ++round) {
            const Vec p = d.place(), q = d.place();
            bool want = false, got = false, passed = false;
            for (size_t i = 0; i < d.a.size(); ++i)
                want |= d.met(i, p, q) > 1e-6;
            Keys keys;
            for (size_t k = 0; k < d.lanes.blocks(); ++k)
                got |= arena::crossed(d.lanes, k, p, q);
            // The boxes leave nothing out.
            for (size_t first = 0; first < d.lanes.blocks(); first += block)
                if (arena::boxesOnTheWay(d.lanes.boxes, first, p, q, keys))
                    for (size_t i = 0; i < block && first + i < d.lanes.blocks(); ++i)
                        passed |= keys[i] == 0.0 && arena::crossed(d.lanes, first + i, p, q);
            QCOMPARE(got, want);
            QCOMPARE(passed, want);
            crossed += want;
        }
        QVERIFY(crossed > 50);
    }

    /// By way of a wall: half the way from an image to the other image, where it meets the wall.
    void foldedWays()
    {
        Drawn d(5, 120);
        int met = 0;
        for (int round = 0; round < 60; ++round) {
            const Vec p = d.place(), image = d.place();
            d.each([&](size_t k,
                       Keys &keys) { return arena::folds(d.lanes, k, p, image, 16.0, keys); },
                   [&](size_t i, double key) {
                       const Vec n{-d.along(i).y, d.along(i).x};
                       const Vec back = p - 2.0 * arena::dot(p - d.a[i], n) * n;
                       const double r = arena::length(back - image) / 2.0;
                       if (r >= 4.0 || d.met(i, image, back) < 0.0) {
                           QVERIFY(key == arena::farAway);
                           return;
                       }
                       ++met;
                       COMPARE_NEAR(std::sqrt(key), r, 1e-9);
                   });
        }
        QVERIFY(met > 100);
    }

    /// No wall of which a part lies between the rays is left out.
    void betweenTwoRays()
    {
        Drawn d(6, 200);
        for (int round = 0; round < 40; ++round) {
            const Vec p = d.place();
            const double middle = 6.283 * d.noise.uniform(), half = 0.05 + 0.9 * d.noise.uniform();
            const auto ray = [&](double a) { return Vec{std::cos(a), std::sin(a)}; };
            d.each(
                [&](size_t k, Keys &keys) {
                    return arena::between(d.lanes, k, p, ray(middle + half), ray(middle - half),
                                          1e6, keys);
                },
                [&](size_t i, double key) {
                    bool inside = false;
                    for (int part = 0; part <= 40; ++part) {
                        const Vec q = d.a[i] + (part / 40.0) * (d.b[i] - d.a[i]) - p;
                        inside |= arena::dot(q, ray(middle)) > std::cos(half) * arena::length(q);
                    }
                    if (inside)
                        COMPARE_NEAR(std::sqrt(key), d.distance(i, p), 1e-9);
                });
        }
    }

    void points()
    {
        Noise noise(7);
        std::vector<Vec> at;
        for (int i = 0; i < 70; ++i)
            at.push_back({noise.uniform(), noise.uniform()});
        const auto lanes = arena::pointLanes(at);
        Keys keys;
        int seen = 0;
        for (size_t k = 0; k < lanes.blocks(); ++k) {
            QVERIFY(arena::distances2(lanes, k, {0.5, 0.5}, 1e9, keys));
            for (size_t i = 0; i < block; ++i)
                if (const int n = lanes.order[k * block + i]; n >= 0) {
                    ++seen;
                    const double want = arena::length(at[static_cast<size_t>(n)] - Vec{0.5, 0.5});
                    COMPARE_NEAR(std::sqrt(keys[i]), want, 1e-12);
                }
        }
        QCOMPARE(seen, 70);
    }
};

BADGER_TEST(TestLanes)
#include "test_lanes.moc"
