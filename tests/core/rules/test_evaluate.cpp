// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/evaluate.h"
#include "support/fixture.h"

#include <random>

using namespace badger;
using rules::Compare;
using rules::Memory;
using rules::NoEcho;
using rules::Why;
using test::Bench;

namespace
{

/// What follows from one raw number in the state "drives", with nothing seen before.
std::string after(const rules::Program &program, std::optional<double> number,
                  const std::string &state = "drives", Memory memory = {})
{
    memory.state = state;
    return rules::decide(program, memory, {{"ahead", number}}).state;
}

} // namespace

class TestEvaluate final : public QObject
{
    Q_OBJECT
private slots:
    void wholeNumbersAreCut()
    {
        Bench b;
        // 32.9 cm at 22 degrees: 2 * 0.329 / 344.38 s = 1910.7 us
        QCOMPARE(*rules::numberOf(b.reading(), 1910), 32.0);
        QCOMPARE(*rules::numberOf(b.reading(), 1740), 29.0);
        b.reading().number = rules::NumberType::Fraction;
        COMPARE_NEAR(*rules::numberOf(b.reading(), 1740), 29.961, 0.001);
    }

    void noEchoInTime()
    {
        Bench b;
        QVERIFY(!rules::numberOf(b.reading(), 0));
        // 120 cm and back at 344.38 m/s: 6968.9 us, rounded up
        QCOMPARE(rules::timeOut_us(b.reading()), 6969u);
        QVERIFY(rules::numberOf(b.reading(), 6969));
        QVERIFY(!rules::numberOf(b.reading(), 6970));
        // Below one whole centimetre the number is 0, which is what no echo looks like.
        QVERIFY(!rules::numberOf(b.reading(), 50));
    }

    void unitsOfTheReading()
    {
        Bench b;
        b.reading().unit = units::Unit::Millimetre;
        QCOMPARE(*rules::numberOf(b.reading(), 1740), 299.0);
        b.reading().unit = units::Unit::Inch;
        QCOMPARE(*rules::numberOf(b.reading(), 1740), 11.0); // 11.796 in
    }

    void constantsAreWhatTheCodeSays()
    {
        rules::Value v{"halt", "", rules::ValueKind::Distance, 0.29};
        QCOMPARE(rules::constantIn(v, units::Unit::Centimetre), 29.0); // not 28.999999999999996
        v.si = 0.2921;
        COMPARE_NEAR(rules::constantIn(v, units::Unit::Inch), 11.5, 1e-9);
        COMPARE_NEAR(rules::constantIn(v, units::Unit::Centimetre), 29.21, 1e-5);
    }

    void comparisons()
    {
        QVERIFY(rules::holds(32, Compare::LessOrEqual, 32));
        QVERIFY(!rules::holds(32, Compare::Less, 32));
        QVERIFY(!rules::holds(32, Compare::Greater, 32));
        QVERIFY(rules::holds(32, Compare::GreaterOrEqual, 32));
        QVERIFY(rules::holds(31, Compare::Less, 32));
        QVERIFY(rules::holds(INFINITY, Compare::Greater, 1e9));
        QVERIFY(!rules::holds(INFINITY, Compare::LessOrEqual, 1e9));
    }

    void haltDecides()
    {
        Bench b;
        QCOMPARE(after(b.program, 32), std::string("stands"));
        QCOMPARE(after(b.program, 33), std::string("drives"));
        QCOMPARE(after(b.program, 33, "stands"), std::string("drives"));
        QCOMPARE(after(b.program, 1, "stands"), std::string("stands"));
    }

    void policies_data()
    {
        QTest::addColumn<int>("policy");
        QTest::addColumn<QString>("fromDrives");
        QTest::addColumn<QString>("fromStands");
        QTest::newRow("clear") << int(NoEcho::Clear) << "drives"
                               << "drives";
        QTest::newRow("blocked") << int(NoEcho::Blocked) << "stands"
                                 << "stands";
        QTest::newRow("stop") << int(NoEcho::Stop) << "stands"
                              << "stands";
        QTest::newRow("ignore") << int(NoEcho::Ignore) << "drives"
                                << "stands";
        QTest::newRow("hold, nothing to hold") << int(NoEcho::HoldLast) << "drives"
                                               << "stands";
    }
    void policies()
    {
        QFETCH(int, policy);
        QFETCH(QString, fromDrives);
        QFETCH(QString, fromStands);
        Bench b;
        b.reading().noEcho = NoEcho(policy);
        QCOMPARE(QString::fromStdString(after(b.program, std::nullopt, "drives")), fromDrives);
        QCOMPARE(QString::fromStdString(after(b.program, std::nullopt, "stands")), fromStands);
    }

    void holdKeepsTheLastGoodReading()
    {
        Bench b;
        b.reading().noEcho = NoEcho::HoldLast;
        Memory memory{"stands", {}, {}};
        rules::decide(b.program, memory, {{"ahead", 50.0}});
        QCOMPARE(memory.state, std::string("drives"));
        rules::decide(b.program, memory, {{"ahead", std::nullopt}});
        QCOMPARE(memory.state, std::string("drives"));
        rules::decide(b.program, memory, {{"ahead", 20.0}});
        rules::decide(b.program, memory, {{"ahead", std::nullopt}});
        QCOMPARE(memory.state, std::string("stands"));
    }

    void firstRuleEndsThePass()
    {
        Bench b;
        b.program.everywhere.push_back({"late", {}, "stands", true});
        Memory memory{"stands", {}, {}};
        const auto pass = rules::decide(b.program, memory, {{"ahead", 50.0}});
        QCOMPARE(pass.fired.size(), size_t(1));
        QCOMPARE(pass.state, std::string("drives"));
    }

    void aRuleThatGoesOnActsTwice()
    {
        Bench b;
        b.program.everywhere[1].endsPass = false; // "clear"
        b.program.everywhere.push_back({"late", {}, "stands", true});
        Memory memory{"stands", {}, {}};
        const auto pass = rules::decide(b.program, memory, {{"ahead", 50.0}});
        QCOMPARE(pass.fired.size(), size_t(2));
        QCOMPARE(pass.state, std::string("stands"));
    }

    void noRuleKeepsTheState()
    {
        Bench b;
        b.program.everywhere.pop_back();
        Memory memory{"drives", {}, {}};
        const auto pass = rules::decide(b.program, memory, {{"ahead", 50.0}});
        QVERIFY(pass.why == Why::NoRule);
        QCOMPARE(pass.state, std::string("drives"));
    }

    void aWaitHoldsTheRules()
    {
        Bench b;
        b.program.states[1].wait = rules::Wait{"pause", rules::WaitKind::Timed, "stands"};
        Memory memory{"drives", {}, {}};
        const auto pass = rules::decide(b.program, memory, {{"ahead", 5.0}});
        QVERIFY(pass.why == Why::Held);
        QCOMPARE(pass.state, std::string("drives"));
        QVERIFY(rules::matching(b.program, "drives", {{"ahead", 5.0}}).empty());
    }

    void statesHaveRulesOfTheirOwn()
    {
        Bench b;
        b.program.everywhere.clear();
        b.program.states[0].rules = {
            {"off", {{"ahead", Compare::Greater, "halt"}}, "drives", true}};
        QCOMPARE(after(b.program, 50, "stands"), std::string("drives"));
        QCOMPARE(after(b.program, 10, "drives"), std::string("drives")); // no rule of its own
    }

    void medianCountsMissingAsFarthest()
    {
        QCOMPARE(*rules::medianOf({30, 0, 31}), 31.0);
        QVERIFY(!rules::medianOf({0, 0, 31}));
        QCOMPARE(*rules::medianOf({30, 40}), 30.0); // the nearer of two
        QVERIFY(!rules::medianOf({}));
        QCOMPARE(*rules::medianOf({5, 1, 4, 2, 3}), 3.0);
    }

    void medianNeedsAMajority()
    {
        Bench b;
        b.reading().medianOf = 3;
        Memory memory{"stands", {}, {}};
        for (const double d : {80.0, 80.0, 80.0})
            rules::decide(b.program, memory, {{"ahead", d}});
        QCOMPARE(memory.state, std::string("drives"));
        rules::decide(b.program, memory, {{"ahead", 20.0}}); // a single stray one
        QCOMPARE(memory.state, std::string("drives"));
        rules::decide(b.program, memory, {{"ahead", 20.0}});
        QCOMPARE(memory.state, std::string("stands"));
        QCOMPARE(memory.recent.at("ahead").size(), size_t(3));
    }

    void passTime()
    {
        Bench b;
        const auto t = rules::passTime(b.program, {{"ahead", {0.03}}});
        // 58 ms + 12 us + 6.969 ms
        COMPARE_NEAR(t.longest_s, 0.064981, 1e-6);
        // 58 ms + 12 us + 0.174 ms
        COMPARE_NEAR(t.shortest_s, 0.058186, 1e-5);
        // A timed pause is a beat: the work is in it.
        b.program.passWaitKind = rules::WaitKind::Timed;
        COMPARE_NEAR(rules::passTime(b.program, {{"ahead", {0.03}}}).longest_s, 0.058, 1e-9);
        COMPARE_NEAR(rules::passTime(b.program, {{"ahead", {0.03}}}).shortest_s, 0.058, 1e-9);
    }

    void printsCostOnlyWhenTheLineIsSlow()
    {
        Bench b;
        b.program.prints = {true, 9600};
        // "ahead -327.68 stands" and line end: 6 + 2 + 5 + 1 + 7 + 1 = 22 characters, 22.9 ms
        QCOMPARE(rules::printedCharacters(b.program), 22);
        COMPARE_NEAR(rules::passTime(b.program, {{"ahead", {0.03}}}).longest_s, 0.064981, 1e-6);
        b.program.prints.baud = 1200; // 183 ms a line
        COMPARE_NEAR(rules::passTime(b.program, {{"ahead", {0.03}}}).longest_s, 22 * 10.0 / 1200,
                     1e-9);
        COMPARE_NEAR(rules::passTime(b.program, {{"ahead", {0.03}}}).shortest_s, 22 * 10.0 / 1200,
                     1e-9);
        b.program.prints.on = false;
        QCOMPARE(rules::printedCharacters(b.program), 0);
    }

    void nearerNeverDrivesWhereFartherStands()
    {
        // Property of halt, over thresholds and both comparisons: one edge, and only one.
        const unsigned seed = 5;
        qInfo("seed %u", seed);
        std::mt19937 engine(seed);
        for (int i = 0; i < 300; ++i) {
            Bench b;
            b.value("halt").si = 0.05 + double(engine() % 1000) / 1000.0;
            const bool inclusive = engine() % 2;
            b.program.everywhere[0].when[0].compare =
                inclusive ? Compare::LessOrEqual : Compare::Less;
            b.program.everywhere[1].when[0].compare =
                inclusive ? Compare::Greater : Compare::GreaterOrEqual;
            int changes = 0;
            std::string before = after(b.program, 1);
            for (int n = 2; n <= 120; ++n) {
                const auto now = after(b.program, n);
                changes += now != before;
                before = now;
            }
            QCOMPARE(changes, 1);
        }
    }
};

BADGER_TEST(TestEvaluate)
#include "test_evaluate.moc"
