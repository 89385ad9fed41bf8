// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/judge/budget.h"
#include "core/window/scene_run.h"
#include "core/window/search.h"
#include "core/window/words.h"
#include "support/families.h"
#include "support/fixture.h"

using namespace badger;
using namespace badger::window;
using test::Bench;

namespace
{

Question questionOf(const Bench &b, std::vector<std::string> rows)
{
    Question q;
    q.course = test::courseOf(b);
    q.threads = 2;
    for (const auto &text : rows) {
        const auto row = rowOf(text);
        if (!row)
            qFatal("%s", english(row.error().text()).c_str());
        q.rows.push_back(*row);
    }
    return q;
}

Window searched(Question q)
{
    auto found = search(std::move(q));
    return found ? std::move(*found) : Window{};
}

double cmOf(const Window &w, std::optional<size_t> place)
{
    return place ? w.si(*place) * 100.0 : -1.0;
}

/// Everything that a person or a script is told.
std::string told(const Window &w)
{
    std::string all = english(headline(w)) + english(claimOf(w));
    for (const auto &row : w.rows) {
        for (const auto &part : lineOf(w, row))
            all += "|" + english(part);
        for (const auto &c : row.cells)
            all += std::to_string(int(c.state)) + "," + std::to_string(c.runs) + "," +
                   std::to_string(c.events) + "," + std::to_string(c.misses) + ";";
    }
    return all;
}

/// The least place of the ruler at which none of so many runs touches, every phase of the first
/// ping driven in turn: by the traced runs, one by one, and without a search.
double leastByHand_cm(const Bench &b, const floor::Floor &on, int phases)
{
    const auto budget = judge::budgetOf({b.car, b.catalogue}, b.program);
    const double way_m = budget->setup.speed_mps * budget->setup.loop_s;
    for (int cm = 1; cm <= 80; ++cm) {
        auto course = test::courseOf(b);
        auto program = b.program;
        for (auto &v : program.values)
            if (v.name == "halt")
                v.si = cm / 100.0;
        course.program = std::make_shared<rules::Program>(program);
        int touches = 0;
        for (int i = 0; i < phases && touches == 0; ++i) {
            auto floor = on;
            floor.start.nose.x_m -= way_m * (i + 0.5) / phases;
            course.floor = std::make_shared<floor::Floor>(floor);
            world::Conditions conditions;
            conditions.noise = false;
            const auto drive = judge::Drive::make(course, conditions);
            if (!drive)
                return -1.0;
            touches += int((*drive)->run(1).trace.touches.size());
        }
        if (touches == 0)
            return cm;
    }
    return -1.0;
}

/// A narrow car, so that it fits between posts near its middle line.
void makeNarrow(Bench &b)
{
    b.car.geometry.width_m = 0.12;
    b.car.geometry.track_m = 0.10;
}

/// A free way between two round posts, as far aside of the car's middle line as is said.
floor::Floor doorOfPosts(double left_m, double right_m)
{
    floor::Floor f;
    f.name = "door of posts";
    f.width_m = 4.0;
    f.depth_m = 2.0;
    f.air_degC = 20.0;
    f.start = {{0.5, 1.0}, 0.0};
    f.posts.push_back({"left post", {1.5, 1.0 + left_m}, 0.025});
    f.posts.push_back({"right post", {1.5, 1.0 - right_m}, 0.025});
    return f;
}

} // namespace

class TestSearch final : public QObject
{
    Q_OBJECT
private slots:
    /// With all noise off the lower end is the least threshold of the stopping budget.
    void lowerEndIsTheBudgets()
    {
        Bench b;
        b.floor = *b.workshop.floor("Slipway");
        auto q = questionOf(b, {"here"});
        q.noise = false;
        const auto w = searched(q);
        QVERIFY(w.low.has_value());
        auto setup = judge::budgetOf({b.car, b.catalogue}, b.program)->setup;
        setup.sensorError_m = 0.0;
        const double least_cm = *drive::leastThreshold_m(setup, 0.0) * 100.0;
        // A board that cuts to whole numbers acts just under the next one, so the first place whose
        // next one is no nearer; the budget's pass has its longest ping, which is 7 ms.
        const double shorter_cm = setup.speed_mps * 0.007 * 100.0;
        QVERIFY2(cmOf(w, w.low) + 1.0 >= least_cm - shorter_cm && cmOf(w, w.low) <= least_cm,
                 qPrintable(QString("%1 against %2").arg(cmOf(w, w.low)).arg(least_cm)));
        QVERIFY(!w.rows.front().above); // nothing but the ruler ends it
    }

    /// In steps of a millimetre, of a board that compares fractions: to a millimetre.
    void lowerEndToAMillimetre()
    {
        Bench b;
        b.floor = *b.workshop.floor("Slipway");
        b.reading().number = rules::NumberType::Fraction;
        auto q = questionOf(b, {"here"});
        q.noise = false;
        q.step = 0.001;
        const auto w = searched(q);
        QVERIFY(w.low.has_value());
        auto setup = judge::budgetOf({b.car, b.catalogue}, b.program)->setup;
        setup.sensorError_m = 0.0;
        setup.loop_s = 0.0584; // the pause and the ping of 5 cm, not of the longest way
        const double least_mm = *drive::leastThreshold_m(setup, 0.0) * 1000.0;
        QVERIFY2(std::abs(cmOf(w, w.low) * 10.0 - least_mm) <= 1.0,
                 qPrintable(QString("%1 against %2").arg(cmOf(w, w.low) * 10.0).arg(least_mm)));
        q.step = 0.0;
        QVERIFY(!search(q));
        q.step = 1e-5;
        QVERIFY(!search(q));
        q.step = 0.7;
        QVERIFY(!search(q));
    }

    /// Two posts beside the way: the nearer is heard from 1.15 m down to 34 cm, and a halt comes
    /// through only below that.
    void aDoorOfPostsEndsItAbove()
    {
        Bench b;
        makeNarrow(b);
        // Else it goes on once the echo is lost, which it is a roll-out later.
        b.reading().noEcho = rules::NoEcho::HoldLast;
        b.floor = doorOfPosts(0.10, 0.37);
        auto q = questionOf(b, {"here"});
        q.noise = false;
        const auto w = searched(q);
        QVERIFY(w.rows.front().gated);
        QVERIFY(w.high.has_value());
        const auto budget = judge::budgetOf({b.car, b.catalogue}, b.program);
        const double way_cm = budget->setup.speed_mps * budget->setup.loop_s * 100.0;
        QVERIFY2(cmOf(w, w.high) <= 35.0 && cmOf(w, w.high) >= 34.0 - way_cm - 1.0,
                 qPrintable(QString::number(cmOf(w, w.high))));
        QVERIFY(w.rows.front().cells.back().state == State::Idle);
    }

    /// Beside a post that the beam covers late: every place below the lower end touches.
    void aPostBesideTheBeamEndsItBelow()
    {
        Bench b;
        auto q = questionOf(b, {"post:ahead=1.2m,diameter=20mm,left=6cm"});
        q.noise = false;
        const auto w = searched(q);
        QVERIFY(w.low.has_value());
        QVERIFY(cmOf(w, w.low) > 15.0); // a square board is stopped at from 7 cm on
        const auto &row = w.rows.front();
        QVERIFY(row.below && row.below->touch);
        QCOMPARE(row.cells.front().state, State::Touches);
    }

    void theLowerEndByBruteRuns()
    {
        Bench b;
        for (const auto *text :
             {"straight:distance=1.2m", "straight:distance=1.2m,angle=12deg",
              "post:ahead=1.2m,diameter=20mm,left=6cm", "corner:distance=1.2m"}) {
            auto q = questionOf(b, {text});
            q.noise = false;
            const auto scene = sceneOf(q.rows.front(), *q.course.floor, {}, 1);
            QVERIFY(scene.has_value());
            const double least_cm = leastByHand_cm(b, scene->floor, 24);
            const auto w = searched(std::move(q));
            QVERIFY2(least_cm > 0.0 && test::near(cmOf(w, w.low), least_cm, 1.01),
                     qPrintable(
                         QString("%1: %2 against %3").arg(text).arg(cmOf(w, w.low)).arg(least_cm)));
        }
    }

    void theSameOnAnyThreads()
    {
        Bench b;
        auto q = questionOf(b, {"straight:distance=90cm",
                                "straight:distance=90cm,angle=0deg..15deg", "charge:0.9..1"});
        b.floor = *b.workshop.floor("Slipway");
        q.course = test::courseOf(b);
        q.threads = 1;
        const auto one = told(searched(q));
        q.threads = 3;
        QCOMPARE(told(searched(q)), one);
        // What a name is changes nothing; another seed does.
        auto renamed = *q.course.program;
        renamed.name = "another name";
        auto other = q;
        other.course.program = std::make_shared<rules::Program>(renamed);
        QCOMPARE(told(searched(other)), one);
        q.seed = 2;
        QVERIFY(told(searched(q)) != one);
    }

    /// What is shown to hold was driven often enough and from the highest place down.
    void claimsHaveTheirRuns()
    {
        Bench b;
        const auto w = searched(questionOf(b, {"straight:distance=90cm,angle=8deg"}));
        const auto &row = w.rows.front();
        QVERIFY(row.low && row.below);
        QCOMPARE(row.below->at < *row.low, true);
        for (size_t i = 0; i < row.cells.size(); ++i) {
            const auto &c = row.cells[i];
            if (c.tested && i >= *row.low && i <= *row.high)
                QVERIFY(shown(w.looks, c.runs, c.events) == Shown::Yes);
            if (c.tested && i < *row.low)
                QCOMPARE(i, row.below->at); // the first that fails ends it
        }
        QVERIFY(row.cells[*row.low].tested);
        QVERIFY(shown(w.looks, row.cells[row.below->at].runs, row.cells[row.below->at].events) !=
                Shown::Yes);
    }

    /// The run that is shown is the one that the search drove.
    void aReplayTouchesToo()
    {
        Bench b;
        const auto w = searched(questionOf(b, {"straight:distance=90cm,angle=0deg..12deg",
                                               "straight:distance=90cm,speed=1..1.3"}));
        int replayed = 0;
        for (size_t r = 0; r < w.rows.size(); ++r)
            for (size_t i = 0; i < w.rows[r].cells.size(); ++i) {
                if (w.rows[r].cells[i].events == 0)
                    continue;
                const auto as = replay(w, r, i);
                QVERIFY(as.has_value());
                const auto drive = judge::Drive::make(as->course, as->conditions);
                QVERIFY(drive.has_value());
                QVERIFY(!(*drive)->run(as->seed).trace.touches.empty());
                ++replayed;
            }
        QVERIFY(replayed > 3);
    }

    void aRowThatNoValueHoldsStandsApart()
    {
        Bench b;
        auto q = questionOf(b, {"straight:distance=90cm", "straight:distance=90cm,angle=25deg"});
        q.rows[1].asked = false;
        const auto w = searched(q);
        QVERIFY(!w.rows[1].low && !w.rows[1].counts());
        QVERIFY(w.low.has_value());
        q.rows[1].asked = true;
        const auto closed = searched(q);
        QVERIFY(!closed.low);
        QVERIFY(closed.lowRow == size_t(1));
        QVERIFY(english(headline(closed)).find("closes the window") != std::string::npos);
        auto switched = closed;
        switched.rows[1].row.off = true;
        combine(switched);
        QVERIFY(switched.low == w.low && switched.high == w.high);
    }

    /// A row that touches above its stretch, too: a dead end 40 cm deep, from which a car of three
    /// rangers comes out between some thresholds only. Against each place's runs by themselves.
    void aStretchWithTouchesOnBothSides()
    {
        const auto floor = floor::generate("pocket", {{"depth", "40cm"}, {"width", "48cm"}}, "P");
        QVERIFY(floor.has_value());
        Question q;
        const auto &all = test::families();
        const auto family = std::find_if(all.begin(), all.end(), [](const test::Family &f) {
            return std::string_view(f.name) == "fixed-rangers";
        });
        QVERIFY(family != all.end());
        q.course = test::courseOf(*family, std::make_shared<floor::Floor>(*floor));
        q.rows = {*rowOf("here")};
        q.noise = false;
        q.threads = 2;
        q.limit = 0.2; // few runs
        const auto w = searched(q);
        QVERIFY(w.low && w.high);
        const auto places = Places::make(w.asked, w.handle);
        QVERIFY(places.has_value());
        const auto goodAt = [&](size_t place) {
            SceneRuns runs(**places, w.rows[0].row, w.task);
            if (!runs.begin())
                return false;
            int events = 0, misses = 0;
            for (std::uint64_t n = 0; n < 40; ++n) {
                const auto went = runs.drive(place, n);
                events += !went || went->event;
                misses += !went || !went->job;
            }
            return events <= 8 && misses <= 4;
        };
        for (size_t i = *w.low; i <= *w.high; ++i)
            QVERIFY2(goodAt(i), qPrintable(QString::number(i)));
        QVERIFY(!goodAt(*w.low - 1) || !goodAt(*w.low - 2));
        QVERIFY(!goodAt(*w.high + 1) || !goodAt(*w.high + 2));
        QVERIFY(w.rows[0].below && w.rows[0].above);
    }

    /// Where nothing touches and a stricter job cannot be shown, it is the job that is named.
    void whatIsNotShownIsTheJob()
    {
        Bench b;
        auto q = questionOf(b, {"doorway:ahead=1.5m,gap=456mm,left=-100mm,diameter=50mm"});
        q.share = 0.98;
        const auto w = searched(q);
        QVERIFY2(w.done && !w.rows[0].low, told(w).c_str());
        QVERIFY(without(w.rows[0], w.looks) == Without::Idle);
        QVERIFY(english(wordsWithout(w, w.rows[0])).find("job") != std::string::npos);
    }

    /// Few runs touch, and not so few that it is shown: that is not "no value helps".
    void whyNoPlaceHolds()
    {
        Bench b;
        auto q = questionOf(
            b, {"straight:distance=1.2m,angle=18deg", "straight:distance=1.2m,angle=25deg"});
        const auto w = searched(q);
        QVERIFY2(!w.rows[0].low && !w.rows[1].low, told(w).c_str());
        QVERIFY(without(w.rows[0], w.looks) == Without::NotShown);
        QVERIFY(without(w.rows[1], w.looks) == Without::Fails);
        QVERIFY(english(wordsWithout(w, w.rows[0])).starts_with("not shown: "));
        const auto &best = w.rows[0].cells[*bestOf(w.rows[0])];
        QVERIFY(best.runs > 100 && best.events > 0 && best.events < best.runs / 20);
        // What is said to help does: driven once more with runs that it did not have.
        for (const auto &row : w.rows)
            for (const auto &h : row.helps)
                QVERIFY(h.runs == 150 && h.place < w.handle.at.size());
        RowAnswer held;
        held.done = true;
        held.low = 3;
        QVERIFY(without(held, w.looks) == Without::Nothing);
    }

    /// "41 is needed for one, another allows 39": two rows that close it are named.
    void twoRowsCloseIt()
    {
        Bench b;
        makeNarrow(b);
        b.reading().noEcho = rules::NoEcho::HoldLast;
        b.floor = doorOfPosts(0.10, 0.37);
        auto q = questionOf(b, {"here", "straight:distance=90cm,speed=3..3"});
        q.noise = false;
        const auto w = searched(std::move(q));
        QVERIFY(w.rows[0].high && w.rows[1].low);
        QVERIFY(*w.rows[1].low > *w.rows[0].high);
        QVERIFY(!w.low && w.lowRow == size_t(1) && w.highRow == size_t(0));
        QVERIFY2(english(headline(w)).starts_with("No window: "), english(headline(w)).c_str());
    }

    /// What nobody measured is drawn over what the parts allow: the window is no wider for it, and
    /// says which measurement would help.
    void anUnmeasuredCarHasANarrowerWindow()
    {
        Bench b;
        const std::vector<std::string> rows = {"straight:distance=90cm,angle=8deg"};
        b.car.calibrations = {};
        auto q = questionOf(b, rows);
        const auto w = searched(q);
        QCOMPARE(w.unmeasured.size(), size_t(2));
        QVERIFY(w.low.has_value());
        QCOMPARE(w.narrower.size(), size_t(2));
        QCOMPARE(narrowing(w).size(), size_t(2));
        q.speedKnown = q.rollKnown = true;
        const auto known = searched(q);
        QVERIFY(known.low && *known.low < *w.low);
        QVERIFY(known.narrower.empty());
        for (const auto &n : w.narrower) {
            QVERIFY(n.low.has_value());
            QVERIFY(*n.low + 1 >= *known.low); // one figure brings no more than both
        }
        Bench measured;
        QVERIFY(searched(questionOf(measured, rows)).unmeasured.empty());
    }

    /// A post that the beam covers late: how wide the strip beside it is, and from where.
    void aBlindStripIsNamed()
    {
        Bench b;
        auto q = questionOf(b, {"post:ahead=1.2m,diameter=20mm,left=6cm"});
        q.noise = false;
        const auto w = searched(q);
        const auto &below = w.rows.front().below;
        QVERIFY(below.has_value());
        QVERIFY(english(below->what).find("blind strip of 25 mm") != std::string::npos ||
                english(below->what).find("blind strip of 2") != std::string::npos);
        QVERIFY(std::any_of(below->why.steps.begin(), below->why.steps.end(), [](const Step &s) {
            return english(s.value).find("38.0") == 0; // 5 cm / tan 7.5 degrees
        }));
    }

    void stoppedEarlyItClaimsNothing()
    {
        Bench b;
        int calls = 0;
        const auto w = search(questionOf(b, {"straight:distance=90cm", "here"}),
                              [&](const Window &) { return ++calls < 2; });
        QVERIFY(w && !w->done && !w->low);
        for (const auto &row : w->rows)
            QVERIFY(!row.low);
    }

    void badInput()
    {
        Bench b;
        const auto refused = [&](auto change) {
            auto q = questionOf(b, {"straight:distance=90cm"});
            change(q);
            const auto w = search(q);
            return w ? std::string() : english(w.error().text());
        };
        QVERIFY(refused([](Question &q) { q.limit = 0.0; }).find("--limit") == 0);
        QVERIFY(refused([](Question &q) { q.limit = 1.0; }).find("--limit") == 0);
        QVERIFY(refused([](Question &q) { q.limit = std::nan(""); }).find("--limit") == 0);
        QVERIFY(refused([](Question &q) { q.confidence = 1.0; }).find("--confidence") == 0);
        QVERIFY(refused([](Question &q) { q.share = 1.0; }).find("--share") == 0);
        QVERIFY(refused([](Question &q) { q.want_m = -1.0; }).find("--want") == 0);
        QVERIFY(refused([](Question &q) { q.value = "none such"; }).find("use one of: ") !=
                std::string::npos);
        QVERIFY(!refused([](Question &q) {
                     auto p = *q.course.program;
                     p.values.front().si.reset();
                     q.course.program = std::make_shared<rules::Program>(p);
                 }).empty());
        for (const auto *text :
             {"", "wall", "straight:angle", "straight:angel=3deg", "straight:angle=3",
              "charge:", "charge:0.5..0.2", "charge:0..2", "straight:angle=0deg..80deg", "here:1",
              "straight:soft=cloth..foam", "straight:distance=nan", "air:10C..90C"}) {
            const auto row = rowOf(text);
            QVERIFY2(!row && !row.error().mend.empty(), text);
        }
        const auto row = rowOf("straight:angle=0deg..18deg,soft=cloth,wheels=0.9..1.1");
        QVERIFY(row.has_value());
        QVERIFY(test::near(row->drawn.at("angle").high, 0.314159, 1e-5));
        QCOMPARE(row->drawn.at("wheels").low, 0.9);
    }

    /// A condition that cannot be on this floor says so, and the others go on.
    void aConditionThatCannotBe()
    {
        Bench b;
        auto q = questionOf(b, {"straight:distance=90cm"});
        Row table;
        table.kind = "corridor";
        table.set = {{"doorway", "8m"}};
        table.label = "a corridor";
        q.rows.push_back(table);
        const auto w = searched(q);
        QVERIFY(w.done && w.low);
        QVERIFY(w.rows[1].refused.has_value());
    }

    /// Each family of the demo that has a number to drag has an answer.
    void everyDemoCar()
    {
        for (const auto *name : {"Avocet", "Curlew", "Godwit", "Dunlin", "Sanderling", "Ruff"}) {
            Bench b(name);
            auto q = questionOf(b, {"here"});
            q.limit = 0.2; // few runs: what it says matters here, not how sure it is
            const auto w = search(q);
            QVERIFY2(w.has_value(), w ? name : english(w.error().text()).c_str());
            QVERIFY(w->done);
            QVERIFY(!english(headline(*w)).empty());
        }
    }
};

BADGER_TEST(TestSearch)
#include "test_search.moc"
