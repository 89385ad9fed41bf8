// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/edit/kit_edits.h"
#include "core/wiring/check.h"
#include "support/fixture.h"

#include <functional>
#include <map>
#include <random>
#include <set>

using namespace badger;
using test::Bench;

namespace
{

using Break = std::function<void(Bench &)>;

/// One way to break the demo car, and the one rule that must say so.
struct Case {
    const char *name;
    const char *code;
    Severity severity;
    const char *where; ///< part of the finding's place
    Break breaks;
    const char *car = "Avocet";
};

const std::vector<Case> &cases()
{
    using enum Severity;
    static const std::vector<Case> all = {
        {"ranger without supply", "module-unpowered", Error, "ranger.VCC",
         [](Bench &b) { b.unwire("ranger.VCC"); }},
        {"driver without supply", "module-unpowered", Error, "driver.VS",
         [](Bench &b) { b.unwire("driver.VS"); }},
        {"board without supply takes the ranger with it", "module-unpowered", Error, "board.VIN",
         [](Bench &b) { b.unwire("board.VIN"); }},
        {"ranger without ground", "module-ungrounded", Error, "ranger.GND",
         [](Bench &b) { b.unwire("ranger.GND"); }},
        {"board's ground not joined", "grounds-not-joined", Error, "board.GND1",
         [](Bench &b) { b.unwire("board.GND1"); }},
        {"two signals on one pin", "pin-two-functions", Error, "board.D8",
         [](Bench &b) {
             b.wire("driver.IN1").to = "board.D8";
             b.car.programPins["driver.IN1"] = "D8";
         }},
        {"two driven pins joined", "output-against-output", Error, "board.D5",
         [](Bench &b) {
             b.car.wires.push_back({"board.D5", "board.D4", "pink"});
         }},
        {"serial pin used", "serial-pin-used", Error, "board.D1",
         [](Bench &b) {
             b.wire("driver.IN1").to = "board.D1";
             b.car.programPins["driver.IN1"] = "D1";
         }},
        {"speed line without PWM", "speed-line-no-pwm", Error, "driver.ENA",
         [](Bench &b) {
             b.wire("driver.ENA").to = "board.D13";
             b.car.programPins["driver.ENA"] = "D13";
         }},
        {"floating enable", "enable-floats", Error, "driver.ENB",
         [](Bench &b) { b.unwire("driver.ENB"); }},
        {"trigger and echo crossed", "trig-echo-crossed", Error, "ranger.TRIG",
         [](Bench &b) {
             b.wire("ranger.TRIG").to = "board.D12";
             b.wire("ranger.ECHO").to = "board.D8";
         }},
        {"program uses another pin", "program-pin-not-wired", Error, "driver.IN3",
         [](Bench &b) { b.car.programPins["driver.IN3"] = "D9"; }},
        {"program has no pin", "program-pin-not-wired", Error, "driver.IN3",
         [](Bench &b) { b.car.programPins.erase("driver.IN3"); }},
        {"echo unwired", "signal-unwired", Error, "ranger.ECHO",
         [](Bench &b) { b.unwire("ranger.ECHO"); }},
        {"pack straight into the ranger", "supply-outside-window", Error, "ranger.VCC",
         [](Bench &b) { b.wire("ranger.VCC").from = "switch.OUT"; }},
        {"four cells are too few for the jack", "supply-outside-window", Error, "board.VIN",
         [](Bench &b) {
             for (auto &i : b.car.parts)
                 if (i.id == "pack")
                     i.cellsInSeries = 4;
         }},
        {"two 5 V outputs joined", "two-sources-one-net", Error, "driver.5V",
         [](Bench &b) {
             b.car.wires.push_back({"driver.5V", "board.5V", "red"});
         }},
        {"plus joined to ground", "supply-to-ground", Error, "pack.PLUS",
         [](Bench &b) {
             b.car.wires.push_back({"pack.PLUS", "driver.GND", "red"});
         }},
        {"motor on a pin", "motor-on-logic-pin", Error, "left.A",
         [](Bench &b) { b.wire("left.A").from = "board.D9"; }},
        {"motor lead off", "motor-undriven", Error, "left", [](Bench &b) { b.unwire("left.A"); }},
        {"leads over two channels", "motor-undriven", Error, "left",
         [](Bench &b) { b.wire("left.B").from = "driver.OUT3"; }},
        {"green ground", "wire-colour", Advice, "ranger.GND",
         [](Bench &b) { b.wire("ranger.GND").colour = "green"; }},
        {"blue plus", "wire-colour", Advice, "ranger.VCC",
         [](Bench &b) { b.wire("ranger.VCC").colour = "blue"; }},
        {"black signal", "wire-colour", Advice, "ranger.TRIG",
         [](Bench &b) { b.wire("ranger.TRIG").colour = "black"; }},
        {"two white signals", "wire-colour-shared", Advice, "ranger.ECHO",
         [](Bench &b) { b.wire("ranger.ECHO").colour = "white"; }},
        {"two wires in one hole", "hole-crowded", Advice, "board.5V",
         [](Bench &b) {
             b.car.wires.push_back({"board.5V", "driver.ENA", "red"});
         }},
        {"logic and motor supply swapped", "supplies-swapped", Error, "driver.VL16",
         [](Bench &b) {
             b.wire("driver.VL16").from = "switch.OUT";
             b.wire("driver.VS8").from = "rail.PLUS";
         },
         "Redshank"},
        {"two of four grounds", "chip-ground-open", Warning, "driver.GND12",
         [](Bench &b) {
             b.unwire("driver.GND12");
             b.unwire("driver.GND13");
         },
         "Redshank"},
        {"loose plug", "input-floats", Warning, "driver.IN10", [](Bench &) {}, "Turnstone"},
        {"pull-down off", "pull-down-missing", Advice, "driver.IN2",
         [](Bench &b) { b.unwire("pull-down.A"); }, "Turnstone"},
        {"5 V echo", "signal-over-volts", Error, "ranger.ECHO", [](Bench &) {}, "Whimbrel"},
        {"servo library", "pwm-taken-by-servo", Error, "driver.BIN2 at board.D10", [](Bench &) {},
         "Curlew"},
        {"tone", "pwm-taken-by-tone", Error, "driver.ENB at board.D3",
         [](Bench &b) {
             edit::addPart(b.car, b.catalogue, "buzzer");
             b.wire("driver.ENB").to = "board.D3";
         }},
        {"echo on a PWM pin", "pwm-pin-wasted", Advice, "board.D11", [](Bench &) {}, "Curlew"},
        {"reflectance on a digital pin", "analogue-pin-needed", Error, "eye.OUT",
         [](Bench &b) { b.wire("eye.OUT").to = "board.D8"; }, "Godwit"},
        {"two-wire pin", "two-wire-pin-used", Advice, "board.A4",
         [](Bench &b) { b.wire("driver.IN4").to = "board.A4"; }},
        {"boot light", "boot-pin-used", Warning, "driver.IN4",
         [](Bench &b) { b.wire("driver.IN4").to = "board.D13"; }},
        {"LED with 10 ohm", "pin-over-current", Error, "board.D9",
         [](Bench &b) {
             edit::addPart(b.car, b.catalogue, "led-red");
             b.car.parts.back().resistor_ohm = 10.0;
             b.car.wires.push_back({b.car.parts.back().id + ".PLUS", "board.D9", "pink"});
         }},
        {"servos on the board's rail", "rail-over-current", Error, "board.5V",
         [](Bench &b) {
             for (int i = 0; i < 4; ++i) {
                 edit::addPart(b.car, b.catalogue, "continuous-servo");
                 b.car.wires.push_back({b.car.parts.back().id + ".VCC", "board.5V", "red"});
                 b.car.wires.push_back({b.car.parts.back().id + ".GND", "board.GND3", "black"});
             }
         }},
        {"pack the wrong way round", "pack-backwards", Error, "pack",
         [](Bench &b) { b.turn("pack.PLUS", "pack.MINUS"); }},
        {"ranger plugged in backwards", "plug-backwards", Error, "ranger.VCC",
         [](Bench &b) { b.turn("ranger.VCC", "ranger.GND"); }},
        {"diode the wrong way round", "diode-backwards", Error, "diode",
         [](Bench &b) {
             const auto id = edit::addPart(b.car, b.catalogue, "series-diode");
             b.wire("pack.PLUS") = {"pack.PLUS", id + ".OUT", "red"};
             b.car.wires.push_back({id + ".IN", "switch.IN", "red"});
         }},
        {"a pack is charged through resistors", "current-into-pack", Error, "second.PLUS",
         [](Bench &b) {
             b.addPack("second", 2);
             for (int i = 0; i < 3; ++i) {
                 const auto id = edit::addPart(b.car, b.catalogue, "resistor-330");
                 b.car.wires.push_back({id + ".A", "pack.PLUS", "red"});
                 b.car.wires.push_back({id + ".B", "second.PLUS", "red"});
             }
             b.car.wires.push_back({"second.MINUS", "board.GND3", "black"});
         }},
        {"motors on the board's rail", "motors-on-regulator", Error, "driver.VS at board.5V",
         [](Bench &b) {
             b.wire("driver.VS") = {"board.5V", "driver.VS", "red"};
         }},
        {"motor output on ground", "motor-output-held", Error, "driver.OUT1 and",
         [](Bench &b) {
             b.car.wires.push_back({"driver.OUT1", "board.GND3", "pink"});
         }},
        {"light without a resistor", "light-too-bright", Warning, "led",
         [](Bench &b) {
             const auto id = edit::addPart(b.car, b.catalogue, "led-red");
             b.car.wires.push_back({id + ".PLUS", "board.5V", "red"});
             b.car.wires.push_back({id + ".MINUS", "board.GND3", "black"});
         }},
        {"four motors behind a small fuse", "link-over-limit", Warning, "fuse", [](Bench &) {},
         "Redshank"},
        {"wire past the switch", "link-bypassed", Warning, "switch.IN and switch.OUT",
         [](Bench &b) {
             b.car.wires.push_back({"switch.IN", "switch.OUT", "red"});
         }},
        {"resistor across eight cells", "resistor-hot", Error, "resistor",
         [](Bench &b) {
             b.instance("pack").cellsInSeries = 8;
             const auto id = edit::addPart(b.car, b.catalogue, "resistor-330");
             b.car.wires.push_back({id + ".A", "pack.PLUS", "red"});
             b.car.wires.push_back({id + ".B", "pack.MINUS", "black"});
         }},
        {"sensor on another sensor", "sensor-unheard", Error, "left-eye.OUT",
         [](Bench &b) { b.wire("left-eye.OUT").to = "right-eye.OUT"; }, "Turnstone"},
        {"trigger on the rail", "signal-held", Error, "ranger.TRIG at board.5V",
         [](Bench &b) {
             b.wire("ranger.TRIG") = {"ranger.TRIG", "board.5V", "white"};
         }},
        {"front motor turned", "motors-fight", Error, "left",
         [](Bench &b) { b.turn("left-front.A", "left-front.B"); }, "Redshank"},
        {"both inputs on ground", "wheel-never-turns", Error, "left wheel",
         [](Bench &b) {
             b.wire("left-eye.OUT") = {"driver.IN2", "rail.MINUS", "black"};
         },
         "Turnstone"},
        {"input on the rail", "wheel-never-stops", Error, "left wheel",
         [](Bench &b) {
             b.wire("left-eye.OUT") = {"rail.PLUS", "driver.IN2", "red"};
         },
         "Turnstone"},
        {"leads exchanged, no board to mend it", "wheel-only-backward", Error, "left wheel",
         [](Bench &b) { b.turn("left.A", "left.B"); }, "Turnstone"},
        {"both sides on the same pins", "cannot-steer", Warning, "both wheels",
         [](Bench &b) {
             b.wire("driver.IN3").to = "board.D2";
             b.wire("driver.IN4").to = "board.D4";
             b.wire("driver.ENB").to = "board.D5";
         }},
        {"both sides on each other's pins", "only-spins", Error, "both wheels",
         [](Bench &b) {
             b.wire("driver.IN3").to = "board.D4";
             b.wire("driver.IN4").to = "board.D2";
             b.wire("driver.ENB").to = "board.D5";
         }},
        {"four motors on thin wires", "wire-over-current", Warning, "pack.PLUS to fuse.IN",
         [](Bench &) {}, "Redshank"},
    };
    return all;
}

/// The codes of every rule.
std::set<std::string> ruleCodes()
{
    std::set<std::string> codes;
    for (const auto *list : {&wiring::supplyRules(), &wiring::pinRules(), &wiring::signalRules(),
                             &wiring::motionRules(), &wiring::wireRules()})
        for (const auto &rule : *list)
            codes.insert(rule.code);
    return codes;
}

std::vector<Finding> check(const Bench &b)
{
    return wiring::check({b.car, b.catalogue}).findings;
}

std::vector<std::string> errors(const Bench &b)
{
    auto found = check(b);
    std::erase_if(found, [](const Finding &f) { return f.severity != Severity::Error; });
    return test::codes(found);
}

} // namespace

class TestWiringCheck final : public QObject
{
    Q_OBJECT
private slots:
    void theDemoHasNoError()
    {
        Bench b;
        const auto r = wiring::check({b.car, b.catalogue});
        QVERIFY(!hasError(r.findings));
        // That six cells near empty fall below the jack's window is the kit's to say, once.
        QVERIFY(r.findings.empty());
        QCOMPARE(r.fine.size(), ruleCodes().size());
    }

    void everyRuleSpeaks_data()
    {
        QTest::addColumn<int>("index");
        for (size_t i = 0; i < cases().size(); ++i)
            QTest::newRow(cases()[i].name) << int(i);
    }
    void everyRuleSpeaks()
    {
        QFETCH(int, index);
        const auto &c = cases()[size_t(index)];
        Bench b(c.car);
        c.breaks(b);
        const auto r = wiring::check({b.car, b.catalogue});
        const auto found =
            std::find_if(r.findings.begin(), r.findings.end(), [&](const Finding &f) {
                return f.code == c.code && english(f.where).find(c.where) != std::string::npos;
            });
        QVERIFY2(found != r.findings.end(), "the rule said nothing about this place");
        QVERIFY(found->severity == c.severity);
        QVERIFY(!found->what.empty() && !found->why.empty() && !found->mend.empty());
        QVERIFY(found->target.starts_with("terminal:"));
        // A click must lead somewhere: the terminal exists.
        QVERIFY(kit::Assembly(b.car, b.catalogue).terminal(found->target.substr(9)));
    }

    /// Mending what a finding says clears it: no rule warns for ever.
    void undoingTheBreakageClearsIt()
    {
        for (const auto &c : cases()) {
            Bench whole;
            const auto r = wiring::check({whole.car, whole.catalogue});
            QVERIFY2(!std::any_of(r.findings.begin(), r.findings.end(),
                                  [&](const Finding &f) {
                                      return f.code == c.code && f.severity == Severity::Error;
                                  }),
                     c.name);
        }
    }

    void everyRuleHasACase()
    {
        for (const auto &code : ruleCodes())
            QVERIFY2(std::any_of(cases().begin(), cases().end(),
                                 [&](const Case &c) { return c.code == code; }),
                     code.c_str());
    }

    void joinedTriggerAndEchoAreLegal()
    {
        Bench b;
        b.wire("ranger.ECHO").to = "board.D8";
        b.car.programPins["ranger.ECHO"] = "D8";
        QVERIFY(!hasError(wiring::check({b.car, b.catalogue}).findings));
    }

    void jumperedEnableDoesNotFloat()
    {
        Bench b;
        b.unwire("driver.ENA");
        for (auto &i : b.car.parts)
            if (i.id == "driver")
                i.jumpers = {"ENA"};
        QVERIFY(!test::find(wiring::check({b.car, b.catalogue}).findings, "enable-floats"));
    }

    void enableTiedHighDoesNotFloat()
    {
        Bench b;
        b.unwire("driver.ENA");
        b.car.wires.push_back({"driver.ENA", "board.5V", "red"});
        QVERIFY(!test::find(wiring::check({b.car, b.catalogue}).findings, "enable-floats"));
    }

    void crossedLeadThatCancelsAMirroredMountingIsRight()
    {
        // The demo's right motor has its leads crossed against the left one: no finding.
        Bench b;
        QCOMPARE(b.wire("right.B").from, std::string("driver.OUT3"));
        QVERIFY(!test::find(wiring::check({b.car, b.catalogue}).findings, "motor-undriven"));
        std::swap(b.wire("right.B").from, b.wire("right.A").from);
        QVERIFY(!test::find(wiring::check({b.car, b.catalogue}).findings, "motor-undriven"));
    }

    void noPwmPinFreeIsSaid()
    {
        Bench b;
        b.wire("driver.ENA").to = "board.D13";
        for (const auto *pin : {"D3", "D5", "D9", "D10", "D11"})
            b.car.wires.push_back({std::string("board.") + pin, "switch.IN", "pink"});
        const auto found = check(b);
        const auto *f = test::find(found, "speed-line-no-pwm");
        QVERIFY(f);
        QVERIFY2(english(f->mend).starts_with(
                     "No map of the pins exists: 2 functions need PWM: driver.ENA, "
                     "driver.ENB; only D6 is left."),
                 english(f->mend).c_str());
        QVERIFY(english(f->mend).find("One way out: tie driver.EN") != std::string::npos);
    }

    void theServosOwnPinIsNotTheTrouble()
    {
        // On whichever pin the servo is, the timer is gone.
        for (const auto *pin : {"board.D2", "board.D4", "board.D7", "board.A3"}) {
            Bench b("Curlew");
            b.wire("servo.SIG").to = pin;
            b.car.programPins["servo.SIG"] = std::string(pin).substr(6);
            QCOMPARE(errors(b), std::vector<std::string>{"pwm-taken-by-servo"});
            const auto found = check(b);
            QVERIFY(english(test::find(found, "pwm-taken-by-servo")->what).find("timer T1") !=
                    std::string::npos);
        }
    }

    void everyDemoCarHasItsOwnTroubleOnly()
    {
        const std::map<std::string, std::vector<std::string>> expected = {
            {"Curlew", {"pwm-taken-by-servo"}}, {"Whimbrel", {"signal-over-volts"}}};
        for (const auto &car : test::demo().cars) {
            const Bench b(car.name);
            const auto it = expected.find(car.name);
            QCOMPARE(errors(b), it == expected.end() ? std::vector<std::string>{} : it->second);
        }
    }

    void aDividerNeedsItsGround()
    {
        Bench b("Whimbrel");
        const auto id = edit::addPart(b.car, b.catalogue, "divider-1k-2k");
        b.unwire("ranger.ECHO");
        b.car.wires.push_back({"ranger.ECHO", id + ".IN", "yellow"});
        b.car.wires.push_back({id + ".OUT", "computer.P24", "yellow"});
        auto found = check(b);
        const auto *f = test::find(found, "signal-over-volts");
        QVERIFY(f && english(f->mend).find(id + ".GND") != std::string::npos);
        b.car.wires.push_back({id + ".GND", "computer.GND3", "black"});
        found = check(b);
        QVERIFY(!test::find(found, "signal-over-volts"));
        QVERIFY(errors(b).empty()); // the echo still reaches its pin, by way of the divider
    }

    void theDeadMotorIsNamed()
    {
        Bench b("Redshank");
        b.unwire("driver.EN9");
        const auto found = check(b);
        const auto *f = test::find(found, "enable-floats");
        QVERIFY(f);
        QCOMPARE(english(f->what),
                 std::string("The enable driver.EN9 floats: the right and the right-front motors "
                             "are dead."));
    }

    void aPullDownElsewhereDoesNotHelp()
    {
        Bench b("Turnstone");
        QVERIFY(b.car.instance("pull-down")); // on the other input
        auto found = check(b);
        const auto *f = test::find(found, "input-floats");
        QVERIFY(f && english(f->where) == "driver.IN10" &&
                english(f->mend).find("10 kohm") != std::string::npos);
        const auto id = edit::addPart(b.car, b.catalogue, "pull-down-10k");
        b.car.wires.push_back({id + ".A", "driver.IN10", "yellow"});
        b.car.wires.push_back({id + ".B", "rail.MINUS", "black"});
        found = check(b);
        QVERIFY(!test::find(found, "input-floats"));
    }

    void aCrossedLeadOfTheMirroredMotorIsNoFinding()
    {
        for (const bool straight : {false, true}) {
            Bench b("Turnstone");
            if (straight)
                std::swap(b.wire("right.A").to, b.wire("right.B").to);
            for (const auto &f : check(b))
                QVERIFY2(english(f.where).find("right.") == std::string::npos ||
                             (straight && f.code == "wheel-only-backward"),
                         english(f.what).c_str());
        }
    }

    void swappedSuppliesAreSaidAsSuch()
    {
        Bench b("Redshank");
        b.wire("driver.VL16").from = "switch.OUT";
        b.wire("driver.VS8").from = "rail.PLUS";
        // The motors then hang on the board's regulator, and both windows are left: one fault.
        QCOMPARE(errors(b), (std::vector<std::string>{"supplies-swapped"}));
    }

    void aBoardWithFewerPins()
    {
        Bench b;
        edit::exchangePart(b.car, b.catalogue, "board", "chip-14-pin");
        const auto found = check(b);
        QVERIFY(test::find(found, "signal-unwired")); // each wire that came off is asked for again
    }

    void aCarWithoutPartsHasNothingToCheck()
    {
        Bench b;
        const auto r = wiring::check({{}, b.catalogue});
        QVERIFY(r.findings.empty() && r.fine.empty());
    }

    void randomEditsNeverCrash()
    {
        const unsigned seed = 11;
        qInfo("seed %u", seed);
        std::mt19937 engine(seed);
        Bench b;
        std::vector<std::string> names;
        for (const auto &i : b.car.parts)
            for (const auto &t : b.catalogue.find(i.partId)->terminals)
                names.push_back(i.id + "." + t.name);
        const auto any = [&] { return names[engine() % names.size()]; };
        for (int i = 0; i < 1000; ++i) {
            switch (engine() % 4) {
            case 0:
                b.car.wires.push_back({any(), any(), "grey"});
                break;
            case 1:
                if (!b.car.wires.empty())
                    b.car.wires.erase(b.car.wires.begin() + long(engine() % b.car.wires.size()));
                break;
            case 2:
                if (!b.car.wires.empty())
                    b.car.wires[engine() % b.car.wires.size()].to = any();
                break;
            default:
                b.car.programPins[any()] = "D" + std::to_string(engine() % 14);
            }
            const auto r = wiring::check({b.car, b.catalogue});
            // Every rule either finds something or is fine.
            std::set<std::string> spoke;
            for (const auto &f : r.findings)
                spoke.insert(f.code);
            QCOMPARE(spoke.size() + r.fine.size(), ruleCodes().size());
        }
    }
};

BADGER_TEST(TestWiringCheck)
#include "test_check.moc"
