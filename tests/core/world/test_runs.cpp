// SPDX-License-Identifier: GPL-3.0-or-later
// What a car does on a floor: worked examples, each expectation found another way.
#include "core/world/words.h"
#include "support/drive.h"

using namespace badger;
using test::Bench;
using test::driven;
using test::floorOf;
using test::quiet;
using world::Wrong;

namespace
{

void withProgram(Bench &b, const std::string &from, const test::Choices &choices)
{
    auto made = io::fromTemplate(from, choices, kit::roles({b.car, b.catalogue}), {"made"}, "made");
    if (!made)
        qFatal("%s", english(made.error().text()).c_str());
    auto &program = test::programOf(b);
    made->id = program.id;
    program = std::move(*made);
    b.car = nets::withPinsFromWires(b.car, b.catalogue);
}

} // namespace

class TestRuns final : public QObject
{
    Q_OBJECT
private slots:
    /// Avocet, halt at 32 cm, no noise: what is left is the reading that decided, less what the
    /// ping and the roll-out take. Over all phases of the reading the worst is the budget's.
    void theGapIsTheBudgets()
    {
        Bench b;
        const auto budget = judge::budgetOf({b.car, b.catalogue}, b.program);
        VERIFY_OK(budget);
        double worst = 1e9;
        for (int phase = 0; phase < 40; ++phase) {
            const double from_m = 1.6 + 0.0005 * phase; // a pass is 65 ms: 15.6 mm
            const auto f =
                floorOf("straight", {{"distance", std::to_string(from_m) + "m"}, {"air", "22C"}});
            const auto run = driven(b, f, quiet());
            QVERIFY(run.score().gap_m.has_value());
            const auto &t = run.trace();
            const auto &stop = t.pings[static_cast<size_t>(t.steps.back().ping)];
            const double during = 0.24 * double(t.steps.back().time_us - stop.sent_us) * 1e-6;
            COMPARE_NEAR(*run.score().gap_m, stop.true_m - during - 0.035, 1e-4);
            worst = std::min(worst, *run.score().gap_m);
        }
        // The budget's worst has the ruler's error and a whole pass at its longest in it: its own
        // sum without the error is what the worst phase reaches.
        const double error = budget->setup.sensorError_m;
        QVERIFY(worst >= budget->budget.worstGap_m + error - 1e-3);
        QVERIFY2(worst <= budget->budget.worstGap_m + error + 0.012,
                 qPrintable(QString::number(worst)));
    }

    void theSameSeedIsTheSameRun()
    {
        Bench b;
        const auto one = driven(b, b.floor, {}, 7);
        const auto two = driven(b, b.floor, {}, 7);
        QCOMPARE(world::fingerprint(one.trace()), world::fingerprint(two.trace()));
        QVERIFY(world::fingerprint(driven(b, b.floor, {}, 8).trace()) !=
                world::fingerprint(one.trace()));
    }

    /// A turned floor and a turned car give the turned run.
    void aMirroredFloorGivesTheMirroredRun()
    {
        Bench b("Curlew");
        floor::Floor f = floorOf("corner", {{"angle", "70deg"}, {"distance", "1.2m"}});
        f.posts.push_back({"post", {1.8, f.depth_m / 2 + 0.3}, 0.03, {}});
        auto mirrored = f;
        for (auto &w : mirrored.walls)
            for (auto *p : {&w.from, &w.to})
                p->y_m = f.depth_m - p->y_m;
        for (auto &p : mirrored.posts)
            p.at.y_m = f.depth_m - p.at.y_m;
        Bench m("Curlew");
        for (auto &r : test::programOf(m).readings) // left is right
            if (r.swivel)
                for (auto &a : r.swivel->angles_deg)
                    a = 180.0 - a;
        const auto one = driven(b, f, quiet(6.0));
        const auto two = driven(m, mirrored, quiet(6.0));
        // Up to the first decision, which has a side of its own.
        for (std::uint64_t t = 0; t < 3000000; t += 100000) {
            const auto a = one.nose(t);
            const auto c = two.nose(t);
            COMPARE_NEAR(a.x, c.x, 1e-9);
            COMPARE_NEAR(a.y, -c.y, 1e-9);
        }
    }

    void withNoCommandNothingMoves()
    {
        Bench b("Whimbrel"); // waits for a person's keys
        const auto run = driven(b, floorOf("room"), {});
        QVERIFY(!run.score().moved);
        QCOMPARE(run.nose(20000000), run.nose(0));
        QVERIFY(english(run.verdict()).starts_with("The car never moved"));
    }

    void keysDriveIt()
    {
        Bench b("Whimbrel");
        auto how = quiet(6.0);
        using rules::Command;
        how.keys = {{0, Command::Ahead}, {2000000, Command::Left}, {2500000, Command::None}};
        const auto run = driven(b, floorOf("straight", {{"distance", "2.5m"}}), how);
        QVERIFY(run.nose(2000000).x > 0.3);
        QVERIFY(run.heading_deg(5000000) > 20.0);
        QCOMPARE(run.nose(4500000), run.nose(6000000));
        // Against the board it stops by itself, whatever the key says.
        how.keys = {{0, Command::Ahead}};
        how.lasts_s = 20.0;
        const auto held = driven(b, floorOf("straight", {{"distance", "2.5m"}}), how);
        QVERIFY(held.trace().touches.empty() && held.score().rest_s.has_value());
    }

    /// Left and right motors at each other's channel: what the program means as left turns right.
    void swappedChannelsTurnTheOtherWay()
    {
        Bench b("Ruff");
        Bench swapped("Ruff");
        swapped.turn("left.SIG", "right.SIG");
        const auto f = floorOf("straight", {{"distance", "1m"}, {"width", "3m"}});
        auto course = test::courseOf(b);
        course.floor = std::make_shared<floor::Floor>(f);
        const auto right = driven(course, quiet(9.0));
        course.built = std::make_shared<kit::Car>(swapped.car);
        const auto wrong = driven(course, quiet(9.0));
        // Ruff turns away to the right; with the plugs swapped each wheel runs backwards, mirrored.
        const auto turned = [](const test::Driven &d) { return d.heading_deg(9000000); };
        QVERIFY(std::abs(turned(right)) > 20.0);
        QVERIFY2(turned(right) * turned(wrong) <= 0.0 || std::abs(turned(wrong)) < 5.0,
                 qPrintable(QString("%1 %2").arg(turned(right)).arg(turned(wrong))));
    }

    void crossedTriggerAndEchoHearNothing()
    {
        Bench b;
        Bench crossed;
        crossed.turn("ranger.TRIG", "ranger.ECHO");
        auto course = test::courseOf(b);
        course.built = std::make_shared<kit::Car>(crossed.car);
        const auto run = driven(course, quiet());
        QVERIFY(run.trace().pings.empty());
        // "None" counts as clear: it drives into the board.
        QVERIFY(!run.trace().touches.empty());
        QCOMPARE(run.drive->plan().arena.name(run.trace().touches[0].thing), std::string("board"));
    }

    void aRangerWithoutSupplyIsDeaf()
    {
        Bench b;
        Bench cut;
        cut.unwire("ranger.VCC");
        auto course = test::courseOf(b);
        course.built = std::make_shared<kit::Car>(cut.car);
        QVERIFY(driven(course, quiet()).trace().pings.empty());
    }

    /// A board that stands 40 degrees off is heard only from very near: the run says why.
    void aSlantedBoardIsSaid()
    {
        Bench b;
        const auto run = driven(
            b, floorOf("straight", {{"distance", "1.5m"}, {"angle", "40deg"}, {"width", "2m"}}),
            quiet());
        QVERIFY(!run.trace().touches.empty());
        const auto &t = run.trace().touches[0];
        QCOMPARE(english(world::partOf(run.drive->plan().on->model(), t.onCar)),
                 std::string("left front corner"));
        QVERIFY(!run.score().wrong.empty());
        const auto &ping = run.trace().pings[run.score().wrong.front()];
        QVERIFY(ping.wrong == Wrong::Slanted);
        QVERIFY(english(world::why(run.drive->plan(), ping))
                    .starts_with("none: board stands 40° off; at "));
    }

    /// The place of the touch by hand: the left front corner of a car that drives straight meets
    /// the board's line.
    void whereItTouches()
    {
        Bench b;
        const double angle = 40.0 * M_PI / 180.0;
        const auto f =
            floorOf("straight", {{"distance", "1.5m"}, {"angle", "40deg"}, {"width", "2m"}});
        auto how = quiet();
        how.endAtContact = true;
        const auto run = driven(b, f, how);
        QVERIFY(run.trace().end == world::End::Contact);
        const double half = b.car.geometry.width_m / 2.0;
        // The board's line: x = 1.5 - tan(40°) · y.
        COMPARE_NEAR(run.nose(run.trace().end_us).x, 1.5 - std::tan(angle) * half, 2e-6);
        COMPARE_NEAR(run.trace().touches[0].speed_mps, 0.24, 1e-3);
        QVERIFY(run.trace().touches[0].phase == world::Phase::Ahead);
    }

    void itGoesOnPushing()
    {
        Bench b;
        const auto f =
            floorOf("straight",
                    {{"distance", "1m"}, {"soft", "foam"}, {"angle", "50deg"}, {"width", "2m"}});
        const auto run = driven(b, f, quiet(12.0));
        QVERIFY(!run.trace().touches.empty());
        QVERIFY(run.trace().end == world::End::Time);
        QVERIFY(run.score().stuck_s > 3.0);
        // It never stands in the wall.
        for (const auto &m : run.trace().path)
            QVERIFY(arena::nearest(run.drive->plan().arena, run.drive->plan().on->model().outline,
                                   m.pose, 0.0)
                        .distance_m > 0.0);
    }

    /// A look back after the turn: the ping leaves while the servo is still on its way.
    void aPingOnAMovingServo()
    {
        Bench b("Curlew");
        for (auto &v : test::programOf(b).values)
            if (v.name == "dwell")
                v.si = 0.03;
        const auto run =
            driven(b, floorOf("straight", {{"distance", "80cm"}, {"width", "2m"}}), quiet(8.0));
        const auto &pings = run.trace().pings;
        const auto moving = std::find_if(pings.begin(), pings.end(),
                                         [](const auto &p) { return p.wrong == Wrong::Moving; });
        QVERIFY(moving != pings.end());
        // 30 ms at 0.12 s for 60 degrees: 15 degrees of the way from 90 to 30.
        COMPARE_NEAR(moving->stood_deg, 75.0, 0.1);
        COMPARE_NEAR(moving->asked_deg, 30.0, 1e-9);
        QVERIFY(english(world::why(run.drive->plan(), *moving))
                    .starts_with("read while the servo moved: at 75° instead of 30°"));
    }

    /// Keep station before a board that is taken away: by what a lost target counts as.
    void aTargetThatVanishes_data()
    {
        QTest::addColumn<QString>("lostAfter");
        QTest::addColumn<bool>("charges");
        QTest::newRow("stands after 3 lost") << "3" << false;
    }
    void aTargetThatVanishes()
    {
        QFETCH(QString, lostAfter);
        QFETCH(bool, charges);
        Bench b("Sanderling");
        withProgram(b, "keep-station",
                    {{"near", "18cm"},
                     {"far", "45cm"},
                     {"speed", "130"},
                     {"no-echo", "clear"},
                     {"lost-after", lostAfter.toStdString()},
                     {"wait", "40ms"},
                     {"limit", "200cm"},
                     {"air", "20C"}});
        auto f = floorOf("straight", {{"distance", "6m"}, {"width", "10cm"}});
        f.walls.clear();
        f.movers.push_back({"target", {1.9, 0.2}, {1.9, f.depth_m - 0.2}, 0, 0, 0, 0, 3.0, {}});
        const auto run = driven(b, f, quiet(8.0));
        const double way = run.nose(8000000).x - run.nose(3200000).x;
        QCOMPARE(way > 0.3, charges);
    }

    void aWheelPassesTheEdge()
    {
        Bench b; // halt reads a ranger: a table's edge is nothing to it
        const auto run = driven(
            b,
            floorOf("table",
                    {{"width", "1.5m"}, {"ahead", "60cm"}, {"angle", "50deg"}, {"depth", "1m"}}),
            quiet());
        QVERIFY(run.trace().fell.has_value());
        // By hand: the left wheel stands half a track to the left, where the edge is nearer by
        // tan(50°) · track / 2 = 77 mm, and 150 mm behind the nose; the skid 25 mm behind it, in
        // the middle, is there first.
        QCOMPARE(run.trace().fell->wheel, 2);
        COMPARE_NEAR(run.nose(run.trace().fell->time_us).x, 0.6 + 0.025, 5e-4);
        QVERIFY(english(run.verdict()).starts_with("Its third support passes the edge"));
        // With the skid behind the axle it is the left wheel.
        b.instance("support").mount->setBack_m = 0.2;
        const auto back = driven(
            b,
            floorOf("table",
                    {{"width", "1.5m"}, {"ahead", "60cm"}, {"angle", "50deg"}, {"depth", "1m"}}),
            quiet());
        QVERIFY(back.trace().fell.has_value());
        QCOMPARE(back.trace().fell->wheel, 0);
        const double half = b.car.geometry.track_m / 2.0;
        COMPARE_NEAR(back.nose(back.trace().fell->time_us).x,
                     0.6 + b.car.geometry.axleToNose_m - std::tan(50 * M_PI / 180) * half, 5e-4);
    }

    /// A board that stands still is a wall; one that comes on touches a car that waits; one that
    /// goes faster than the car is never reached; one that is taken away is driven past.
    void movingBoards()
    {
        const auto with = [](double from_m, double speed_mps, std::optional<double> gone_s) {
            Bench b;
            auto f = floorOf("straight", {{"distance", "5m"}, {"width", "10cm"}, {"air", "22C"}});
            f.walls.clear();
            floor::Mover m;
            m.name = "target";
            m.from = {f.start.nose.x_m + from_m, 0.2};
            m.to = {m.from.x_m, f.depth_m - 0.2};
            m.east_mps = speed_mps;
            m.ends_s = 60.0;
            m.vanishes_s = gone_s;
            f.movers.push_back(m);
            return driven(b, f, quiet(18.0));
        };
        const auto stands = with(0.9, 0.0, {});
        Bench b;
        const auto wall = driven(
            b, floorOf("straight", {{"distance", "90cm"}, {"width", "1.6m"}, {"air", "22C"}}),
            quiet(18.0));
        COMPARE_NEAR(*stands.score().gap_m, *wall.score().gap_m, 1e-6);

        const auto comes = with(1.5, -0.1, {});
        QVERIFY(!comes.trace().touches.empty());
        QVERIFY(comes.trace().touches[0].phase == world::Phase::Waiting);
        // It has come from 1.5 m to where the nose stands, at a tenth of a metre a second.
        const auto &touch = comes.trace().touches[0];
        COMPARE_NEAR(1.5 - 0.1 * double(touch.time_us) * 1e-6, comes.nose(touch.time_us).x, 1e-4);
        COMPARE_NEAR(touch.speed_mps, 0.1, 1e-9); // the car stands: all of it is the board's
        // Too quick to be stopped for: both speeds count.
        const auto quick = with(3.0, -2.0, {});
        const auto &hit = quick.trace().touches[0];
        const double own = world::at(quick.trace(), hit.time_us).wheels_mps[0];
        QVERIFY(own > 0.05);
        COMPARE_NEAR(hit.speed_mps, 2.0 + own, 1e-4);

        const auto leaves = with(0.6, 0.3, {});
        QVERIFY(leaves.trace().touches.empty() && !leaves.score().rest_s);

        const auto gone = with(0.6, 0.0, 4.0);
        QVERIFY(gone.trace().touches.empty());
        QVERIFY(gone.score().rest_s && *gone.score().rest_s < 4.0);
        QVERIFY(gone.nose(18000000).x > 1.0);
    }

    /// The same air as the program thinks, and others: what is read goes with the square root of
    /// the absolute temperature, and the stop with it.
    void airMovesTheStop()
    {
        Bench b;
        const auto gap = [&](const char *air) {
            double sum = 0.0;
            for (int phase = 0; phase < 16; ++phase) {
                const auto from = std::to_string(1.60 + 0.001 * phase) + "m";
                const auto run = driven(
                    b, floorOf("straight", {{"distance", from}, {"width", "3m"}, {"air", air}}),
                    quiet(12.0));
                sum += *run.score().gap_m;
            }
            return sum / 16;
        };
        // The board counts 33 cm less a bit as the last that does not stop it.
        const auto moved = [](double c) { return 0.33 * (std::sqrt((273.15 + c) / 295.15) - 1.0); };
        const double usual = gap("22C");
        COMPARE_NEAR(gap("0C") - usual, moved(0.0), 0.003);
        COMPARE_NEAR(gap("40C") - usual, moved(40.0), 0.003);
    }

    void badConditionsAreRefused()
    {
        Bench b;
        const auto refused = [&](auto change) {
            auto course = test::courseOf(b);
            auto how = quiet();
            auto f = *course.floor;
            change(how, f);
            course.floor = std::make_shared<floor::Floor>(f);
            const auto drive = judge::Drive::make(course, how);
            return drive ? std::string() : english(drive.error().text());
        };
        using C = world::Conditions;
        using F = floor::Floor;
        QVERIFY(!refused([](C &c, F &) { c.lasts_s = 0.01; }).empty());
        QVERIFY(!refused([](C &c, F &) { c.lasts_s = std::nan(""); }).empty());
        QVERIFY(!refused([](C &c, F &) { c.keys = {{5, {}}, {3, {}}}; }).empty());
        QVERIFY(refused([](C &, F &f) {
                    f.walls.push_back({"shelf", {0.3, 0.1}, {0.3, 0.7}, {}, floor::Face::Board});
                }).find("would stand in shelf") != std::string::npos);
        QVERIFY(!refused([](C &, F &f) { f.edge = {{1, 0}, {2, 0}, {2, 0.8}}; }).empty());
        QVERIFY(refused([](C &, F &) {}).empty());
    }
};

BADGER_TEST(TestRuns)
#include "test_runs.moc"
