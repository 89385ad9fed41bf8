// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/noise.h"
#include "support/fixture.h"

using namespace badger;

class TestNoise final : public QObject
{
    Q_OBJECT
private slots:
    /// The first numbers of a seed, reckoned with whole numbers of another language.
    void theNumbersAreThoseOfTheSpecification()
    {
        Noise n(1234567);
        for (const std::uint64_t want :
             {6457827717110365317ULL, 3203168211198807973ULL, 9817491932198370423ULL,
              4593380528125082431ULL, 16408922859458223821ULL})
            QCOMPARE(n.bits(), want);
    }

    void evenNumbers()
    {
        Noise n(3);
        std::vector<int> tenths(10, 0);
        for (int i = 0; i < 100000; ++i) {
            const double u = n.uniform();
            QVERIFY(u >= 0.0 && u < 1.0);
            ++tenths[static_cast<size_t>(u * 10.0)];
        }
        for (const int t : tenths) // 10,000 each, deviation 95
            QVERIFY2(std::abs(t - 10000) < 500, qPrintable(QString::number(t)));
    }

    /// Mean 0, deviation 1, and the share beyond two of the sum of twelve even numbers.
    void bells()
    {
        Noise n(4);
        double sum = 0.0, squares = 0.0;
        int beyond = 0;
        constexpr int count = 200000;
        for (int i = 0; i < count; ++i) {
            const double b = n.bell();
            QVERIFY(std::abs(b) <= 6.0);
            sum += b;
            squares += b * b;
            beyond += std::abs(b) > 2.0;
        }
        COMPARE_NEAR(sum / count, 0.0, 0.012);
        COMPARE_NEAR(squares / count, 1.0, 0.02);
        COMPARE_NEAR(double(beyond) / count, 0.0455, 0.003);
    }

    /// Seeds beside each other have nothing in common.
    void seedsBesideEachOther()
    {
        double together = 0.0;
        constexpr int count = 20000;
        for (std::uint64_t seed = 0; seed < count; ++seed)
            together += (Noise(seed).uniform() - 0.5) * (Noise(seed + 1).uniform() - 0.5);
        COMPARE_NEAR(together / count * 12.0, 0.0, 0.04);
    }
};

BADGER_TEST(TestNoise)
#include "test_noise.moc"
