// SPDX-License-Identifier: GPL-3.0-or-later
// Any program that a distance stops: its budget, and whether the car clears what it stopped for.
#include "core/judge/way_cars.h"

using namespace badger;
using namespace badger::test;

class TestWay final : public QObject
{
    Q_OBJECT
private slots:
    /// threshold - v (pass) - v tau - error - set-back, from the parts' figures.
    void aGlance()
    {
        Way w("Curlew", "glance", glance);
        const auto r = w.budget();
        VERIFY_OK(r);
        const double sound_mps = 331.3 * std::sqrt(1.0 + 18.0 / 273.15);
        const double pass_s = 12e-6 + 2.0 * 2.0 / sound_mps + 0.040;
        COMPARE_NEAR(r->setup.loop_s, pass_s, 2e-5);
        const double v = r->speed.value;
        COMPARE_NEAR(r->budget.worstGap_m, 0.30 - v * pass_s - v * 0.25 - 0.01 - 0.022, 1e-4);
        QCOMPARE(r->act, rules::Act::Stand);
        QCOMPARE(r->valueName, std::string("threshold"));
        QCOMPARE(r->looks, 1);
        QVERIFY(!r->narrow);
    }

    void aSweepCountsItsWholePeriod()
    {
        Way w("Curlew", "fan", fan);
        const auto r = w.budget();
        VERIFY_OK(r);
        const double sound_mps = 331.3 * std::sqrt(1.0 + 18.0 / 273.15);
        const double pass_s = 12e-6 + 2.0 * 2.0 / sound_mps + 0.100 + 0.040;
        QCOMPARE(r->looks, 3);
        COMPARE_NEAR(r->setup.loop_s, 3.0 * pass_s, 1e-4);
        QVERIFY(english(r->terms[0].from).find("a whole sweep of 3 passes") != std::string::npos);
    }

    void theNearestOfThree()
    {
        Bench b("Sanderling");
        const auto &program = *b.workshop.program(b.car.program);
        const auto r = judge::budgetOf({b.car, b.catalogue}, program);
        VERIFY_OK(r);
        QCOMPARE(r->valueName, std::string("far"));
        QCOMPARE(r->reading, std::string("middle"));
        QCOMPARE(r->act, rules::Act::Stand);
        QCOMPARE(r->into, (std::vector<std::string>{"stands", "backs"}));
    }

    /// A count slows with the distance: at the limit only a part of the speed is left.
    void oneThatSlowsDown()
    {
        Way w("Avocet", "halt", with(ranger, {{"threshold", "30cm"}}));
        w.program.values.push_back({"begin", "", rules::ValueKind::Distance, 0.2});
        w.program.values.push_back({"end", "", rules::ValueKind::Distance, 0.6});
        const auto whole = w.budget();
        for (auto &s : w.program.states)
            if (rules::actOf(s.motion) == rules::Act::Go)
                s.motion.proportion =
                    rules::Proportion{rules::Follows::Slow, "ahead", "begin", "end", {}};
        const auto r = w.budget();
        VERIFY_OK(r);
        QVERIFY(r->slows);
        // (30 + v loop - 20) / 40 of 150 counts
        const double step_m = whole->speed.value * whole->setup.loop_s;
        QCOMPARE(r->pwm_counts, int(std::lround(150.0 * (0.10 + step_m) / 0.40)));
        QVERIFY(r->budget.worstGap_m > whole->budget.worstGap_m);
        QVERIFY(!w.find("below-dead-band"));
    }

    void soManyInSuccession()
    {
        Way w("Avocet", "halt", with(ranger, {{"threshold", "30cm"}}));
        const auto once = w.budget();
        w.program.values.push_back({"sure", "", rules::ValueKind::Times, 3.0});
        const auto sure = [](std::vector<rules::Rule> &rules) {
            for (auto &rule : rules)
                for (auto &c : rule.when)
                    c.times = c.compare == rules::Compare::LessOrEqual ? "sure" : "";
        };
        sure(w.program.everywhere);
        for (auto &s : w.program.states)
            sure(s.rules);
        const auto three = w.budget();
        VERIFY_OK(three);
        COMPARE_NEAR(once->budget.worstGap_m - three->budget.worstGap_m,
                     2.0 * once->speed.value * once->setup.loop_s, 1e-12);
    }

    void whatNoDistanceStops()
    {
        for (const auto *name : {"Dunlin", "Godwit", "Plover", "Turnstone"}) {
            Bench b(name);
            const auto r =
                judge::budgetOf({b.car, b.catalogue}, *b.workshop.program(b.car.program));
            QVERIFY(!r);
            QCOMPARE(r.error().kind, Error::Kind::Conflict);
        }
    }

    /// From angle to angle of a sweep dwell, echo and pause part two pings; of a scan no pause.
    void pingsOfASweep()
    {
        const auto targets = [](const io::Choices &more) {
            Way w("Curlew", "fan", with(fan, more));
            const auto found = rules::check(w.program, judge::rangerFacts(w.car(), w.program));
            std::vector<std::string> all;
            for (const auto &f : found.findings)
                if (f.code == "ping-too-soon")
                    all.push_back(f.target());
            return all;
        };
        QCOMPARE(targets({}), std::vector<std::string>());
        QCOMPARE(targets({{"sweep-dwell", "5ms"}, {"wait", "10ms"}}),
                 std::vector<std::string>{"value:sweep-dwell"});
        QCOMPARE(targets({{"sweep-dwell", "5ms"}, {"wait", "40ms"}}), std::vector<std::string>());
        QCOMPARE(targets({{"dwell", "20ms"}}), std::vector<std::string>{"value:dwell"});
    }

    /// Backs off or stands: there is nothing to stop, and nothing is missing.
    void whatNeverDrivesAhead()
    {
        Way w("Avocet", "retreat", with(ranger, {{"threshold", "30cm"}}));
        const auto r = w.budget();
        QVERIFY(!r);
        QCOMPARE(r.error().kind, Error::Kind::Conflict);
        QCOMPARE(english(r.error().what), std::string("it never drives ahead"));
    }

    /// Between 20 and 22 cm only: 3 cm are driven from look to look.
    void aStretchThatIsDrivenOver()
    {
        Way w("Avocet", "halt", with(ranger, {{"threshold", "22cm"}, {"wait", "130ms"}}));
        QVERIFY(!w.find("stop-driven-over"));
        w.program.values.push_back({"least", "", rules::ValueKind::Distance, 0.20});
        const auto both = [&](std::vector<rules::Rule> &rules) {
            for (auto &rule : rules)
                if (!rule.when.empty() && rule.when[0].compare == rules::Compare::LessOrEqual)
                    rule.when.push_back({"ahead", rules::Compare::GreaterOrEqual, "least"});
        };
        both(w.program.everywhere);
        for (auto &s : w.program.states)
            both(s.rules);
        const auto *f = w.find("stop-driven-over");
        QVERIFY(f);
        QVERIFY(english(f->what).starts_with("It gives way only between 20 cm and 23 cm"));
        for (auto &v : w.program.values)
            if (v.name == "wait")
                v.si = 0.02;
        QVERIFY(!w.find("stop-driven-over"));
    }

    void silenceThatBlinds()
    {
        Way w("Avocet", "halt", with(ranger, {{"threshold", "30cm"}}));
        auto low = w.program.readings.front();
        low.name = "low";
        low.noEcho = rules::NoEcho::Ignore;
        w.program.readings.push_back(low);
        const auto *f = w.find("silence-blinds");
        QVERIFY(f);
        QCOMPARE(english(f->what),
                 std::string("While 'low' has no echo, nothing that 'ahead' says stops the car."));
        w.program.readings.back().noEcho = rules::NoEcho::Clear;
        QVERIFY(!w.find("silence-blinds"));
    }

    void cornersInTheirCircle()
    {
        const auto g = Bench().car.geometry; // 15 cm to the nose, 15 wide, track 13
        COMPARE_NEAR(judge::cornerSwing_m(g, false), 0.017705, 1e-6);
        COMPARE_NEAR(judge::cornerSwing_m(g, true), 0.055183, 1e-6);
        auto round = g;
        round.deck = kit::DeckShape::Disc;
        COMPARE_NEAR(judge::cornerSwing_m(round, false), 0.0, 0.0);
        QVERIFY(judge::cornerSwing_m(round, true) > 0.0);
        COMPARE_NEAR(judge::besideAfterTurn_m(0.4, M_PI / 6.0, 0.13, false), 0.2, 1e-12);
        COMPARE_NEAR(judge::besideAfterTurn_m(0.4, M_PI / 6.0, 0.13, true), 0.191292, 1e-6);
        COMPARE_NEAR(judge::besideAfterTurn_m(0.4, 0.0, 0.13, true), 0.0, 0.0);
    }

    /// 4.7 cm are left at worst; a corner needs 1.8 where both wheels turn, 5.5 about one.
    void aTurnThatHitsWithItsCorner()
    {
        Way w("Avocet", "turn-away", with(turnAway, {{"threshold", "11cm"}, {"speed", "140"}}));
        const double gap_m = w.budget()->budget.worstGap_m;
        QVERIFY(gap_m > 0.018 && gap_m < 0.055);
        const auto turn = [&](int left) {
            for (auto &s : w.program.states)
                if (rules::actOf(s.motion) == rules::Act::Turn) {
                    s.motion.left.sense = left;
                    s.motion.right.sense = left == 0 ? 1 : -left;
                }
        };
        turn(1);
        QVERIFY(!w.find("turn-sweeps-into-it"));
        turn(0);
        QVERIFY(w.find("turn-sweeps-into-it"));
        w.value("threshold").si = 0.13;
        QVERIFY(!w.find("turn-sweeps-into-it"));
    }

    /// 60 deg/s for 400 ms: 24 degrees. What stood 16.5 + 18 cm ahead is 14 cm beside it then.
    void aTurnThatDoesNotClear_data()
    {
        QTest::addColumn<double>("rate_deg_s");
        QTest::addColumn<bool>("raised");
        QTest::newRow("7 degrees: inside the beam, heard again") << 17.0 << false;
        QTest::newRow("10 degrees: unheard, 6 cm beside the middle") << 25.0 << true;
        QTest::newRow("24 degrees: 14 cm beside it") << 60.0 << false;
        QTest::newRow("100 degrees") << 250.0 << false;
    }
    void aTurnThatDoesNotClear()
    {
        QFETCH(double, rate_deg_s);
        QFETCH(bool, raised);
        Way w("Curlew", "glance", glance);
        w.around.leftTurn_deg_s = w.around.rightTurn_deg_s = rate_deg_s;
        const auto *f = w.find("turn-does-not-clear");
        QCOMPARE(f != nullptr, raised);
        w.around.leftTurn_deg_s = w.around.rightTurn_deg_s = std::nullopt;
        QVERIFY(!w.find("turn-does-not-clear")); // the rate is not known
    }

    void clearTooSoon()
    {
        Way w("Avocet", "turn-away", turnAway);
        const auto *f = w.find("clear-too-soon");
        QVERIFY(f);
        QCOMPARE(f->severity, Severity::Advice);
        // (15 + gap) sin 7.5 degrees reaches 7.5 cm from 57.5 cm before the axle on.
        w.value("threshold").si = 0.60;
        QVERIFY(!w.find("clear-too-soon"));
    }

    void theEdgeOfATable()
    {
        Bench b("Whimbrel");
        const auto judged = [&] { return b.judge().rule.findings; };
        QVERIFY(!test::find(judged(), "edge-seen-too-late"));
        b.instance("support").mount->setBack_m = 0.025; // the skid leaves the table first
        const auto all = judged();
        const auto *f = test::find(all, "edge-seen-too-late");
        QVERIFY(f);
        QCOMPARE(f->severity, Severity::Warning); // nothing was measured
        QVERIFY(english(f->what).starts_with("'edge' sees the edge 2.1 cm before"));
        b.car.mission->behaviour = "straddle"; // a line to stop at is no edge
        for (auto &p : b.workshop.programs)
            if (p.id == b.car.program)
                p.from.reset();
        QVERIFY(!test::find(judged(), "edge-seen-too-late"));
    }

    /// Without a board each sensor drives a wheel; the program has to say the same.
    void theWiresAreTheProgram()
    {
        Bench b("Turnstone");
        const auto found = [&] {
            std::vector<std::string> all;
            for (const auto &f : b.judge().rule.findings)
                if (f.code == "wires-do-otherwise")
                    all.push_back(english(f.what));
            return all;
        };
        QVERIFY(found().empty()); // one plug is loose: nothing is known of that side
        // The plug is pushed in: what the car does follows from both sensors.
        b.unwire("driver.IN10");
        b.car.wires.push_back({"right-eye.OUT", "driver.IN10", "grey"});
        const auto plugged = b.judge();
        QVERIFY(test::find(plugged.rule.findings, "wires-do-otherwise") == nullptr);
        QVERIFY(std::find(plugged.rule.fine.begin(), plugged.rule.fine.end(),
                          say("the wires do what the program says")) != plugged.rule.fine.end());
        // Crossed over, each dark side stops the other wheel.
        b.turn("left-eye.OUT", "right-eye.OUT");
        const auto crossed = found();
        QCOMPARE(crossed.size(), size_t(2));
        QVERIFY2(crossed[0].find("pivots") != std::string::npos, crossed[0].c_str());
    }

    void widerThanTheRoom_data()
    {
        QTest::addColumn<double>("threshold_m");
        QTest::addColumn<QString>("severity");
        // 5 by 0.95 m, and 21 cm of car behind the ranger.
        QTest::newRow("fits") << 0.70 << "";
        QTest::newRow("wider than across") << 0.74 << "warning";
        QTest::newRow("longer than the room") << 4.80 << "error";
    }
    void widerThanTheRoom()
    {
        QFETCH(double, threshold_m);
        QFETCH(QString, severity);
        Way w("Avocet", "halt", with(ranger, {{"threshold", "30cm"}}));
        w.value("threshold").si = threshold_m;
        w.program.readings.front().limit_m = 6.0;
        for (const auto &f : w.b.workshop.floors)
            if (f.name == "Rope walk")
                w.b.floor = f;
        const auto *f = w.find("threshold-wider-than-room");
        QCOMPARE(f ? QString(f->severity == Severity::Error ? "error" : "warning") : QString(),
                 severity);
        w.b.floor.walls.clear();
        QVERIFY(!w.find("threshold-wider-than-room"));
    }
};

BADGER_TEST(TestWay)
#include "test_way.moc"
