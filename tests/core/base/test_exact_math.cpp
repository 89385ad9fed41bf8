// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/exact_math.h"
#include "support/fixture.h"

using namespace badger;

class TestExactMath final : public QObject
{
    Q_OBJECT
private slots:
    /// Against the library's, to the errors that the header states.
    void theLibraryAgrees()
    {
        for (double x = -700.0; x < 700.0; x += 0.0931)
            QVERIFY2(std::abs(exact::exp(x) / std::exp(x) - 1.0) < 4e-16,
                     qPrintable(QString::number(x)));
        for (double x = -100.0; x < 100.0; x += 0.00917) {
            const auto both = exact::sineCosine(x);
            QVERIFY2(std::abs(both.sine - std::sin(x)) < 3e-16, qPrintable(QString::number(x)));
            QVERIFY2(std::abs(both.cosine - std::cos(x)) < 3e-16, qPrintable(QString::number(x)));
        }
        for (double x = 1e-6; x < 1e6; x *= 1.0037)
            QVERIFY(std::abs(exact::log(x) - std::log(x)) < 4e-15);
    }
    void theEnds()
    {
        QCOMPARE(exact::exp(0.0), 1.0);
        QCOMPARE(exact::exp(-800.0), 0.0);
        QCOMPARE(exact::sineCosine(0.0).sine, 0.0);
        QCOMPARE(exact::log(1.0), 0.0);
    }
};

BADGER_TEST(TestExactMath)
#include "test_exact_math.moc"
