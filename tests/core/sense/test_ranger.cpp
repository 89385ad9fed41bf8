// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/sense/ranger.h"
#include "support/fixture.h"

#include <cmath>

using namespace badger;
using sense::RangerFigures;
using sense::RangerState;

namespace
{

constexpr double sound_mps = 344.0;
constexpr std::uint32_t longTimeOut_us = 30000;
constexpr RangerFigures exact{0.99, 0.03, 4.0, 0.038, 0.0, 0.0, 0.0};

double metres(std::uint32_t echo_us)
{
    return echo_us * 1e-6 * sound_mps / 2.0;
}

} // namespace

class TestRanger final : public QObject
{
    Q_OBJECT
private slots:
    /// 0.5 m there and back at 344 m/s are 2906.98 us; the clock counts in fours.
    void aWallIsHeardAfterItsRoundTrip()
    {
        Noise noise(1);
        RangerState state;
        const auto a = sense::ping(exact, state, 1000, 0.5, longTimeOut_us, sound_mps, noise);
        QCOMPARE(a.echo_us, 2908U);
        QCOMPARE(a.waited_us, 2908ULL);
        QVERIFY(a.triggered);
        QCOMPARE(state.lineBusyUntil_us, 3908ULL);
    }

    void nothingIsHeardBeyondItsRangeOrWithoutAWall()
    {
        for (const auto wall_m : {std::optional<double>{}, std::optional(4.001)}) {
            Noise noise(1);
            RangerState state;
            const auto a = sense::ping(exact, state, 0, wall_m, longTimeOut_us, sound_mps, noise);
            QCOMPARE(a.echo_us, 0U);
            QCOMPARE(a.waited_us, std::uint64_t(longTimeOut_us));
            QCOMPARE(state.lineBusyUntil_us, 38000ULL);
        }
    }

    void aTimeOutEndsBeforeTheEcho()
    {
        Noise noise(1);
        RangerState state;
        const auto a = sense::ping(exact, state, 0, 0.5, 2900, sound_mps, noise);
        QCOMPARE(a.echo_us, 0U);
        QCOMPARE(a.waited_us, 2900ULL);
        QCOMPARE(state.lineBusyUntil_us, 2908ULL); // the module holds its line for the echo
    }

    /// The hold of a missing echo is measured as a near wall by whoever triggers too soon.
    void aHeldLineIsMeasuredInsteadOfANewPing()
    {
        Noise noise(1);
        RangerState state;
        (void)sense::ping(exact, state, 0, std::nullopt, 7000, sound_mps, noise);
        const auto a = sense::ping(exact, state, 36000, 0.5, longTimeOut_us, sound_mps, noise);
        QVERIFY(!a.triggered);
        QCOMPARE(a.echo_us, 2000U);
        QCOMPARE(state.lineBusyUntil_us, 38000ULL);
        const auto shorter = sense::ping(exact, state, 10000, 0.5, 7000, sound_mps, noise);
        QCOMPARE(shorter.echo_us, 0U);
        QCOMPARE(shorter.waited_us, 7000ULL);
        QVERIFY(sense::ping(exact, state, 38000, 0.5, longTimeOut_us, sound_mps, noise).triggered);
    }

    void insideTheDeadZoneItReadsWrongAndNotZero()
    {
        Noise noise(3);
        double least = 1.0;
        double most = 0.0;
        for (int i = 0; i < 2000; ++i) {
            RangerState state;
            const double m = metres(
                sense::ping(exact, state, 0, 0.01, longTimeOut_us, sound_mps, noise).echo_us);
            least = std::min(least, m);
            most = std::max(most, m);
        }
        QVERIFY(least >= 0.03 - 0.0007 && least < 0.031);
        QVERIFY(most <= 0.06 + 0.0007 && most > 0.059);
    }

    /// Mean and deviation of many pings are those of the figures; the steady error of a run is not
    /// averaged away.
    void noiseAndSteadyErrorAreThoseOfTheFigures()
    {
        auto figures = exact;
        figures.noise_m = 0.003;
        figures.error_m = 0.01;
        Noise noise(4);
        double steadySquares = 0.0;
        for (int run = 0; run < 200; ++run) {
            auto state = sense::rangerAtStart(figures, noise);
            QVERIFY(std::abs(state.error_m) <= 0.01);
            steadySquares += state.error_m * state.error_m / 200.0;
            double sum = 0.0;
            double squares = 0.0;
            constexpr int pings = 300;
            for (int i = 0; i < pings; ++i) {
                state.lineBusyUntil_us = 0;
                const double off =
                    metres(sense::ping(figures, state, 0, 0.8, longTimeOut_us, sound_mps, noise)
                               .echo_us) -
                    0.8 - state.error_m;
                sum += off / pings;
                squares += off * off / pings;
            }
            QVERIFY(std::abs(sum) < 0.001);
            QVERIFY(std::abs(std::sqrt(squares) - 0.003) < 0.0006);
        }
        // Even between -10 and 10 mm: a deviation of 10 mm / sqrt(3).
        QVERIFY(std::abs(std::sqrt(steadySquares) - 0.01 / std::sqrt(3.0)) < 0.0008);
    }

    void echoesAreLostAtTheStatedShare()
    {
        auto figures = exact;
        figures.lostEchoShare = 0.05;
        Noise noise(5);
        int lost = 0;
        for (int i = 0; i < 20000; ++i) {
            RangerState state;
            const auto a = sense::ping(figures, state, 0, 0.8, longTimeOut_us, sound_mps, noise);
            lost += a.echo_us == 0;
            QCOMPARE(state.lineBusyUntil_us == 38000, a.echo_us == 0);
        }
        QVERIFY(std::abs(lost / 20000.0 - 0.05) < 0.005);
    }

    /// Whatever is heard, the same number of draws is taken: two runs that differ in one wall stay
    /// comparable afterwards.
    void everyPingTakesTheSameDraws()
    {
        Noise near(6);
        Noise none(6);
        RangerState a;
        RangerState b;
        (void)sense::ping(exact, a, 0, 0.3, longTimeOut_us, sound_mps, near);
        (void)sense::ping(exact, b, 0, std::nullopt, longTimeOut_us, sound_mps, none);
        QCOMPARE(near.uniform(), none.uniform());
    }
};

BADGER_TEST(TestRanger)
#include "test_ranger.moc"
