// SPDX-License-Identifier: GPL-3.0-or-later
// What programs of each family do at readings, worked out by hand.
#include "core/machine/made.h"
#include "support/fixture.h"

#include <set>

using namespace badger;
using test::entered_ms;
using test::made;
using test::played;
using test::states;

class TestPlay final : public QObject
{
    Q_OBJECT

    /// The last order for the wheels.
    static std::pair<int, int> wheels(const std::vector<machine::Told> &told)
    {
        return {told.back().orders.left.counts, told.back().orders.right.counts};
    }

private slots:
    /// 30 cm are 11.811 in, which no 32-bit fraction is: typed like the limit it is the limit.
    void whatIsTypedLikeALimitIsTheLimit()
    {
        for (const auto &[unit, at] : {std::pair("cm", "30"), {"mm", "300"}, {"in", "11.811"}}) {
            const auto p =
                made("halt", {{"threshold", "30cm"}, {"unit", unit}, {"numbers", "fraction"}});
            QCOMPARE(states(p, played(p, {{"0", at}, {"400", "301"}, {"800", at}})).join(','),
                     QString("stands,drives,stands"));
        }
    }

    void haltActsAtItsThreshold()
    {
        const auto p = made("halt", {{"threshold", "32cm"}});
        QCOMPARE(states(p, played(p, {{"0", "33"}, {"200", "32"}, {"400", "33"}})).join(','),
                 QStringLiteral("stands,drives,stands,drives"));
        const auto strict = made("halt", {{"threshold", "32cm"}, {"compare", "lt"}});
        QCOMPARE(
            states(strict, played(strict, {{"0", "33"}, {"200", "32"}, {"400", "31"}})).join(','),
            QStringLiteral("stands,drives,stands"));
    }

    /// Between 18 and 45, both open, no else: at 18, 45 and none the last command stays.
    void openIntervalsKeepTheLastCommand()
    {
        const auto p = made("keep-station", {{"near", "18cm"},
                                             {"far", "45cm"},
                                             {"near-compare", "lt"},
                                             {"far-compare", "lt"},
                                             {"no-echo", "skip"}});
        const auto told = played(p, {{"0", "60"},
                                     {"200", "60"},
                                     {"400", "45"},
                                     {"600", "none"},
                                     {"800", "18"},
                                     {"1000", "17"},
                                     {"1200", "18"}});
        QCOMPARE(states(p, told).join(','), QStringLiteral("stands,advances,backs"));
        QCOMPARE(int(entered_ms(p, told, "backs")) / 10, 100); // 17 cm at 1 s, and its flight
    }

    /// A stand that does not end the pass is carried out, wait included; then the else is tested on
    /// the same reading.
    void aStandThatDoesNotEndThePass()
    {
        const auto p = made("keep-station", {{"near", "10cm"},
                                             {"far", "20cm"},
                                             {"ends-pass", "no"},
                                             {"otherwise", "go"},
                                             {"wait", "1s"}});
        const auto told = played(p, {{"0", "15"}});
        QCOMPARE(states(p, told).mid(0, 3).join(','), QStringLiteral("stands,pauses,advances"));
        const double stood = entered_ms(p, told, "pauses");
        QCOMPARE(entered_ms(p, told, "advances") - stood, 1000.0);
    }

    /// Blind for 2.1 s, of which 1.2 s backward: at 0.22 m/s 26 cm.
    void backAndTurnIsBlindForItsWaits()
    {
        const auto p = made("back-and-turn", {{"back-time", "1.2s"}, {"turn-time", "0.9s"}});
        const auto told = played(p, {{"0", "60"}, {"300", "20"}, {"400", "60"}});
        QCOMPARE(states(p, told).join(','), QStringLiteral("drives,backs,turns,drives"));
        const double backs = entered_ms(p, told, "backs");
        const double turns = entered_ms(p, told, "turns");
        QCOMPARE(turns - backs, 1200.0);
        QCOMPARE(static_cast<double>(told.back().time_us) / 1000.0 - turns, 900.0);
        QVERIFY(std::abs(0.22 * (turns - backs) / 10.0 - 26.4) < 1e-9);
    }

    void glanceTakesTheFartherSideWithinItsTolerance_data()
    {
        QTest::addColumn<QString>("right");
        QTest::addColumn<QString>("left");
        QTest::addColumn<QString>("tolerance");
        QTest::addColumn<QString>("goes");
        QTest::newRow("one more, none asked") << "41"
                                              << "40"
                                              << "0cm"
                                              << "turns right";
        QTest::newRow("one more, three asked") << "41"
                                               << "40"
                                               << "3cm"
                                               << "backs";
        QTest::newRow("three more, three asked") << "43"
                                                 << "40"
                                                 << "3cm"
                                                 << "backs";
        QTest::newRow("four more") << "44"
                                   << "40"
                                   << "3cm"
                                   << "turns right";
        QTest::newRow("left") << "40"
                              << "44"
                              << "3cm"
                              << "turns left";
        QTest::newRow("none is far") << "30"
                                     << "none"
                                     << "3cm"
                                     << "turns left";
    }
    void glanceTakesTheFartherSideWithinItsTolerance()
    {
        QFETCH(QString, right);
        QFETCH(QString, left);
        QFETCH(QString, tolerance);
        QFETCH(QString, goes);
        const auto p =
            made("glance",
                 {{"tolerance", tolerance.toStdString()}, {"tie", "back"}, {"back-time", "400ms"}});
        const auto told = played(p, {{"0", "60", right.toStdString(), left.toStdString()},
                                     {"300", "20", right.toStdString(), left.toStdString()}});
        QVERIFY2(states(p, told).contains(goes), qPrintable(states(p, told).join(',')));
    }

    /// With none as 0 an open left side is nearer than everything: it turns to the near wall.
    void noneAsNoughtTurnsToTheWall()
    {
        const auto p =
            made("glance", {{"no-echo-look", "blocked"}, {"tie", "back"}, {"back-time", "400ms"}});
        const auto told = played(p, {{"0", "60", "30", "none"}, {"300", "20", "30", "none"}});
        QVERIFY(states(p, told).contains(QStringLiteral("turns right")));
    }

    /// 35 60 45 80 410 50 55 90 130 130 70 cm at 40 to 140 degrees, limit 400, 9 ms a degree.
    void theScanOfTheWorkedExample_data()
    {
        QTest::addColumn<QString>("beyond");
        QTest::addColumn<QString>("tie");
        QTest::addColumn<double>("turn_ms");
        QTest::addColumn<int>("left"); // of the left wheel: negative turns left
        QTest::newRow("beyond is 0, first") << "zero"
                                            << "first" << 270.0 << -120;
        QTest::newRow("beyond is 0, last") << "zero"
                                           << "last" << 360.0 << -120;
        QTest::newRow("beyond is the limit") << "limit"
                                             << "first" << 90.0 << 120;
    }
    void theScanOfTheWorkedExample()
    {
        QFETCH(QString, beyond);
        QFETCH(QString, tie);
        QFETCH(double, turn_ms);
        QFETCH(int, left);
        const auto p = made(
            "fan",
            {{"beyond", beyond.toStdString()}, {"tie", tie.toStdString()}, {"dwell", "220ms"}});
        const std::vector<std::string> fan = {"35", "60", "45",  "80",  "410", "50",
                                              "55", "90", "130", "130", "70"};
        std::vector<std::string> clear = {"0", "60"};
        std::vector<std::string> near = {"500", "20"};
        clear.insert(clear.end(), fan.begin(), fan.end());
        near.insert(near.end(), fan.begin(), fan.end());
        auto far = clear;
        far.front() = "2500"; // while it looks round; then the way is clear
        const auto told = played(p, {clear, near, far});
        const double turns = entered_ms(p, told, "turns");
        QVERIFY(turns > 0.0);
        const auto at = std::find_if(told.begin(), told.end(), [&](const machine::Told &t) {
            return p.states[static_cast<size_t>(t.mode)].name == "turns";
        });
        QCOMPARE(at->orders.left.counts, left);
        QCOMPARE(static_cast<double>((at + 1)->time_us) / 1000.0 - turns, turn_ms);
        // Eleven dwells of 220 ms and eleven flights.
        const double looks = entered_ms(p, told, "looks");
        QVERIFY(turns - looks > 2420.0);
        QVERIFY(turns - looks < 2420.0 + 11 * 31.0 + 300.0);
    }

    void aGreatestStraightAheadGoesAhead()
    {
        const auto p = made("fan");
        std::vector<std::string> row = {"0", "20"};
        for (int i = 0; i < 11; ++i)
            row.emplace_back(i == 5 ? "200" : "50");
        const auto told = played(p, {row});
        QVERIFY(states(p, told).contains(QStringLiteral("drives")));
        for (const auto &t : told)
            QVERIFY(p.states[static_cast<size_t>(t.mode)].name != "turns" ||
                    t.orders.left.kind == machine::WheelOrder::Kind::Brake);
    }

    /// 0010 turns left, 1001 ahead, 0000 turns left again: the turn is remembered.
    void theLaneRemembersItsTurn()
    {
        const auto p = made("lane");
        const auto told = played(
            p,
            {{"0", "0", "0", "1", "0"}, {"100", "1", "0", "0", "1"}, {"200", "0", "0", "0", "0"}});
        QCOMPARE(states(p, told).join(','), QStringLiteral("turns left,drives,turns left"));
    }

    void overOneLineASeenLineIsSteeredTo()
    {
        const auto p = made("lane", {{"lines", "one"}});
        QCOMPARE(states(p, played(p, {{"0", "0", "0", "1", "0"}})).back(),
                 QStringLiteral("turns right"));
        QCOMPARE(states(p, played(p, {{"0", "0", "1", "1", "0"}})).back(),
                 QStringLiteral("drives"));
    }

    /// Light 820, dark 240: the middle is 530; 675 is half way to light, 1023 is held at light.
    void edgeGlideSteersByTheShare()
    {
        const auto p = made("edge-glide", {{"gain", "0.5"}, {"speed", "100"}});
        QCOMPARE(wheels(played(p, {{"0", "675"}})), std::pair(125, 75));
        QVERIFY(!played(p, {{"0", "675"}}).back().orders.clamped);
        QCOMPARE(wheels(played(p, {{"0", "1023"}})), std::pair(150, 50));
        QVERIFY(played(p, {{"0", "1023"}}).back().orders.clamped);
        QCOMPARE(wheels(played(p, {{"0", "240"}})), std::pair(50, 150));
        const auto other =
            made("edge-glide", {{"gain", "0.5"}, {"speed", "100"}, {"edge", "right"}});
        QCOMPARE(wheels(played(other, {{"0", "675"}})), std::pair(75, 125));
    }

    void straddleTurnsToTheSideThatSees()
    {
        const auto p = made("straddle");
        const auto told =
            played(p, {{"0", "0", "0"}, {"100", "1", "0"}, {"200", "0", "1"}, {"300", "1", "1"}});
        QCOMPARE(states(p, told).join(','), QStringLiteral("drives,turns left,turns right,stands"));
        QCOMPARE(states(p, played(p, {{"0", "dark", "light"}})).back(),
                 QStringLiteral("turns left"));
        const auto light = made("straddle", {{"line", "light"}});
        QCOMPARE(states(light, played(light, {{"0", "dark", "light"}})).back(),
                 QStringLiteral("turns right"));
    }

    void aKeyIsRefusedWhereSomethingIsNear()
    {
        const auto p = made("guarded-drive");
        const auto told = played(p, {{"0", "60", "ahead"},
                                     {"100", "20", "ahead"},
                                     {"200", "20", "back"},
                                     {"300", "20", "left"},
                                     {"400", "20", "none"}});
        QCOMPARE(states(p, told).join(','),
                 QStringLiteral("stands,drives,stands,backs,turns left,stands"));
    }

    void aLostTargetIsNotChased()
    {
        const auto p = made("keep-station", {{"lost-after", "3"}, {"wait", "50ms"}});
        const auto told = played(p, {{"0", "60"}, {"200", "none"}, {"2000", "none"}});
        QCOMPARE(states(p, told).join(','), QStringLiteral("stands,advances,stands"));
        const double lost = static_cast<double>(told.back().time_us) / 1000.0;
        QVERIFY(lost > 200.0 + 2 * 50.0);
        QVERIFY(lost < 200.0 + 4 * 80.0);
    }

    /// The nearest of three is lost where none of them is heard, and not before.
    void theNearestOfThreeIsLostWhenAllAre()
    {
        const auto p =
            made("keep-station", {{"reads", "nearest"}, {"lost-after", "3"}, {"wait", "50ms"}});
        const auto told = played(p, {{"0", "60", "60", "60"},
                                     {"400", "none", "none", "60"},
                                     {"1500", "none", "none", "none"}});
        QCOMPARE(states(p, told).join(','), QStringLiteral("stands,advances,stands"));
        QVERIFY(static_cast<double>(told.back().time_us) / 1000.0 > 1500.0 + 2 * 50.0);
    }

    /// 38,000 us in 16 bits are -27,536 us; at 15 degrees of air that is -468 cm.
    void aLongTimeInSixteenBitsIsNearestOfAll()
    {
        const auto p = made("halt", {{"time-bits", "16"}, {"limit", "700cm"}, {"air", "15C"}});
        const auto machine = machine::lower(p);
        VERIFY_OK(machine);
        const auto number = machine::numberOf(*machine, machine->sensors.front(), 38000);
        QCOMPARE(number.value_or(0.0), -468.0);
        const auto warm =
            machine::lower(made("halt", {{"time-bits", "16"}, {"limit", "700cm"}, {"air", "20C"}}));
        QCOMPARE(machine::numberOf(*warm, warm->sensors.front(), 38000).value_or(0.0), -472.0);
        QCOMPARE(states(p, played(p, {{"0", "60"}, {"300", "wild"}})).back(),
                 QStringLiteral("stands"));
        const auto wide = made("halt", {{"limit", "700cm"}, {"air", "15C"}});
        QCOMPARE(states(wide, played(wide, {{"0", "60"}, {"300", "wild"}})).back(),
                 QStringLiteral("drives"));
    }

    void chanceIsTheSameWithTheSameSeed()
    {
        const auto p = made("back-and-wander");
        const std::vector<std::vector<std::string>> rows = {
            {"0", "60"}, {"300", "20"}, {"9000", "60"}};
        const auto a = played(p, rows);
        const auto b = played(p, rows);
        QCOMPARE(a.size(), b.size());
        std::set<std::uint64_t> turns;
        for (size_t i = 0; i < a.size(); ++i) {
            QCOMPARE(a[i].time_us, b[i].time_us);
            if (i + 1 < a.size() &&
                p.states[static_cast<size_t>(a[i].mode)].name.starts_with("turns")) {
                const auto length_us = a[i + 1].time_us - a[i].time_us;
                QVERIFY(length_us >= 200'000 && length_us <= 900'000);
                turns.insert(length_us);
            }
        }
        QVERIFY(turns.size() > 3);
        auto other = p;
        other.seed = 99;
        QVERIFY(played(other, rows).back().time_us != a.back().time_us ||
                played(other, rows).size() != a.size());
    }

    void sidesTakeTurns()
    {
        const auto p = made("back-and-wander");
        const auto all = states(p, played(p, {{"0", "20"}, {"5000", "60"}}));
        QString last;
        int turns = 0;
        for (const auto &s : all)
            if (s.startsWith("turns")) {
                QVERIFY(s != last);
                last = s;
                ++turns;
            }
        QVERIFY(turns > 2);
    }

    /// 9600 baud carry 960 characters a second: with a full buffer a pass lasts as long as its
    /// line.
    void printsSlowAPassOnlyOnceTheBufferIsFull()
    {
        const auto quiet = made("halt");
        const auto loud = made("halt", {{"prints", "yes"}});
        const std::vector<std::vector<std::string>> rows = {{"0", "60"}, {"3000", "20"}};
        const double late = entered_ms(loud, played(loud, rows), "stands");
        QCOMPARE(states(loud, played(loud, rows)).back(), QStringLiteral("stands"));
        QVERIFY(played(loud, rows).back().time_us >= played(quiet, rows).back().time_us);
        QCOMPARE(late, 0.0);
    }

    void whatIsNoReadingIsRefused()
    {
        const auto p = made("straddle");
        const auto m = machine::lower(p);
        for (const char *word : {"none", "wild", "2", "", "yes", "-1"})
            QVERIFY(!machine::heardOf(p, machine::columns(p, *m).front(), word));
        const auto h = made("halt");
        const auto n = machine::lower(h);
        for (const char *word : {"", "-5", "nan", "inf", "5kg", "5 ms", "ahead", "-5cm"})
            QVERIFY(!machine::heardOf(h, machine::columns(h, *n).front(), word));
        // A unit may stand behind a length.
        for (const auto &[word, number] : {std::pair{"5cm", 5.0}, {"50mm", 5.0}, {"2in", 5.08}}) {
            const auto heard = machine::heardOf(h, machine::columns(h, *n).front(), word);
            VERIFY_OK(heard);
            COMPARE_NEAR(heard->number, number, 1e-9);
        }
    }
};

BADGER_TEST(TestPlay)
#include "test_play.moc"
