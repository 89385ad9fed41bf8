// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/board_numbers.h"
#include "core/rules/pass_time.h"
#include "support/fixture.h"

using namespace badger;
using rules::Compare;
using test::Bench;

/// What a board compares, and how long a pass takes.
class TestBoardNumbers final : public QObject
{
    Q_OBJECT
private slots:
    void theTimeOutIsRoundedUp()
    {
        Bench b;
        // 120 cm and back at 344.38 m/s: 6968.9 us
        QCOMPARE(rules::timeOut_us(b.reading()), 6969u);
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
};

BADGER_TEST(TestBoardNumbers)
#include "test_board_numbers.moc"
