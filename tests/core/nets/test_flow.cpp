// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/edit/kit_edits.h"
#include "core/nets/flow.h"
#include "core/power/check.h"
#include "support/fixture.h"

using namespace badger;
using namespace badger::nets;
using test::Bench;

namespace
{

Flow flowAt(const Bench &b, const std::string &from, const std::string &to)
{
    const Nets nets({b.car, b.catalogue});
    for (const auto &f : flows(nets)) {
        const auto &w = b.car.wires[f.wire];
        if (w.from == from && w.to == to)
            return f;
    }
    return {};
}

} // namespace

class TestFlow final : public QObject
{
    Q_OBJECT
private slots:
    void currentsByHand()
    {
        // Motors 2 × 250 mA, the module 36 mA; the board 50 mA and the ranger 15 mA.
        const Bench b;
        COMPARE_NEAR(flowAt(b, "pack.PLUS", "switch.IN").running_A, 0.601, 1e-12);
        COMPARE_NEAR(flowAt(b, "switch.OUT", "driver.VS").running_A, 0.536, 1e-12);
        COMPARE_NEAR(flowAt(b, "switch.OUT", "board.VIN").running_A, 0.065, 1e-12);
        COMPARE_NEAR(flowAt(b, "board.5V", "ranger.VCC").running_A, 0.015, 1e-12);
        COMPARE_NEAR(flowAt(b, "driver.OUT1", "left.A").stalled_A, 0.9, 1e-12);
        // What flows out comes back: the board's and the ranger's by way of the driver's ground.
        COMPARE_NEAR(flowAt(b, "pack.MINUS", "driver.GND").running_A, 0.601, 1e-12);
        COMPARE_NEAR(flowAt(b, "driver.GND", "board.GND1").running_A, 0.065, 1e-12);
        COMPARE_NEAR(flowAt(b, "ranger.TRIG", "board.D8").running_A, 0.0, 1e-12);
    }

    /// The pack's lead carries what the power tree says, on every demo car.
    void agreesWithThePowerTree()
    {
        int compared = 0;
        for (const auto &car : test::demo().cars) {
            const Bench b(car.name);
            const auto tree = power::solve({b.car, b.catalogue});
            const Nets nets({b.car, b.catalogue});
            for (const auto &f : flows(nets)) {
                const auto &w = b.car.wires[f.wire];
                const int node = tree.indexOf(kit::splitTerminal(w.from).instance);
                if (!w.from.ends_with("PLUS") || node < 0 ||
                    tree.nodes[size_t(node)].kind != power::NodeKind::Source ||
                    w.from.starts_with("servo-pack") || w.from.starts_with("bank"))
                    continue; // those fan out by several wires
                COMPARE_NEAR(f.running_A, tree.at(node, power::nominalRunning).amps_A, 1e-9);
                ++compared;
            }
        }
        QVERIFY(compared >= 7);
    }

    void aSecondPackTakesBackItsOwn()
    {
        const Bench b("Curlew");
        const auto servo = flowAt(b, "servo-pack.MINUS", "servo.GND");
        COMPARE_NEAR(servo.running_A, flowAt(b, "servo-pack.PLUS", "servo.VCC").running_A, 1e-12);
        QVERIFY(servo.running_A > 0.0);
        // The wire that only joins the grounds carries nothing.
        COMPARE_NEAR(flowAt(b, "servo-pack.MINUS", "board.GND3").running_A, 0.0, 1e-12);
    }

    void parallelMotorsShareTheirOutputs()
    {
        const Bench b("Redshank");
        COMPARE_NEAR(flowAt(b, "switch.OUT", "driver.VS8").stalled_A, 3.6, 1e-12);
        COMPARE_NEAR(flowAt(b, "driver.OUT3", "left.A").stalled_A, 0.9, 1e-12);
        COMPARE_NEAR(flowAt(b, "driver.OUT3", "left-front.A").stalled_A, 0.9, 1e-12);
    }

    void lightsAndBuzzersOnPins()
    {
        Bench b;
        const auto led = edit::addPart(b.car, b.catalogue, "led-red");
        const auto r = edit::addPart(b.car, b.catalogue, "resistor-330");
        b.car.wires.push_back({led + ".PLUS", r + ".A", "pink"});
        b.car.wires.push_back({r + ".B", "board.D9", "pink"});
        const auto loads = pinLoads(Nets({b.car, b.catalogue}));
        QCOMPARE(loads.size(), size_t(1));
        QCOMPARE(loads[0].pin, std::string("board.D9"));
        COMPARE_NEAR(loads[0].amps_A, 3.0 / 330.0, 1e-12);
    }

    void railsAndTheirLimits()
    {
        const Bench b;
        const auto rails = railLoads(Nets({b.car, b.catalogue}));
        QCOMPARE(rails.size(), size_t(1)); // the driver's own 5 V feeds nothing
        QCOMPARE(rails[0].terminal, std::string("board.5V"));
        COMPARE_NEAR(rails[0].running_A, 0.015, 1e-12);
        COMPARE_NEAR(rails[0].limit_A, 0.5, 1e-12);
    }

    void ringsAndLooseEndsDoNotTrouble()
    {
        Bench b;
        b.car.wires.push_back({"switch.OUT", "driver.VS", "red"}); // twice
        b.car.wires.push_back({"driver.VS", "board.VIN", "red"});  // a ring
        b.car.wires.push_back({"nobody.X", "board.D9", "pink"});
        COMPARE_NEAR(flowAt(b, "pack.PLUS", "switch.IN").running_A, 0.601, 1e-12);
        QVERIFY(thinnestJumper_A(b.catalogue) && !thinnestJumper_A(parts::Catalogue{}));
    }
};

BADGER_TEST(TestFlow)
#include "test_flow.moc"
