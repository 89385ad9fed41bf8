// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/world/rolling.h"
#include "support/fixture.h"

#include <random>

using namespace badger;
using arena::Pose;
using world::Law;

namespace
{

constexpr double track = 0.13;

/// The same by steps of 10 us, each a straight piece: an integrator that knows no closed form.
Pose bySteps(Pose pose, Law left, Law right, double s)
{
    constexpr double dt = 1e-5;
    double heading = std::atan2(pose.looks.y, pose.looks.x);
    for (double t = dt / 2; t < s; t += dt) {
        const double l = left.speed_mps(t);
        const double r = right.speed_mps(t);
        heading += (r - l) / track * dt / 2;
        pose.at = pose.at + ((l + r) / 2 * dt) * arena::Vec{std::cos(heading), std::sin(heading)};
        heading += (r - l) / track * dt / 2;
    }
    pose.looks = {std::cos(heading), std::sin(heading)};
    return pose;
}

Pose byStrides(Pose pose, Law left, Law right, double s)
{
    while (s > 1e-12) {
        const double h = std::min(s, world::stride_s(left, right, track));
        world::roll(pose, left, right, track, h);
        for (auto *l : {&left, &right}) {
            *l = l->after(h);
            if (l->lasts_s <= 1e-12)
                *l = l->next();
        }
        s -= h;
    }
    return pose;
}

} // namespace

class TestRolling final : public QObject
{
    Q_OBJECT
private slots:
    void drawnLawsAgreeWithSteps()
    {
        std::mt19937 random(3);
        std::uniform_real_distribution<double> v(-0.4, 0.4), tau(0.03, 0.4);
        for (int draw = 0; draw < 60; ++draw) {
            const auto law = [&] {
                switch (random() % 4) {
                case 0:
                    return Law::rise(v(random), v(random), tau(random));
                case 1:
                    return Law::decay(v(random), tau(random));
                case 2:
                    return Law::friction(v(random), 1.0 + tau(random));
                default:
                    return Law::rise(0.3, 0.3, 0.1); // steady
                }
            };
            const auto left = law();
            const auto right = law();
            const double s = std::min({0.7, left.lasts_s, right.lasts_s});
            const Pose start{{1, 2}, {0.6, 0.8}};
            const auto a = byStrides(start, left, right, s);
            const auto b = bySteps(start, left, right, s);
            QVERIFY2(
                arena::length(a.at - b.at) < 1e-5 && arena::length(a.looks - b.looks) < 1e-4,
                qPrintable(QString("draw %1: %2 m").arg(draw).arg(arena::length(a.at - b.at))));
        }
    }

    /// Ways by hand: v·τ less what stillness cuts off; v²/2a; u·t − u·τ·(1 − e^(−t/τ)).
    void waysByHand()
    {
        const auto decay = Law::decay(0.24, 0.15);
        COMPARE_NEAR(decay.way_m(decay.lasts_s), (0.24 - 0.001) * 0.15, 1e-12);
        const auto friction = Law::friction(-0.3, 1.5);
        COMPARE_NEAR(friction.way_m(friction.lasts_s), -0.03, 1e-12);
        const auto rise = Law::rise(0.0, 0.2, 0.1);
        COMPARE_NEAR(rise.way_m(0.3), 0.2 * 0.3 - 0.02 * (1 - std::exp(-3.0)), 1e-12);
    }

    void aCircleComesHome()
    {
        const auto left = Law::rise(0.1, 0.1, 0.1);
        const auto right = Law::rise(0.2, 0.2, 0.1);
        const double omega = 0.1 / track;
        const auto home = byStrides({{0, 0}, {1, 0}}, left, right, 2 * M_PI / omega);
        QVERIFY(arena::length(home.at) < 1e-9);
        QVERIFY(arena::length(home.looks - arena::Vec{1, 0}) < 1e-9);
    }

    void itNeverSpeedsUpWhileItIsBraked()
    {
        auto law = Law::decay(0.3, 0.2);
        double last = 0.3;
        while (law.kind != Law::Kind::Still) {
            const double h = std::min(0.01, law.lasts_s);
            law = law.after(h);
            QVERIFY(std::abs(law.from_mps) < last);
            last = std::abs(law.from_mps);
            if (law.lasts_s <= 1e-12)
                law = law.next();
        }
        QVERIFY(last <= world::still_mps + 1e-12);
    }

    void theBoundHolds()
    {
        const auto left = Law::rise(-0.2, 0.3, 0.1);
        const auto right = Law::decay(0.25, 0.2);
        const double most = world::fastest_mps(left, right, track, 0.15);
        for (double t = 0.0; t < 0.5; t += 0.01) {
            const double v = (left.speed_mps(t) + right.speed_mps(t)) / 2;
            const double w = (right.speed_mps(t) - left.speed_mps(t)) / track;
            QVERIFY(std::abs(v) + std::abs(w) * 0.15 <= most + 1e-12);
        }
    }
};

BADGER_TEST(TestRolling)
#include "test_rolling.moc"
