// SPDX-License-Identifier: GPL-3.0-or-later
// One fault is one finding, and what follows from it stands below.
#include "core/diagnose/diagnose.h"
#include "core/diagnose/telling.h"
#include "core/edit/fixed_car.h"
#include "core/edit/kit_edits.h"
#include "core/wiring/check.h"
#include "support/fixture.h"

using namespace badger;
using test::Bench;

namespace
{

std::vector<Finding> said(const Bench &b)
{
    return diagnose::wires({b.car, b.catalogue});
}

std::vector<std::string> errorsOf(const Bench &b)
{
    auto found = said(b);
    std::erase_if(found, [](const Finding &f) { return f.severity != Severity::Error; });
    return test::codes(found);
}

} // namespace

class TestCauses final : public QObject
{
    Q_OBJECT
private slots:
    /// A pack and a diode that have only to be turned: nothing in the network says which of the
    /// parts is the wrong way round but what vanishes with it.
    void whatHasOnlyToBeTurned()
    {
        Bench b;
        b.turn("pack.PLUS", "pack.MINUS");
        QCOMPARE(errorsOf(b), std::vector<std::string>{"pack-backwards"});
        QVERIFY(said(b).front().then.size() >= 4);
        Bench c; // with what the diode keeps
        c.instance("pack").cellsInSeries = 7;
        const auto id = edit::addPart(c.car, c.catalogue, "series-diode");
        c.wire("pack.PLUS") = {"pack.PLUS", id + ".OUT", "red"};
        c.car.wires.push_back({id + ".IN", "switch.IN", "red"});
        QCOMPARE(errorsOf(c), std::vector<std::string>{"diode-backwards"});
    }

    /// Two exchanges explain leads that are crossed between two motors; the kit knows which motor
    /// hangs on which channel, so only one of them is named.
    void theKitKnowsWhichChannelIsMeant()
    {
        Bench b("Godwit");
        b.turn("driver.OUT2", "driver.OUT3");
        const auto found = said(b);
        const auto *f = test::find(found, "motor-undriven");
        QVERIFY(f && f->fix);
        QCOMPARE(english(f->what),
                 std::string("What is wired to driver.OUT2 and to driver.OUT3 is exchanged."));
        QVERIFY(english(f->mend).find(" Or: ") == std::string::npos);
    }

    /// Where nothing says which is meant, the first pattern for which the car goes otherwise does.
    void twoMendsAreToldApart()
    {
        Bench b("Godwit");
        for (auto &part : b.car.parts)
            part.drivenBy.clear();
        b.turn("driver.OUT2", "driver.OUT3");
        const auto found = said(b);
        const auto *f = test::find(found, "motor-undriven");
        QVERIFY(f && f->fix);
        const auto mend = english(f->mend);
        QVERIFY2(mend.find(" Or: ") != std::string::npos &&
                     mend.find("To tell them apart, put the car on a block with ") !=
                         std::string::npos,
                 mend.c_str());
        Bench same("Godwit");
        QCOMPARE(
            english(diagnose::toldApartBy({same.car, same.catalogue}, {same.car, same.catalogue})),
            std::string("Either makes the same car."));
    }

    /// With no ground left the car is dead, and a pack that were turned would be the end of most
    /// complaints: it is not, its plus goes where the kit says.
    void aDeadCarHasNoTurnedPack()
    {
        Bench b("Godwit");
        b.turn("driver.GND", "driver.IN3");
        b.car.wires.push_back({"left.A", "driver.ENB", "pink", {}});
        for (const auto &f : said(b)) {
            QVERIFY(f.code != "pack-backwards");
            QVERIFY(!f.fix ||
                    f.fix->exchanged != (std::vector<std::string>{"pack.PLUS", "pack.MINUS"}));
        }
    }

    /// A sensor on 5 V pushes a computer's 3.3 V rail up through its pin: its supply is the fault,
    /// and neither the rail nor the pins that are as high as it.
    void aRailThatASignalLiftsIsNotTheFault()
    {
        Bench b("Whimbrel");
        for (auto &w : b.car.wires)
            if (w.from == "computer.3V3")
                w.from = "computer.5V";
        const auto found = said(b);
        const auto lifted = std::find_if(found.begin(), found.end(), [](const Finding &f) {
            return std::any_of(f.then.begin(), f.then.end(), [](const Say &line) {
                return english(line).starts_with("computer.3V3 gets ");
            });
        });
        QVERIFY(lifted != found.end());
        QCOMPARE(english(lifted->what),
                 std::string("The wire from edge.VCC ends on computer.5V; it belongs on "
                             "computer.3V3."));
        QVERIFY(lifted->fix);
    }

    /// A pack on a rail is one fault, and what is on the rail, and pins as high as it, follow.
    void aPackOnARailIsSaidOnce()
    {
        Bench b("Whimbrel");
        b.car.wires.push_back({"pack.PLUS", "computer.3V3", "red"});
        QCOMPARE(errorsOf(b),
                 (std::vector<std::string>{"signal-over-volts", "two-sources-one-net"}));
        const auto found = said(b);
        const auto *clash = test::find(found, "two-sources-one-net");
        const auto says = [&](const std::string &words) {
            return std::count_if(clash->then.begin(), clash->then.end(), [&](const Say &line) {
                return english(line).find(words) != std::string::npos;
            });
        };
        QCOMPARE(says("computer.3V3 and edge.VCC get 8.4 V"), 1);
        QCOMPARE(says("both feed one net"), 1);
    }

    /// What the wheels cannot do because two functions share a pin stands below that.
    void whatAWheelCannotDoFollowsFromItsPins()
    {
        Bench b;
        b.wire("driver.IN3").to = "board.D2";
        b.wire("driver.IN4").to = "board.D4";
        b.wire("driver.ENB").to = "board.D5";
        size_t lines = 0;
        for (const auto &f : said(b)) {
            QVERIFY(f.code != "cannot-steer");
            for (const auto &line : f.then)
                lines += english(line).starts_with("Both wheels do the same");
        }
        QCOMPARE(lines, size_t(1));
    }

    void aGroundThatIsOpenIsOneFault()
    {
        Bench b;
        std::erase_if(b.car.wires, [](const kit::Wire &w) {
            return w.from == "driver.GND" || w.to == "driver.GND";
        });
        b.car.wires.push_back({"pack.MINUS", "board.GND1", "black"});
        QCOMPARE(errorsOf(b), std::vector<std::string>{"module-ungrounded"});
        const auto found = said(b);
        QVERIFY(test::find(found, "module-ungrounded")->then.size() >= 4); // what the pins give
    }

    /// Both sensors of a rail whose two leads are exchanged at the board.
    void aRailTheWrongWayRoundIsOneFault()
    {
        Bench b("Dunlin");
        b.turn("board.5V", "board.GND2");
        const auto fixed = diagnose::wires({b.car, b.catalogue});
        const auto *plug = test::find(fixed, "plug-backwards");
        QVERIFY(plug);
        QCOMPARE(english(plug->mend),
                 std::string("Change over what is wired to board.5V and to board.GND2."));
        QCOMPARE(errorsOf(b), std::vector<std::string>{"plug-backwards"});
    }

    /// Two sensors on one input of a driver, no pin in between.
    void twoSensorsOnOneInput()
    {
        Bench b("Turnstone");
        b.car.wires.push_back({"right-eye.OUT", "driver.IN2", "green"});
        QVERIFY(test::find(said(b), "output-against-output"));
    }

    /// A light without its resistor is one fault, the pin's, too; and one that blinks at the start
    /// is none.
    void aLightWithoutItsResistorIsOneFault()
    {
        Bench b;
        const auto lamp = edit::addPart(b.car, b.catalogue, "led-red");
        b.car.wires.push_back({lamp + ".PLUS", "board.D13", "green"});
        b.car.wires.push_back({lamp + ".MINUS", "board.GND3", "black"});
        b.car.programPins[lamp + ".PLUS"] = "D13";
        QCOMPARE(errorsOf(b), std::vector<std::string>{"light-too-bright"});
        QVERIFY(!test::find(said(b), "boot-pin-used"));
        b.instance(lamp).resistor_ohm = 330.0;
        QVERIFY(errorsOf(b).empty());
    }

    /// A light on a rail, and a sensor's output on ground: what they take along stands below.
    void whatALightAndAShortTakeAlong()
    {
        Bench b;
        const auto lamp = edit::addPart(b.car, b.catalogue, "led-green");
        b.car.wires.push_back({lamp + ".PLUS", "board.5V", "red"});
        b.car.wires.push_back({lamp + ".MINUS", "board.GND3", "black"});
        QCOMPARE(errorsOf(b), std::vector<std::string>{"light-too-bright"});
        // On a rail with too many volts the rail is at fault, and is said by itself.
        for (auto &w : b.car.wires)
            if (w.from == "board.5V" && w.to == "ranger.VCC")
                w.from = "switch.OUT";
        b.wire(lamp + ".PLUS").to = "ranger.VCC";
        QVERIFY(test::find(said(b), "supply-outside-window"));
        Bench c("Turnstone");
        c.car.wires.push_back({"left-eye.OUT", "rail.MINUS", "black"});
        QCOMPARE(errorsOf(c), std::vector<std::string>{"output-against-output"});
    }

    /// Two packs of other volts side by side are two sources, not a short.
    void packsSideBySideAreTwoSources()
    {
        Bench b;
        b.addPack("second", 4);
        b.car.wires.push_back({"second.PLUS", "pack.PLUS", "red"});
        b.car.wires.push_back({"second.MINUS", "pack.MINUS", "black"});
        QCOMPARE(errorsOf(b), std::vector<std::string>{"two-sources-one-net"});
    }

    /// A motor's ground that hangs apart does not hide what a sensor does to its own board.
    void anEchoBurnsItsPinWithoutTheMotorsGround()
    {
        Bench b("Whimbrel");
        std::erase_if(b.car.wires, [](const kit::Wire &w) {
            return w.from == "driver.GND" && w.to == "computer.GND1";
        });
        QCOMPARE(errorsOf(b),
                 (std::vector<std::string>{"grounds-not-joined", "signal-over-volts"}));
    }

    /// A pack whose minus is loose is not the wrong way round, whatever volts float about.
    void aLooseMinusIsNoTurnedPack()
    {
        Bench b;
        b.unwire("pack.MINUS");
        QCOMPARE(errorsOf(b), std::vector<std::string>{"grounds-not-joined"});
        const auto fixed = diagnose::wires({b.car, b.catalogue});
        const auto *open = test::find(fixed, "grounds-not-joined");
        QVERIFY2(open->fix && open->fix->in.size() == 1, english(open->mend).c_str());
    }

    /// A servo's plug turned round on a pack of its own: turning the pack would move the common
    /// ground to its plus.
    void aTurnedPlugIsNoTurnedPack()
    {
        Bench b("Curlew");
        b.turn("servo.VCC", "servo.GND");
        const auto found = said(b);
        const auto *plug = test::find(found, "plug-backwards");
        QVERIFY(plug && !test::find(found, "pack-backwards"));
        QCOMPARE(plug->target(), std::string("terminal:servo.VCC"));
    }

    /// What an output into ground or into its neighbour takes from all others stands below it.
    void aHeldOutputIsOneFault()
    {
        for (const auto *to : {"driver.GND", "driver.OUT2"}) {
            Bench b;
            b.car.wires.push_back({"driver.OUT1", to, "green"});
            QCOMPARE(errorsOf(b), std::vector<std::string>{"motor-output-held"});
        }
    }

    /// A regulator turned round, without its ground, or with its output loose.
    void aRegulatorIsOneFault()
    {
        const auto only = [](const char *code, auto breaks) {
            Bench b("Turnstone");
            breaks(b);
            QCOMPARE(errorsOf(b), std::vector<std::string>{code});
        };
        only("plug-backwards", [](Bench &b) { b.turn("regulator.IN", "regulator.OUT"); });
        only("module-ungrounded", [](Bench &b) { b.unwire("regulator.GND"); });
        only("module-unpowered", [](Bench &b) { b.unwire("regulator.OUT"); });
    }
};

BADGER_TEST(TestCauses)
#include "test_causes.moc"
