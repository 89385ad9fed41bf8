// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/regions/number_line.h"
#include "support/fixture.h"

#include <array>
#include <random>

using namespace badger;
using regions::Outcome;
using rules::NoEcho;
using test::Bench;

namespace
{

regions::NumberLine lineOf(const rules::Program &program)
{
    const auto machine = machine::lower(program);
    if (!machine)
        qFatal("%s", english(machine.error().text()).c_str());
    auto line = regions::numberLine(program, *machine);
    if (!line)
        qFatal("%s", english(line.error().text()).c_str());
    return *line;
}

/// A second account of the rules, from the sentences of the file format's documentation: the first
/// rule that is met decides, one that does not end the pass lets the next ones speak.
struct Told {
    std::string to;
    bool hole = true;
};
Told told(const rules::Program &p, const rules::State &from, std::optional<double> number)
{
    const auto &r = p.readings.front();
    double value = number.value_or(0.0);
    if (!number) {
        if (r.noEcho == NoEcho::Stop)
            return {p.stopState, false};
        if (r.noEcho == NoEcho::Ignore)
            return {from.name, false};
        // As far as can be heard, or as near: a limit beyond that is met by silence, too.
        value = r.noEcho == NoEcho::Clear ? units::fromSi(*r.limit_m, r.unit) : 0.0;
    }
    const auto meets = [&](const rules::Condition &c) {
        const double unit = units::info(r.unit).inSi;
        const double limit =
            double(static_cast<float>(std::round(*p.value(c.value)->si / unit * 1e4) / 1e4));
        switch (c.compare) {
        case rules::Compare::Less:
            return value < limit;
        case rules::Compare::LessOrEqual:
            return value <= limit;
        case rules::Compare::Greater:
            return value > limit;
        case rules::Compare::GreaterOrEqual:
            break;
        }
        return value >= limit;
    };
    Told result{from.name, true};
    for (const auto *list : {&p.everywhere, &from.rules})
        for (const auto &rule : *list)
            if (std::all_of(rule.when.begin(), rule.when.end(), meets)) {
                result = {rule.go, false};
                if (rule.endsPass)
                    return result;
            }
    return result;
}

std::string nameOf(const rules::Program &p, int mode)
{
    return mode < 0 ? std::string() : p.states[static_cast<size_t>(mode)].name;
}

/// The upper end of the farthest stretch in which the car does not go ahead.
double edgeOf_m(const rules::Program &p)
{
    const auto bands = regions::bands(lineOf(p));
    for (auto it = bands.rbegin(); it != bands.rend(); ++it)
        if (const int to = it->row.to(); to >= 0 && !it->countsAsNone)
            if (rules::actOf(p.states[static_cast<size_t>(to)].motion) != rules::Act::Go)
                return it->to_m;
    return -1.0;
}

} // namespace

class TestNumberLine final : public QObject
{
    Q_OBJECT
private slots:
    void haltAt32()
    {
        Bench b;
        const auto line = lineOf(b.program);
        QCOMPARE(line.limit, 120.0);
        QCOMPARE(line.stretches.size(), size_t(2));
        QCOMPARE(line.stretches[0].numbers.from, 1.0);
        QCOMPARE(line.stretches[0].numbers.to, 32.0);
        QCOMPARE(nameOf(b.program, line.stretches[0].row.to()), std::string("stands"));
        QCOMPARE(line.stretches[1].numbers.from, 33.0);
        QCOMPARE(line.stretches[1].numbers.to, 120.0);
        QCOMPARE(nameOf(b.program, line.stretches[1].row.to()), std::string("drives"));
        QCOMPARE(nameOf(b.program, line.none.to()), std::string("drives"));
        QVERIFY(&line.at(0.0) == &line.none && &line.at(121.0) == &line.none);
    }

    void atEveryNumberItSaysWhatTheRulesDo()
    {
        std::mt19937 random(5);
        const auto some = [&](unsigned n) { return static_cast<unsigned>(random() % n); };
        for (int round = 0; round < 120; ++round) {
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
            const auto line = lineOf(p);
            const auto agrees = [&](const regions::LineRow &row, std::optional<double> number) {
                QCOMPARE(row.does.size(), p.states.size());
                for (size_t s = 0; s < p.states.size(); ++s) {
                    const auto want = told(p, p.states[s], number);
                    QCOMPARE(nameOf(p, row.does[s].to), want.to);
                    QCOMPARE(row.does[s].outcome == Outcome::Hole, want.hole);
                }
            };
            agrees(line.none, std::nullopt);
            for (int n = 1; n <= 120; ++n)
                agrees(line.at(n), n);
            if (!line.whole)
                for (int n = 0; n < 200; ++n)
                    if (const double x = 0.01 + 0.599 * n; x <= line.limit)
                        agrees(line.at(x), x);
            // The stretches follow each other without a gap, and no two that touch are the same.
            for (size_t i = 1; i < line.stretches.size(); ++i) {
                const auto &a = line.stretches[i - 1];
                const auto &c = line.stretches[i];
                QVERIFY(!(a.row == c.row));
                if (line.whole)
                    QCOMPARE(c.numbers.from, a.numbers.to + 1.0);
                else
                    QVERIFY(c.numbers.from == a.numbers.to &&
                            c.numbers.openFrom != a.numbers.openTo);
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
    }
    void noneFollowsThePolicy()
    {
        QFETCH(int, policy);
        QFETCH(QString, to);
        Bench b;
        b.reading().noEcho = NoEcho(policy);
        QCOMPARE(QString::fromStdString(nameOf(b.program, lineOf(b.program).none.to())), to);
    }

    void holesAndOverlaps()
    {
        Bench b;
        b.program.values.push_back({"far", "go again", rules::ValueKind::Distance, 0.4});
        b.program.everywhere[1].when[0].value = "far"; // clear: > 40
        auto line = lineOf(b.program);
        QVERIFY(line.at(33).hasHole() && line.at(40).hasHole());
        QVERIFY(!line.at(32).hasHole() && !line.at(41).hasHole());
        QCOMPARE(line.at(33).to(), -1); // a hole keeps the state: what happens depends on it
        b.value("far").si = 0.25;       // clear: > 25, near: <= 32
        line = lineOf(b.program);
        QVERIFY(!line.at(25).hasOverlap() && line.at(26).hasOverlap());
        QVERIFY(line.at(32).hasOverlap() && !line.at(33).hasOverlap());
        QCOMPARE(nameOf(b.program, line.at(30).to()), std::string("stands")); // the first decides
    }

    void bandsCoverTheScaleWithoutGap()
    {
        for (const auto number : {rules::NumberType::Whole, rules::NumberType::Fraction})
            for (const auto unit :
                 {units::Unit::Centimetre, units::Unit::Inch, units::Unit::Millimetre}) {
                Bench b;
                b.reading().number = number;
                b.reading().unit = unit;
                const auto bands = regions::bands(lineOf(b.program));
                COMPARE_NEAR(bands.front().from_m, 0.0, 1e-12);
                COMPARE_NEAR(bands.back().to_m, 1.2, 0.0255);
                for (size_t i = 1; i < bands.size(); ++i)
                    COMPARE_NEAR(bands[i].from_m, bands[i - 1].to_m, 1e-12);
            }
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
        COMPARE_NEAR(edgeOf_m(b.program), edge_m, 1e-6);
    }

    void saysWhy()
    {
        Bench b;
        const auto said = [&](std::optional<double> n) {
            const auto machine = machine::lower(b.program);
            const auto line = lineOf(b.program);
            return english(regions::words(b.program, *machine, n ? line.at(*n) : line.none, n));
        };
        QCOMPARE(said(29.0), std::string("stands, braked: ahead ≤ 32 cm, rule 'near'"));
        QCOMPARE(said(33.0), std::string("drives: ahead > 32 cm, rule 'clear'"));
        QCOMPARE(said(std::nullopt), std::string("drives: no echo counts as clear"));
        QCOMPARE(said(0.0), std::string("drives: 0 is no echo; no echo counts as clear"));
        b.reading().noEcho = NoEcho::Ignore;
        QCOMPARE(said(std::nullopt),
                 std::string("from 'stands' it stands, braked (no echo counts as ignore); from "
                             "'drives' it drives (no echo counts as ignore)"));
    }

    void otherProgramsHaveNone()
    {
        Bench b;
        auto two = b.program;
        two.readings.push_back(two.readings.front());
        two.readings.back().name = "side";
        QVERIFY(!regions::hasNumberLine(two));
        const auto machine = machine::lower(b.program);
        VERIFY_OK(machine);
        const auto line = regions::numberLine(two, *machine);
        QVERIFY(!line);
        QVERIFY(line.error().kind == Error::Kind::Conflict);
    }
};

BADGER_TEST(TestNumberLine)
#include "test_number_line.moc"
