// SPDX-License-Identifier: GPL-3.0-or-later
// The tree reckons by sums along its branches, the network is solved: both give the same volts.
#include "core/circuit/car_network.h"
#include "core/circuit/stated.h"
#include "core/power/check.h"
#include "core/power/report.h"
#include "core/power/tree.h"
#include "support/kits.h"

using namespace badger;
using namespace badger::power;
using kit::Charge;

class TestOneAnswer final : public QObject
{
    Q_OBJECT
private slots:
    void theTreeHasTheNetworksVolts()
    {
        Pieces<kit::Car> cars = test::demo().cars;
        for (const auto &k : io::startingKits()) // these have no wires yet: their feeds are stated
            cars.push_back(k.car);
        int compared = 0;
        for (const auto &car : cars) {
            const kit::Assembly assembly(car, io::shippedCatalogue());
            const auto tree = solve(assembly);
            const auto wired = circuit::withStatedWires(assembly);
            const kit::Assembly whole(wired, io::shippedCatalogue());
            const nets::Nets nets(whole);
            const circuit::CarNetwork net(nets);
            for (const auto charge : {Charge::Fresh, Charge::Nominal, Charge::NearEmpty})
                for (const auto load : {Load::Idle, Load::Running, Load::Stalled}) {
                    const circuit::Conditions c{charge, static_cast<circuit::Moving>(load),
                                                circuit::Figures::Typical, true,
                                                load != Load::Idle};
                    const std::vector<circuit::Level> low(net.outputs().size(),
                                                          circuit::Level::Low);
                    const auto answer = load == Load::Idle ? net.solve(c, low)
                                                           : net.solveWith(c, low, net.allDriven());
                    QVERIFY(answer.solved);
                    for (size_t i = 0; i < tree.nodes.size(); ++i) {
                        const auto &n = tree.nodes[i];
                        const auto *m = nets.member(n.id);
                        const auto &v = tree.at(int(i), {charge, load, Case::Typical});
                        if (m == nullptr || v.atMost || !v.voltsKnown ||
                            (n.kind != NodeKind::Input && n.kind != NodeKind::Output))
                            continue;
                        const auto volts =
                            net.ownVolts_V(answer, static_cast<size_t>(m - nets.all().data()));
                        if (!volts)
                            continue;
                        QVERIFY2(std::abs(*volts - v.volts_V) < 0.005,
                                 qPrintable(QString("%1 %2, %3, %4: tree %5 V, network %6 V")
                                                .arg(car.name.c_str(), n.id.c_str(), name(charge),
                                                     name(load))
                                                .arg(v.volts_V)
                                                .arg(*volts)));
                        ++compared;
                    }
                }
        }
        QVERIFY2(compared > 600, qPrintable(QString::number(compared)));
    }

    /// A tree that says nothing of loops has none; where a second way feeds a place, it says so.
    void aLoopIsSaid()
    {
        for (const auto &car : test::demo().cars)
            for (const auto &n : solve({car, io::shippedCatalogue()}).nodes)
                for (const auto &v : n.states)
                    QVERIFY2(!v.offBranch, (car.name + " " + n.id).c_str());
        auto avocet = *test::demo().car("Avocet");
        kit::Instance second =
            *avocet.instance("pack"); // eight cells beside the six, by a resistor
        second.id = "second";
        second.cellsInSeries = 8;
        avocet.parts.push_back(second);
        kit::Instance r;
        r.id = "r";
        r.partId = "resistor-330";
        avocet.parts.push_back(r);
        avocet.parts.push_back(r);
        avocet.parts.back().id = "load";
        avocet.wires.push_back({"second.PLUS", "r.A", "red", {}});
        avocet.wires.push_back({"r.B", "load.A", "red", {}});
        avocet.wires.push_back({"load.B", "second.MINUS", "black", {}});
        avocet.wires.push_back({"second.MINUS", "board.GND3", "black", {}});
        std::erase_if(avocet.wires, [](const kit::Wire &w) { return w.to == "board.VIN"; });
        avocet.wires.push_back({"r.B", "board.VIN", "red", {}});
        const kit::Assembly car(avocet, io::shippedCatalogue());
        const auto tree = solve(car);
        const int jack = tree.indexOf("board.VIN");
        QVERIFY(jack >= 0);
        const auto &v = tree.at(jack, {Charge::Nominal, Load::Running, Case::Typical});
        // The board alone takes 65 mA through 330 ohm: far less than the tree's sum is left.
        QVERIFY(v.offBranch && v.volts_V < v.branch_V - 1.0);
        QVERIFY(english(voltsText(v)).ends_with("(as wired)"));
        const auto found = check(car, report(car)).findings;
        QVERIFY(test::find(found, "tree-has-loop"));
        const auto d = why(tree, car, "board.VIN", Quantity::Volts,
                           {Charge::Nominal, Load::Running, Case::Typical});
        QCOMPARE(english(d.steps.back().name), std::string("the wires make"));
    }
};

BADGER_TEST(TestOneAnswer)
#include "test_one_answer.moc"
