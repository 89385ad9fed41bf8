// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers typed into sentences, rows of CSV text, references that lead nowhere.
#include "core/machine/made.h"
#include "core/sentences/sentences.h"
#include "core/tune/csv_rows.h"
#include "support/fixture.h"

using namespace badger;
using rules::ValueKind;
using test::made;

class TestTypeOver final : public QObject
{
    Q_OBJECT
private slots:
    void aNumberIsTakenInItsUnits_data()
    {
        QTest::addColumn<int>("kind");
        QTest::addColumn<QString>("text");
        QTest::addColumn<double>("si");
        const auto row = [](const char *name, ValueKind kind, const char *text, double si) {
            QTest::newRow(name) << int(kind) << QString(text) << si;
        };
        row("cm", ValueKind::Distance, "30 cm", 0.3);
        row("inches with a comma", ValueKind::Distance, "11,5in", 0.2921);
        row("ms", ValueKind::Duration, "420ms", 0.42);
        row("s", ValueKind::Duration, "1.2 s", 1.2);
        row("ms a degree", ValueKind::PerDegree, "9 ms/deg", 0.009);
        row("ms alone", ValueKind::PerDegree, "9ms", 0.009);
        row("count", ValueKind::Speed, "140", 140.0);
        row("share", ValueKind::Share, "0,6", 0.6);
        row("negative share", ValueKind::Share, "-0.5", -0.5);
        row("angle", ValueKind::Angle, "90", 90.0);
        row("angle with its sign", ValueKind::Angle, "90°", 90.0);
        row("angle with its word", ValueKind::Angle, "90 deg", 90.0);
        row("times", ValueKind::Times, "3", 3.0);
    }
    void aNumberIsTakenInItsUnits()
    {
        QFETCH(int, kind);
        QFETCH(QString, text);
        QFETCH(double, si);
        rules::Program p;
        p.values.push_back({"v", "", static_cast<ValueKind>(kind), std::nullopt, {}, true});
        const auto taken = sentences::typeOver(p, "value:v", text.toStdString());
        QVERIFY2(taken.has_value(), taken ? "" : english(taken.error().text()).c_str());
        QVERIFY(std::abs(*p.values.front().si - si) < 1e-9);
        QVERIFY(!p.values.front().suggested);
    }

    void whatCannotBeReadIsRefused_data()
    {
        QTest::addColumn<int>("kind");
        QTest::addColumn<QString>("text");
        int i = 0;
        for (const auto &[kind, text] : {std::pair{ValueKind::Distance, "30"},
                                         {ValueKind::Distance, "30ms"},
                                         {ValueKind::Distance, "far"},
                                         {ValueKind::Duration, "2cm"},
                                         {ValueKind::Duration, "nan s"},
                                         {ValueKind::Speed, "fast"},
                                         {ValueKind::Speed, "140 cm"},
                                         {ValueKind::Speed, ""},
                                         {ValueKind::Share, "inf"},
                                         {ValueKind::Angle, "left"},
                                         {ValueKind::Times, "3x"}})
            QTest::addRow("%d %s", ++i, text) << int(kind) << QString(text);
    }
    void whatCannotBeReadIsRefused()
    {
        QFETCH(int, kind);
        QFETCH(QString, text);
        rules::Program p;
        p.values.push_back({"v", "", static_cast<ValueKind>(kind), 1.0});
        const auto before = p;
        QVERIFY(!sentences::typeOver(p, "value:v", text.toStdString()));
        QVERIFY(p == before);
        QVERIFY(!sentences::typeOver(p, "value:w", "1"));
    }

    void rowsOfText()
    {
        const auto rows = tune::csvRows("time_ms; ahead\n0; none\n\n9; 4 \r\n", "x");
        VERIFY_OK(rows);
        QCOMPARE(rows->size(), size_t(3));
        QCOMPARE(rows->at(2), (std::vector<std::string>{"9", "4"}));
        QCOMPARE(tune::csvRows("\xEF\xBB\xBF"
                               "a\tb\n1\t2",
                               "x")
                     ->at(0)
                     .front(),
                 std::string("a"));
        QCOMPARE(tune::csvRows("a,\"b,c\"\n1,2", "x")->at(0).back(), std::string("b,c"));
        for (const char *text : {"", "\n\n", "a,b\n1", "a\n1,2"})
            QVERIFY(!tune::csvRows(text, "x"));
    }

    /// Each reference bent by hand is named; nothing of it can be lowered.
    void referencesThatLeadNowhere_data()
    {
        QTest::addColumn<QString>("name");
        QTest::addColumn<int>("bend");
        int i = 0;
        for (const char *name : {"keep-station", "glance", "glance", "fan", "fan", "lane",
                                 "edge-glide", "edge-glide", "guarded-drive", "straddle",
                                 "fixed-rangers", "keep-station", "hand-follow", "back-and-wander"})
            QTest::addRow("%s %d", name, i) << QString(name) << i, ++i;
    }
    void referencesThatLeadNowhere()
    {
        QFETCH(QString, name);
        QFETCH(int, bend);
        auto p = made(name.toStdString());
        QVERIFY(rules::broken(p).empty());
        const std::vector<std::function<void(rules::Program &)>> bends = {
            [](auto &q) { q.everywhere[0].when[0].reading = "behind"; },
            [](auto &q) { q.readings[1].swivel->dwell = "nap"; },
            [](auto &q) { q.states[2].rules[0].when[0].other = "up"; },
            [](auto &q) { q.readings[1].swivel.reset(); },
            [](auto &q) { q.states[3].motion.proportion->reading = "ahead"; },
            [](auto &q) { q.memos.clear(); },
            [](auto &q) { q.states[0].motion.proportion->low = "speed"; },
            [](auto &q) { q.states[0].motion.proportion->gain = "dark"; },
            [](auto &q) { q.everywhere[0].when[0].other = "up"; },
            [](auto &q) {
                q.everywhere[0].when[0].test = rules::Test::Number;
                q.everywhere[0].when[0].value = "speed";
            },
            [](auto &q) { q.readings[3].of = {"nearest"}; },
            [](auto &q) { q.values[0].kind = ValueKind::Duration; },
            [](auto &q) { q.everywhere[0].when[0].value = "speed"; },
            [](auto &q) { q.states[4].wait->most = "speed"; },
        };
        bends[static_cast<size_t>(bend)](p);
        QVERIFY(!rules::broken(p).empty());
        QVERIFY(!english(rules::broken(p).front()).empty());
        const auto m = machine::lower(p);
        QVERIFY(!m);
        QVERIFY(m.error().kind == Error::Kind::Malformed);
    }

    /// How a state waits, and what takes time on the way into it, are words of the page.
    void howItWaitsIsAWord()
    {
        auto p = made("glance", {{"waits", "blocking"}});
        int words = 0;
        for (const auto &s : sentences::sentences(p))
            for (const auto &t : s.tokens) {
                const bool waits = t.target.starts_with("wait:") || t.target == "actions:";
                if (!waits)
                    continue;
                ++words;
                QCOMPARE(sentences::standing(p, t.target), size_t(0));
                QCOMPARE(sentences::options(p, t.target).size(), size_t(2));
                QVERIFY(sentences::choose(p, t.target, 1));
                QCOMPARE(sentences::standing(p, t.target), size_t(1));
                QVERIFY(!sentences::choose(p, t.target, 2));
            }
        QCOMPARE(words, 3); // both turns wait; its glances turn a servo
        QVERIFY(p.actionsKind == rules::WaitKind::Timed);
        QVERIFY(p == made("glance", {{"waits", "timed"}}) ||
                p.states == made("glance", {{"waits", "timed"}}).states);
        QVERIFY(!sentences::choose(p, "wait:drives", 0)); // it does not wait
    }
};

BADGER_TEST(TestTypeOver)
#include "test_type_over.moc"
