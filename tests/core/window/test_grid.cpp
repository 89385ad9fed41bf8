// SPDX-License-Identifier: GPL-3.0-or-later
// Two numbers together, and what the loop's arithmetic says of an edge.
#include "core/floor/generate.h"
#include "core/window/grid.h"
#include "core/window/scene_run.h"
#include "support/families.h"
#include "support/fixture.h"

using namespace badger;
using namespace badger::window;
using test::Bench;

namespace
{

Question halting(const Bench &b, const std::string &row)
{
    Question q;
    q.course = test::courseOf(b);
    q.value = "halt";
    q.rows = {*rowOf(row)};
    q.threads = 2;
    return q;
}

std::optional<EdgeLoop> loopOf(const Bench &b, const floor::Floor &floor)
{
    Question q;
    q.course = test::courseOf(b);
    q.course.floor = std::make_shared<floor::Floor>(floor);
    const auto handle = handleOf(*q.course.program, "speed");
    const auto places = Places::make(q, *handle);
    return places ? edgeLoop((*places)->now(), floor) : std::nullopt;
}

} // namespace

class TestGrid final : public QObject
{
    Q_OBJECT
private slots:
    /// Each cell is what single runs of that pair of values say, and any threads say the same.
    void aCellIsItsRuns()
    {
        Bench b;
        const auto w = search(halting(b, "straight:distance=1.2m"));
        VERIFY_OK(w);
        const auto grid = gridOf(*w, "speed", 4);
        VERIFY_OK(grid);
        QVERIFY(grid->done && grid->runsEach == 4);
        QCOMPARE(grid->x.at.front(), w->handle.at.front());
        QCOMPARE(grid->x.at.back(), w->handle.at.back());
        auto alone = *w;
        alone.asked.threads = 1;
        const auto again = gridOf(alone, "speed", 4);
        VERIFY_OK(again);
        int checked = 0, failing = 0;
        for (size_t iy = 0; iy < grid->y.at.size(); ++iy)
            for (size_t ix = 0; ix < grid->x.at.size(); ++ix) {
                const auto &cell = grid->at(ix, iy);
                QCOMPARE(cell.events, again->at(ix, iy).events);
                QCOMPARE(cell.misses, again->at(ix, iy).misses);
                failing += stateOf(*grid, cell) == State::Touches;
                if ((ix + 3 * iy) % 7 != 0)
                    continue;
                auto q = w->asked;
                q.course.program =
                    std::make_shared<rules::Program>(with(b.program, "speed", grid->y.at[iy]));
                const auto places = Places::make(q, grid->x);
                VERIFY_OK(places);
                SceneRuns runs(**places, q.rows.front(), w->task);
                VERIFY_OK(runs.begin());
                int events = 0;
                for (std::uint64_t n = 0; n < 4; ++n)
                    events += runs.drive(ix, n)->event;
                QCOMPARE(cell.events, events);
                ++checked;
            }
        QVERIFY(checked > 15);
        QVERIFY(failing > 5 && failing < int(grid->cells.size()) / 2);
        // A faster car needs more room.
        const auto least = [&](size_t iy) {
            size_t ix = 0;
            while (ix < grid->x.at.size() && stateOf(*grid, grid->at(ix, iy)) != State::Holds)
                ++ix;
            return ix;
        };
        QVERIFY(least(grid->y.at.size() - 1) > least(4));
        QVERIFY(english(wordsOf(*grid).front()).find("A rough map") != std::string::npos);
    }

    /// 1 - 0.05^(1/n), exact.
    void whatAnEmptyCellLeavesOpen()
    {
        Grid g;
        g.runsEach = 12;
        QVERIFY(std::abs(leftOpen(g) - (1.0 - std::pow(0.05, 1.0 / 12.0))) < 1e-9);
        QCOMPARE(stateOf(g, {}), State::Open);
        QCOMPARE(stateOf(g, {12, 1, 0}), State::Touches);
        QCOMPARE(stateOf(g, {12, 0, 1}), State::Holds); // 92 % do the job
        QCOMPARE(stateOf(g, {12, 0, 2}), State::Idle);
    }

    void whatCannotBe()
    {
        Bench b;
        const auto w = search(halting(b, "straight:distance=1.2m"));
        VERIFY_OK(w);
        QVERIFY(!gridOf(*w, "halt"));
        QVERIFY(!gridOf(*w, "nothing"));
        QVERIFY(!gridOf(*w, "speed", 0));
        const auto second = secondValues(*w);
        QVERIFY(std::find(second.begin(), second.end(), "speed") != second.end());
        QVERIFY(std::find(second.begin(), second.end(), "halt") == second.end());
        int lines = 0;
        const auto left = gridOf(*w, "speed", 2, [&](const Grid &) { return ++lines < 3; });
        VERIFY_OK(left);
        QVERIFY(!left->done);
    }

    /// The formulas by hand, with the figures of the car.
    void theLoopByHand()
    {
        Bench b("Godwit");
        floor::Floor ring = *floor::generate("loop", {{"radius", "45cm"}}, "Ring");
        const auto loop = loopOf(b, ring);
        QVERIFY(loop && loop->gain == "gain" && loop->speed == "speed");
        const auto &e = loop->edge;
        const double perSpeed = 2.0 / e.track_m * e.share * 8.0 / (std::numbers::pi * e.spot_m);
        QVERIFY(std::abs(loop->now.damping - e.ahead_m / 2.0 * std::sqrt(perSpeed)) < 1e-9);
        // The rounds of 45 cm ask for half the track by 45 cm; 0.7 of damping for far less here.
        QVERIFY(std::abs(loop->bend->radius_m - 0.45) < 0.02);
        QVERIFY(std::abs(loop->advisedGain - e.track_m / 2.0 / loop->bend->radius_m) < 1e-9);
        QVERIFY(loop->advisedDamping > 0.7 && !loop->tooTight);
        // The margin at the advised speed is what is asked; one count more has less.
        auto at = e;
        at.share = loop->advisedGain;
        at.speed_mps = *loop->advisedTop_mps;
        QVERIFY(std::abs(tune::edgeFollowing(at)->phaseMargin_rad * 180.0 / std::numbers::pi -
                         tune::askedMargin_deg) < 0.01);
        const auto top = size_t(*loop->advisedTop);
        QVERIFY(loop->speed_mps[top] <= *loop->advisedTop_mps);
        QVERIFY(loop->speed_mps[top + 1] > *loop->advisedTop_mps);
        // A square corner asks for more than any gain.
        floor::Floor mat = ring;
        mat.lines = {{"line", {{0.2, 0.2}, {1.2, 0.2}, {1.2, 1.2}}}};
        const auto corner = loopOf(b, mat);
        QVERIFY(corner && corner->tooTight);
        QCOMPARE(corner->advisedGain, 1.0);
        QVERIFY(!loopOf(Bench("Avocet"), ring));
        QVERIFY(!loopOf(Bench("Dunlin"), ring));
    }

    /// By simulation the least gain that takes a round bend is that of the formula.
    void theLeastGainIsHalfTheTrackByTheBend()
    {
        Bench b("Godwit");
        for (const double radius_m : {0.30, 0.45}) {
            const auto ring = *floor::generate(
                "loop", {{"radius", std::to_string(int(radius_m * 100.0)) + "cm"}}, "Ring");
            const auto loop = loopOf(b, ring);
            QVERIFY(loop.has_value());
            const double formula = loop->edge.track_m / 2.0 / radius_m;
            Question q;
            q.course = test::courseOf(b);
            q.course.floor = std::make_shared<floor::Floor>(ring);
            q.noise = false;
            const auto handle = withStep(*handleOf(*q.course.program, "gain"), 0.01);
            VERIFY_OK(handle);
            const auto places = Places::make(q, *handle);
            VERIFY_OK(places);
            const auto row = *rowOf("here");
            SceneRuns runs(**places, row, task::Kind::FollowsLine);
            VERIFY_OK(runs.begin());
            double least = 0.0;
            for (size_t i = 0; i < handle->at.size() && least == 0.0; ++i)
                if (handle->at[i] > formula - 0.1 && !runs.drive(i, 0)->event)
                    least = handle->at[i];
            QVERIFY2(std::abs(least - formula) < 0.04,
                     qPrintable(QString::number(least) + " for " + QString::number(formula)));
        }
    }
};

BADGER_TEST(TestGrid)
#include "test_grid.moc"
