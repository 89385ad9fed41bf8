// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/logbook/measured.h"
#include "support/fixture.h"

using namespace badger;
using logbook::MeasuredTrial;

namespace
{

MeasuredTrial gap(double gap_m, double battery_V = 7.6)
{
    MeasuredTrial t;
    t.car = {"avocet"};
    t.floor = {"slipway"};
    t.program = {"halt"};
    t.programVersion = 7;
    t.threshold_m = 0.32;
    t.pwm_counts = 140;
    t.battery_V = battery_V;
    t.gap_m = gap_m;
    return t;
}

MeasuredTrial contact()
{
    auto t = gap(0.0);
    t.gap_m.reset();
    t.contact = true;
    return t;
}

} // namespace

class TestMeasured final : public QObject
{
    Q_OBJECT
private slots:
    void meanAndSpread()
    {
        const auto s = logbook::statistics({gap(0.27), gap(0.275), gap(0.28)});
        QVERIFY(s);
        QCOMPARE(s->runs, 3);
        COMPARE_NEAR(s->mean_m, 0.275, 1e-12);
        COMPARE_NEAR(*s->spread_m, 0.005, 1e-12);
        COMPARE_NEAR(s->least_m, 0.27, 0.0);
        COMPARE_NEAR(s->most_m, 0.28, 0.0);
    }

    void oneRunHasNoSpreadAndNoneHasNothing()
    {
        QVERIFY(!logbook::statistics({gap(0.27)})->spread_m);
        QVERIFY(!logbook::statistics({}));
        auto noted = gap(0.27);
        noted.gap_m.reset();
        QVERIFY(!logbook::statistics({noted})); // neither gap nor contact
    }

    void aContactIsAGapOfZero()
    {
        const auto s = logbook::statistics({gap(0.2), contact()});
        QCOMPARE(s->contacts, 1);
        COMPARE_NEAR(s->mean_m, 0.1, 1e-12);
        COMPARE_NEAR(s->least_m, 0.0, 0.0);
    }

    void differences()
    {
        QVERIFY(logbook::differences({gap(0.27), gap(0.3, 7.85)}).empty());
        auto other = gap(0.27, 7.2);
        other.threshold_m = 0.3;
        other.floor = {"rope-walk"};
        QCOMPARE(english(joined(logbook::differences({gap(0.27), other}), ", ")),
                 std::string("threshold, floor, battery by more than 0.3 V"));
        QVERIFY(logbook::differences({}).empty());
    }

    void proposalByHand()
    {
        // overshoot 32 - 27.5 = 4.5 cm; t(0.95, 2) = 2.9200; 2.92 * 0.5 * sqrt(4/3) = 1.686 cm
        const auto p = logbook::propose({gap(0.27), gap(0.275), gap(0.28)}, 0.15);
        VERIFY_OK(p);
        COMPARE_NEAR(p->overshoot_m, 0.045, 1e-12);
        COMPARE_NEAR(*p->margin_m, 0.01686, 1e-5);
        COMPARE_NEAR(p->exact_m, 0.15 + 0.045 + 0.01686, 1e-5);
        COMPARE_NEAR(p->next_m, 0.22, 1e-12);
    }

    void proposalFromOneRunHasNoMargin()
    {
        const auto p = logbook::propose({gap(0.27)}, 0.15);
        VERIFY_OK(p);
        QVERIFY(!p->margin_m);
        COMPARE_NEAR(p->next_m, 0.20, 1e-12); // 15 + 5, exactly: not rounded up to 21
    }

    void proposalRefuses()
    {
        QVERIFY(logbook::propose({}, 0.15).error().kind == Error::Kind::Missing);
        QVERIFY(logbook::propose({gap(0.2), contact()}, 0.15).error().kind ==
                Error::Kind::Conflict);
        auto other = gap(0.27);
        other.pwm_counts = 200;
        const auto mixed = logbook::propose({gap(0.27), other}, 0.15);
        QCOMPARE(english(mixed.error().what), std::string("the trials differ in speed"));
    }

    void bounds_data()
    {
        QTest::addColumn<int>("contacts");
        QTest::addColumn<int>("runs");
        QTest::newRow("0 of 299") << 0 << 299;
        QTest::newRow("1 of 473") << 1 << 473;
        QTest::newRow("2 of 628") << 2 << 628;
        QTest::newRow("3 of 773") << 3 << 773;
    }
    void bounds()
    {
        QFETCH(int, contacts);
        QFETCH(int, runs);
        // At most 1 % at 95 %: these are the least numbers of runs.
        QVERIFY(*logbook::contactRateBound(contacts, runs, 0.95) <= 0.01);
        QVERIFY(*logbook::contactRateBound(contacts, runs - 1, 0.95) > 0.01);
        QCOMPARE(*logbook::runsToClaim(contacts, 0.01, 0.95), runs);
    }

    void boundWithoutContactIsClosed()
    {
        // 1 - 0.05^(1/n)
        for (const int n : {1, 3, 10, 59, 1000})
            COMPARE_NEAR(*logbook::contactRateBound(0, n, 0.95), 1.0 - std::pow(0.05, 1.0 / n),
                         1e-9);
        COMPARE_NEAR(*logbook::contactRateBound(5, 5, 0.95), 1.0, 0.0);
    }

    /// The two ends of the interval are the rates at which what was seen lies 1.96 deviations of
    /// that rate's own scatter away.
    void theShownIntervalIsWilsons()
    {
        COMPARE_NEAR(logbook::wilson(0, 299)->high, 0.0127, 5e-5);
        QCOMPARE(logbook::wilson(0, 299)->low, 0.0);
        QCOMPARE(logbook::wilson(7, 7)->high, 1.0);
        for (const auto &[k, n] : {std::pair{2, 60}, {30, 60}, {59, 60}, {1, 5}}) {
            const auto w = logbook::wilson(k, n);
            VERIFY_OK(w);
            const double seen = double(k) / n;
            QVERIFY(w->low < seen && seen < w->high);
            for (const double rate : {w->low, w->high})
                COMPARE_NEAR(std::abs(seen - rate) / std::sqrt(rate * (1.0 - rate) / n), 1.959964,
                             1e-5);
        }
        QVERIFY(!logbook::wilson(3, 2) && !logbook::wilson(0, 0) && !logbook::wilson(-1, 4));
    }

    void boundRefuses()
    {
        QVERIFY(!logbook::contactRateBound(0, 0, 0.95));
        QVERIFY(!logbook::contactRateBound(-1, 5, 0.95));
        QVERIFY(!logbook::contactRateBound(6, 5, 0.95));
        QVERIFY(!logbook::contactRateBound(0, 5, 1.0));
        QVERIFY(!logbook::runsToClaim(0, 0.0, 0.95));
        QVERIFY(!logbook::runsToClaim(0, 1.0, 0.95));
    }
};

BADGER_TEST(TestMeasured)
#include "test_measured.moc"
