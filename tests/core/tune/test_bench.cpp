// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/noise.h"
#include "core/tune/burst.h"
#include "core/tune/line_bench.h"
#include "core/tune/moves.h"
#include "support/fixture.h"

#include <numbers>

using namespace badger;
using namespace badger::tune;
using test::near;

namespace
{

constexpr double degree = std::numbers::pi / 180.0;

} // namespace

class TestBench final : public QObject
{
    Q_OBJECT
private slots:
    void turns()
    {
        auto fit = fitTurn({{0.4, 70 * degree}});
        QVERIFY(fit && !fit->dead_s);
        QVERIFY(near(fit->rate_rad_s / degree, 175.0, 1e-9));
        fit = fitTurn({{0.4, 58 * degree}, {0.8, 134 * degree}});
        QVERIFY(fit && fit->dead_s);
        QVERIFY(near(fit->rate_rad_s / degree, 190.0, 1e-9));
        QVERIFY(near(*fit->dead_s, 0.0947, 1e-4));
        QVERIFY(near(timeFor_s(*fit, 90 * degree), 0.568, 5e-4));
        QVERIFY(!fit->rateError_rad_s);
        fit = fitTurn({{0.4, 58 * degree}, {0.8, 134 * degree}, {0.8, 130 * degree}});
        QVERIFY(fit && fit->rateError_rad_s && *fit->rateError_rad_s > 0.0);
        fit = fitTurn({{0.4, 100 * degree}, {0.8, 180 * degree}});
        QVERIFY(fit && near(*fit->dead_s, -0.1, 1e-9)); // it turns on after the command
        QVERIFY(!fitTurn({}));
        QVERIFY(!fitTurn({{0.4, 70 * degree}, {0.8, 60 * degree}}));
        QVERIFY(!fitTurn({{0.0, 70 * degree}}));
        QVERIFY(!fitTurn({{0.4, -1.0}}));
    }

    /// A car on a circle of known radius drifts by plane geometry; what is worked out of that drift
    /// is the circle's own ratio, whatever the radius, side and heading at the start.
    void aCircleIsFoundFromItsDrift()
    {
        Noise noise(3);
        int arcs = 0;
        for (int i = 0; i < 500; ++i) {
            const double R = 2.2 + 40.0 * noise.uniform();
            const double b = 0.08 + 0.1 * noise.uniform();
            const double L = 1.0 + noise.uniform();
            const double side = noise.uniform() < 0.5 ? -1.0 : 1.0;
            const auto aside = [&](double x) { return side * (R - std::sqrt(R * R - x * x)); };
            const double expected = (R - b / 2) / (R + b / 2);
            const auto s = straightness({aside(L), std::nullopt, L, b});
            QVERIFY(s);
            QVERIFY(near(s->slowOverFast, expected, s->exactArc ? 1e-9 : 2e-3));
            QVERIFY((s->curvature_1_m > 0) == (side > 0));
            arcs += s->exactArc ? 1 : 0;
            const auto half = straightness({aside(L), aside(L / 2), L, b});
            QVERIFY(half && near(half->slowOverFast, expected, 2e-3));
            // Started askew by two degrees: with a reading half way that cancels.
            const double askew = std::tan(2.0 * degree);
            const auto turned =
                straightness({aside(L) + askew * L, aside(L / 2) + askew * L / 2, L, b});
            QVERIFY(turned && near(turned->slowOverFast, expected, 2e-3));
        }
        QVERIFY(arcs > 20 && arcs < 480);
        QVERIFY(near(straightness({0.08, std::nullopt, 2.0, 0.13})->slowOverFast, 0.9948, 5e-5));
        QVERIFY(!straightness({0.08, std::nullopt, 2.0, 0.13})->exactArc);
        QVERIFY(straightness({0.8, std::nullopt, 2.0, 0.13})->exactArc);
        QVERIFY(!straightness({3.0, std::nullopt, 2.0, 0.13}));
        QVERIFY(!straightness({0.1, std::nullopt, 0.0, 0.13}));
        QCOMPARE(trimmedCounts(200, 60, 0.9), 186.0);
    }

    void servoAndTrimmer()
    {
        QVERIFY(near(*dwell_s(100 * degree, 0.12, 0.05), 0.25, 1e-12));
        QVERIFY(!dwell_s(-1.0, 0.12, 0.05));
        QVERIFY(!dwell_s(1.0, 0.0, 0.05));
        // Five looks over 120 degrees: four steps of 30 and one way back of 120.
        const auto sweep = sweepDwell(30 * degree, 150 * degree, 5, 0.12, 0.05);
        QVERIFY(near(sweep->step_s, 0.11, 1e-12) && near(sweep->flyBack_s, 0.29, 1e-12));
        QVERIFY(near(sweep->wholeSweep_s, 0.73, 1e-12));
        QVERIFY(trimmerAdvice(true, true) == TrimmerAdvice::TurnDown);
        QVERIFY(trimmerAdvice(false, false) == TrimmerAdvice::TurnUp);
        QVERIFY(trimmerAdvice(true, false) == TrimmerAdvice::Right);
        QVERIFY(trimmerAdvice(false, true) == TrimmerAdvice::Inverted);
        const auto set = trimmerSetting(0.8, 0.25, 5.0);
        QVERIFY(near(set->position, 0.525, 1e-12) && near(set->reference_V, 2.625, 1e-12));
        QVERIFY(!trimmerSetting(0.5, 0.5, 5.0));
        QVERIFY(!trimmerSetting(1.1, 0.5, 5.0));
    }

    void lanesAndLines()
    {
        QVERIFY(near(*straddleSlack_m(0.019, 0.040), 0.0105, 1e-12));
        QVERIFY(!straddleSlack_m(0.019, 0.019));
        const auto l = lane({0.012, 0.030, 0.015}, 0.042);
        QVERIFY(l && l->works);
        QVERIFY(near(*l->slack_m, 0.009, 1e-12) && near(l->bestInnerWidth_m, 0.042, 1e-12));
        QVERIFY(near(*l->lostFrom_m, 0.024, 1e-12) && near(*l->lostTo_m, 0.033, 1e-12));
        QVERIFY(near(l->wrongLineBeyond_m, 0.033, 1e-12));
        QVERIFY(!lane({0.012, 0.030, 0.025}, 0.042)->lostFrom_m); // as wide as 2a: no such band
        QVERIFY(!lane({0.012, 0.030, 0.015}, 0.070)->works);
        QVERIFY(!lane({0.030, 0.012, 0.015}, 0.042));
        QVERIFY(near(singleLine({0.012, 0.030, 0.015})->slack_m, 0.0045, 1e-12));
        QVERIFY(singleLine({0.012, 0.030, 0.040})->innerPairOn);
        QVERIFY(near(singleLine({0.012, 0.030, 0.040})->slack_m, 0.008, 1e-12));
    }

    /// The patterns against sensors looked at one by one, in steps of a tenth of a millimetre.
    void patternsAreWhatTheSensorsSee()
    {
        Noise noise(8);
        for (int i = 0; i < 60; ++i) {
            const Strip s{0.005 + 0.01 * noise.uniform(), 0.02 + 0.02 * noise.uniform(),
                          0.008 + 0.02 * noise.uniform()};
            const double half = (s.inner_m + s.outer_m) / 2.0;
            const auto l = lane(s, std::nullopt);
            QVERIFY(l);
            for (size_t p = 0; p < l->patterns.size(); ++p) {
                QVERIFY(l->patterns[p].from_m < l->patterns[p].to_m);
                if (p > 0)
                    QCOMPARE(l->patterns[p].from_m, l->patterns[p - 1].to_m);
            }
            for (double x = 0.00003; x < l->patterns.back().to_m; x += 0.0001) {
                const auto on = [&](double at) {
                    const double y = std::abs(x + at);
                    return y > half && y < half + s.line_m;
                };
                std::string bits;
                for (const double at : {-s.outer_m, -s.inner_m, s.inner_m, s.outer_m})
                    bits += on(at) ? '1' : '0';
                const auto found = std::find_if(l->patterns.begin(), l->patterns.end(),
                                                [&](const Pattern &p) { return x < p.to_m; });
                QVERIFY(found != l->patterns.end());
                QCOMPARE(QString::fromStdString(found->bits), QString::fromStdString(bits));
            }
            // Right of the middle the first inner sensor that sees a line sees the right one.
            const auto steers =
                std::find_if(l->patterns.begin(), l->patterns.end(), [](const Pattern &p) {
                    return p.steer == Steer::Left || p.steer == Steer::Right;
                });
            QVERIFY(steers != l->patterns.end() && steers->steer == Steer::Left);
            QVERIFY(near(steers->from_m, half - s.inner_m, 1e-9));
        }
    }

    /// The loop run step by step: at the margin that is said it settles, and with a negative one it
    /// swings ever wider.
    void theEdgeFollowersMarginIsTrue()
    {
        const auto growth = [](const Edge &e) {
            const double perSpeed = 2.0 / e.track_m * e.share * 8.0 / (std::numbers::pi * e.spot_m);
            const double K = perSpeed * e.speed_mps;
            const double dt = 1e-4;
            std::vector<double> past(static_cast<size_t>(e.delay_s / dt) + 1, 0.0);
            double y = 1e-3;
            double heading = 0.0;
            double rate = 0.0;
            double early = 0.0;
            double late = 0.0;
            size_t at = 0;
            for (int i = 0; i < 80000; ++i) {
                past[at] = y + e.ahead_m * heading;
                at = (at + 1) % past.size();
                const double wanted = -K * past[at];
                rate = e.lag_s > 0 ? rate + dt * (wanted - rate) / e.lag_s : wanted;
                heading += dt * rate;
                y += dt * e.speed_mps * heading;
                (i < 20000 ? early : late) =
                    std::max(i < 20000 ? early : (i > 60000 ? late : 0.0), std::abs(y));
            }
            return late / early;
        };
        int stable = 0;
        int unstable = 0;
        for (const double speed : {0.05, 0.1, 0.2, 0.3, 0.5})
            for (const double share : {0.05, 0.2, 0.8})
                for (const double lag : {0.05, 0.15}) {
                    const Edge e{0.06, 0.01, 0.13, speed, share, lag, 0.03};
                    const auto f = edgeFollowing(e);
                    QVERIFY(f);
                    const double margin = f->phaseMargin_rad / degree;
                    if (margin > 8.0) {
                        QVERIFY2(growth(e) < 1.0, qPrintable(QString::number(margin)));
                        ++stable;
                    } else if (margin < -4.0) {
                        QVERIFY2(growth(e) > 1.0, qPrintable(QString::number(margin)));
                        ++unstable;
                    }
                }
        QVERIFY(stable > 4 && unstable > 4);
        const auto f = edgeFollowing({0.06, 0.01, 0.13, 0.2, 0.5, 0.15, 0.03});
        QVERIFY(near(f->lowGainLimit_mps, 1.0 / 3.0, 1e-9));
        QVERIFY(near(f->leastRadius_m, 0.13, 1e-12));
        QVERIFY(f->topSpeed_mps);
        QVERIFY(near(
            edgeFollowing({0.06, 0.01, 0.13, *f->topSpeed_mps, 0.5, 0.15, 0.03})->phaseMargin_rad /
                degree,
            30.0, 0.01));
        QVERIFY(!edgeFollowing({0.06, 0.01, 0.13, 0.0, 0.5, 0.15, 0.03}));
        QVERIFY(!edgeFollowing({0.06, 0.01, 0.13, 0.2, 1.5, 0.15, 0.03}));
    }

    void burstsAndMedians()
    {
        const Burst burst = {2320, 2324, std::nullopt, 2316, 900, 2320, 2328, 2320};
        const auto look = lookAt(burst);
        QCOMPARE(look.readings, 8);
        QCOMPARE(look.none, 1);
        QCOMPARE(look.wild, 1);
        QCOMPARE(look.wildAt, std::vector<size_t>{4});
        const auto three = runningMedian(burst, 3);
        QCOMPARE(three.size(), size_t(6));
        QCOMPARE(*three[0], 2324.0); // 2320, 2324, none
        QCOMPARE(*three[2], 2316.0); // none, 2316, 900
        for (const auto &m : runningMedian(burst, 5))
            QVERIFY(m && std::abs(*m - 2320) < 9);
        QVERIFY(!runningMedian({std::nullopt, std::nullopt, 5.0}, 3)[0]);
        QVERIFY(lookAt({std::nullopt}).spread == std::nullopt);
    }

    void noEcho()
    {
        QVERIFY(noEchoLook(Burst(6, 0.0))->kind == NoEcho::Zero);
        const auto huge = noEchoLook(Burst(6, 0.038));
        QVERIFY(huge->kind == NoEcho::Huge && near(huge->hold_s, 0.038, 1e-12));
        QVERIFY(english(huge->policy).find("38 ms") != std::string::npos);
        QVERIFY(noEchoLook(Burst(6, std::nullopt))->kind == NoEcho::Nothing);
        QVERIFY(noEchoLook({0.0, 0.004, std::nullopt, 0.038, 0.038})->kind == NoEcho::Mixed);
        QVERIFY(!noEchoLook(Burst(4, 0.0)));
    }

    /// Whole centimetres: "below 20" holds while the cut reading is 19 or less.
    void wholeNumbersMoveTheThreshold()
    {
        QVERIFY(near(wholeThreshold(0.20, 0.01).lessThan_m, 0.20, 1e-12));
        QVERIFY(near(wholeThreshold(0.20, 0.01).atMost_m, 0.21, 1e-12));
        QVERIFY(near(wholeThreshold(0.205, 0.01).lessThan_m, 0.21, 1e-12));
        for (int mm = 150; mm < 260; ++mm) {
            const double cut = std::floor(mm / 10.0 + 1e-9);
            QCOMPARE(cut < 20.0, mm / 1000.0 < wholeThreshold(0.20, 0.01).lessThan_m - 1e-9);
            QCOMPARE(cut <= 20.0, mm / 1000.0 < wholeThreshold(0.20, 0.01).atMost_m - 1e-9);
        }
    }
};

BADGER_TEST(TestBench)
#include "test_bench.moc"
