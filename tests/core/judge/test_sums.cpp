// SPDX-License-Identifier: GPL-3.0-or-later
// The steps of a sum add up to its result.
#include "core/judge/sums.h"
#include "support/fixture.h"

#include <random>

using namespace badger;

namespace
{

/// The number that a step shows, in centimetres.
double shown_cm(const Step &step)
{
    return QString::fromStdString(english(step.value)).remove("cm").remove(' ').toDouble();
}

double startingWith_cm(const Derivation &d, const char *name, double sign)
{
    double sum = 0.0;
    for (const auto &s : d.steps)
        if (english(s.name).starts_with(name))
            sum += sign * shown_cm(s);
    return sum;
}

} // namespace

class TestSums final : public QObject
{
    Q_OBJECT
private slots:
    void theBudgetAddsUp()
    {
        std::mt19937 random(5);
        for (int i = 0; i < 60; ++i) {
            test::Bench b;
            b.value("halt").si = 0.01 * double(15 + random() % 100);
            b.value("speed").si = double(70 + random() % 150);
            b.value("pause").si = 0.001 * double(40 + random() % 90);
            b.car.wantedGap_m = random() % 2 ? std::optional(0.1) : std::nullopt;
            const auto budget = judge::budgetOf({b.car, b.catalogue}, b.program);
            VERIFY_OK(budget);
            const auto d = judge::whyGap(*budget, b.car.wantedGap_m);
            COMPARE_NEAR(shown_cm(d.steps.front()) + startingWith_cm(d, "− ", -1.0),
                         startingWith_cm(d, "= gap at worst", 1.0), 0.035);
            QCOMPARE(startingWith_cm(d, "least threshold", 1.0) > 0.0,
                     b.car.wantedGap_m.has_value());
        }
    }

    void aRunAddsUp()
    {
        test::Bench b;
        const auto drive = judge::Drive::make(test::courseOf(b), {});
        VERIFY_OK(drive);
        for (std::uint64_t seed = 1; seed <= 30; ++seed) {
            const auto run = (*drive)->run(seed);
            const auto d = task::whyGap((*drive)->plan(), run.trace, run.score);
            QCOMPARE(d.steps.size(), size_t(5));
            COMPARE_NEAR(shown_cm(d.steps.front()) + startingWith_cm(d, "− ", -1.0),
                         *run.score.gap_m * 100.0, 0.25);
            // What is left over is no place to hide anything: the demo's ranger is at the nose.
            QVERIFY2(std::abs(shown_cm(d.steps[3])) < 1.0, english(d.steps[3].value).c_str());
        }
        // A run that never comes to rest has no such sum.
        world::Conditions brief;
        brief.lasts_s = 1.0;
        const auto short_ = judge::Drive::make(test::courseOf(b), brief);
        VERIFY_OK(short_);
        const auto run = (*short_)->run(1);
        QVERIFY(task::whyGap((*short_)->plan(), run.trace, run.score).steps.empty());
    }

    void theNextThresholdAddsUp()
    {
        test::Bench b;
        const auto j = b.judge();
        const auto next = logbook::propose(j.measured, 0.15);
        VERIFY_OK(next);
        const auto d = judge::whyNext(*next);
        // 32 − 27.5 = 4.5; 4.5 + 15 + t(0.95, 2) = 2.920 × 0.5 × √(4/3) = 1.686 -> 21.19 cm.
        QCOMPARE(english(d.steps[0].value), std::string("4.50 cm"));
        COMPARE_NEAR(shown_cm(d.steps[2]), 2.920 * 0.5 * std::sqrt(4.0 / 3.0), 0.01);
        COMPARE_NEAR(shown_cm(d.steps[3]), 21.19, 0.011);
        QCOMPARE(english(d.result), std::string("22 cm"));
    }

    void wheelsSayWhatTurnsThem()
    {
        test::Bench b;
        auto d = judge::whyWheels({b.car, b.catalogue});
        QCOMPARE(english(d.steps[0].how), std::string("driver.IN1 high, driver.IN2 low"));
        QCOMPARE(english(d.steps[0].from), std::string("speed on driver.ENA at pin D5"));
        b.unwire("driver.ENA");
        d = judge::whyWheels({b.car, b.catalogue});
        QCOMPARE(english(d.steps[0].from), std::string("speed on driver.ENA, which no pin drives"));
        b.unwire("left.A");
        d = judge::whyWheels({b.car, b.catalogue});
        QCOMPARE(english(d.steps[0].value), std::string("undriven"));
        QCOMPARE(english(d.steps[1].value), std::string("forward"));
    }

    void allSumsOfACar()
    {
        test::Bench b;
        const auto sums = judge::sumsOf(b.judge(), {b.car, b.catalogue});
        QCOMPARE(sums.size(), size_t(4 + judge::judgedRuns + 1)); // balance, beam, wheels, gap; log
        for (const auto &d : sums)
            QVERIFY2(!d.steps.empty() && !d.title.empty(), english(d.title).c_str());
        const kit::Car bare;
        QVERIFY(judge::sumsOf({}, {bare, b.catalogue}).size() <= 1);
    }
};

BADGER_TEST(TestSums)
#include "test_sums.moc"
