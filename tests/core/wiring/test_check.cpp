// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wiring/check.h"
#include "support/fixture.h"

#include <functional>
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
    const char *alsoAllowed = ""; ///< another code that this breakage rightly brings along
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
        {"two pins joined", "pin-two-functions", Error, "board.D9",
         [](Bench &b) {
             b.car.wires.push_back({"board.D9", "board.D10", "pink"});
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
         [](Bench &b) { b.wire("left.A").from = "board.D9"; }, "motor-undriven"},
        {"motor lead off", "motor-undriven", Error, "left", [](Bench &b) { b.unwire("left.A"); }},
        {"leads over two channels", "motor-undriven", Error, "left",
         [](Bench &b) { b.wire("left.B").from = "driver.OUT3"; }},
        {"green ground", "wire-colour", Advice, "ranger.GND",
         [](Bench &b) { b.wire("ranger.GND").colour = "green"; }},
        {"blue plus", "wire-colour", Advice, "ranger.VCC",
         [](Bench &b) { b.wire("ranger.VCC").colour = "blue"; }},
        {"black signal", "wire-colour", Advice, "ranger.TRIG",
         [](Bench &b) { b.wire("ranger.TRIG").colour = "black"; }},
    };
    return all;
}

} // namespace

class TestWiringCheck final : public QObject
{
    Q_OBJECT
private slots:
    void theDemoHasNoError()
    {
        Bench b;
        const auto r = wiring::check(b.car, b.catalogue);
        QVERIFY(!hasError(r.findings));
        // The one advice: six cells near empty fall below the jack's window.
        QCOMPARE(test::codes(r.findings), std::vector<std::string>{"supply-outside-window"});
        QVERIFY(r.findings.front().severity == Severity::Advice);
        QCOMPARE(r.fine.size(), size_t(15));
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
        Bench b;
        c.breaks(b);
        const auto r = wiring::check(b.car, b.catalogue);
        const auto found =
            std::find_if(r.findings.begin(), r.findings.end(), [&](const Finding &f) {
                return f.code == c.code && f.where.find(c.where) != std::string::npos;
            });
        QVERIFY2(found != r.findings.end(), "the rule said nothing about this place");
        QVERIFY(found->severity == c.severity);
        QVERIFY(!found->what.empty() && !found->why.empty() && !found->mend.empty());
        QVERIFY(found->target.starts_with("terminal:"));
        // A click must lead somewhere: the terminal exists.
        QVERIFY(kit::terminal(b.car, b.catalogue, found->target.substr(9)));
    }

    /// Mending what a finding says clears it: no rule cries for ever.
    void undoingTheBreakageClearsIt()
    {
        for (const auto &c : cases()) {
            Bench whole;
            const auto r = wiring::check(whole.car, whole.catalogue);
            QVERIFY2(!std::any_of(r.findings.begin(), r.findings.end(),
                                  [&](const Finding &f) {
                                      return f.code == c.code && f.severity == Severity::Error;
                                  }),
                     c.name);
        }
    }

    void everyRuleHasACase()
    {
        for (const auto *rules : {&wiring::supplyRules(), &wiring::signalRules()})
            for (const auto &rule : *rules)
                QVERIFY2(
                    std::any_of(cases().begin(), cases().end(),
                                [&](const Case &c) { return c.code == std::string(rule.code); }),
                    rule.code);
    }

    void joinedTriggerAndEchoAreLegal()
    {
        Bench b;
        b.wire("ranger.ECHO").to = "board.D8";
        b.car.programPins["ranger.ECHO"] = "D8";
        QVERIFY(!hasError(wiring::check(b.car, b.catalogue).findings));
    }

    void jumperedEnableDoesNotFloat()
    {
        Bench b;
        b.unwire("driver.ENA");
        for (auto &i : b.car.parts)
            if (i.id == "driver")
                i.jumpers = {"ENA"};
        QVERIFY(!test::find(wiring::check(b.car, b.catalogue).findings, "enable-floats"));
    }

    void enableTiedHighDoesNotFloat()
    {
        Bench b;
        b.unwire("driver.ENA");
        b.car.wires.push_back({"driver.ENA", "board.5V", "red"});
        QVERIFY(!test::find(wiring::check(b.car, b.catalogue).findings, "enable-floats"));
    }

    void crossedLeadThatCancelsAMirroredMountingIsRight()
    {
        // The demo's right motor has its leads crossed against the left one: no finding.
        Bench b;
        QCOMPARE(b.wire("right.B").from, std::string("driver.OUT3"));
        QVERIFY(!test::find(wiring::check(b.car, b.catalogue).findings, "motor-undriven"));
        std::swap(b.wire("right.B").from, b.wire("right.A").from);
        QVERIFY(!test::find(wiring::check(b.car, b.catalogue).findings, "motor-undriven"));
    }

    void noPwmPinFreeIsSaid()
    {
        Bench b;
        b.wire("driver.ENA").to = "board.D13";
        for (const auto *pin : {"D3", "D5", "D9", "D10", "D11"})
            b.car.wires.push_back({std::string("board.") + pin, "switch.IN", "pink"});
        const auto r = wiring::check(b.car, b.catalogue);
        const auto *f = test::find(r.findings, "speed-line-no-pwm");
        QVERIFY(f);
        QCOMPARE(f->mend, std::string("Free a PWM pin for it: no PWM pin is left."));
    }

    void aCarWithoutPartsHasNothingToCheck()
    {
        Bench b;
        const auto r = wiring::check({}, b.catalogue);
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
            const auto r = wiring::check(b.car, b.catalogue);
            // Every rule either finds something or is fine.
            std::set<std::string> spoke;
            for (const auto &f : r.findings)
                spoke.insert(f.code);
            QCOMPARE(spoke.size() + r.fine.size(), size_t(16));
        }
    }
};

QTEST_GUILESS_MAIN(TestWiringCheck)
#include "test_check.moc"
