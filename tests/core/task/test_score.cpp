// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/task/coverage.h"
#include "support/drive.h"

using namespace badger;
using task::Kind;
using test::Bench;
using test::driven;
using test::floorOf;
using test::quiet;

namespace
{

/// A straight line along a plan, with the car so far to its left; both eyes of Dunlin see alike.
test::Driven straddle(double off_m, double lasts_s)
{
    Bench b("Dunlin");
    b.instance("right-eye").partId = "infrared-light-high";
    floor::Floor f;
    f.name = "line";
    f.width_m = 4.0;
    f.depth_m = 1.0;
    f.air_degC = 20.0;
    f.start.nose = {0.5, 0.5 + off_m};
    f.lines.push_back({"line", {{0.05, 0.5}, {3.95, 0.5}}, 0.019, false, false, {}});
    return driven(b, f, quiet(lasts_s));
}

} // namespace

class TestScore final : public QObject
{
    Q_OBJECT
private slots:
    /// Two sensors 38 mm apart round a line of 19 mm: slack (38 - 19) / 2 = 9.5 mm a side. It goes
    /// straight on up to there, and a comparator turns with half of its spot on the line.
    void theSlackOfAStraddle()
    {
        double low = 0.0;
        double high = 0.019;
        for (int i = 0; i < 12; ++i) {
            const double off = (low + high) / 2.0;
            (std::abs(straddle(off, 1.0).heading_deg(1000000)) < 0.05 ? low : high) = off;
        }
        COMPARE_NEAR(low, 0.0095, 0.0005);
        QVERIFY(straddle(0.012, 1.0).heading_deg(1000000) <
                -1.0); // seen on the right: to the right
        QVERIFY(straddle(-0.012, 1.0).heading_deg(1000000) > 1.0);
    }

    void tasksFollowFromTheFamily()
    {
        for (const auto &[car, kind] : {std::pair("Avocet", Kind::Stops),
                                        {"Curlew", Kind::KeepsMoving},
                                        {"Dunlin", Kind::FollowsLine},
                                        {"Godwit", Kind::FollowsLine},
                                        {"Plover", Kind::FollowsLine},
                                        {"Turnstone", Kind::FollowsLine},
                                        {"Sanderling", Kind::Holds},
                                        {"Ruff", Kind::KeepsMoving}}) {
            Bench b(car);
            QVERIFY2(driven(b, floorOf("straight"), quiet(0.2)).score().kind == kind, car);
        }
        for (int k = 0; k < task::kindCount; ++k)
            QVERIFY(task::kindOf(task::word(Kind(k))) == Kind(k));
        QVERIFY(!task::kindOf("juggles"));
    }

    void aLapIsALap()
    {
        Bench b("Plover");
        const auto run =
            driven(b, floorOf("lane", {{"inner", "30mm"}, {"line", "15mm"}}), quiet(60.0));
        QVERIFY(run.score().losses.empty());
        // By the way driven: 60 s at the mean speed, over the length of the lane's middle.
        const double length = 2 * (1.2 + 0.5) + 2 * M_PI * 0.3;
        COMPARE_NEAR(run.score().laps, run.score().driven_m / length, 0.06);
        QVERIFY(english(run.verdict()).find("never lost") != std::string::npos);
    }

    void nothingToDoIsSaid()
    {
        Bench line("Dunlin");
        QVERIFY(english(driven(line, floorOf("room"), quiet(2.0)).verdict())
                    .find("There is no line on this floor.") != std::string::npos);
        Bench holds("Sanderling");
        auto open = floorOf("straight", {{"distance", "6m"}});
        const auto run = driven(holds, open, quiet(5.0));
        QVERIFY(!run.score().good);
        QVERIFY(english(run.verdict()).find("nothing here to hold a distance from") !=
                std::string::npos);
    }

    /// A straight way of 1 m by a car of 15 cm in a room: the squares it passed over, against those
    /// that it can reach, counted by hand from the areas.
    void coverageIsAnArea()
    {
        Bench b;
        auto f = floorOf("room", {{"boxes", "0"}, {"width", "2m"}, {"depth", "1m"}});
        const auto run = driven(b, f, quiet(30.0));
        const double way = run.nose(run.trace().end_us).x;
        const double passed = (way + b.car.geometry.length_m) * b.car.geometry.width_m;
        QVERIFY(run.score().coverage.has_value());
        COMPARE_NEAR(*run.score().coverage, passed / (2.0 * 1.0), 0.04);
    }

    /// Blind for as long as the longest gap between two pings' ends.
    void blindTimeIsTheLongestGap()
    {
        Bench b("Curlew");
        const auto run =
            driven(b, floorOf("straight", {{"distance", "80cm"}, {"width", "2m"}}), quiet(8.0));
        std::uint64_t longest = 0, last = 0;
        for (const auto &p : run.trace().pings) {
            longest = std::max(longest, p.done_us - last);
            last = p.done_us;
        }
        longest = std::max(longest, run.trace().end_us - std::min(last, run.trace().end_us));
        COMPARE_NEAR(run.score().blind_s, double(longest) * 1e-6, 1e-9);
        // The longest way is one of its own: with halt at full speed a pass long.
        Bench halts;
        const auto straight =
            driven(halts, floorOf("straight", {{"distance", "1.6m"}, {"air", "22C"}}), quiet());
        COMPARE_NEAR(straight.score().blind_m, 0.24 * 0.065, 3e-4);
    }

    /// Opposed wheels at v from rest, first-order rise: 2v/b · (T − τ(1 − e^(−T/τ))).
    void aTimedTurnByHand()
    {
        Bench b;
        auto made = io::fromTemplate("back-and-turn",
                                     {{"threshold", "40cm"},
                                      {"air", "20C"},
                                      {"limit", "200cm"},
                                      {"no-echo", "clear"},
                                      {"speed", "140"},
                                      {"turn-speed", "140"},
                                      {"back-time", "1500ms"},
                                      {"turn-time", "400ms"},
                                      {"turn-side", "left"},
                                      {"wait", "40ms"}},
                                     kit::roles({b.car, b.catalogue}), b.program.id, "made");
        VERIFY_OK(made);
        b.program = *made;
        const auto run =
            driven(b, floorOf("straight", {{"distance", "1m"}, {"width", "3m"}}), quiet(9.0));
        const auto turn = std::find_if(run.score().timed.begin(), run.score().timed.end(),
                                       [](const auto &t) { return t.turns; });
        QVERIFY(turn != run.score().timed.end());
        const double tau = 0.15, T = 0.4;
        COMPARE_NEAR(turn->done, 2 * 0.24 / 0.13 * (T - tau * (1 - std::exp(-T / tau))), 0.01);
        const auto move = std::find_if(run.score().timed.begin(), run.score().timed.end(),
                                       [](const auto &t) { return !t.turns; });
        QVERIFY(move != run.score().timed.end() && move->done > 0.2);
    }
};

BADGER_TEST(TestScore)
#include "test_score.moc"
