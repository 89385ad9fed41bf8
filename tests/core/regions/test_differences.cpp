// SPDX-License-Identifier: GPL-3.0-or-later
// Systems of differences against trying every number.
#include "core/regions/differences.h"
#include "support/suite.h"

#include <QTest>
#include <cmath>
#include <random>

using badger::regions::Edge;
using badger::regions::solve;

class TestDifferences final : public QObject
{
    Q_OBJECT

    static bool keeps(const std::vector<Edge> &edges, const std::vector<double> &x)
    {
        for (const auto &e : edges) {
            const double d = x[static_cast<size_t>(e.to)] - x[static_cast<size_t>(e.from)];
            if (e.bound.strict < 0 ? !(d < e.bound.value) : !(d <= e.bound.value))
                return false;
        }
        return true;
    }

    /// Is there an answer on a grid of halves from -6 to 6? Whole bounds have one there if
    /// anywhere: three numbers leave strict bounds no finer room than a third, and halves of wider
    /// ones.
    static bool byTrying(const std::vector<Edge> &edges, double step)
    {
        for (double a = -6.0; a <= 6.0; a += step)
            for (double b = -6.0; b <= 6.0; b += step)
                if (keeps(edges, {0.0, a, b}))
                    return true;
        return false;
    }

    static std::vector<Edge> some(std::mt19937 &random, bool strict)
    {
        std::vector<Edge> edges;
        for (int node = 1; node <= 2; ++node) { // within reach of the grid
            edges.push_back({0, node, {5.0, 0}});
            edges.push_back({node, 0, {5.0, 0}});
        }
        const auto n = random() % 5;
        for (unsigned i = 0; i < n; ++i) {
            const int from = static_cast<int>(random() % 3);
            const int to = static_cast<int>((static_cast<unsigned>(from) + 1 + random() % 2) % 3);
            edges.push_back(
                {from,
                 to,
                 {static_cast<double>(random() % 11) - 5.0, strict && random() % 2 ? -1 : 0}});
        }
        return edges;
    }

private slots:
    void wholeNumbersAgreeWithTryingAll()
    {
        std::mt19937 random(11);
        int with = 0;
        int without = 0;
        for (int round = 0; round < 3000; ++round) {
            const auto edges = some(random, false);
            const auto x = solve(3, edges);
            QCOMPARE(x.has_value(), byTrying(edges, 1.0));
            (x ? with : without)++;
            if (!x)
                continue;
            QCOMPARE(x->front(), 0.0);
            QVERIFY(keeps(edges, *x));
            for (const double v : *x)
                QCOMPARE(v, std::trunc(v));
        }
        QVERIFY2(with > 500 && without > 200, qPrintable(QString::number(without)));
    }

    void strictBoundsAreKept()
    {
        std::mt19937 random(12);
        int with = 0;
        int without = 0;
        for (int round = 0; round < 2000; ++round) {
            const auto edges = some(random, true);
            const auto x = solve(3, edges);
            QCOMPARE(x.has_value(), byTrying(edges, 0.25));
            (x ? with : without)++;
            if (x)
                QVERIFY(keeps(edges, *x));
        }
        QVERIFY2(with > 300 && without > 150, qPrintable(QString::number(without)));
    }

    void nothingIsAskedNothingIsNeeded()
    {
        QCOMPARE(solve(3, {})->size(), size_t(3));
        // x < 0 and x > 0; x <= 0 and x >= 0.
        QVERIFY(!solve(2, {{0, 1, {0.0, -1}}, {1, 0, {0.0, 0}}}));
        QVERIFY(solve(2, {{0, 1, {0.0, 0}}, {1, 0, {0.0, 0}}}));
    }
};

BADGER_TEST(TestDifferences)
#include "test_differences.moc"
