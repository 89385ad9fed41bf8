// SPDX-License-Identifier: GPL-3.0-or-later
// Sources in series, as people build them from two holders: one ground, the sum of their volts, in
// the wires, the tree and what is said of them.
#include "core/circuit/car_network.h"
#include "core/circuit/full_duty.h"
#include "core/nets/nets.h"
#include "core/power/report.h"
#include "core/wiring/check.h"
#include "support/fixture.h"
#include "tests/support/leaks.h"

using namespace badger;
using kit::Charge;
using power::Case;
using power::Load;
using test::Bench;

namespace
{

/// The demo car on two holders of so many cells, the second under the first.
void stacked(Bench &b, int upper, int lower)
{
    auto &pack = b.instance("pack");
    pack.cellsInSeries = upper;
    auto second = pack;
    second.id = "second";
    second.cellsInSeries = lower;
    second.mount.reset();
    for (auto &w : b.car.wires)
        for (auto *end : {&w.from, &w.to})
            if (*end == "pack.MINUS")
                *end = "second.MINUS";
    b.car.parts.push_back(second);
    b.car.wires.push_back({"pack.MINUS", "second.PLUS", "black", {}});
}

const power::Values &voltsAt(const power::Report &r, const char *node, Load load = Load::Running)
{
    return r.tree.at(r.tree.indexOf(node), {Charge::Nominal, load, Case::Typical});
}

} // namespace

class TestSeries final : public QObject
{
    Q_OBJECT
private slots:
    /// 4 + 4 cells are 8 cells: the same volts and amps everywhere.
    void twoHoldersAreOne()
    {
        for (const auto &[upper, lower] :
             std::vector<std::pair<int, int>>{{4, 4}, {6, 2}, {1, 7}}) {
            Bench two;
            stacked(two, upper, lower);
            Bench one;
            one.instance("pack").cellsInSeries = 8;
            const auto a = power::report({two.car, two.catalogue});
            const auto b = power::report({one.car, one.catalogue});
            for (const auto load : power::loads)
                for (const auto *node : {"switch", "board.VIN", "board.5V", "driver.VS", "left"}) {
                    QVERIFY2(a.tree.node(node), node);
                    COMPARE_NEAR(voltsAt(a, node, load).volts_V, voltsAt(b, node, load).volts_V,
                                 test::leaks);
                    COMPARE_NEAR(voltsAt(a, node, load).amps_A, voltsAt(b, node, load).amps_A,
                                 test::leaks);
                }
            COMPARE_NEAR(voltsAt(a, "second").amps_A, voltsAt(a, "pack").amps_A, test::leaks);
            QVERIFY(!voltsAt(a, "driver.VS").offBranch); // the network makes the same
            QCOMPARE(a.at(Charge::Nominal)[0].cap.count, b.at(Charge::Nominal)[0].cap.count);
            QVERIFY(a.at(Charge::Nominal)[0].cap.count < 255);
            QVERIFY(a.runTime && b.runTime);
            COMPARE_NEAR(a.runTime->typical_h, b.runTime->typical_h, test::leaks);
        }
    }

    void theLowestMinusIsGround()
    {
        Bench b;
        stacked(b, 4, 4);
        const nets::Nets nets({b.car, b.catalogue});
        QCOMPARE(nets.reference()->name, std::string("second.MINUS"));
        QVERIFY(!nets.isGround(nets.of("pack.MINUS")));
        QVERIFY(nets.isGround(nets.of("second.MINUS")));
        QCOMPARE(nets.standsOn(*nets.member("pack.MINUS"))->name, std::string("second.PLUS"));
        QVERIFY(nets.standsOn(*nets.member("second.MINUS")) == nullptr);
        const auto plus = nets.sources(nets.of("pack.PLUS"), Charge::Nominal);
        COMPARE_NEAR(plus.front().volts_V, 9.6, test::leaks);
        const auto middle = nets.sources(nets.of("second.PLUS"), Charge::Nominal);
        COMPARE_NEAR(middle.front().volts_V, 4.8, test::leaks);
    }

    /// Faultless wires, and nothing is said of them.
    void nothingIsWrongWithIt()
    {
        Bench b;
        stacked(b, 3, 3);
        const auto r = wiring::check({b.car, b.catalogue});
        QVERIFY2(!hasError(r.findings),
                 r.findings.empty() ? "" : english(r.findings.front().what).c_str());
    }

    void theArithmeticNamesBoth()
    {
        Bench b;
        stacked(b, 4, 4);
        const kit::Assembly car(b.car, b.catalogue);
        const auto r = power::report(car);
        const auto why = power::why(r.tree, car, "driver.VS", power::Quantity::Volts,
                                    {Charge::Nominal, Load::Idle, Case::Typical});
        QVERIFY(why.steps.size() >= 3);
        QCOMPARE(english(why.steps[0].value), std::string("4.8 V"));
        const auto second = std::find_if(why.steps.begin(), why.steps.end(), [](const auto &s) {
            return english(s.value) == "+ 4.8 V";
        });
        QVERIFY(second != why.steps.end());
    }

    /// In a ring nothing is lowest; it is drawn all the same, once each.
    void aRingEnds()
    {
        Bench b;
        stacked(b, 4, 4);
        b.car.wires.push_back({"pack.PLUS", "second.MINUS", "black", {}});
        const auto r = power::report({b.car, b.catalogue});
        QCOMPARE(std::count_if(r.tree.nodes.begin(), r.tree.nodes.end(),
                               [](const auto &n) { return n.kind == power::NodeKind::Source; }),
                 2);
    }
};

BADGER_TEST(TestSeries)
#include "test_series.moc"
