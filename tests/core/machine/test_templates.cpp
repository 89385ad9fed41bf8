// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/made.h"
#include "support/fixture.h"

using namespace badger;
using test::enough;
using test::made;

class TestTemplates final : public QObject
{
    Q_OBJECT

    static Result<rules::Program> from(const std::string &name, const io::Choices &choices)
    {
        return io::fromTemplate(name, choices, {}, Id<rules::Program>{"id"}, name);
    }

    /// What gives a template its shape, and nothing more.
    static io::Choices shape(const io::Template &t)
    {
        io::Choices choices;
        for (const auto &c : t.choices)
            if (c.shapes)
                choices[c.key] = c.words.front();
        return choices;
    }

private slots:
    void everyFamilyIsThere()
    {
        QStringList names;
        for (const auto &t : io::templates()) {
            names.push_back(QString::fromStdString(t.name));
            QVERIFY(!t.what.empty());
            QVERIFY(!t.why.empty());
        }
        QCOMPARE(names.join(' '),
                 QStringLiteral("halt retreat keep-station back-and-turn turn-away back-and-wander "
                                "glance first-free-side fan fixed-rangers guarded-drive table-edge "
                                "wall-hold hand-follow straddle edge-glide edge-zigzag lane "
                                "direct"));
    }

    /// No threshold, duration or speed is invented: what has no default is unset, and is named.
    void nothingIsInvented()
    {
        for (const auto &t : io::templates()) {
            const auto program = from(t.name, shape(t));
            VERIFY_OK(program);
            for (const auto &v : program->values)
                if (v.si) {
                    const auto *c = t.choice(v.name);
                    QVERIFY2((c && c->defaultWord) || t.name == "direct", v.name.c_str());
                }
            for (const auto &c : t.choices) {
                if (!c.defaultWord)
                    continue;
                QVERIFY2(c.kind == "word" || c.key == "median" || c.key == "wait", c.key.c_str());
            }
            QVERIFY2(!rules::unset(*program).empty(), t.name.c_str());
        }
    }

    void withEnoughChosenNothingIsUnset()
    {
        for (const auto &t : io::templates()) {
            const auto program = made(t.name);
            const auto missing = rules::unset(program);
            QVERIFY2(missing.empty(), missing.empty() ? "" : english(missing.front()).c_str());
            QVERIFY(rules::broken(program).empty());
            QVERIFY(machine::lower(program).has_value());
        }
    }

    /// One choice at a time is left out: exactly that is unset, or the template can do without it.
    void whatIsLeftOutIsUnset()
    {
        for (const auto &t : io::templates())
            for (const auto &[key, word] : enough(t.name)) {
                auto choices = enough(t.name);
                choices.erase(key);
                const auto program = from(t.name, choices);
                QCOMPARE(program.has_value(), !t.choice(key)->shapes);
                if (program)
                    QVERIFY2(!rules::unset(*program).empty(), (t.name + " " + key).c_str());
                else
                    QVERIFY(english(program.error().text()).find("not chosen") !=
                            std::string::npos);
            }
    }

    void everyWordOfEveryChoiceMakesAProgram()
    {
        for (const auto &t : io::templates())
            for (const auto &c : t.choices)
                for (const auto &word : c.words) {
                    if (!c.when.empty())
                        continue;
                    auto choices = enough(t.name);
                    choices[c.key] = word;
                    if (c.key == "source")
                        for (const char *key : {"near", "far"})
                            choices[key] = word == "raw"          ? "500"
                                           : word == "normalised" ? "0.5"
                                                                  : "20cm";
                    const auto program = from(t.name, choices);
                    QVERIFY2(program.has_value(), (t.name + " " + c.key + "=" + word).c_str());
                    QVERIFY(rules::broken(*program).empty());
                }
    }

    void whatCannotBeMeantIsRefused_data()
    {
        QTest::addColumn<QString>("name");
        QTest::addColumn<QString>("key");
        QTest::addColumn<QString>("word");
        QTest::addColumn<QString>("says");
        QTest::newRow("template") << "sonar"
                                  << ""
                                  << ""
                                  << "there is no template";
        QTest::newRow("choice") << "halt"
                                << "tie"
                                << "left"
                                << "no such choice";
        QTest::newRow("word") << "halt"
                              << "compare"
                              << "ge"
                              << "le, lt";
        QTest::newRow("no unit") << "halt"
                                 << "threshold"
                                 << "30"
                                 << "unit";
        QTest::newRow("wrong unit") << "halt"
                                    << "threshold"
                                    << "30ms"
                                    << "ms";
        QTest::newRow("nan") << "halt"
                             << "speed"
                             << "nan"
                             << "no number";
        QTest::newRow("speed") << "halt"
                               << "speed"
                               << "300"
                               << "out of range";
        QTest::newRow("half a count") << "halt"
                                      << "speed"
                                      << "140.5"
                                      << "out of range";
        QTest::newRow("median") << "halt"
                                << "median"
                                << "4"
                                << "no middle";
        QTest::newRow("limit") << "halt"
                               << "limit"
                               << "99m"
                               << "";
        QTest::newRow("angles") << "glance"
                                << "angles"
                                << "30"
                                << "angle";
        QTest::newRow("angle") << "glance"
                               << "angles"
                               << "30,200"
                               << "out of range";
        QTest::newRow("angle word") << "glance"
                                    << "angles"
                                    << "30,left"
                                    << "no number";
        QTest::newRow("switched off") << "hand-follow"
                                      << "dark"
                                      << "240"
                                      << "means nothing";
        QTest::newRow("shape") << "turn-away"
                               << "turn-speed"
                               << "120"
                               << "turn-side";
        QTest::newRow("source") << "hand-follow"
                                << "near"
                                << "20cm"
                                << "no number";
    }
    void whatCannotBeMeantIsRefused()
    {
        QFETCH(QString, name);
        QFETCH(QString, key);
        QFETCH(QString, word);
        QFETCH(QString, says);
        io::Choices choices;
        if (!key.isEmpty())
            choices[key.toStdString()] = word.toStdString();
        const auto program = from(name.toStdString(), choices);
        QVERIFY(!program);
        const auto text = QString::fromStdString(english(program.error().text()));
        QVERIFY2(text.contains(says), qPrintable(text));
    }

    /// A size that no program may hold is said of the choice as it is typed, in every family.
    void aSizeThatDoesNotFitIsSaidOfItsChoice()
    {
        int asked = 0;
        for (const auto &t : io::templates())
            for (const auto &c : t.choices) {
                if (c.kind != "distance" && c.kind != "duration")
                    continue;
                auto choices = enough(t.name);
                choices[c.key] = c.kind == "distance" ? "-300cm" : "-5ms";
                const auto program = from(t.name, choices);
                const auto at = t.name + " " + c.key;
                QVERIFY2(!program, at.c_str());
                if (program.error().kind == Error::Kind::Conflict)
                    continue; // another choice switches it off
                const auto where = english(program.error().where);
                QVERIFY2(where == "--set " + c.key, (at + ": " + where).c_str());
                ++asked;
            }
        QVERIFY2(asked > 60, std::to_string(asked).c_str());
    }

    /// Nothing that is chosen is dropped in silence: two sizes or two words of a choice make two
    /// programs, or the choice is refused.
    void aChoiceThatChangesNothingIsRefused()
    {
        const std::map<std::string, std::pair<std::string, std::string>> sizes = {
            {"distance", {"31cm", "37cm"}}, {"duration", {"310ms", "370ms"}},
            {"timed", {"310ms", "370ms"}},  {"blocking", {"310ms", "370ms"}},
            {"pwm", {"131", "137"}},        {"speed", {"131", "137"}},
            {"count", {"301", "307"}},      {"number", {"3", "5"}},
            {"times", {"3", "5"}},          {"share", {"0.5", "0.7"}},
            {"temperature", {"18C", "19C"}}};
        int asked = 0;
        QStringList dropped;
        for (const auto &t : io::templates())
            for (const auto &c : t.choices) {
                const auto size = sizes.find(c.kind);
                if (size == sizes.end() && c.words.size() < 2)
                    continue;
                auto choices = enough(t.name);
                const auto with = [&](const std::string &typed) {
                    choices[c.key] = typed;
                    auto program = from(t.name, choices);
                    if (program)
                        program->from = {};
                    return program;
                };
                const auto one = with(size == sizes.end() ? c.words[0] : size->second.first);
                const auto two = with(size == sizes.end() ? c.words[1] : size->second.second);
                if (!one || !two)
                    continue;
                if (*one == *two)
                    dropped.push_back(QString::fromStdString(t.name + " " + c.key));
                ++asked;
            }
        QCOMPARE(dropped.join(", "), QString());
        QVERIFY2(asked > 200, std::to_string(asked).c_str());
    }

    void aChoiceCanBeChangedLater()
    {
        const auto before = made("keep-station");
        const auto after = io::withChoices(before, {{"far", "60cm"}, {"near-compare", "lt"}}, {});
        VERIFY_OK(after);
        QCOMPARE(*after->value("far")->si, 0.6);
        QVERIFY(after->everywhere.front().when.front().compare == rules::Compare::Less);
        QCOMPARE(after->from->choices.at("far"), std::string("60cm"));
        QVERIFY(after->id == before.id);
    }

    /// A program that a hand has changed is not made again over the hand's work.
    void aChangedProgramKeepsItsChanges()
    {
        auto program = made("keep-station");
        program.everywhere.pop_back();
        const auto value = io::withChoices(program, {{"far", "60cm"}}, {});
        VERIFY_OK(value);
        QCOMPARE(*value->value("far")->si, 0.6);
        QCOMPARE(value->everywhere.size(), program.everywhere.size());
        const auto word = io::withChoices(program, {{"near-compare", "lt"}}, {});
        QVERIFY(!word);
        QVERIFY(english(word.error().text()).find("changed by hand") != std::string::npos);
    }
};

BADGER_TEST(TestTemplates)
#include "test_templates.moc"
