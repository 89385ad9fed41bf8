// SPDX-License-Identifier: GPL-3.0-or-later
// What comes on slowly or by chance: a caster that swings round, cells that run down, readings that
// are wild, sides that are chosen.
#include "core/circuit/full_duty.h"
#include "core/drive/speed.h"
#include "core/task/figures.h"
#include "core/world/words.h"
#include "core/world/world.h"
#include "support/drive.h"

using namespace badger;
using rules::Command;
using test::Bench;
using test::Bent;
using test::driven;
using test::floorOf;
using test::quiet;

namespace
{

floor::Floor open()
{
    floor::Floor f;
    f.name = "open";
    f.width_m = f.depth_m = 60.0;
    f.air_degC = 20.0;
    f.start.nose = {30.0, 30.0};
    return f;
}

/// A car that a person drives by keys, held from each time on.
Bent guarded()
{
    return {"Whimbrel",
            "guarded-drive",
            {{"air", "20C"},
             {"limit", "200cm"},
             {"no-echo", "clear"},
             {"threshold", "30cm"},
             {"speed", "160"},
             {"turn-speed", "160"},
             {"lost-signal", "600ms"},
             {"wait", "20ms"}}};
}
world::Conditions keys(double lasts_s, std::vector<std::pair<double, Command>> held)
{
    auto how = quiet(lasts_s);
    for (const auto &[s, key] : held)
        how.keys.push_back({static_cast<std::uint64_t>(s * 1e6), key});
    return how;
}
/// By steps of ten microseconds: how far the car is bent while wheels that spun with one speed to
/// the left now go ahead with another, the left one dragged until both have rolled `way_m`.
double bend_deg(double spin_mps, double ahead_mps, double rise_s, double track_m, double way_m,
                double drag)
{
    constexpr double dt = 1e-5;
    double free[2] = {-spin_mps, spin_mps}, held[2] = {-spin_mps, spin_mps};
    double rolled = 0.0, turned = 0.0;
    for (double t = 0.0; t < 3.0; t += dt) {
        const double factor[2] = {rolled < way_m ? 1.0 - drag : 1.0, 1.0};
        for (int n = 0; n < 2; ++n) {
            free[n] += (ahead_mps - free[n]) * dt / rise_s;
            held[n] += (ahead_mps * factor[n] - held[n]) * dt / rise_s;
        }
        rolled += (std::abs(held[0]) + std::abs(held[1])) / 2.0 * dt;
        turned += ((held[1] - held[0]) - (free[1] - free[0])) / track_m * dt;
    }
    return turned * 180.0 / M_PI;
}

} // namespace

class TestWear final : public QObject
{
    Q_OBJECT
private slots:
    /// A left turn on the spot, then ahead: the caster lies across, and the bend goes on to the
    /// left; mirrored after a right turn; none without a swivel; the same from in front of the
    /// axle.
    void aCasterBendsTheWayAfterATurn()
    {
        auto car = guarded();
        auto &model = car.on.changeModel();
        const auto after = [&](double trail_m, double at_m, Command turn) {
            model.caster = {trail_m, at_m};
            return test::heading_deg(
                car.drive(open(), keys(3.0, {{0.0, turn}, {0.5, Command::Ahead}})), 3.0);
        };
        const double plain = after(0.0, -0.09, Command::Left);
        const double bent = after(0.015, -0.09, Command::Left);
        const auto &w = model.wheels;
        const double v = w.speed_mps[0][160];
        QVERIFY(w.rise_s * 3.0 < 0.5); // it spins at full speed by then
        // Right across is half of right about.
        const double expected = bend_deg(v, v, w.rise_s, w.track_m, world::casterTrails * 0.015,
                                         world::casterDrag / 2.0);
        QVERIFY2(expected > 0.5 && expected < 4.0, qPrintable(QString::number(expected)));
        COMPARE_NEAR(bent - plain, expected, 0.1 * expected);
        COMPARE_NEAR(after(0.015, -0.09, Command::Right), -bent, 1e-6);
        COMPARE_NEAR(after(0.015, 0.09, Command::Left), bent, 1e-6);
        QVERIFY(after(0.03, -0.09, Command::Left) > bent + 0.3);
    }

    /// From ahead to back it stands right about, and falls to either side by chance alone.
    void rightAboutItFallsToEitherSide()
    {
        auto car = guarded();
        auto &model = car.on.changeModel();
        model.caster = {0.015, -0.09};
        model.speedSpread = model.wheelSpread = model.rollSpread = 0.0;
        auto how = keys(3.0, {{0.0, Command::Ahead}, {1.0, Command::Back}});
        COMPARE_NEAR(test::heading_deg(car.drive(open(), how), 3.0), 0.0, 1e-12);
        how.noise = true;
        int left = 0, right = 0;
        double size_deg = 0.0;
        for (std::uint64_t seed = 1; seed <= 20; ++seed) {
            const double turned = test::heading_deg(car.drive(open(), how, seed), 3.0);
            QVERIFY(std::abs(turned) > 1.0);
            if (size_deg > 0.0)
                COMPARE_NEAR(std::abs(turned), size_deg, 0.01);
            size_deg = std::abs(turned);
            ++(turned > 0.0 ? left : right);
        }
        QVERIFY(left >= 4 && right >= 4);
    }

    void aFixedSkidDragsNothing()
    {
        Bench b("Godwit");
        const auto caster = [&](const char *part) {
            b.instance("support").partId = part;
            const auto made =
                oncar::ProgramOnCar::make({b.car, b.catalogue}, test::programOf(b), {});
            return made ? made->model().caster.trail_m : -1.0;
        };
        COMPARE_NEAR(caster("swivel-caster"), 0.015, 1e-12);
        QCOMPARE(caster("ball-caster"), 0.0);
    }

    /// The motor's line at both charges, from the volts of the network.
    void nearlyEmptyCellsAreSlower()
    {
        auto car = guarded();
        const auto &motor = *car.car.first(parts::Kind::Motor);
        const auto &part = *car.car.part(motor);
        const auto rpm = [&](kit::Charge charge) {
            return circuit::fullDuty(car.car, charge)->motor_V / part.figure("rated_V")->typical -
                   *drive::loadShare(part);
        };
        const double share = rpm(kit::Charge::NearEmpty) / rpm(kit::Charge::Fresh);
        QVERIFY(share > 0.3 && share < 0.97);
        COMPARE_NEAR(car.on.model().charge.emptyShare, share, 1e-9);
        auto how = keys(3.0, {{0.0, Command::Ahead}});
        const auto speed = [&](double used) {
            how.chargeUsed = used;
            return car.drive(open(), how).path.back().wheels_mps[0];
        };
        COMPARE_NEAR(speed(1.0) / speed(0.0), share, 2e-4);
        COMPARE_NEAR(speed(0.5) / speed(0.0), (1.0 + share) / 2.0, 2e-4);
    }

    /// 20 C, of which the board takes 0.5 A and each wheel 1 A at full duty.
    void cellsRunDownWhileItDrives()
    {
        auto car = guarded();
        auto &model = car.on.changeModel();
        model.charge = {20.0, 0.5, {1.0, 1.0}, 0.6};
        const auto t = car.drive(open(), keys(11.5, {{0.0, Command::Ahead}}));
        const double v = model.wheels.speed_mps[0][160];
        // Looked at every 5 s: what was used after ten counts.
        const double used_C = 10.0 * (0.5 + 2.0 * 160.0 / 255.0);
        COMPARE_NEAR(t.path.back().wheels_mps[0], v * (1.0 - 0.4 * used_C / 20.0), 0.004 * v);
        model.charge.usable_C = 0.0;
        const auto fresh = car.drive(open(), keys(11.5, {{0.0, Command::Ahead}}));
        COMPARE_NEAR(fresh.path.back().wheels_mps[0], v, 1e-6);
    }

    void moreThanFreshOrEmptyIsRefused()
    {
        auto car = guarded();
        auto how = quiet(1.0);
        for (const double used : {-0.1, 1.1, std::nan("")}) {
            how.chargeUsed = used;
            const auto plan = world::planFor(car.on, open(), how);
            QVERIFY(!plan && plan.error().kind == Error::Kind::OutOfRange);
        }
    }

    /// A stated share of the readings ends early, and each says so.
    void wildReadings()
    {
        Bench b;
        auto course = test::courseOf(b);
        course.floor = std::make_shared<floor::Floor>(
            floorOf("straight", {{"distance", "1.6m"}, {"width", "3m"}}));
        course.faults = {"wild-readings"};
        world::Conditions how;
        how.lasts_s = 60.0;
        int wild = 0, all = 0;
        for (std::uint64_t seed = 1; seed <= 5; ++seed) {
            const auto run = driven(course, how, seed);
            for (const auto &p : run.trace().pings) {
                ++all;
                if (p.wrong != world::Wrong::Wild)
                    continue;
                ++wild;
                QVERIFY(p.read_m >= 0.0 && p.read_m <= p.true_m + 0.02);
                QCOMPARE(english(world::why(run.drive->plan(), p)),
                         std::string("wild: a noise ended it, nothing stands there"));
            }
        }
        // One in ten, four deviations about.
        const double expected = 0.1 * all;
        QVERIFY(all > 1000);
        COMPARE_NEAR(wild, expected, 4.0 * std::sqrt(0.09 * all));
        how.noise = false;
        const auto run = driven(course, how);
        for (const auto &p : run.trace().pings)
            QVERIFY(p.wrong != world::Wrong::Wild);
    }

    void theLongerSide()
    {
        const auto longer = [](bool left, std::optional<double> l, std::optional<double> r) {
            return task::isLonger({0, left, l, r});
        };
        QVERIFY(longer(true, 1.0, 0.5) && !longer(false, 1.0, 0.5));
        QVERIFY(longer(true, std::nullopt, 0.5) && !longer(true, 0.5, std::nullopt));
        QVERIFY(longer(false, std::nullopt, std::nullopt));
        QVERIFY(longer(true, 0.50, 0.52) && longer(false, 0.50, 0.52)); // alike
    }

    /// A board ahead, and 60 degrees to one side something that faces it: it looks to both sides,
    /// and takes the other one. A wall along the way it does not hear there, and runs to it.
    void theSideItTakes()
    {
        Bench b("Curlew");
        const auto f = floorOf("straight", {{"distance", "60cm"}, {"width", "1m"}});
        const arena::Vec stop{f.start.nose.x_m + 0.3, f.start.nose.y_m};
        for (const bool onLeft : {true, false}) {
            const double up = onLeft ? 1.0 : -1.0;
            const arena::Vec to{0.5, up * std::sqrt(0.75)};
            const auto middle = stop + 0.25 * to;
            const arena::Vec along{0.1 * to.y, -0.1 * to.x};
            auto one = f;
            one.walls.push_back({"side",
                                 {middle.x - along.x, middle.y - along.y},
                                 {middle.x + along.x, middle.y + along.y},
                                 {},
                                 {}});
            const auto run = driven(b, one, quiet(6.0));
            QVERIFY(!run.score().sides.empty());
            const auto &side = run.score().sides.front();
            QCOMPARE(side.left, !onLeft);
            QVERIFY(task::isLonger(side));
            const auto &there = onLeft ? side.left_m : side.right_m;
            QVERIFY(there && *there > 0.1 && *there < 0.4);
        }
        auto along = f;
        along.walls.push_back(
            {"side wall", {stop.x - 0.6, stop.y - 0.35}, {stop.x + 0.3, stop.y - 0.35}, {}, {}});
        const auto run = driven(b, along, quiet(6.0));
        const auto &side = run.score().sides.front();
        QVERIFY(!side.left && !task::isLonger(side));
        QVERIFY(english(run.verdict()).find("shorter side") != std::string::npos ||
                !run.trace().touches.empty());
    }
};

BADGER_TEST(TestWear)
#include "test_wear.moc"
