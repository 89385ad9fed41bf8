// SPDX-License-Identifier: GPL-3.0-or-later
// Sentences added, moved and taken out, and words changed: what is left always holds together.
#include "core/machine/made.h"
#include "core/regions/check.h"
#include "core/sentences/rewrite.h"
#include "support/fixture.h"

#include <random>

using namespace badger;
using sentences::Rewrite;
using sentences::Sentence;
using test::made;

class TestRewrite final : public QObject
{
    Q_OBJECT

    static QString broken(const rules::Program &p)
    {
        QStringList all;
        for (const auto &s : rules::broken(p))
            all << QString::fromStdString(english(s));
        return all.join("; ");
    }
    /// The sentence of a rule, or the heading of a state.
    static Sentence at(const rules::Program &p, const std::string &state, int rule = 0)
    {
        for (const auto &s : sentences::sentences(p))
            if (rule > 0 ? s.kind == Sentence::Kind::Rule && s.state == state && s.number == rule
                         : s.kind == Sentence::Kind::Heading && s.about == "state:" + state)
                return s;
        qFatal("no such sentence");
    }
    static std::string text(const Sentence &s)
    {
        std::string all;
        for (const auto &t : s.tokens)
            all += (all.empty() ? "" : " ") + english(t.text);
        return all;
    }
    static std::vector<std::string> templateNames()
    {
        std::vector<std::string> names;
        for (const auto &t : io::templates())
            names.push_back(t.name);
        return names;
    }

private slots:
    /// Each change alone, at each sentence of each template.
    void whateverIsDone()
    {
        int changes = 0;
        int refused = 0;
        for (const auto &name : templateNames()) {
            const auto p = made(name);
            for (const auto &s : sentences::sentences(p))
                for (const auto what : sentences::rewrites(p, s)) {
                    QVERIFY(!sentences::words(what, p, s).empty());
                    auto changed = p;
                    const auto target = sentences::rewrite(changed, s, what);
                    if (!target) {
                        ++refused;
                        QVERIFY(changed == p);
                        QVERIFY(!target.error().mend.empty());
                        continue;
                    }
                    ++changes;
                    QVERIFY2(!(changed == p), name.c_str());
                    QVERIFY2(broken(changed).isEmpty(), qPrintable(broken(changed)));
                    // What was not chosen before is new, and nothing that is chosen was invented.
                    for (const auto &v : changed.values)
                        QVERIFY(p.value(v.name) ? *p.value(v.name) == v : !v.si.has_value());
                }
        }
        QVERIFY(changes > 1000);
        QVERIFY(refused > 50);
    }

    void whatIsAddedCanBeTakenOut()
    {
        for (const auto &name : templateNames()) {
            const auto p = made(name);
            for (const auto &s : sentences::sentences(p)) {
                if (s.kind != Sentence::Kind::Rule)
                    continue;
                auto changed = p;
                VERIFY_OK(sentences::rewrite(changed, s, Rewrite::AddRule));
                VERIFY_OK(sentences::rewrite(changed, at(changed, s.state, s.number + 1),
                                             Rewrite::Remove));
                QVERIFY2(changed == p, name.c_str());
                if (s.number == 1)
                    continue;
                VERIFY_OK(sentences::rewrite(changed, s, Rewrite::MoveUp));
                VERIFY_OK(sentences::rewrite(changed, at(changed, s.state, s.number - 1),
                                             Rewrite::MoveDown));
                QVERIFY2(changed == p, name.c_str());
            }
        }
    }

    void aRuleIsAdded()
    {
        auto p = made("halt");
        const auto first = sentences::sentences(p);
        const auto rule = std::find_if(first.begin(), first.end(), [](const Sentence &s) {
            return s.kind == Sentence::Kind::Rule;
        });
        const auto target = sentences::rewrite(p, *rule, Rewrite::AddRule);
        VERIFY_OK(target);
        const auto added = at(p, rule->state, 2);
        QCOMPARE(text(added), std::string("else when ahead ≤ … → stands"));
        QVERIFY(std::any_of(added.tokens.begin(), added.tokens.end(),
                            [&](const auto &t) { return t.target == *target; }));
        QCOMPARE(rules::unset(p).size(), size_t(1));
        QVERIFY(sentences::rewrite(p, added, Rewrite::AddCondition).has_value());
        QVERIFY(sentences::rewrite(p, at(p, rule->state, 2), Rewrite::OnlyOneNeeded).has_value());
        QVERIFY(sentences::rewrite(p, at(p, rule->state, 2), Rewrite::Sure).has_value());
        QVERIFY(sentences::rewrite(p, at(p, rule->state, 2), Rewrite::EndOrGoOn).has_value());
        QCOMPARE(text(at(p, rule->state, 2)),
                 std::string("else when ahead ≤ … or ahead ≤ … in … passes → stands and the next "
                             "rule is tested on the same readings"));
    }

    void aStateThatIsNeededStays()
    {
        auto p = made("halt");
        const auto before = p;
        const auto refused = sentences::rewrite(p, at(p, "stands"), Rewrite::Remove);
        QVERIFY(!refused);
        QVERIFY(english(refused.error().what).ends_with("leads to it"));
        QVERIFY(p == before);
        VERIFY_OK(sentences::rewrite(p, at(p, "stands"), Rewrite::AddState));
        VERIFY_OK(sentences::rewrite(p, at(p, "state"), Rewrite::AddWait));
        VERIFY_OK(sentences::rewrite(p, at(p, "state"), Rewrite::AddBeep));
        QCOMPARE(text(at(p, "state")),
                 std::string("state · stands, braked , beeps for … , for … blindly → stands"));
        VERIFY_OK(sentences::typeOver(p, "name:state", "chirps"));
        QVERIFY(p.state("chirps"));
        QVERIFY(!sentences::typeOver(p, "name:chirps", "stands"));
        VERIFY_OK(sentences::rewrite(p, at(p, "chirps"), Rewrite::Remove));
        QVERIFY(p == before);
    }

    /// The name of a state is followed by everything that leads to it.
    void aNameIsFollowed()
    {
        for (const auto &name : templateNames()) {
            const auto p = made(name);
            for (const auto &s : p.states) {
                auto changed = p;
                VERIFY_OK(sentences::typeOver(changed, "name:" + s.name, "called otherwise"));
                QVERIFY2(broken(changed).isEmpty(), qPrintable(broken(changed)));
                QVERIFY(!changed.state(s.name));
                VERIFY_OK(sentences::typeOver(changed, "name:called otherwise", s.name));
                QVERIFY(changed == p);
            }
        }
    }

    void readings()
    {
        auto p = made("halt");
        const auto target = sentences::addReading(p, {"strip.OUT1", rules::Source::Digital, {}});
        QCOMPARE(target, std::string("reading:strip-OUT1"));
        QCOMPARE(p.readings.back().instance, std::string("strip.OUT1"));
        QCOMPARE(rules::unset(p).size(), size_t(1)); // what it puts out on light
        sentences::addReading(p, {"ranger", rules::Source::Ranger, "servo"});
        QCOMPARE(p.readings.back().swivel->angles_deg, std::vector<double>{90.0});
        QVERIFY2(broken(p).isEmpty(), qPrintable(broken(p)));
        QCOMPARE(rules::unset(p).size(), size_t(5)); // dwell, air, limit and policy, too
        const auto all = sentences::sentences(p);
        const auto ahead = std::find_if(
            all.begin(), all.end(), [](const Sentence &s) { return s.about == "reading:ahead"; });
        const auto refused = sentences::rewrite(p, *ahead, Rewrite::Remove);
        QVERIFY(!refused);
        QVERIFY(english(refused.error().what).ends_with("uses it"));
    }

    /// Every option of every word of every template is taken, stands then, and breaks nothing.
    void everyWord()
    {
        int taken = 0;
        for (const auto &name : templateNames()) {
            const auto p = made(name);
            for (const auto &s : sentences::sentences(p))
                for (const auto &t : s.tokens) {
                    if (t.kind != sentences::Token::Kind::Word)
                        continue;
                    const auto words = sentences::options(p, t.target);
                    QVERIFY2(words.size() > 1 || t.target.starts_with("of:") ||
                                 t.target.starts_with("said:") || t.target.starts_with("then:"),
                             t.target.c_str());
                    for (size_t i = 0; i < words.size(); ++i) {
                        auto changed = p;
                        QVERIFY(sentences::choose(changed, t.target, i));
                        QVERIFY2(broken(changed).isEmpty(),
                                 qPrintable(QString::fromStdString(t.target) + " " +
                                            QString::fromStdString(english(words[i])) + ": " +
                                            broken(changed)));
                        QCOMPARE(sentences::standing(changed, t.target), i);
                        ++taken;
                    }
                    auto changed = p;
                    QVERIFY(!sentences::choose(changed, t.target, words.size()));
                    QVERIFY(changed == p);
                }
        }
        QVERIFY(taken > 2000);
    }

    /// A hand that does anything for a long while: it always holds together and can be checked.
    void aLongWhile_data()
    {
        QTest::addColumn<int>("seed");
        for (int seed = 1; seed <= 12; ++seed)
            QTest::addRow("seed %d", seed) << seed;
    }
    void aLongWhile()
    {
        QFETCH(int, seed);
        std::mt19937 random(static_cast<unsigned>(seed));
        const auto names = templateNames();
        auto p = made(names[random() % names.size()]);
        for (int step = 0; step < 60; ++step) {
            const auto all = sentences::sentences(p);
            const auto &s = all[random() % all.size()];
            const auto possible = sentences::rewrites(p, s);
            if (random() % 2 == 0 && !possible.empty() && p.states.size() < 9) {
                (void)sentences::rewrite(p, s, possible[random() % possible.size()]);
            } else {
                const auto &t = s.tokens[random() % s.tokens.size()];
                const auto words = sentences::options(p, t.target);
                if (!words.empty())
                    sentences::choose(p, t.target, random() % words.size());
            }
            QVERIFY2(broken(p).isEmpty(), qPrintable(broken(p)));
        }
        for (auto &v : p.values)
            if (!v.si)
                v.si = v.kind == rules::ValueKind::Distance   ? 0.2
                       : v.kind == rules::ValueKind::Duration ? 0.1
                                                              : 3.0;
        for (auto &r : p.readings) {
            r.air_degC = r.air_degC.value_or(20.0);
            r.limit_m = r.limit_m.value_or(2.0);
            r.lightLevel = r.lightLevel.value_or(1);
            if (r.noEcho == rules::NoEcho::Unset)
                r.noEcho = rules::NoEcho::Clear;
        }
        regions::check(p, {});
        const auto lowered = machine::lower(p);
        QVERIFY(lowered || lowered.error().kind == Error::Kind::Missing);
    }

    void typedFields_data()
    {
        QTest::addColumn<QString>("target");
        QTest::addColumn<QString>("text");
        QTest::addColumn<bool>("taken");
        QTest::newRow("limit") << "limit:ahead"
                               << "150 cm" << true;
        QTest::newRow("limit in inches") << "limit:ahead"
                                         << "60in" << true;
        QTest::newRow("limit in degrees") << "limit:ahead"
                                          << "60 C" << false;
        QTest::newRow("air") << "air:ahead"
                             << "12 C" << true;
        QTest::newRow("air in cm") << "air:ahead"
                                   << "12 cm" << false;
        QTest::newRow("angles") << "angles:right"
                                << "35" << true;
        QTest::newRow("two angles") << "angles:right"
                                    << "35°, 40" << true;
        QTest::newRow("no angle") << "angles:right"
                                  << " , " << false;
        QTest::newRow("beyond the servo") << "angles:right"
                                          << "200" << false;
        QTest::newRow("words") << "angles:right"
                               << "left" << false;
        QTest::newRow("no servo") << "angles:gone"
                                  << "30" << false;
        QTest::newRow("no place") << "nowhere"
                                  << "30" << false;
        QTest::newRow("no name") << "name:drives"
                                 << "" << false;
    }
    void typedFields()
    {
        QFETCH(QString, target);
        QFETCH(QString, text);
        QFETCH(bool, taken);
        auto p = made("glance");
        const auto before = p;
        const auto done = sentences::typeOver(p, target.toStdString(), text.toStdString());
        QCOMPARE(done.has_value(), taken);
        QCOMPARE(p == before, !taken);
    }

    void oneUnitInAProgram()
    {
        auto p = made("glance");
        QVERIFY(sentences::choose(p, "unit:right", 2));
        for (const auto &r : p.readings)
            QCOMPARE(r.unit, units::Unit::Inch);
        QVERIFY2(broken(p).isEmpty(), qPrintable(broken(p)));
    }
};

BADGER_TEST(TestRewrite)
#include "test_rewrite.moc"
