// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/judge/compare.h"
#include "support/kits.h"

using namespace badger;
using judge::CompareRow;
using judge::Comparison;
using test::Kit;

namespace
{

Comparison against(const Kit &a, const Kit &b)
{
    auto own = a.own;
    for (const auto &part : b.own)
        own.push_back(part);
    return judge::compare(a.car, {b.car, io::shippedCatalogue().with(own)}, 0.32);
}

const CompareRow &row(const Comparison &c, const std::string &name)
{
    for (const auto &r : c.rows)
        if (english(r.name) == name)
            return r;
    qFatal("no row %s", name.c_str());
}

} // namespace

class TestCompare final : public QObject
{
    Q_OBJECT
private slots:
    void theSameCarTwice()
    {
        const auto c = against(Kit(), Kit());
        QVERIFY(!c.rows.empty() && c.onlyA.empty() && c.onlyB.empty());
        for (const auto &r : c.rows) {
            QVERIFY2(!r.differs && r.better == 0, english(r.name).c_str());
            QCOMPARE(r.a, r.b);
        }
    }

    void fourCellsOrSix()
    {
        Kit four;
        four.part("pack").cellsInSeries = 4;
        const auto c = against(Kit(), four);
        const auto &source = row(c, "source, nominal");
        QCOMPARE(english(source.a), std::string("7.20 V"));
        QCOMPARE(english(source.b), std::string("4.80 V"));
        QVERIFY(source.differs && source.better == 0); // neither is better as such
        // The same stall current, but a third less resistance in four cells.
        const auto &sag = row(c, "sag when motors start");
        QVERIFY(*sag.valueA > *sag.valueB);
        QCOMPARE(sag.better, 1);
        const auto &rail = row(c, "logic rail at that moment");
        QVERIFY(*rail.valueA > *rail.valueB);
        QCOMPARE(rail.better, -1);
        // Four cells do not reach the board's input: said for that build alone.
        const auto under = [](const std::vector<Finding> &found) {
            return std::any_of(found.begin(), found.end(), [](const Finding &f) {
                return f.code == "supply-outside-window" && f.severity == Severity::Error;
            });
        };
        QVERIFY(under(c.onlyB) && !under(c.onlyA));
        QVERIFY(*row(c, "errors").valueB > *row(c, "errors").valueA);
        QCOMPARE(row(c, "errors").better, -1);
    }

    void otherDriver()
    {
        Kit other;
        edit::exchangePart(other.car, other.catalogue(), "driver", "mosfet-dual-bridge");
        const auto c = against(Kit(), other);
        // Less is lost in the bridge, so more reaches the motor and the cap comes down.
        QVERIFY(*row(c, "motor, full duty, nominal").valueB >
                *row(c, "motor, full duty, nominal").valueA);
        QVERIFY(*row(c, "greatest count, nominal").valueB <
                *row(c, "greatest count, nominal").valueA);
        QCOMPARE(row(c, "heat of a channel, running").better, 1);
        QCOMPARE(row(c, "source, nominal").differs, false);
    }

    void whatOneBuildLacksIsADash()
    {
        Kit bare;
        for (const auto *id : {"left", "right", "driver"})
            bare.take(id);
        const auto c = against(Kit(), bare);
        const auto &r = row(c, "greatest count, nominal");
        QVERIFY(r.valueA && !r.valueB);
        QCOMPARE(english(r.b), std::string("–"));
        QVERIFY(r.differs);
        QCOMPARE(r.better, 0); // a number against none is no contest
    }

    void turnedRound()
    {
        Kit four;
        four.part("pack").cellsInSeries = 4;
        const auto c = against(Kit(), four);
        const auto d = against(four, Kit());
        QCOMPARE(c.rows.size(), d.rows.size());
        for (size_t i = 0; i < c.rows.size(); ++i) {
            QCOMPARE(c.rows[i].a, d.rows[i].b);
            QCOMPARE(c.rows[i].better, -d.rows[i].better);
        }
        QCOMPARE(test::codes(c.onlyA), test::codes(d.onlyB));
        QCOMPARE(test::codes(c.onlyB), test::codes(d.onlyA));
    }

    void anEmptyCar()
    {
        Kit empty;
        empty.car.parts.clear();
        const auto c = against(empty, Kit());
        for (const auto &r : c.rows)
            QVERIFY2(r.better == 0 || (r.valueA && r.valueB), english(r.name).c_str());
    }

    void comparison()
    {
        Kit k;
        auto other = k.car;
        for (auto &i : other.parts)
            if (i.id == "pack")
                i.partId = "cell-alkaline";
        const auto c = judge::compare(k.car, {other, k.catalogue()}, 0.3);
        const auto row = [&](const char *name) {
            for (const auto &r : c.rows)
                if (english(r.name) == name)
                    return r;
            qFatal("no row");
        };
        const auto fresh = row("source, fresh");
        QVERIFY(fresh.differs && english(fresh.a) == "8.40 V" && english(fresh.b) == "9.60 V" &&
                fresh.better == 0);
        const auto sag = row("sag when motors start");
        QVERIFY(sag.differs && sag.better == -1);   // NiMH sags less
        QVERIFY(row("a channel, stalled").differs); // weaker cells drive less through a held motor
        const auto same = judge::compare(k.car, {k.car, k.catalogue()}, 0.3);
        QVERIFY(std::none_of(same.rows.begin(), same.rows.end(),
                             [](const auto &r) { return r.differs; }));
        QVERIFY(same.onlyA.empty() && same.onlyB.empty());
    }

    void comparisonNamesNewFindings()
    {
        const auto w = test::demo();
        const auto *redshank = w.car("Redshank");
        auto other = *redshank;
        edit::exchangePart(other, io::shippedCatalogue(), "driver", "dual-bridge-module");
        const auto c = judge::compare(*redshank, {other, io::shippedCatalogue()}, std::nullopt);
        QVERIFY(test::find(c.onlyA, "channel-over-peak"));
        QVERIFY(!test::find(c.onlyB, "channel-over-peak"));
        QCOMPARE(english(c.rows.front().name), std::string("errors"));
        QVERIFY(c.rows.front().better == 1);
    }
};

BADGER_TEST(TestCompare)
#include "test_compare.moc"
