// SPDX-License-Identifier: GPL-3.0-or-later
// Where a mode that drives ahead gives way, whatever else is read.
#include "core/machine/made.h"
#include "core/regions/gives_way.h"
#include "support/fixture.h"

using namespace badger;
using test::made;

class TestGivesWay final : public QObject
{
    Q_OBJECT

    struct Asked {
        rules::Program program;
        machine::Machine machine;
        int mode = 0;
    };
    static Asked asked(rules::Program program, const std::string &mode)
    {
        auto machine = machine::lower(program);
        Q_ASSERT(machine);
        int at = 0;
        for (size_t i = 0; i < program.states.size(); ++i)
            if (program.states[i].name == mode)
                at = static_cast<int>(i);
        return {std::move(program), std::move(*machine), at};
    }
    static std::vector<regions::GivesWay> ways(const Asked &a, const std::string &reading)
    {
        const auto r = regions::of(a.program, a.machine, a.mode);
        Q_ASSERT(r);
        for (size_t i = 0; i < a.program.readings.size(); ++i)
            if (a.program.readings[i].name == reading)
                return regions::givesWay(a.program, a.machine, *r, static_cast<int>(i));
        return {};
    }

    static std::string stateThatGoes(const rules::Program &p)
    {
        for (const auto &s : p.states)
            if (rules::actOf(s.motion) == rules::Act::Go && !s.wait)
                return s.name;
        return {};
    }

private slots:
    void oneLimit_data()
    {
        QTest::addColumn<QString>("compare");
        QTest::addColumn<double>("to");
        QTest::addColumn<bool>("inclusive");
        QTest::newRow("or nearer") << "le" << 30.0 << true;
        QTest::newRow("nearer than") << "lt" << 29.0 << false;
    }
    void oneLimit()
    {
        QFETCH(QString, compare);
        QFETCH(double, to);
        QFETCH(bool, inclusive);
        auto p = made("halt", {{"compare", compare.toStdString()}});
        const auto all = ways(asked(p, stateThatGoes(p)), "ahead");
        QCOMPARE(all.size(), size_t(1));
        QCOMPARE(all[0].to, to);
        QCOMPARE(all[0].inclusive, inclusive);
        QCOMPARE(p.value(all[0].value)->si, std::optional(0.3));
        QCOMPARE(all[0].times, 1);
    }

    /// Of whole numbers 29.21 is never met itself, and the rule still says "or nearer".
    void aLimitBetweenWholeNumbers()
    {
        auto p = made("halt", {{"threshold", "29.21cm"}});
        const auto all = ways(asked(p, stateThatGoes(p)), "ahead");
        QCOMPARE(all.size(), size_t(1));
        QCOMPARE(all[0].to, 29.0);
        QVERIFY(all[0].inclusive);
        COMPARE_NEAR(*p.value(all[0].value)->si, 0.2921, 1e-12);
    }

    /// From far to near: stands at the far limit, backs at the near one; the stretch is one.
    void keepStation()
    {
        auto p = made("keep-station");
        const auto a = asked(p, stateThatGoes(p));
        const auto all = ways(a, "ahead");
        QCOMPARE(all.size(), size_t(1));
        QCOMPARE(*p.value(all[0].value)->si, 0.45);
        QCOMPARE(all[0].into.size(), size_t(2));
        QCOMPARE(rules::actOf(p.states[size_t(all[0].into[0])].motion), rules::Act::Stand);
        QCOMPARE(rules::actOf(p.states[size_t(all[0].into[1])].motion), rules::Act::Back);
    }

    /// Strict on both sides: at exactly 18 and 45 nothing is said, and the stretch is cut there.
    void aHoleCutsIt()
    {
        auto p = made("keep-station",
                      {{"near-compare", "lt"}, {"far-compare", "lt"}, {"otherwise", "keep-last"}});
        const auto all = ways(asked(p, stateThatGoes(p)), "ahead");
        QCOMPARE(all.size(), size_t(2));
        QCOMPARE(all[0].from, 19.0);
        QCOMPARE(all[0].to, 44.0);
        QVERIFY(!all[0].inclusive);
        QCOMPARE(*p.value(all[0].value)->si, 0.45);
        QCOMPARE(all[1].to, 17.0);
        QCOMPARE(*p.value(all[1].value)->si, 0.18);
    }

    /// What lies beyond the last number at which it stays is no stop on the way.
    void aTargetThatIsGoneIsNoStop()
    {
        auto p = made("keep-station");
        // Advances only from 45 to 100 cm; farther it stands.
        p.values.push_back({"gone", "farther it is lost", rules::ValueKind::Distance, 1.0});
        const auto stands = std::find_if(p.states.begin(), p.states.end(), [](const auto &s) {
                                return rules::actOf(s.motion) == rules::Act::Stand;
                            })->name;
        p.everywhere.insert(p.everywhere.begin(),
                            {"lost", {{"ahead", rules::Compare::Greater, "gone"}}, stands});
        const auto all = ways(asked(p, stateThatGoes(p)), "ahead");
        QCOMPARE(all.size(), size_t(1));
        QCOMPARE(*p.value(all[0].value)->si, 0.45);
    }

    /// A rule that an earlier one hides decides nothing.
    void whatIsNeverReachedIsNoStop()
    {
        auto p = made("halt");
        p.values.push_back({"slow", "", rules::ValueKind::Distance, 0.6});
        const auto stands = p.everywhere.empty() ? p.states[1].name : p.everywhere[0].go;
        p.everywhere.push_back({"slow", {{"ahead", rules::Compare::Less, "slow"}}, stands});
        for (auto &s : p.states)
            if (!s.rules.empty())
                s.rules.push_back({"slow", {{"ahead", rules::Compare::Less, "slow"}}, stands});
        const auto all = ways(asked(p, stateThatGoes(p)), "ahead");
        QVERIFY(!all.empty());
        QCOMPARE(*p.value(all[0].value)->si, 0.3);
    }

    /// Two conditions together: neither reading stops it alone.
    void whatNeedsTwoReadingsIsNoStop()
    {
        auto p = made("halt");
        auto second = p.readings.front();
        second.name = "low";
        p.readings.push_back(second);
        const auto both = [&](std::vector<rules::Rule> &rules) {
            for (auto &rule : rules)
                if (!rule.when.empty() && rule.when[0].compare == rules::Compare::LessOrEqual) {
                    rule.when.push_back(rule.when[0]);
                    rule.when.back().reading = "low";
                    rule.any = false;
                }
        };
        both(p.everywhere);
        for (auto &s : p.states)
            both(s.rules);
        const auto a = asked(p, stateThatGoes(p));
        QVERIFY(ways(a, "ahead").empty());
        QVERIFY(ways(a, "low").empty());
    }

    void silenceOfAnotherReading_data()
    {
        QTest::addColumn<int>("policy");
        QTest::addColumn<bool>("blinds");
        QTest::newRow("ignore") << int(rules::NoEcho::Ignore) << true;
        QTest::newRow("clear") << int(rules::NoEcho::Clear) << false;
        QTest::newRow("stop") << int(rules::NoEcho::Stop) << false;
        QTest::newRow("hold") << int(rules::NoEcho::HoldLast) << false;
    }
    void silenceOfAnotherReading()
    {
        QFETCH(int, policy);
        QFETCH(bool, blinds);
        auto p = made("halt");
        auto second = p.readings.front();
        second.name = "low";
        second.noEcho = static_cast<rules::NoEcho>(policy);
        p.readings.push_back(second);
        const auto all = ways(asked(p, stateThatGoes(p)), "ahead");
        QCOMPARE(all.size(), size_t(1));
        QCOMPARE(all[0].to, 30.0);
        QCOMPARE(all[0].unlessSilent.size(), size_t(blinds));
    }

    void soManyTimesInSuccession()
    {
        auto p = made("halt");
        p.values.push_back({"sure", "", rules::ValueKind::Times, 3.0});
        const auto sure = [](std::vector<rules::Rule> &rules) {
            for (auto &rule : rules)
                for (auto &c : rule.when)
                    if (c.compare == rules::Compare::LessOrEqual)
                        c.times = "sure";
        };
        sure(p.everywhere);
        for (auto &s : p.states)
            sure(s.rules);
        QCOMPARE(ways(asked(p, stateThatGoes(p)), "ahead").front().times, 3);
    }

    void aSensorThatSees()
    {
        auto p = made("table-edge");
        const auto a = asked(p, stateThatGoes(p));
        const auto r = regions::of(a.program, a.machine, a.mode);
        VERIFY_OK(r);
        bool any = false;
        for (size_t i = 0; i < p.readings.size(); ++i)
            any |= !regions::givesWayAtAnEnd(a.machine, *r, static_cast<int>(i)).empty();
        QVERIFY(any);
    }
};

BADGER_TEST(TestGivesWay)
#include "test_gives_way.moc"
