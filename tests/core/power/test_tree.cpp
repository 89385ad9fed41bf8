// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/power/tree.h"
#include "support/kits.h"
#include "tests/support/leaks.h"

using namespace badger;
using namespace badger::power;
using kit::Charge;
using test::Kit;

namespace
{

Values nodeAt(const Tree &tree, const char *node, State state = nominalRunning)
{
    const int i = tree.indexOf(node);
    if (i < 0)
        qFatal("no node %s", node);
    return tree.at(i, state);
}

} // namespace

class TestTree final : public QObject
{
    Q_OBJECT
private slots:
    void ampsByHand()
    {
        // Two motors of 250 mA, the module's own 36 mA, the board's 50 mA and the ranger's 15 mA.
        const auto tree = solve({Kit().car, io::shippedCatalogue()});
        COMPARE_NEAR(nodeAt(tree, "driver.A").amps_A, 0.250, test::leaks);
        COMPARE_NEAR(nodeAt(tree, "driver.VS").amps_A, 0.536, test::leaks);
        COMPARE_NEAR(nodeAt(tree, "board.5V").amps_A, 0.065, test::leaks);
        COMPARE_NEAR(nodeAt(tree, "pack").amps_A, 0.601, test::leaks);
        // At rest no motor draws; the ranger and the board do: 36 + 45 + 2.
        const State idle{Charge::Nominal, Load::Idle, Case::Typical};
        COMPARE_NEAR(nodeAt(tree, "pack", idle).amps_A, 0.083, test::leaks);
        const State stalled{Charge::Nominal, Load::Stalled, Case::Typical};
        // Held, a motor is 4.5 V / 0.9 A = 5 ohm: 7.2 V less the drop of 1.8 V and 1.4 ohm, and
        // what 0.101 A and both motors lose in 0.23 ohm.
        COMPARE_NEAR(nodeAt(tree, "driver.A", stalled).amps_A,
                     (7.2 - 1.8 - 0.101 * 0.23) / (5.0 + 1.4 + 2 * 0.23), 1e-4);
    }

    void voltsByHand()
    {
        const auto tree = solve({Kit().car, io::shippedCatalogue()});
        // Six cells of 0.03 ohm, a fuse of 0.03 and a switch of 0.02, all with 601 mA.
        const double pack = 7.2 - 0.601 * 0.18;
        COMPARE_NEAR(nodeAt(tree, "pack").volts_V, pack, test::leaks);
        const double after = pack - 0.601 * 0.05;
        COMPARE_NEAR(nodeAt(tree, "driver.VS").volts_V, after, test::leaks);
        COMPARE_NEAR(nodeAt(tree, "left").volts_V, after - 1.8 - 1.4 * 0.25, test::leaks);
        COMPARE_NEAR(nodeAt(tree, "board.5V").volts_V, 5.0, test::leaks);
        // Without sag the motor has 5.05 V at full duty.
        COMPARE_NEAR(nodeAt(tree, "driver.A").ceiling_V, 5.05, test::leaks);
    }

    void charges_data()
    {
        QTest::addColumn<int>("charge");
        QTest::addColumn<double>("volts");
        QTest::newRow("fresh") << 0 << 8.4;
        QTest::newRow("nominal") << 1 << 7.2;
        QTest::newRow("near empty") << 2 << 6.0;
    }
    void charges()
    {
        QFETCH(int, charge);
        QFETCH(double, volts);
        const auto tree = solve({Kit().car, io::shippedCatalogue()});
        const auto v = nodeAt(tree, "pack", {Charge(charge), Load::Idle, Case::Typical});
        COMPARE_NEAR(v.feed_V, volts, test::leaks);
        QVERIFY(v.voltsKnown && !v.atMost);
    }

    void heatByHand()
    {
        const auto tree = solve({Kit().car, io::shippedCatalogue()});
        COMPARE_NEAR(*nodeAt(tree, "driver.A").heat_W, 2.15 * 0.25, test::leaks);
        const auto rail = nodeAt(tree, "board.5V");
        COMPARE_NEAR(*rail.heat_W, (rail.feed_V - 0.7 - 5.0) * 0.065, test::leaks);
    }

    void railSagsWhenItsInputIsTooLow()
    {
        const auto tree = solve({Kit().car, io::shippedCatalogue()});
        const State empty{Charge::NearEmpty, Load::Running, Case::Typical};
        const auto rail = nodeAt(tree, "board.5V", empty);
        QVERIFY(!rail.held);
        COMPARE_NEAR(rail.volts_V, rail.feed_V - 0.7 - 1.1, test::leaks);
    }

    void mosfetDropsWithCurrent()
    {
        const auto tree = solve({Kit("Look both ways").car, io::shippedCatalogue()});
        const State stalled{Charge::Nominal, Load::Stalled, Case::Typical};
        COMPARE_NEAR(nodeAt(tree, "driver.A").fixed_V, 0.16 * 0.4, test::leaks);
        // Its motor of 6 V / 0.8 A is held and gets a little more than its rated volts.
        const double held_A = nodeAt(tree, "driver.A", stalled).amps_A;
        QVERIFY(held_A > 0.8 && held_A < 0.9);
        COMPARE_NEAR(nodeAt(tree, "driver.A", stalled).fixed_V, held_A * 0.4, test::leaks);
        COMPARE_NEAR(*nodeAt(tree, "driver.A", stalled).heat_W, held_A * held_A * 0.4, test::leaks);
    }

    /// What flows into a node flows out of it or is used there, in every state of every kit and
    /// every car of the demo; volts never rise on the way, and the worst case is no better.
    void conservation()
    {
        Pieces<kit::Car> cars = test::demo().cars;
        for (const auto &k : io::startingKits())
            cars.push_back(k.car);
        for (const auto &car : cars) {
            const auto tree = solve({car, io::shippedCatalogue()});
            for (const auto c : kit::charges)
                for (const auto l : power::loads)
                    for (const auto k : power::cases)
                        for (size_t i = 0; i < tree.nodes.size(); ++i) {
                            const State state{c, l, k};
                            const auto &v = tree.at(int(i), state);
                            double below = 0.0;
                            for (const int child : tree.childrenOf(int(i)))
                                below += tree.at(child, state).amps_A;
                            QVERIFY2(below <= v.amps_A + 1e-12, tree.nodes[i].id.c_str());
                            QVERIFY(v.volts_V >= 0.0 && v.volts_V <= v.ceiling_V + 1e-9);
                            if (tree.nodes[i].parent >= 0)
                                QVERIFY(v.volts_V <=
                                        tree.at(tree.nodes[i].parent, state).volts_V + 1e-9);
                            const auto &typical = tree.at(int(i), {c, l, Case::Typical});
                            const auto &worst = tree.at(int(i), {c, l, Case::Worst});
                            QVERIFY(worst.amps_A >= typical.amps_A - 1e-12);
                            QVERIFY(worst.volts_V <= typical.volts_V + 1e-9);
                        }
        }
    }

    void parentsStandBeforeTheirChildren()
    {
        for (const auto &car : test::demo().cars) {
            const auto tree = solve({car, io::shippedCatalogue()});
            for (size_t i = 0; i < tree.nodes.size(); ++i) {
                QVERIFY(tree.nodes[i].parent < int(i));
                QCOMPARE(tree.indexOf(tree.nodes[i].id), int(i)); // ids are unique
            }
        }
    }

    void missingCurrentIsNotZero()
    {
        Kit k;
        k.forget("gear-motor-plastic", "stall_A");
        const auto tree = solve({k.car, k.catalogue()});
        const State stalled{Charge::Nominal, Load::Stalled, Case::Typical};
        const auto channel = nodeAt(tree, "driver.A", stalled);
        QVERIFY(channel.atLeast);
        QCOMPARE(english(ampsText(channel)), std::string("? A"));
        const auto pack = nodeAt(tree, "pack", stalled);
        QVERIFY(pack.atLeast && pack.atMost);
        QCOMPARE(english(ampsText(pack)), std::string("≥ 101 mA"));
        QVERIFY(english(voltsText(pack)).starts_with("≤ "));
        QVERIFY((tree.missing ==
                 std::vector<std::string>{"the stall current of the plastic gear motor"}));
        // What does not rest on it is as sure as before.
        QVERIFY(!nodeAt(tree, "pack").atLeast);
        // A held rail keeps its volts, whatever sags before it.
        QVERIFY(!nodeAt(tree, "board.5V").atMost);
    }

    void missingResistanceIsNotZero()
    {
        Kit k;
        k.forget("cell-nimh", "resistance_ohm");
        const auto tree = solve({k.car, k.catalogue()});
        QVERIFY(nodeAt(tree, "pack").atMost);
        QCOMPARE(english(voltsText(nodeAt(tree, "pack"))), std::string("≤ 7.2 V"));
    }

    void nothingFedHasNoNode()
    {
        Kit k;
        k.part("driver").feeds.clear();
        k.part("ranger").feeds.clear();
        const auto tree = solve({k.car, k.catalogue()});
        QVERIFY(!tree.node("driver.VS"));
        std::vector<std::string> unfed;
        for (const auto &u : tree.unfed)
            unfed.push_back(u.terminal);
        QVERIFY((unfed == std::vector<std::string>{"driver.VS", "left", "right", "ranger.VCC"}));
    }

    void wiresSayItWhereNothingIsStated()
    {
        test::Bench b; // its wires lead where its feeds do
        const auto stated = solve({b.car, b.catalogue});
        for (auto &i : b.car.parts) {
            i.feeds.clear();
            i.drivenBy.clear();
        }
        const auto wired = solve({b.car, b.catalogue});
        QCOMPARE(wired.nodes.size(), stated.nodes.size());
        for (const auto &n : stated.nodes) {
            const auto *same = wired.node(n.id);
            QVERIFY2(same, n.id.c_str());
            const auto parent = [](const Tree &t, const Node &node) {
                return node.parent < 0 ? std::string() : t.nodes[size_t(node.parent)].id;
            };
            QCOMPARE(parent(wired, *same), parent(stated, n));
            COMPARE_NEAR(nodeAt(wired, n.id.c_str()).volts_V, nodeAt(stated, n.id.c_str()).volts_V,
                         1e-9);
        }
        QVERIFY(wired.node("board.VIN")->fromWires && !stated.node("board.VIN")->fromWires);
    }

    void aRingFeedsNobody()
    {
        Kit k;
        k.part("fuse").feeds = {{"IN", "switch.OUT", {}}};
        const auto tree = solve({k.car, k.catalogue()}); // must end
        QVERIFY(!tree.node("switch") && !tree.node("board.VIN"));
        QVERIFY(!tree.unfed.empty());
    }

    void aBoardFedFromOutsideNeedsNoJack()
    {
        const auto tree = solve({Kit("Two servos").car, io::shippedCatalogue()});
        QCOMPARE(tree.nodes[size_t(tree.node("board.5V")->parent)].id, std::string("bank"));
        QVERIFY(tree.unfed.empty() && tree.clashes.empty());
    }

    void ledThroughItsResistor()
    {
        Kit k;
        const auto id = k.fit("led-white").id;
        k.part(id).resistor_ohm = 180.0;
        auto tree = solve({k.car, k.catalogue()});
        // The pin has 25 ohm of its own: a tenth of 5 V at the 20 mA that it should give at most.
        COMPARE_NEAR(nodeAt(tree, id.c_str()).amps_A, 1.9 / (180.0 + 25.0), test::leaks);
        QCOMPARE(tree.nodes[size_t(tree.node(id)->parent)].id, std::string("board.5V"));
    }

    /// The steps of a derivation add up to what the node says.
    void derivationsAddUp()
    {
        const auto car = Kit().car;
        const auto &catalogue = io::shippedCatalogue();
        const auto tree = solve({car, catalogue});
        const auto number = [](std::string text) {
            for (const auto *sign : {"− ", "→ ", "× ", "+ ", "≤ "})
                if (text.starts_with(sign))
                    text = text.substr(std::string(sign).size());
            return std::stod(text);
        };
        const auto d = why(tree, {car, catalogue}, "left", Quantity::Volts, nominalRunning);
        QVERIFY(english(d.title).find("left") != std::string::npos);
        double sum = 0.0;
        for (const auto &s : d.steps)
            if (english(s.value).find(" V") != std::string::npos)
                sum += english(s.value).starts_with("− ") ? -number(english(s.value))
                                                          : number(english(s.value));
        COMPARE_NEAR(sum, nodeAt(tree, "left").volts_V, 0.03); // four roundings to 0.01 V
        QCOMPARE(d.result, voltsText(nodeAt(tree, "left")));

        const auto amps = why(tree, {car, catalogue}, "pack", Quantity::Amps, nominalRunning);
        QCOMPARE(english(amps.result), std::string("601 mA"));
        const auto vs = why(tree, {car, catalogue}, "driver.VS", Quantity::Amps, nominalRunning);
        QCOMPARE(vs.steps.size(), size_t(3)); // two channels and the module's own
        const auto heat = why(tree, {car, catalogue}, "driver.A", Quantity::Heat, nominalRunning);
        QCOMPARE(english(heat.result), std::string("0.54 W"));
        QVERIFY(
            why(tree, {car, catalogue}, "nobody", Quantity::Volts, nominalRunning).steps.empty());
    }

    void everyNumberUnfolds()
    {
        for (const auto &car : test::demo().cars) {
            const auto tree = solve({car, io::shippedCatalogue()});
            for (const auto &n : tree.nodes)
                for (const auto q : {Quantity::Volts, Quantity::Amps, Quantity::Heat})
                    for (const auto l : power::loads) {
                        const auto d = why(tree, {car, io::shippedCatalogue()}, n.id, q,
                                           {Charge::Nominal, l, Case::Worst});
                        QVERIFY2(!d.result.empty(), n.id.c_str());
                        QVERIFY2(q == Quantity::Heat || !d.steps.empty(), n.id.c_str());
                    }
        }
    }
};

BADGER_TEST(TestTree)
#include "test_tree.moc"
