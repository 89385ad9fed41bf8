// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/check.h"
#include "support/fixture.h"

#include <functional>

using namespace badger;
using test::Bench;

namespace
{

const std::map<std::string, rules::RangerFacts> facts = {{"ahead", {0.03, 4.0, 0.038}}};

struct Case {
    const char *name;
    const char *code;
    Severity severity;
    const char *what; ///< the start of the sentence
    const char *target;
    std::function<void(Bench &)> breaks;
};

const std::vector<Case> &cases()
{
    using enum Severity;
    static const std::vector<Case> all = {
        {"no threshold", "value-unset", Error, "'halt' is not chosen: stop at this distance.",
         "value:halt", [](Bench &b) { b.value("halt").si.reset(); }},
        {"no air", "value-unset", Error, "For 'ahead' the air temperature is not chosen.",
         "reading:ahead", [](Bench &b) { b.reading().air_degC.reset(); }},
        {"no limit", "value-unset", Error, "For 'ahead' the farthest reading is not chosen.",
         "reading:ahead", [](Bench &b) { b.reading().limit_m.reset(); }},
        {"no policy", "no-echo-policy-unset", Error,
         "What no echo means for 'ahead' is not chosen.", "policy:ahead",
         [](Bench &b) { b.reading().noEcho = rules::NoEcho::Unset; }},
        {"inside the dead zone", "threshold-in-dead-zone", Error,
         "2.5 cm lies inside the ranger's dead zone (3 cm).", "value:halt",
         [](Bench &b) { b.value("halt").si = 0.025; }},
        {"beyond the limit", "threshold-beyond-limit", Error,
         "130 cm is not below the farthest reading of 'ahead' (120 cm).", "value:halt",
         [](Bench &b) { b.value("halt").si = 1.3; }},
        {"limit beyond the ranger", "threshold-beyond-limit", Warning,
         "'ahead' waits for echoes from 500 cm; the ranger reaches 400 cm.", "reading:ahead",
         [](Bench &b) { b.reading().limit_m = 5.0; }},
        {"not whole", "threshold-not-whole", Advice,
         "'halt' is 29.21 cm, but 'ahead' is cut to whole numbers.", "value:halt",
         [](Bench &b) { b.value("halt").si = 0.2921; }},
        {"overflow", "whole-number-overflow", Error,
         "'ahead' can reach 40000, more than a 16-bit number holds.", "reading:ahead",
         [](Bench &b) {
             b.reading().unit = units::Unit::Millimetre;
             b.reading().limit_m = 40.0;
         }},
        {"pings too close", "ping-too-soon", Warning, "Pings follow each other in 20.2 ms",
         "value:pause", [](Bench &b) { b.value("pause").si = 0.02; }},
        {"whole inches", "zero-is-no-echo", Warning,
         "Nearer than 1 in 'ahead' is cut to 0, and 0 means no echo.", "reading:ahead",
         [](Bench &b) {
             b.reading().unit = units::Unit::Inch;
             b.reading().number = rules::NumberType::Whole;
         }},
        {"whole inches, clear", "zero-is-no-echo", Error,
         "Nearer than 1 in 'ahead' is cut to 0, and 0 means no echo.", "reading:ahead",
         [](Bench &b) {
             b.reading().unit = units::Unit::Inch;
             b.reading().noEcho = rules::NoEcho::Clear;
         }},
        {"a wait that leads to itself", "waits-for-ever", Error,
         "'stands' waits and then begins again: the program never leaves it.", "state:stands",
         [](Bench &b) {
             for (auto &s : b.program.states)
                 if (s.name == "stands")
                     s.wait = rules::Wait{"pause", rules::WaitKind::Timed, "stands"};
         }},
        {"waits in a ring", "waits-for-ever", Error,
         "The waits of drives, stands lead round in a ring: the program never leaves it.",
         "state:drives",
         [](Bench &b) {
             for (auto &s : b.program.states)
                 s.wait = rules::Wait{"pause", rules::WaitKind::Timed,
                                      s.name == "stands" ? "drives" : "stands"};
         }},
        {"slow prints", "prints-slow-the-pass", Warning, "22 characters a pass at 1200 baud",
         "prints",
         [](Bench &b) {
             b.program.prints = {true, 1200};
         }},
        {"none is clear", "no-echo-is-clear", Advice, "No echo counts as clear.", "policy:ahead",
         [](Bench &b) { b.reading().noEcho = rules::NoEcho::Clear; }},
        {"broken", "program-broken", Error, "everywhere, rule 'near', goes to the state 'x'", "",
         [](Bench &b) { b.program.everywhere[0].go = "x"; }},
    };
    return all;
}

} // namespace

class TestProgramCheck final : public QObject
{
    Q_OBJECT
private slots:
    void theDemoHasOneAdvice()
    {
        Bench b;
        const auto r = rules::check(b.program, facts);
        QCOMPARE(test::codes(r.findings), std::vector<std::string>{"no-echo-is-clear"});
        QCOMPARE(r.fine.size(), size_t(8));
    }

    void everyRuleSpeaks_data()
    {
        QTest::addColumn<int>("index");
        for (size_t i = 0; i < cases().size(); ++i)
            QTest::newRow(cases()[i].name) << int(i);
    }
    void everyRuleSpeaks()
    {
        QFETCH(int, index);
        const auto &c = cases()[size_t(index)];
        Bench b;
        b.reading().noEcho = rules::NoEcho::Blocked; // no advice of its own
        c.breaks(b);
        const auto r = rules::check(b.program, facts);
        const auto it = std::find_if(r.findings.begin(), r.findings.end(), [&](const Finding &f) {
            return f.code == c.code && english(f.what).starts_with(c.what);
        });
        QVERIFY2(it != r.findings.end(), r.findings.empty()
                                             ? "nothing was found"
                                             : english(r.findings.front().what).c_str());
        QVERIFY(it->severity == c.severity);
        QCOMPARE(it->target(), std::string(c.target));
        QVERIFY(!it->why.empty() && !it->mend.empty());
    }

    void nothingIsCalledFineThatRestsOnAMissingValue()
    {
        const auto r = rules::check(rules::haltProgram({"p"}, "new"), facts);
        QVERIFY(r.fine.empty());
        QCOMPARE(r.findings.size(), size_t(6));
        QVERIFY(hasError(r.findings));
    }

    void atTheEdgesOfTheRules()
    {
        Bench b;
        b.value("halt").si = 0.03; // the dead zone itself still reads wrong
        QVERIFY(test::find(rules::check(b.program, facts).findings, "threshold-in-dead-zone"));
        b.value("halt").si = 0.031;
        QVERIFY(!test::find(rules::check(b.program, facts).findings, "threshold-in-dead-zone"));
        b.value("halt").si = 0.32;
        b.value("pause").si = 0.0399;
        QVERIFY(!test::find(rules::check(b.program, facts).findings, "ping-too-soon"));
        b.value("pause").si = 0.0397;
        QVERIFY(test::find(rules::check(b.program, facts).findings, "ping-too-soon"));
    }

    /// Two rangers of different kinds: each threshold is held against the one it reads.
    void eachReadingHasItsOwnFacts()
    {
        Bench b;
        auto side = b.reading();
        side.name = "side";
        side.instance = "ranger-left";
        side.limit_m = 2.5;
        b.program.readings.push_back(side);
        b.program.values.push_back({"shy", "", rules::ValueKind::Distance, 0.08});
        b.program.everywhere.insert(b.program.everywhere.begin(),
                                    {"beside", {{"side", rules::Compare::Less, "shy"}}, "stands"});
        std::map<std::string, rules::RangerFacts> both = {{"ahead", {0.03, 4.0, 0.038}},
                                                          {"side", {0.10, 2.0, 0.2}}};
        const auto found = rules::check(b.program, both).findings;
        const auto *dead = test::find(found, "threshold-in-dead-zone");
        QVERIFY(dead);
        QCOMPARE(english(dead->what),
                 std::string("8 cm lies inside the 'side' ranger's dead zone (10 cm)."));
        const auto *far = test::find(found, "threshold-beyond-limit");
        QVERIFY(far);
        QCOMPARE(english(far->what),
                 std::string("'side' waits for echoes from 250 cm; the ranger reaches "
                             "200 cm."));
        // Without facts nothing is said of that reading.
        both.erase("side");
        QVERIFY(!test::find(rules::check(b.program, both).findings, "threshold-in-dead-zone"));
    }

    void tablesOfOneReadingDoNotProveAProgramOfTwo()
    {
        Bench b;
        auto side = b.reading();
        side.name = "side";
        b.program.readings.push_back(side);
        const auto found = rules::check(b.program, {{"ahead", {0.03, 4.0, 0.038}}});
        QVERIFY(std::none_of(found.fine.begin(), found.fine.end(), [](const Say &fine) {
            return english(fine) == "every reading has an action";
        }));
    }
};

BADGER_TEST(TestProgramCheck)
#include "test_check.moc"
