// SPDX-License-Identifier: GPL-3.0-or-later
// What is offered was tried: the finding is gone, and nothing as severe has come.
#include "core/machine/made.h"
#include "core/regions/mend.h"
#include "core/sentences/sentences.h"
#include "support/fixture.h"

#include <set>

using namespace badger;
using regions::Around;
using test::made;

class TestMend final : public QObject
{
    Q_OBJECT

    static Around usual()
    {
        Around a;
        a.servos[std::string("servo")] = {0.002, 0.05};
        a.leftTurn_deg_s = a.rightTurn_deg_s = 150.0;
        a.lightLevels["left"] = {1, true};
        a.lightLevels["right"] = {0, true};
        return a;
    }
    static const Finding *of(const Findings &all, const std::string &code)
    {
        for (const auto &f : all.findings)
            if (f.code == code)
                return &f;
        return nullptr;
    }

private slots:
    void everyOfferWasTried()
    {
        const std::vector<rules::Program> programs = {
            made("keep-station", {{"near-compare", "lt"}, {"far-compare", "lt"}}),
            made("keep-station", {{"far-compare", "lt"}, {"otherwise", "go"}}),
            made("glance",
                 {{"dwell", "100ms"}, {"turn-time-left", "240ms"}, {"turn-time-right", "620ms"}}),
            made("glance", {{"tolerance", "0cm"}, {"no-echo-look", "blocked"}}),
            made("straddle"),
            made("fan", {{"sweep-angles", "80,90,100"}, {"sweep-dwell", "10ms"}})};
        int offered = 0;
        for (const auto &p : programs) {
            const auto before = regions::check(p, usual());
            for (const auto &f : before.findings) {
                for (const auto &m : regions::mends(p, usual(), f)) {
                    ++offered;
                    QVERIFY(!m.words.empty());
                    QVERIFY(rules::broken(m.program).empty());
                    const auto after = regions::check(m.program, usual());
                    for (const auto &g : after.findings) {
                        QVERIFY2(g.code != f.code || !(g.what == f.what), f.code.c_str());
                        if (g.severity == Severity::Advice)
                            continue;
                        QVERIFY2(of(before, g.code), g.code.c_str());
                    }
                }
            }
        }
        QVERIFY(offered >= 8);
    }

    void theWorkedMends()
    {
        const auto words = [](const rules::Program &p, const std::string &code) {
            const auto all = regions::check(p, usual());
            const auto *f = of(all, code);
            if (f == nullptr)
                qFatal("no %s", code.c_str());
            QStringList said;
            for (const auto &m : regions::mends(p, usual(), *f))
                said << QString::fromStdString(english(m.words));
            return said.join("; ");
        };
        // 620 and 240 ms at 150 degrees a second: 60 degrees both ways take 400 ms.
        QCOMPARE(words(made("glance", {{"turn-time-left", "240ms"}, {"turn-time-right", "620ms"}}),
                       "turns-unequal"),
                 QStringLiteral("Turn 60° both ways: 400 ms left, 400 ms right"));
        // From 150 to 30 degrees at 2 ms a degree and 50 ms: 290 ms.
        QCOMPARE(words(made("glance", {{"dwell", "100ms"}}), "dwell-too-short"),
                 QStringLiteral("Set 'dwell' to 290 ms"));
        QVERIFY(words(made("keep-station"), "lost-target-chased")
                    .startsWith("Stand after 3 readings without an echo"));
        QVERIFY(words(made("straddle"), "sensor-sense-opposite").contains("Say 0 for 1"));
        // One hole is closed by one word; of two no single word closes both.
        QVERIFY(words(made("keep-station", {{"near-compare", "lt"}}), "reading-without-action")
                    .contains("≤"));
        QCOMPARE(words(made("keep-station", {{"near-compare", "lt"}, {"far-compare", "lt"}}),
                       "reading-without-action"),
                 QString("Let both limits belong to a rule"));
    }

    /// A search that is no longer wanted ends.
    void theSearchCanBeStopped()
    {
        const auto p = made("keep-station", {{"near-compare", "lt"}});
        const auto all = regions::check(p, usual());
        const auto *f = of(all, "reading-without-action");
        QVERIFY(f);
        int asked = 0;
        QVERIFY(regions::mends(p, usual(), *f, 2, [&] { return ++asked > 0; }).empty());
        QCOMPARE(asked, 1);
    }

    /// What nobody has chosen is nobody's to mend: no policy is invented.
    void whatIsUnsetIsNotChosen()
    {
        auto p = made("fan");
        p.readings[0].noEcho = rules::NoEcho::Unset;
        const auto all = rules::check(p, {});
        const auto *f = of(all, "no-echo-policy-unset");
        QVERIFY(f);
        QVERIFY(regions::mends(p, usual(), *f).empty());
    }

    /// A rule's opposite follows, so that no hole is made by choosing a word.
    void choosingKeepsOpposites()
    {
        auto p = made("halt");
        QVERIFY(sentences::choose(p, "compare:0:0:", 1));
        QVERIFY(p.everywhere[0].when[0].compare == rules::Compare::Less);
        QVERIFY(p.everywhere[1].when[0].compare == rules::Compare::GreaterOrEqual);
        QVERIFY(!sentences::choose(p, "compare:9:0:", 0));
        QVERIFY(!sentences::choose(p, "compare:x:0:", 0));
        QVERIFY(!sentences::choose(p, "policy:behind", 0));
        QVERIFY(!sentences::choose(p, "policy:ahead", 7));
    }

    /// Every value of every template stands in its sentences, and every word can be chosen.
    void sentencesHoldEveryChoice()
    {
        for (const auto &t : io::templates()) {
            const auto p = made(t.name);
            std::set<std::string> values;
            for (const auto &sentence : sentences::sentences(p))
                for (const auto &token : sentence.tokens) {
                    QVERIFY(!token.text.empty());
                    if (token.target.starts_with("value:"))
                        values.insert(token.target.substr(6));
                    if (token.kind == sentences::Token::Kind::Word) {
                        const auto all = sentences::options(p, token.target);
                        QVERIFY2(all.size() > 1, token.target.c_str());
                        for (std::size_t i = 0; i < all.size(); ++i) {
                            auto copy = p;
                            QVERIFY(sentences::choose(copy, token.target, i));
                            QVERIFY(rules::broken(copy).empty());
                        }
                    }
                }
            for (const auto &v : p.values)
                QVERIFY2(values.contains(v.name), (t.name + " " + v.name).c_str());
        }
    }
};

BADGER_TEST(TestMend)
#include "test_mend.moc"
