// SPDX-License-Identifier: GPL-3.0-or-later
// The events of a run against small steps: what the wheels were told, driven again by steps of
// 0.05 ms that know no closed form, with a look for contact at each millimetre.
#include "support/drive.h"

#include <random>

using namespace badger;
using motion::Turn;

namespace
{

struct Replay {
    std::vector<std::pair<std::uint64_t, arena::Pose>> path; ///< every 50 ms
    std::optional<double> touch_s;
    int thing = -1;
};

/// Up to the first touch.
Replay replay(const world::Plan &plan, const world::Trace &trace)
{
    const auto &w = plan.on->model().wheels;
    constexpr double dt = 5e-5;
    Replay out;
    arena::Pose pose = plan.start;
    double heading = std::atan2(pose.looks.y, pose.looks.x);
    double v[2] = {0.0, 0.0};
    size_t next = 0;
    world::Told told;
    double sinceLook_m = 0.0;
    const double end_s = double(trace.end_us) * 1e-6;
    double nextSample = 0.0;
    for (double t = 0.0; t < end_s; t += dt) {
        while (next < trace.told.size() && double(trace.told[next].time_us) * 1e-6 <= t + dt / 2)
            told = trace.told[next++];
        if (t >= nextSample) {
            out.path.emplace_back(static_cast<std::uint64_t>(t * 1e6 + 0.5), pose);
            nextSample += 0.05;
        }
        double before[2] = {v[0], v[1]};
        for (size_t n = 0; n < 2; ++n) {
            const auto turn = told.turn[n];
            if (turn == Turn::Forward || turn == Turn::Backward) {
                const double to =
                    w.speed_mps[n][size_t(told.counts[n])] * (turn == Turn::Forward ? 1 : -1);
                v[n] += (to - v[n]) * dt / w.rise_s;
                if (to == 0.0 && std::abs(v[n]) < 0.001)
                    v[n] = 0.0;
                continue;
            }
            const auto &roll = turn == Turn::Brake ? w.brakeRoll : w.coastRoll;
            if (roll.law == kit::RollLaw::Friction) {
                const double less = roll.speed_mps * roll.speed_mps / (2.0 * roll.distance_m) * dt;
                v[n] = std::abs(v[n]) <= less ? 0.0 : v[n] - std::copysign(less, v[n]);
            } else {
                v[n] -= v[n] * dt * roll.speed_mps / roll.distance_m;
                if (std::abs(v[n]) < 0.001)
                    v[n] = 0.0;
            }
        }
        const double l = (before[0] + v[0]) / 2.0;
        const double r = (before[1] + v[1]) / 2.0;
        const double turned = (r - l) / w.track_m * dt;
        heading += turned / 2;
        pose.at = pose.at + ((l + r) / 2 * dt) * arena::Vec{std::cos(heading), std::sin(heading)};
        heading += turned / 2;
        pose.looks = {std::cos(heading), std::sin(heading)};
        sinceLook_m += (std::abs(l) + std::abs(r)) * dt;
        if (sinceLook_m < 0.0005)
            continue;
        sinceLook_m = 0.0;
        const auto near = arena::nearest(plan.arena, plan.on->model().outline, pose, t);
        if (near.distance_m <= 0.0) {
            out.touch_s = t;
            out.thing = near.thing;
            break;
        }
    }
    return out;
}

} // namespace

class TestReplay final : public QObject
{
    Q_OBJECT
private slots:
    void drawnRunsAgree()
    {
        std::mt19937 random(41);
        int touched = 0, grazed = 0, compared = 0;
        for (int draw = 0; draw < 60; ++draw) {
            static const char *cars[] = {"Avocet", "Curlew", "Ruff", "Sanderling"};
            test::Bench b(cars[draw % 4]);
            auto f = test::floorOf("room", {{"boxes", std::to_string(random() % 6)},
                                            {"width", std::to_string(160 + random() % 200) + "cm"},
                                            {"depth", std::to_string(140 + random() % 150) + "cm"},
                                            {"seed", std::to_string(1 + random() % 900)}});
            f.start.heading_rad = double(random() % 628) / 100.0;
            auto course = test::courseOf(b);
            course.floor = std::make_shared<floor::Floor>(f);
            const auto drive = judge::Drive::make(course, test::quiet(10.0));
            if (!drive)
                continue; // the car would stand in something
            const auto run = (*drive)->run(1);
            const auto again = replay((*drive)->plan(), run.trace);
            const bool one = !run.trace.touches.empty();
            const auto where = QString("draw %1, %2").arg(draw).arg(cars[draw % 4]);
            const double until = one ? double(run.trace.touches[0].time_us) * 1e-6 : 1e9;
            for (const auto &[time_us, pose] : again.path) {
                if (double(time_us) * 1e-6 > until)
                    break;
                const auto m = world::at(run.trace, time_us);
                QVERIFY2(arena::length(m.pose.at - pose.at) < 0.001,
                         qPrintable(where + QString(": %1 m apart at %2")
                                                .arg(arena::length(m.pose.at - pose.at))
                                                .arg(time_us)));
                ++compared;
            }
            if (one != again.touch_s.has_value()) {
                // A graze: one of the two passes by less than a millimetre.
                QVERIFY2(run.trace.nearest_m < 0.001, qPrintable(where));
                ++grazed;
                continue;
            }
            if (!one)
                continue;
            ++touched;
            QVERIFY2(std::abs(until - *again.touch_s) < 0.02,
                     qPrintable(where + QString(": %1 and %2").arg(until).arg(*again.touch_s)));
        }
        QVERIFY(touched >= 10);
        QVERIFY(grazed <= 3);
        QVERIFY(compared > 3000);
    }
};

BADGER_TEST(TestReplay)
#include "test_replay.moc"
