// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/sense/light.h"
#include "core/sense/reflectance.h"
#include "support/fixture.h"

#include <cmath>

using namespace badger;
using sense::ReflectanceFigures;

namespace
{

const ReflectanceFigures figures{.gain_countsM2 = 0.2635,
                                 .offset_m = 0.009,
                                 .dark_counts = 12.0,
                                 .ambient_counts = 190.0,
                                 .noise_counts = 6.0};

} // namespace

class TestReflectance final : public QObject
{
    Q_OBJECT
private slots:
    /// (0.008 + 0.009)² = 2.89e-4; 0.2635 · 0.85 / that = 775; with 12 dark and 19 of ambient 806.
    void aReadingIsTheInverseSquareWithItsOffset()
    {
        COMPARE_NEAR(sense::reflectedCounts(figures, 0.85, 0.008, 0.1), 806.0, 0.1);
        COMPARE_NEAR(sense::reflectedCounts(figures, 0.0, 0.008, 0.0), 12.0, 1e-12);
        // Twice as far from the point behind its face: a quarter.
        const auto back = [](double height_m) {
            return sense::reflectedCounts(figures, 1.0, height_m, 0.0) - 12.0;
        };
        COMPARE_NEAR(back(0.002) / back(0.013), 4.0, 1e-9);
    }

    /// Nearer, lighter, brighter: never a smaller reading.
    void itGrowsWithWhatComesBack()
    {
        Noise noise(4);
        for (int i = 0; i < 500; ++i) {
            const double albedo = noise.uniform();
            const double height_m = 0.1 * noise.uniform();
            const double ambient = noise.uniform();
            const double counts = sense::reflectedCounts(figures, albedo, height_m, ambient);
            QVERIFY(sense::reflectedCounts(figures, albedo, height_m + 0.001, ambient) <= counts);
            QVERIFY(sense::reflectedCounts(figures, albedo * 0.9, height_m, ambient) <= counts);
            QVERIFY(sense::reflectedCounts(figures, albedo, height_m, ambient * 0.9) <= counts);
        }
    }

    void theConverterHasTwoEnds()
    {
        Noise noise(1);
        auto strong = figures;
        strong.gain_countsM2 *= 10.0;
        for (int i = 0; i < 50; ++i) {
            QCOMPARE(sense::reflectanceReading(strong, 0.9, 0.002, 1.0, noise), sense::mostCounts);
            const int none = sense::reflectanceReading({.gain_countsM2 = 1e-9, .noise_counts = 5.0},
                                                       0.0, 0.1, 0.0, noise);
            QVERIFY(none >= 0 && none < 40);
        }
    }

    void theNoiseIsAsLargeAsItSays()
    {
        Noise noise(2);
        double sum = 0.0;
        double squares = 0.0;
        constexpr int n = 4000;
        for (int i = 0; i < n; ++i) {
            const double r = sense::reflectanceReading(figures, 0.5, 0.012, 0.2, noise);
            sum += r;
            squares += r * r;
        }
        const double mean = sum / n;
        COMPARE_NEAR(mean, sense::reflectedCounts(figures, 0.5, 0.012, 0.2), 0.4);
        // Rounding adds a twelfth of a count squared.
        COMPARE_NEAR(std::sqrt(squares / n - mean * mean), std::sqrt(36.0 + 1.0 / 12.0), 0.3);
    }

    /// The comparator switches where its trimmer's volts lie: 1023 counts are the whole supply.
    void aModuleSwitchesAtItsReference()
    {
        auto quiet = figures;
        quiet.noise_counts = 0.0;
        Noise noise(3);
        const double share = sense::reflectedCounts(quiet, 0.85, 0.008, 0.1) / sense::mostCounts;
        QVERIFY(sense::seesLight(quiet, 0.85, 0.008, 0.1, share - 0.001, noise));
        QVERIFY(!sense::seesLight(quiet, 0.85, 0.008, 0.1, share + 0.001, noise));
        // Lifted until its light goes out: that height is its range at this setting.
        const double range_m =
            std::sqrt(quiet.gain_countsM2 * 0.85 / (0.4 * 1023.0 - 12.0 - 19.0)) - 0.009;
        QVERIFY(sense::seesLight(quiet, 0.85, range_m - 1e-4, 0.1, 0.4, noise));
        QVERIFY(!sense::seesLight(quiet, 0.85, range_m + 1e-4, 0.1, 0.4, noise));
    }

    /// Ten times the light: R falls to 10^-0.7 of it, a fifth.
    void aLightResistorInItsDivider()
    {
        COMPARE_NEAR(sense::lightResistance_ohm({}, 10.0), 10000.0, 1e-9);
        COMPARE_NEAR(sense::lightResistance_ohm({}, 100.0), 1995.26, 0.01);
        COMPARE_NEAR(sense::lightCounts(2200.0, 2200.0), 511.5, 1e-12);
        QVERIFY(sense::lightCounts(1000.0, 2200.0) > sense::lightCounts(5000.0, 2200.0));
    }

    /// No other partner parts the two lights farther.
    void theBestPartnerPartsTheMost()
    {
        const double bright = 800.0;
        const double dark = 12000.0;
        const auto apart = [&](double partner) {
            return sense::lightCounts(bright, partner) - sense::lightCounts(dark, partner);
        };
        const double best = sense::bestPartner_ohm(bright, dark);
        for (double r = 100.0; r < 100000.0; r *= 1.03)
            QVERIFY(apart(r) <= apart(best) + 1e-9);
    }
};

BADGER_TEST(TestReflectance)
#include "test_reflectance.moc"
