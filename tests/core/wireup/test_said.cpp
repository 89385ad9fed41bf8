// SPDX-License-Identifier: GPL-3.0-or-later
// What a harness rests on and the kit does not say; and which wires do not belong.
#include "core/wireup/said.h"
#include "core/wireup/wrong.h"
#include "support/kits.h"

using namespace badger;
using namespace badger::wireup;
using test::Kit;

namespace
{

struct Said {
    kit::Car car;
    Proposal proposal;
    explicit Said(const Kit &kit) : car(kit.car) { sayTheRest(car, kit.catalogue(), proposal); }
    std::string feed(const std::string &instance, const std::string &input) const
    {
        for (const auto &f : car.instance(instance)->feeds)
            if (f.to == input)
                return f.from;
        return {};
    }
};

} // namespace

class TestSaid final : public QObject
{
    Q_OBJECT
private slots:
    void aKitThatSaysAllKeepsItsWords()
    {
        for (const auto *name : {"Stop ahead", "Three rangers", "No board", "Two servos"}) {
            const Kit kit(name);
            const Said said(kit);
            QVERIFY2(said.car == kit.car && said.proposal.noted.empty(), name);
        }
    }

    /// The fuse stands first, whichever was fitted first; both before all that the pack feeds.
    void linksGoIntoTheLead()
    {
        Kit kit;
        for (const auto *id : {"fuse", "switch"})
            kit.part(id).feeds.clear();
        kit.part("driver").feeds = {{"VS", "pack.PLUS", {}}};
        kit.part("board").feeds = {{"VIN", "pack.PLUS", {}}};
        const Said said(kit);
        QCOMPARE(said.feed("fuse", "IN"), std::string("pack.PLUS"));
        QCOMPARE(said.feed("switch", "IN"), std::string("fuse.OUT"));
        QCOMPARE(said.feed("driver", "VS"), std::string("switch.OUT"));
        QCOMPARE(said.feed("board", "VIN"), std::string("switch.OUT"));
        // A lead that is wired already is not opened.
        kit.car.wires = {{"pack.PLUS", "board.VIN", "red", {}}};
        QCOMPARE(Said(kit).feed("board", "VIN"), std::string("pack.PLUS"));
    }

    /// Another supply within the window is taken as it is wired; a way past the switch is not.
    void asItIsWired()
    {
        Kit kit;
        kit.car.wires = {{"driver.5V", "ranger.VCC", "red", {}}};
        QCOMPARE(Said(kit).feed("ranger", "VCC"), std::string("driver.5V"));
        kit.car.wires = {{"pack.PLUS", "ranger.VCC", "red", {}}}; // 7.2 V
        QCOMPARE(Said(kit).feed("ranger", "VCC"), std::string("board.5V"));
        QCOMPARE(wrongWires({kit.car, kit.catalogue()}).size(), size_t(1));
        kit.car.wires = {{"pack.PLUS", "board.VIN", "red", {}}};
        QCOMPARE(Said(kit).feed("board", "VIN"), std::string("switch.OUT"));
        QCOMPARE(wrongWires({kit.car, kit.catalogue()}).size(), size_t(1));
    }

    void aLightsResistorLeavesRoom()
    {
        Kit kit;
        kit.fit("led-red");
        const Said said(kit);
        // 5 V less 2 V at no more than three quarters of 20 mA: 200 ohm or more, of E12.
        const double ohm = said.car.instance("led")->resistor_ohm.value_or(0.0);
        QVERIFY2(ohm >= 200.0 && ohm <= 390.0, qPrintable(QString::number(ohm)));
    }

    /// A rail's rows, pins and small parts belong to what is wired to them.
    void whatHasNoNameOfItsOwn()
    {
        Kit kit("Three rangers");
        kit.fit("rail-pair");
        const auto catalogue = kit.catalogue();
        kit.car.wires = {{"board.5V", "rail.PLUS", "red", {}},
                         {"rail.PLUS", "ahead.VCC", "red", {}},
                         {"board.GND1", "rail.MINUS", "black", {}},
                         {"ahead.TRIG", "board.D4", "grey", {}}};
        QVERIFY(wrongWires({kit.car, catalogue}).empty());
        kit.car.wires.push_back({"rail.MINUS", "ahead.ECHO", "black", {}});
        auto wrong = wrongWires({kit.car, catalogue});
        QCOMPARE(wrong.size(), size_t(1));
        QCOMPARE(english(wrong[0].what), std::string("ahead.ECHO is joined to the ground."));
        kit.car.wires.back() = {"rail.PLUS", "ahead.ECHO", "red", {}};
        wrong = wrongWires({kit.car, catalogue});
        QCOMPARE(wrong.size(), size_t(1));
        QVERIFY(wrong[0].wire == kit.car.wires.back());
        kit.car.wires.back() = {"board.D4", "board.D7", "grey", {}};
        wrong = wrongWires({kit.car, catalogue});
        QCOMPARE(wrong.size(), size_t(1));
        QVERIFY(wrong[0].wire == kit.car.wires.back());
    }
};

BADGER_TEST(TestSaid)
#include "test_said.moc"
