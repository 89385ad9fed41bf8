// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/table.h"
#include "support/fixture.h"

#include <array>
#include <random>

using namespace badger;
using rules::CellKind;
using rules::NoEcho;
using test::Bench;

class TestTable final : public QObject
{
    Q_OBJECT
private slots:
    void haltAt32()
    {
        Bench b;
        const auto t = rules::table(b.program, "ahead");
        VERIFY_OK(t);
        QCOMPARE(t->last(), 120L);
        const auto &runs = t->runs;
        QCOMPARE(runs.size(), size_t(3));
        QVERIFY(runs[0].row.countsAsNone);
        QCOMPARE(runs[1].first, 1L);
        QCOMPARE(runs[1].last, 32L);
        QCOMPARE(runs[1].row.to(), std::string("stands"));
        QCOMPARE(runs[2].first, 33L);
        QCOMPARE(runs[2].last, 120L);
        QCOMPARE(runs[2].row.to(), std::string("drives"));
        QCOMPARE(t->none.to(), std::string("drives"));
    }

    void eachReadingHasOneActionFromEveryState()
    {
        Bench b;
        const auto t = rules::table(b.program, "ahead");
        for (long n = 0; n <= t->last(); ++n) {
            const auto &row = t->at(n);
            QCOMPARE(row.cells.size(), size_t(2));
            QVERIFY(!row.to().empty());
            for (const auto &cell : row.cells) {
                QVERIFY(cell.kind == CellKind::Action);
                QVERIFY(!cell.overlap);
            }
        }
    }

    /// The table asks rules only where one of their limits lies; a pass asks them all.
    void atEveryNumberItSaysWhatAPassDoes()
    {
        std::mt19937 random(5);
        const auto some = [&](unsigned n) { return static_cast<unsigned>(random() % n); };
        for (int round = 0; round < 60; ++round) {
            Bench b;
            auto &p = b.program;
            p.values.push_back({"b", "", rules::ValueKind::Distance, 0.01 * some(130)});
            p.values.push_back({"c", "", rules::ValueKind::Distance, 0.0037 * some(300)});
            b.value("halt").si = 0.005 * some(260);
            b.reading().number = some(2) ? rules::NumberType::Whole : rules::NumberType::Fraction;
            b.reading().noEcho =
                std::array{NoEcho::Clear, NoEcho::Blocked, NoEcho::Stop, NoEcho::Ignore}[some(4)];
            for (unsigned i = 0; i < 4; ++i) {
                rules::Rule r;
                r.name = "r" + std::to_string(i);
                for (unsigned k = 0; k < some(3); ++k)
                    r.when.push_back(
                        {"ahead", rules::Compare(some(4)), std::array{"halt", "b", "c"}[some(3)]});
                r.go = some(2) ? "stands" : "drives";
                r.endsPass = some(3) > 0;
                (some(2) ? p.everywhere : p.states[some(2)].rules).push_back(r);
            }
            const auto t = rules::table(p, "ahead");
            VERIFY_OK(t);
            for (long n = 0; n <= t->last(); ++n) {
                const auto &row = t->at(n);
                for (size_t s = 0; s < p.states.size(); ++s) {
                    rules::Memory memory{p.states[s].name, {}, {}};
                    const auto heard = n == 0 ? std::nullopt : std::optional<double>(double(n));
                    const auto pass = rules::decideSettled(p, memory, {{"ahead", heard}});
                    QCOMPARE(row.cells[s].to, pass.state);
                    QCOMPARE(row.cells[s].kind == CellKind::Hole, pass.why == rules::Why::NoRule);
                    const auto all = rules::matching(p, p.states[s].name, {{"ahead", heard}});
                    QCOMPARE(row.cells[s].first.has_value(), !all.empty());
                    QVERIFY(all.empty() || *row.cells[s].first == all.front());
                    QCOMPARE(row.cells[s].overlap,
                             std::any_of(all.begin(), all.end(), [&](const rules::Fired &f) {
                                 // What happens otherwise is no second limit.
                                 return f.go != all.front().go &&
                                        !rules::ruleOf(p, f)->when.empty();
                             }));
                }
            }
        }
    }

    void noneFollowsThePolicy_data()
    {
        QTest::addColumn<int>("policy");
        QTest::addColumn<QString>("to");
        QTest::newRow("clear") << int(NoEcho::Clear) << "drives";
        QTest::newRow("blocked") << int(NoEcho::Blocked) << "stands";
        QTest::newRow("stop") << int(NoEcho::Stop) << "stands";
        QTest::newRow("ignore: depends") << int(NoEcho::Ignore) << "";
        QTest::newRow("hold: depends") << int(NoEcho::HoldLast) << "";
    }
    void noneFollowsThePolicy()
    {
        QFETCH(int, policy);
        QFETCH(QString, to);
        Bench b;
        b.reading().noEcho = NoEcho(policy);
        const auto t = rules::table(b.program, "ahead");
        VERIFY_OK(t);
        QCOMPARE(QString::fromStdString(t->none.to()), to);
        QCOMPARE(t->at(0).to(), t->none.to()); // 0 is no echo
    }

    void unsetIsRefusedWithTheNames()
    {
        Bench b;
        b.value("halt").si.reset();
        b.reading().noEcho = NoEcho::Unset;
        const auto t = rules::table(b.program, "ahead");
        QVERIFY(!t);
        QVERIFY(t.error().kind == Error::Kind::Missing);
        QCOMPARE(english(t.error().what),
                 std::string("not chosen yet: the value 'halt', stop at this "
                             "distance; what no echo means for 'ahead'"));
    }

    void unknownReadingAndHugeTable()
    {
        Bench b;
        QVERIFY(!rules::table(b.program, "behind"));
        b.reading().limit_m = 30.0;
        b.reading().unit = units::Unit::Millimetre;
        const auto t = rules::table(b.program, "ahead");
        QVERIFY(!t);
        QVERIFY(t.error().kind == Error::Kind::OutOfRange);
    }

    void holesAndOverlaps()
    {
        Bench b;
        b.program.values.push_back({"far", "go again", rules::ValueKind::Distance, 0.4});
        b.program.everywhere[1].when[0].value = "far"; // clear: > 40
        auto t = rules::table(b.program, "ahead");
        QVERIFY(t->at(33).cells[0].kind == CellKind::Hole);
        QVERIFY(t->at(40).cells[1].kind == CellKind::Hole);
        QVERIFY(t->at(41).cells[0].kind == CellKind::Action);
        // A hole keeps the state, so what happens depends on it.
        QCOMPARE(t->at(33).to(), std::string());

        b.value("far").si = 0.25; // clear: > 25, near: <= 32
        t = rules::table(b.program, "ahead");
        QVERIFY(!t->at(25).cells[0].overlap);
        QVERIFY(t->at(26).cells[0].overlap);
        QVERIFY(t->at(32).cells[0].overlap);
        QVERIFY(!t->at(33).cells[0].overlap);
        QCOMPARE(t->at(30).to(), std::string("stands")); // the first rule decides
    }

    void bandsOfWholeNumbersEndJustUnderTheNext()
    {
        Bench b;
        const auto bands = rules::bands(b.program, "ahead");
        VERIFY_OK(bands);
        QCOMPARE(bands->size(), size_t(3));
        COMPARE_NEAR((*bands)[1].from_m, 0.01, 1e-12);
        COMPARE_NEAR((*bands)[1].to_m, 0.33, 1e-12);
        COMPARE_NEAR(bands->back().to_m, 1.2, 1e-12);
        COMPARE_NEAR(*rules::effectiveEdge_m(b.program, *bands), 0.33, 1e-12);
    }

    void edges_data()
    {
        QTest::addColumn<bool>("whole");
        QTest::addColumn<bool>("inclusive");
        QTest::addColumn<double>("threshold_m");
        QTest::addColumn<double>("edge_m");
        QTest::newRow("whole <= 32: 32.9 counts as 32") << true << true << 0.32 << 0.33;
        QTest::newRow("whole < 32") << true << false << 0.32 << 0.32;
        QTest::newRow("whole <= 29.21") << true << true << 0.2921 << 0.30;
        QTest::newRow("whole < 29.21") << true << false << 0.2921 << 0.30;
        QTest::newRow("fraction <= 32") << false << true << 0.32 << 0.32;
        QTest::newRow("fraction < 29.21") << false << false << 0.2921 << 0.2921;
    }
    void edges()
    {
        QFETCH(bool, whole);
        QFETCH(bool, inclusive);
        QFETCH(double, threshold_m);
        QFETCH(double, edge_m);
        Bench b;
        b.reading().number = whole ? rules::NumberType::Whole : rules::NumberType::Fraction;
        b.value("halt").si = threshold_m;
        using rules::Compare;
        b.program.everywhere[0].when[0].compare = inclusive ? Compare::LessOrEqual : Compare::Less;
        b.program.everywhere[1].when[0].compare =
            inclusive ? Compare::Greater : Compare::GreaterOrEqual;
        const auto bands = rules::bands(b.program, "ahead");
        VERIFY_OK(bands);
        COMPARE_NEAR(*rules::effectiveEdge_m(b.program, *bands), edge_m, 1e-6);
    }

    void bandsCoverTheScaleWithoutGap()
    {
        for (const auto number : {rules::NumberType::Whole, rules::NumberType::Fraction})
            for (const auto unit :
                 {units::Unit::Centimetre, units::Unit::Inch, units::Unit::Millimetre}) {
                Bench b;
                b.reading().number = number;
                b.reading().unit = unit;
                const auto bands = rules::bands(b.program, "ahead");
                VERIFY_OK(bands);
                COMPARE_NEAR(bands->front().from_m, 0.0, 1e-12);
                COMPARE_NEAR(bands->back().to_m, 1.2, 0.0255);
                for (size_t i = 1; i < bands->size(); ++i)
                    COMPARE_NEAR((*bands)[i].from_m, (*bands)[i - 1].to_m, 1e-12);
            }
    }

    void noEdgeWhereItNeverStops()
    {
        Bench b;
        b.program.everywhere[0].go = "drives";
        const auto bands = rules::bands(b.program, "ahead");
        QVERIFY(!rules::effectiveEdge_m(b.program, *bands));
    }

    void explainsInWords()
    {
        Bench b;
        const auto say = [&](std::optional<double> n) {
            return rules::explainRow(b.program, "ahead", rules::rowAt(b.program, "ahead", n), n);
        };
        QCOMPARE(english(say(29.0)), std::string("stands, braked: 29 ≤ 32, rule 'near'"));
        QCOMPARE(english(say(33.0)), std::string("drives: 33 > 32, rule 'clear'"));
        QCOMPARE(english(say(std::nullopt)), std::string("drives: no echo counts as clear"));
        QCOMPARE(english(say(0.0)), std::string("drives: 0 is no echo; no echo counts as clear"));
        b.reading().noEcho = NoEcho::Ignore;
        QCOMPARE(english(say(std::nullopt)),
                 std::string("from 'stands' it stands, braked (no echo counts as ignore); from "
                             "'drives' it drives (no echo counts as ignore)"));
    }

    void medianDoesNotBlurTheTable()
    {
        Bench b;
        const auto before = rules::table(b.program, "ahead");
        b.reading().medianOf = 5;
        const auto after = rules::table(b.program, "ahead");
        for (long n = 0; n <= before->last(); ++n)
            QVERIFY(before->at(n) == after->at(n));
    }
};

BADGER_TEST(TestTable)
#include "test_table.moc"
