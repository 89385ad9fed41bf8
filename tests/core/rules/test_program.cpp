// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/program.h"
#include "support/fixture.h"

#include <functional>

using namespace badger;
using test::Bench;

namespace
{

struct Bend {
    const char *name;
    const char *says;
    std::function<void(rules::Program &)> bend;
};

const std::vector<Bend> &bends()
{
    using rules::Program;
    static const std::vector<Bend> all = {
        {"no state", "the program has no state", [](Program &p) { p.states.clear(); }},
        {"two states of a name", "two states are named 'stands'",
         [](Program &p) { p.states.push_back(p.states.front()); }},
        {"two values of a name", "two values are named 'halt'",
         [](Program &p) { p.values.push_back(p.values.front()); }},
        {"two readings of a name", "two readings are named 'ahead'",
         [](Program &p) { p.readings.push_back(p.readings.front()); }},
        {"rule to nowhere", "goes to the state 'flies'",
         [](Program &p) { p.everywhere.front().go = "flies"; }},
        {"unknown value", "uses the value 'nope'",
         [](Program &p) { p.everywhere.front().when.front().value = "nope"; }},
        {"compared with a duration", "of another kind",
         [](Program &p) { p.everywhere.front().when.front().value = "pause"; }},
        {"unknown reading", "compares the reading 'behind'",
         [](Program &p) { p.everywhere.front().when.front().reading = "behind"; }},
        {"speed that is none", "uses the value 'warp'",
         [](Program &p) { p.states.back().motion.left.speed = "warp"; }},
        {"stop policy without a state", "names no stop state",
         [](Program &p) {
             p.stopState.clear();
             p.readings.front().noEcho = rules::NoEcho::Stop;
         }},
        {"stop state that is none", "goes to the state 'gone'",
         [](Program &p) { p.stopState = "gone"; }},
        {"pause that is none", "uses the value 'nap'", [](Program &p) { p.passWait = "nap"; }},
        {"wait without an end", "goes to the state 'later'",
         [](Program &p) {
             p.states.back().wait = rules::Wait{"pause", rules::WaitKind::Timed, "later"};
         }},
    };
    return all;
}

} // namespace

class TestProgram final : public QObject
{
    Q_OBJECT
private slots:
    void theDemoIsWhole()
    {
        Bench b;
        QVERIFY(rules::broken(b.program).empty());
        QVERIFY(rules::unset(b.program).empty());
    }

    void haltHasItsShapeAndNoValue()
    {
        const auto p = rules::haltProgram({"p"}, "halt");
        QVERIFY(rules::broken(p).empty());
        // halt, speed, pause, the policy, the air, the limit
        QCOMPARE(rules::unset(p).size(), size_t(6));
        // Outputs are set to stop first.
        QVERIFY(rules::actOf(p.states.front().motion) == rules::Act::Stand);
    }

    void broken_data()
    {
        QTest::addColumn<int>("index");
        for (size_t i = 0; i < bends().size(); ++i)
            QTest::newRow(bends()[i].name) << int(i);
    }
    void broken()
    {
        QFETCH(int, index);
        Bench b;
        bends()[size_t(index)].bend(b.program);
        const auto sentences = rules::broken(b.program);
        QVERIFY(std::any_of(sentences.begin(), sentences.end(), [&](const Say &s) {
            return english(s).find(bends()[size_t(index)].says) != std::string::npos;
        }));
    }

    void unsetNamesEachThing()
    {
        Bench b;
        b.value("halt").si.reset();
        b.reading().noEcho = rules::NoEcho::Unset;
        const auto missing = rules::unset(b.program);
        QCOMPARE(missing.size(), size_t(2));
        QCOMPARE(english(missing[0]), std::string("the value 'halt', stop at this distance"));
        QCOMPARE(english(missing[1]), std::string("what no echo means for 'ahead'"));
    }

    void motions_data()
    {
        QTest::addColumn<int>("left");
        QTest::addColumn<int>("right");
        QTest::addColumn<QString>("words");
        QTest::addColumn<int>("act");
        const auto row = [](int l, int r, const char *words, rules::Act act) {
            QTest::newRow(words) << l << r << QString(words) << int(act);
        };
        row(1, 1, "drives", rules::Act::Go);
        row(-1, -1, "backs", rules::Act::Back);
        row(-1, 1, "spins left", rules::Act::Turn);
        row(1, -1, "spins right", rules::Act::Turn);
        row(0, 1, "pivots left", rules::Act::Turn);
        row(1, 0, "pivots right", rules::Act::Turn);
        row(0, 0, "stands", rules::Act::Stand);
    }
    void motions()
    {
        QFETCH(int, left);
        QFETCH(int, right);
        QFETCH(QString, words);
        QFETCH(int, act);
        const rules::Motion m{rules::Wheels::Drive, {left, "speed"}, {right, "speed"}};
        QCOMPARE(QString::fromStdString(english(rules::words(m))), words);
        QCOMPARE(int(rules::actOf(m)), act);
    }

    void standingStillHasTwoWays()
    {
        QCOMPARE(english(rules::words({rules::Wheels::Brake, {}, {}})),
                 std::string("stands, braked"));
        QCOMPARE(english(rules::words({rules::Wheels::Coast, {}, {}})),
                 std::string("stands, coasting"));
        QVERIFY(rules::actOf({rules::Wheels::Coast, {1, "s"}, {1, "s"}}) == rules::Act::Stand);
    }

    void signs()
    {
        using rules::Compare;
        QCOMPARE(std::string(rules::symbol(Compare::LessOrEqual)), std::string("<="));
        QCOMPARE(std::string(rules::sign(Compare::LessOrEqual)), std::string("≤"));
        QCOMPARE(std::string(rules::sign(Compare::Less)), std::string("<"));
        QCOMPARE(std::string(rules::sign(Compare::GreaterOrEqual)), std::string("≥"));
    }
};

BADGER_TEST(TestProgram)
#include "test_program.moc"
