// SPDX-License-Identifier: GPL-3.0-or-later
// Networks whose answer is known by hand, and laws that hold for any of them.
#include "core/circuit/network.h"
#include "support/suite.h"

#include <random>

using namespace badger::circuit;

namespace
{

/// A random network of everything there is, with sources enough to drive it.
Network random(unsigned seed)
{
    std::mt19937 r(seed);
    const auto in = [&](double low, double high) {
        return std::uniform_real_distribution<double>(low, high)(r);
    };
    Network n;
    n.nodes = 3 + static_cast<int>(r() % 30);
    const auto node = [&] { return static_cast<int>(r() % static_cast<unsigned>(n.nodes)); };
    const int branches = n.nodes + static_cast<int>(r() % 40);
    for (int i = 0; i < branches; ++i) {
        const int a = node();
        int b = node();
        if (a == b)
            b = (a + 1) % n.nodes;
        switch (r() % 9) {
        case 0:
            n.branches.push_back({a, b, Curve::cells(in(1, 12), in(0.02, 2))});
            break;
        case 1:
            n.branches.push_back({a, b, Curve::supply(in(3, 12), in(0.05, 0.5), in(0.2, 2))});
            break;
        case 2:
            n.branches.push_back({a, b, Curve::diode(in(0.2, 3), in(0.01, 30))});
            break;
        case 3:
            n.branches.push_back({a, b, Curve::load(in(0.001, 0.5), in(1, 4), 0.7, 1)});
            break;
        case 4:
            n.branches.push_back({a, b, Curve::turning(in(0.1, 0.5), in(2, 10))});
            break;
        case 5:
            n.branches.push_back({a, b, Curve::twoWay(in(0.3, 1.2), in(0.1, 1), 0.8, 0.1)});
            break;
        case 6:
            n.regulators.push_back({a, b, 0, in(3, 6), in(0.2, 2), in(0.3, 1)});
            if (a == 0 || b == 0)
                n.regulators.pop_back();
            break;
        default:
            n.branches.push_back({a, b, Curve::resistor(in(0.02, 20000))});
        }
    }
    return n;
}

} // namespace

class TestCircuit final : public QObject
{
    Q_OBJECT
private slots:
    void aPackAndItsLoad()
    {
        Network n;
        n.nodes = 3;
        n.branches = {{1, 0, Curve::cells(7.2, 0.18)},
                      {1, 2, Curve::diode(0.7, 1e-3)},
                      {2, 0, Curve::load(0.5, 2.0, 0.7, 1.0)}};
        const auto s = solve(n);
        QVERIFY(s.solved);
        QVERIFY(std::abs(s.volts_V[1] - (7.2 - 0.18 * 0.5)) < 1e-6);
        QVERIFY(std::abs(s.volts_V[2] - (7.2 - 0.09 - 0.7 - 5e-4)) < 1e-6);
        QVERIFY(std::abs(s.amps_A[0] + 0.5) < 1e-7);
    }
    void packsInSeriesParallelAndReversed()
    {
        Network n;
        n.nodes = 3;
        n.branches = {{1, 0, Curve::cells(6.0, 0.5)},
                      {2, 1, Curve::cells(6.0, 0.5)},
                      {2, 0, Curve::resistor(11.0)}};
        QVERIFY(std::abs(solve(n).volts_V[2] - 11.0) < 1e-6);
        n.branches[1] = {1, 2, Curve::cells(6.0, 0.5)};
        QVERIFY(std::abs(solve(n).volts_V[2]) < 1e-6);
        n.nodes = 2;
        n.branches = {{1, 0, Curve::cells(9.0, 1.0)}, {1, 0, Curve::cells(6.0, 0.5)}};
        QVERIFY(std::abs(solve(n).amps_A[1] - 2.0) < 1e-6); // the weaker is charged
    }
    void aRegulatorHoldsDropsOutAndSags()
    {
        Network n;
        n.nodes = 3;
        n.regulators = {{1, 2, 0, 5.0, 1.8, 0.5}};
        const auto out = [&](double in_V, double ohm) {
            n.branches = {{1, 0, Curve::cells(in_V, 0.01)}, {2, 0, Curve::resistor(ohm)}};
            const auto s = solve(n);
            return s.solved ? s.volts_V[2] : -1.0;
        };
        QVERIFY(std::abs(out(9.0, 50.0) - 5.0) < 1e-4);
        QVERIFY(std::abs(out(6.0, 50.0) - 4.2) < 2e-3);
        QVERIFY(out(9.0, 7.0) < 4.6); // 0.7 A asked of 0.5 A
        QVERIFY(std::abs(out(1.0, 50.0)) < 1e-6);
    }
    void aShortIsSolvedToo()
    {
        Network n;
        n.nodes = 2;
        n.branches = {{1, 0, Curve::cells(7.2, 0.18)}, {1, 0, Curve::resistor(1e-4)}};
        const auto s = solve(n);
        QVERIFY(s.solved);
        QVERIFY(std::abs(s.amps_A[1] - 7.2 / 0.1801) < 1e-3);
    }
    void whatFlowsInFlowsOutWhateverTheNetwork()
    {
        for (unsigned seed = 0; seed < 3000; ++seed) {
            const auto n = random(seed);
            const auto s = solve(n);
            QVERIFY2(s.solved, qPrintable(QString("seed %1").arg(seed)));
            std::vector<double> in(static_cast<size_t>(n.nodes), 0.0);
            double scale = 1e-6;
            const auto flow = [&](int from, int to, double amps) {
                in[static_cast<size_t>(from)] -= amps;
                in[static_cast<size_t>(to)] += amps;
                scale += std::abs(amps);
            };
            for (size_t i = 0; i < n.branches.size(); ++i)
                flow(n.branches[i].from, n.branches[i].to, s.amps_A[i]);
            for (size_t i = 0; i < n.regulators.size(); ++i)
                flow(n.regulators[i].in, n.regulators[i].out, s.regulators_A[i]);
            for (size_t i = 1; i < in.size(); ++i)
                QVERIFY2(std::abs(in[i] - leak_S * s.volts_V[i]) < 1e-9 * scale + 1e-7,
                         qPrintable(QString("seed %1 node %2: %3").arg(seed).arg(i).arg(in[i])));
        }
    }
    /// A start from elsewhere changes the way and not the answer.
    void theAnswerDoesNotDependOnTheStart()
    {
        std::mt19937 r(7);
        for (unsigned seed = 0; seed < 300; ++seed) {
            auto n = random(seed);
            n.regulators.clear(); // without them the solution is one by proof
            const Solver solver(n);
            const auto a = solver.solve(n);
            std::vector<double> start(static_cast<size_t>(n.nodes));
            for (auto &v : start)
                v = std::uniform_real_distribution<double>(-20, 20)(r);
            start[0] = 0.0;
            const auto b = solver.solve(n, start);
            QVERIFY2(a.solved && b.solved,
                     qPrintable(QString("seed %1: %2 %3").arg(seed).arg(a.solved).arg(b.solved)));
            for (size_t i = 0; i < n.branches.size(); ++i)
                QVERIFY2(std::abs(a.amps_A[i] - b.amps_A[i]) < 1e-6 * (1 + std::abs(a.amps_A[i])),
                         qPrintable(QString("seed %1 branch %2").arg(seed).arg(i)));
        }
    }
};

BADGER_TEST(TestCircuit)
#include "test_network.moc"
