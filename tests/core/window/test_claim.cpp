// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/noise.h"
#include "core/logbook/measured.h"
#include "core/window/claim.h"
#include "support/fixture.h"

using namespace badger;
using namespace badger::window;

class TestClaim final : public QObject
{
    Q_OBJECT
private slots:
    /// What the single counts come to when they are used one after the other.
    void singleCountsErrOftener()
    {
        QCOMPARE(*logbook::runsToClaim(0, 0.01, 0.95), 299);
        Looks two{0.01, 0.95, {299, 473}};
        QVERIFY(test::near(shownAt(two, 0.01), 0.076, 0.0005));
        Looks four{0.01, 0.95, {299, 473, 628, 773}};
        QVERIFY(test::near(shownAt(four, 0.01), 0.107, 0.0005));
    }

    void theWholeErrorIsWhatTheConfidenceLeaves()
    {
        for (const double limit : {0.002, 0.01, 0.05, 0.2})
            for (const double confidence : {0.8, 0.95, 0.99}) {
                const auto l = looks(limit, confidence);
                QCOMPARE(l.after.size(), size_t(4));
                const double error = shownAt(l, limit);
                QVERIFY(error <= 1.0 - confidence + 1e-12);
                QVERIFY(error > 0.8 * (1.0 - confidence));
                for (size_t k = 1; k < l.after.size(); ++k)
                    QVERIFY(l.after[k] > l.after[k - 1]);
                QVERIFY(shownAt(l, 2.0 * limit) < error);
                QVERIFY(shownAt(l, 0.2 * limit) > 0.8);
            }
        QCOMPARE(looks(0.01, 0.95).after, (std::vector<int>{349, 584, 776, 957}));
        for (const double bad : {0.0, 1.0, -0.1, std::nan("")})
            QVERIFY(looks(bad, 0.95).after.empty());
        QVERIFY(looks(0.01, 0.4).after.empty());
    }

    /// By drawing, run by run, as the search asks.
    void asOftenAsItSays()
    {
        const auto l = looks(0.05, 0.9);
        for (const double rate : {0.05, 0.03}) {
            Noise noise(7);
            int yes = 0;
            constexpr int times = 40000;
            for (int i = 0; i < times; ++i) {
                auto is = Shown::Open;
                int events = 0;
                for (int runs = 1; is == Shown::Open; ++runs) {
                    events += noise.uniform() < rate;
                    is = shown(l, runs, events);
                }
                yes += is == Shown::Yes;
            }
            const double expected = shownAt(l, rate);
            const double deviation = std::sqrt(expected * (1.0 - expected) / times);
            QVERIFY(test::near(double(yes) / times, expected, 4.0 * deviation));
        }
    }

    void boundsOfARate()
    {
        QCOMPARE(lowerBound(0, 20, 0.95), 0.0);
        // The rate at which three or more of 299 have 5 %: 1 - (q0 + q1 + q2).
        const double p = lowerBound(3, 299, 0.95);
        const double q = 1.0 - p;
        const double fewer = std::pow(q, 299) + 299 * p * std::pow(q, 298) +
                             299.0 * 298.0 / 2.0 * p * p * std::pow(q, 297);
        QVERIFY(test::near(1.0 - fewer, 0.05, 1e-6));
        QCOMPARE(mostMisses(20, 0.9, 0.95), -1); // 0.9 to the 20th is 12 %
        QCOMPARE(mostMisses(29, 0.9, 0.95), 0);  // and to the 29th 4.7 %
        QCOMPARE(mostMisses(28, 0.9, 0.95), -1);
        QVERIFY(mostMisses(349, 0.9, 0.95) > 20);
    }
};

BADGER_TEST(TestClaim)
#include "test_claim.moc"
