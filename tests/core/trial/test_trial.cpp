// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/noise.h"
#include "core/trial/bench_runs.h"

#include <functional>

using namespace badger;
using namespace badger::test;
using trial::Outcome;

class TestTrial final : public QObject
{
    Q_OBJECT
private slots:
    void stopsWhereTheBudgetSays()
    {
        Bench b;
        const auto t = runIt(calm(b), b.program);
        QVERIFY(t.outcome == Outcome::Stopped);
        // It acts between the effective edge (33 cm) and one loop later, then rolls 3.5 cm.
        QVERIFY(t.gap_m <= 0.33 - 0.035 + 0.001);
        QVERIFY(t.gap_m >= 0.32 - 0.24 * 0.065 - 0.035 - 0.001);
    }

    void noRunStopsNearerThanTheWorstCase()
    {
        // The budget is a promise about every run: with all the chance in it, over many seeds.
        Bench b;
        const auto budget = judge::budgetOf({b.car, b.catalogue}, b.program);
        int stopped = 0;
        double least = 1.0;
        for (std::uint64_t seed = 1; seed <= 150; ++seed) {
            const auto t = judge::runTrial({b.car, b.catalogue}, b.program, b.floor, seed);
            VERIFY_OK(t);
            stopped += t->outcome == Outcome::Stopped;
            least = std::min(least, t->gap_m);
        }
        QCOMPARE(stopped, 150);
        QVERIFY2(least >= budget->budget.worstGap_m, qPrintable(QString::number(least * 100.0)));
    }

    void sameSeedSameRunToTheBit()
    {
        Bench b;
        const auto a = judge::runTrial({b.car, b.catalogue}, b.program, b.floor, 42);
        const auto c = judge::runTrial({b.car, b.catalogue}, b.program, b.floor, 42);
        QCOMPARE(trial::fingerprint(*a), trial::fingerprint(*c));
        const auto other = judge::runTrial({b.car, b.catalogue}, b.program, b.floor, 43);
        QVERIFY(trial::fingerprint(*a) != trial::fingerprint(*other));
    }

    void sameRunInEveryBuildType()
    {
        // Recorded once. It holds in the dev, release and sanitizer builds alike; a change of the
        // simulation changes it on purpose, and is then recorded anew.
        Bench b;
        const auto t = judge::runTrial({b.car, b.catalogue}, b.program, b.floor, 1);
        // Of the demo with seed 1: the same in every build type.
        QCOMPARE(QString::number(trial::fingerprint(*t), 16), QString("f3d20cc27aee6712"));
    }

    void rollOutFollowsItsLaw_data()
    {
        QTest::addColumn<bool>("friction");
        QTest::addColumn<double>("distance_m");
        QTest::newRow("friction") << true << 0.035;
        QTest::newRow("electrical") << false << 0.05;
    }

    void rollOutFollowsItsLaw()
    {
        QFETCH(bool, friction);
        QFETCH(double, distance_m);
        Bench b;
        auto s = calm(b);
        s.car.brakeRoll = {distance_m, 0.24,
                           friction ? kit::RollLaw::Friction : kit::RollLaw::Electrical};
        Script script(turning, turning, 2000000, braking);
        const auto t = trial::run(s, script, 1);
        VERIFY_OK(t);
        const auto atBrake = trial::poseAt(*t, 2000000);
        COMPARE_NEAR(atBrake.speed_mps, 0.24, 1e-4);
        // Standing still counts from 1 mm/s on, which costs the decay its last bit of way.
        COMPARE_NEAR(t->path.back().nose.x_m - atBrake.nose.x_m, distance_m, 0.0008);
    }

    void riseIsFirstOrder()
    {
        Bench b;
        Bull bull;
        const auto t = trial::run(calm(b), bull, 1);
        // After one time constant (150 ms) 63.2 % of the speed.
        COMPARE_NEAR(trial::poseAt(*t, 150000).speed_mps, 0.24 * 0.632, 0.002);
        COMPARE_NEAR(trial::poseAt(*t, 1500000).speed_mps, 0.24, 1e-4);
    }

    void unequalWheelsDriveACircle()
    {
        Bench b;
        auto s = calm(b);
        s.floor.walls.clear();
        s.floor.depth_m = 4.0;
        s.floor.start.nose = {1.0, 2.0};
        s.longest_s = 3.0;
        // Left wheel held, right wheel at 0.24 m/s: a pivot with omega = v / b.
        Script script(braking, turning, 3000000, braking);
        const auto t = trial::run(s, script, 1);
        const auto early = trial::poseAt(*t, 1000000);
        const auto late = trial::poseAt(*t, 2000000);
        double turned =
            std::atan2(late.looks.y, late.looks.x) - std::atan2(early.looks.y, early.looks.x);
        if (turned < 0.0)
            turned += 2.0 * M_PI;
        COMPARE_NEAR(turned, 0.24 / 0.13, 0.01);
    }

    void aBullHitsTheBoard()
    {
        Bench b;
        Bull bull;
        const auto t = trial::run(calm(b), bull, 1);
        QVERIFY(t->outcome == Outcome::Contact);
        QCOMPARE(t->contactWall, std::string("board"));
        COMPARE_NEAR(t->contactSpeed_mps, 0.24, 0.001);
        COMPARE_NEAR(t->path.back().nose.x_m, 2.2, 0.001);
        COMPARE_NEAR(t->gap_m, 0.0, 0.0);
        QCOMPARE(t->deciding, -1);
        QCOMPARE(english(trial::verdict(*t)), std::string("Contact with the board at 0.24 m/s."));
    }

    void outcomes()
    {
        Bench b;
        auto s = calm(b);
        s.floor.walls.clear();
        Bull bull;
        QVERIFY(trial::run(s, bull, 1)->outcome == Outcome::LeftFloor);
        s.longest_s = 1.0;
        QVERIFY(trial::run(s, bull, 1)->outcome == Outcome::StillDriving);
        Script idle(braking, braking, 10000, braking);
        const auto never = trial::run(s, idle, 1);
        QVERIFY(never->outcome == Outcome::NeverMoved);
        QCOMPARE(english(trial::verdict(*never)), std::string("The car never moved."));
    }

    void decidingReadingIsTheOneThatStopped()
    {
        Bench b;
        const auto t = runIt(calm(b), b.program);
        QVERIFY(t.deciding >= 0);
        const auto &p = t.pings[size_t(t.deciding)];
        QCOMPARE(p.decision.state, std::string("stands"));
        QCOMPARE(t.pings[size_t(t.deciding) - 1].decision.state, std::string("drives"));
        QVERIFY(p.decision.number <= 32.0);
        QVERIFY(english(trial::verdict(t))
                    .find("Reading " + std::to_string(t.deciding + 1) + " decided") !=
                std::string::npos);
    }

    void actuationDelaysTheStop()
    {
        Bench b;
        auto s = calm(b);
        const double before = runIt(s, b.program).gap_m;
        s.car.actuation_s = 0.1;
        const auto later = runIt(s, b.program);
        // The start is late as well, so the same reading need not decide: one loop of slack.
        COMPARE_NEAR(before - later.gap_m, 0.024, 0.016);
        QVERIFY(later.gap_m < before);
    }

    /// A second ranger that looks to the left: the wall ahead stops the car by the first, a wall
    /// beside it by the second, and each hears with its own dead zone.
    void twoRangersEachHearTheirOwnWay()
    {
        Bench b;
        auto fitted = *b.car.instance("ranger");
        fitted.id = "ranger-left";
        fitted.mount->yaw_rad = M_PI / 2.0;
        fitted.mount->offset_m = b.car.geometry.width_m / 2.0;
        b.car.parts.push_back(fitted);
        auto side = b.reading();
        side.name = "side";
        side.instance = "ranger-left";
        b.program.readings.push_back(side);
        b.program.everywhere.insert(b.program.everywhere.begin(),
                                    {"beside", {{"side", rules::Compare::Less, "halt"}}, "stands"});
        b.program.everywhere[2].when.push_back({"side", rules::Compare::GreaterOrEqual, "halt"});
        auto s = calm(b);
        QCOMPARE(s.car.rangers.size(), size_t(2));
        const auto ahead = runIt(s, b.program);
        QVERIFY(ahead.outcome == Outcome::Stopped);
        QVERIFY(ahead.deciding >= 0);
        QCOMPARE(ahead.pings[size_t(ahead.deciding)].decision.reading, std::string("ahead"));
        QVERIFY2(english(ahead.pings[size_t(ahead.deciding)].decision.why)
                     .starts_with("stands, braked: ahead 3"),
                 english(ahead.pings[size_t(ahead.deciding)].decision.why).c_str());
        // A board along the left of the way, from half-way on.
        const double y = s.floor.start.nose.y_m + 0.25;
        s.floor.walls.push_back({"plank", {1.0, y}, {2.0, y}});
        const auto beside = runIt(s, b.program);
        QVERIFY(beside.outcome == Outcome::Stopped);
        QVERIFY2(beside.deciding >= 0, english(trial::verdict(beside)).c_str());
        QVERIFY2(beside.pings[size_t(beside.deciding)].decision.reading == "side",
                 english(trial::verdict(beside)).c_str());
        // The ranger sits 75 mm left of the middle: the plank is 17.5 cm away.
        QCOMPARE(beside.pings[size_t(beside.deciding)].decision.number, 17.0);
        s.car.rangers[1].figures.deadZone_m = 0.20;
        for (const auto &p : runIt(s, b.program).pings)
            if (p.decided && p.decision.reading == "side" && p.decision.number > 0.0)
                QVERIFY(p.decision.number >= 20.0);
        QVERIFY(trial::fingerprint(beside) == trial::fingerprint(runIt(
                                                  [&] {
                                                      s.car.rangers[1].figures.deadZone_m = 0.03;
                                                      return s;
                                                  }(),
                                                  b.program)));
    }

    void setBackTakesItsLength()
    {
        Bench b;
        auto s = calm(b);
        s.floor.start.nose.x_m = 0.4;
        const auto front = runIt(s, b.program);
        s.car.rangers[0].mount.setBack_m = 0.03;
        s.floor.start.nose.x_m = 0.43; // the ranger starts at the same place
        const auto back = runIt(s, b.program);
        COMPARE_NEAR(front.gap_m - back.gap_m, 0.03, 1e-9);
    }

    void refuses_data()
    {
        QTest::addColumn<int>("kind");
        for (int i = 0; i < 7; ++i)
            QTest::addRow("%d", i) << i;
    }

    void refuses()
    {
        QFETCH(int, kind);
        Bench b;
        auto s = calm(b);
        const std::function<void()> bends[] = {
            [&] { s.car.geometry.track_m = 0.0; },
            [&] { s.car.rise_s = 0.0; },
            [&] { s.car.rangers[0].figures.lostEchoShare = 1.5; },
            [&] { s.longest_s = 1e9; },
            [&] { s.floor.width_m = std::nan(""); },
            [&] { s.floor.air_degC = 90.0; },
            [&] { s.car.speed_mps[1].clear(); },
        };
        bends[kind]();
        Bull bull;
        const auto t = trial::run(s, bull, 1);
        QVERIFY(!t);
        QVERIFY(!t.error().where.empty() && !t.error().what.empty());
    }

    void poseBetweenSamples()
    {
        trial::Trial t;
        t.path = {{0, {0, 0}, {1, 0}, 0.0}, {10000, {0.1, 0}, {1, 0}, 1.0}};
        COMPARE_NEAR(trial::poseAt(t, 5000).nose.x_m, 0.05, 1e-12);
        COMPARE_NEAR(trial::poseAt(t, 99999).nose.x_m, 0.1, 1e-12);
        COMPARE_NEAR(trial::poseAt(t, 0).nose.x_m, 0.0, 1e-12);
    }

    void csvHasALineAPing()
    {
        Bench b;
        for (auto &s : b.program.states)
            if (s.name == "stands")
                s.name = "stands, \"still\"";
        b.program.everywhere[0].go = b.program.stopState = "stands, \"still\"";
        const auto t = runIt(calm(b), b.program);
        const auto csv = trial::traceCsv(t);
        QCOMPARE(size_t(std::count(csv.begin(), csv.end(), '\n')), t.pings.size() + 1);
        QVERIFY(csv.starts_with("time_s,nose_x_m,"));
        QVERIFY(csv.find(",none,drives,clear\n") != std::string::npos);
        QVERIFY(csv.find(",\"stands, \"\"still\"\"\",near\n") != std::string::npos);
    }

    void noiseHasTheMomentsItClaims()
    {
        Noise noise(9);
        double sum = 0.0;
        double squares = 0.0;
        constexpr int n = 100000;
        for (int i = 0; i < n; ++i) {
            const double x = noise.bell();
            QVERIFY(std::abs(x) <= 6.0);
            sum += x;
            squares += x * x;
        }
        COMPARE_NEAR(sum / n, 0.0, 0.02);
        COMPARE_NEAR(squares / n, 1.0, 0.03);
        for (int i = 0; i < 1000; ++i) {
            const double u = noise.uniform();
            QVERIFY(u >= 0.0 && u < 1.0);
        }
    }
};

BADGER_TEST(TestTrial)
#include "test_trial.moc"
