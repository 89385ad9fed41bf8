// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/noise.h"
#include "core/sense/ultrasonic.h"
#include "core/tune/reflectance_fit.h"
#include "core/tune/ruler_fit.h"
#include "core/tune/stopping_fit.h"
#include "core/tune/surfaces.h"
#include "support/fixture.h"

using namespace badger;
using namespace badger::tune;
using test::near;

namespace
{

std::vector<RulerPair> cm(std::initializer_list<std::pair<double, double>> pairs)
{
    std::vector<RulerPair> all;
    for (const auto &[t, r] : pairs)
        all.push_back({t / 100.0, r / 100.0});
    return all;
}

const auto benchPairs =
    cm({{6, 5.8}, {12, 11.7}, {25, 24.5}, {40, 39.3}, {80, 78.6}, {120, 117.9}});

std::vector<ReflectancePair> inverseSquare(double k_cm, double c_cm, double p = 2.0)
{
    std::vector<ReflectancePair> pairs;
    for (int d = 2; d <= 20; ++d)
        pairs.push_back({d / 100.0, std::round(std::pow(k_cm / (d + c_cm), p))});
    return pairs;
}

template <class T> std::string whyNot(const Result<T> &result)
{
    return result ? std::string("it was taken") : english(result.error().what);
}

} // namespace

class TestFits final : public QObject
{
    Q_OBJECT
private slots:
    void theBenchExample()
    {
        auto pairs = benchPairs;
        pairs.push_back({1.5, 0.0});
        const auto fit = fitRuler(pairs, 20.0);
        QVERIFY(fit);
        QVERIFY(near(fit->slope, 1.0169, 5e-5));
        QVERIFY(near(fit->offset_m, 0.0008, 5e-5));
        QVERIFY(near(fit->maxResidual_m, 0.0005, 5e-5));
        QCOMPARE(fit->rejected.size(), size_t(1));
        QCOMPARE(fit->rejected[0].at, size_t(6));
        QVERIFY(fit->rejected[0].why == Rejected::NoEcho);
        QVERIFY(!fit->isThin && !fit->robust);
        // 343.21 x 1.0169 = 349.0 m/s: by c = 331.3 sqrt(1 + T / 273.15) that is 30 degrees.
        QVERIFY(near(*fit->sound_mps, 349.0, 0.1));
        QVERIFY(near(*sense::speedOfSound_mps(*fit->air_degC), *fit->sound_mps, 1e-9));
    }

    /// Residuals of a least-squares line sum to nothing, and so do they weighed with the readings.
    void residualsAreBalanced()
    {
        Noise noise(4);
        for (int round = 0; round < 200; ++round) {
            std::vector<RulerPair> pairs;
            for (int i = 0; i < 20; ++i) {
                const double t = 0.05 + 1.5 * noise.uniform();
                pairs.push_back({t, t * (0.95 + 0.1 * noise.uniform())});
            }
            const auto fit = fitRuler(pairs);
            QVERIFY(fit);
            double plain = 0.0;
            double weighed = 0.0;
            for (const auto &p : fit->used) {
                plain += p.residual_m;
                weighed += p.residual_m * p.read_m;
            }
            QVERIFY(near(plain, 0.0, 1e-9) && near(weighed, 0.0, 1e-9));
        }
    }

    /// The true slope lies within two standard errors about nineteen times in twenty.
    void theErrorOfTheSlopeIsTrue()
    {
        Noise noise(9);
        int inside = 0;
        for (int round = 0; round < 1000; ++round) {
            std::vector<RulerPair> pairs;
            for (int i = 1; i <= 12; ++i) {
                const double read = 0.1 * i;
                pairs.push_back({1.02 * read + 0.004 + 0.003 * noise.bell(), read});
            }
            const auto fit = fitRuler(pairs);
            inside += std::abs(fit->slope - 1.02) < 2.23 * *fit->slopeError ? 1 : 0; // t of 10
        }
        QVERIFY2(inside > 925 && inside < 975, qPrintable(QString::number(inside)));
    }

    void aWildPairIsListedAndAPullingOneIsSaid()
    {
        auto pairs = benchPairs;
        pairs.push_back({0.6, 0.13});
        auto fit = fitRuler(pairs);
        QVERIFY(fit);
        QCOMPARE(fit->rejected.size(), size_t(1));
        QVERIFY(fit->rejected[0].why == Rejected::Wild);
        QVERIFY(near(fit->slope, 1.0169, 5e-5));
        pairs.back() = {1.5, 1.40}; // five centimetres long at a metre and a half: no tenth of it
        fit = fitRuler(pairs);
        QVERIFY(fit && fit->rejected.empty());
        QVERIFY(fit->robust);
        QCOMPARE(fit->robust->pulls, size_t(6));
        QVERIFY(near(fit->robust->slope, 1.0169, 2e-3));
    }

    void rulerRefusals()
    {
        QVERIFY(whyNot(fitRuler({})).find("0 usable pairs") == 0);
        QVERIFY(whyNot(fitRuler(cm({{20, 20}}))).find("1 usable pair;") == 0);
        QVERIFY(whyNot(fitRuler(cm({{20, 20}, {20, 21}}))).find("one distance") !=
                std::string::npos);
        QVERIFY(whyNot(fitRuler(cm({{20, 21}, {30, 21}}))).find("same was read") !=
                std::string::npos);
        QVERIFY(
            whyNot(fitRuler(cm({{20, 80}, {40, 60}, {60, 40}, {80, 20}}))).find("readings fall") ==
            0);
        QVERIFY(whyNot(fitRuler(cm({{-5, 5}, {10, 10}}))).find("pair 1") == 0);
        QVERIFY(whyNot(fitRuler(cm({{5, 5}, {2000, 10}}))).find("pair 2") == 0);
        QVERIFY(whyNot(fitRuler({{0.2, std::nan("")}, {0.3, 0.3}})).find("pair 1") == 0);
        QVERIFY(!fitRuler(benchPairs, 99.0));
        QVERIFY(fitRuler(cm({{20, 20}, {30, 30}}))->isThin);
    }

    void twoClouds()
    {
        std::vector<double> dark = {233, 251, 219, 240, 262};
        const std::vector<double> light = {812, 799, 840, 826, 805};
        auto s = separate(light, dark);
        QVERIFY(s && s->isSeparable && s->lightReadsHigh);
        QCOMPARE(s->threshold, 530.5);
        QCOMPARE(s->margin, 268.5);
        dark.push_back(803);
        s = separate(light, dark);
        QVERIFY(s && !s->isSeparable);
        QCOMPARE(s->margin, -2.0);
        QVERIFY(s->wild && !s->wild->light);
        QCOMPARE(s->wild->at, size_t(5));
        QCOMPARE(s->wild->marginWithout, 268.5);
        QVERIFY(!s->hysteresis);
    }

    /// At the statistical threshold both clouds are equally many deviations away, so both error
    /// rates are alike; and exchanging the surfaces' names changes nothing but the names.
    void theStatisticalThresholdIsFair()
    {
        Noise noise(2);
        for (int round = 0; round < 200; ++round) {
            std::vector<double> light;
            std::vector<double> dark;
            const double apart = 300.0 * noise.uniform();
            for (int i = 0; i < 8; ++i) {
                light.push_back(500.0 + apart + 20.0 * noise.bell());
                dark.push_back(400.0 + 35.0 * noise.bell());
            }
            const auto s = separate(light, dark);
            const auto turned = separate(dark, light);
            QVERIFY(s && turned && s->statistical);
            const auto rates = errorRates(*s, *s->statistical);
            QVERIFY(near(rates.light, rates.dark, 1e-9));
            QVERIFY(near(*s->statistical, *turned->statistical, 1e-9));
            QCOMPARE(s->threshold, turned->threshold);
            QVERIFY(s->lightReadsHigh != turned->lightReadsHigh);
            QVERIFY(near(errorRates(*turned, 450.0).dark, errorRates(*s, 450.0).light, 1e-12));
        }
    }

    void surfacesAtTheirEdges()
    {
        QVERIFY(whyNot(separate({}, {1})).find("no reading") != std::string::npos);
        QVERIFY(whyNot(separate({1, 70000}, {1})).find("reading 2") == 0);
        const auto black = separate({0, 0}, {0, 0});
        QVERIFY(black && !black->contrast && !black->isSeparable && !black->statistical);
        QVERIFY(!normalised(*black, 3));
        // Apart all the same, and still one reading pulls: it is named.
        const auto pulled = separate({812, 799, 840, 826, 805}, {233, 251, 640, 240, 262});
        QVERIFY(pulled && pulled->isSeparable && pulled->wild && !pulled->wild->light);
        QCOMPARE(pulled->wild->at, size_t(2));
        QVERIFY(!separate({812, 799, 840, 826, 805}, {233, 251, 300, 240, 262})->wild);
        // A cloud at the converter's end has no spread of its own: no fair line, and it is said.
        const auto end = separate({1023, 1023, 1023, 1023, 1023}, {900, 950, 980, 940, 930});
        QVERIFY(end && end->lightSaturated && !end->darkSaturated && !end->statistical);
        QVERIFY(end->dPrime.has_value());
        const auto one = separate({800}, {200});
        QVERIFY(one && one->isThin && one->isSeparable);
        QVERIFY(near(*one->contrast, 0.6, 1e-12));
        QVERIFY(near(*normalised(*one, 500), 0.5, 1e-12));
        QVERIFY(near(errorRates(*one, 800).light, 0.5, 1e-12));
        const auto there = separate({700, 690}, {300, 310});
        const auto d = drift(*one, *there, one->threshold);
        QVERIFY(near(d.light, -105, 1e-9) && near(d.dark, 105, 1e-9));
        QVERIFY(near(d.marginThere, 190, 1e-9)); // 500 against 310 and 690
    }

    void reflectanceExample()
    {
        auto pairs = inverseSquare(60.0, 0.9);
        pairs.push_back({0.01, 1023});
        pairs.push_back({0.40, 0});
        const auto fit = fitReflectance(pairs);
        QVERIFY(fit);
        QVERIFY(fit->best.model != ReflectanceModel::Exponential);
        QVERIFY(near(fit->k_m * 100.0, 60.0, 1.0));
        QVERIFY(near(fit->best.offset_m * 100.0, 0.9, 0.1));
        QCOMPARE(fit->leftOut, (std::vector<size_t>{19, 20}));
        QCOMPARE(*fit->saturatedAt_m, 0.01);
        QVERIFY(distanceOf(*fit, 1023).kind == Distance::Kind::AtMost);
        QVERIFY(distanceOf(*fit, 0).kind == Distance::Kind::NoReading);
        QVERIFY(distanceOf(*fit, 100).kind == Distance::Kind::Inside);
        QVERIFY(distanceOf(*fit, 2).kind == Distance::Kind::Carried);
        // Twice as far behind c: a quarter of the albedo is seen there.
        QVERIFY(near(seenAt_m(*fit, 0.10, 0.25) + fit->best.offset_m,
                     2.0 * (0.10 + fit->best.offset_m), 1e-9));
    }

    /// Figures put in come out again, for each law, and each law is recognised as itself. Whole
    /// counts are a tenth off at the far end: there a free exponent may fit the rounding better.
    void eachLawIsFoundAgain()
    {
        Noise noise(6);
        int squares = 0;
        for (int round = 0; round < 30; ++round) {
            const double c = 0.3 + 2.0 * noise.uniform();
            const double k = 40.0 + 60.0 * noise.uniform();
            const auto square = fitReflectance(inverseSquare(k, c));
            QVERIFY(square);
            if (square->best.model == ReflectanceModel::InverseSquare) {
                ++squares;
                QVERIFY(near(square->k_m * 100.0, k, 0.02 * k));
            } else {
                QVERIFY(square->best.model == ReflectanceModel::Power);
                QVERIFY2(near(square->best.exponent, 2.0, 0.1),
                         qPrintable(QString::number(square->best.exponent)));
            }
            std::vector<ReflectancePair> power;
            std::vector<ReflectancePair> exponential;
            for (int i = 0; i < 30; ++i) {
                const double d = 0.02 + 0.006 * i;
                power.push_back({d, 0.9 / std::pow(d + 0.01, 1.4)});
                exponential.push_back({d, 900.0 * std::exp(-d / 0.05)});
            }
            const auto free = fitReflectance(power);
            QVERIFY(free && free->best.model == ReflectanceModel::Power);
            QVERIFY(near(free->best.exponent, 1.4, 1e-3));
            QVERIFY(near(free->best.offset_m, 0.01, 1e-4));
            const auto ex = fitReflectance(exponential);
            QVERIFY(ex && ex->best.model == ReflectanceModel::Exponential);
            QVERIFY(near(ex->best.length_m, 0.05, 1e-4));
        }
        QVERIFY2(squares >= 27, qPrintable(QString::number(squares)));
    }

    void reflectanceRefusals()
    {
        QVERIFY(whyNot(fitReflectance({})).find("0 usable readings at 0 distances") == 0);
        QVERIFY(whyNot(fitReflectance({{0.02, 900}, {0.02, 890}, {0.04, 500}, {0.04, 510}}))
                    .find("4 usable readings at 2 distances") == 0);
        QVERIFY(whyNot(fitReflectance({{0.02, 100}, {0.03, 200}, {0.04, 300}, {0.05, 400}}))
                    .find("do not fall") != std::string::npos);
        QVERIFY(whyNot(fitReflectance({{0.02, -1}, {0.03, 200}, {0.04, 300}, {0.05, 400}}))
                    .find("pair 1") == 0);
    }

    void reactionAndRolling()
    {
        std::vector<StopRun> runs;
        for (const double v : {0.1, 0.2, 0.3, 0.4})
            runs.push_back({v, 0.08 * v + v * v / (2.0 * 1.6)});
        const auto fit = fitStopping(runs);
        QVERIFY(fit);
        QVERIFY(near(fit->reaction_s, 0.08, 1e-9));
        QVERIFY(near(*fit->deceleration_mps2, 1.6, 1e-6));
        QVERIFY(near(*fit->reactionError_s, 0.0, 1e-6));
        runs.resize(1);
        QVERIFY(whyNot(fitStopping(runs)).find("one speed") == 0);
        QVERIFY(whyNot(fitStopping({{0.2, 0.3}, {0.4, 0.02}})).find("took less") !=
                std::string::npos);
        QVERIFY(!fitStopping({{0.0, 0.3}, {0.4, 0.02}}));
    }
};

BADGER_TEST(TestFits)
#include "test_fits.moc"
