// SPDX-License-Identifier: GPL-3.0-or-later
// One way to break a demo car for each rule about its wires.
#pragma once

#include "core/edit/kit_edits.h"
#include "support/fixture.h"

#include <functional>

namespace badger::test
{

using Break = std::function<void(Bench &)>;

/// One way to break the demo car, and the one rule that must say so.
struct BrokenCar {
    const char *name;
    const char *code;
    Severity severity;
    const char *where; ///< part of the finding's place
    Break breaks;
    const char *car = "Avocet";
};

inline const std::vector<BrokenCar> &brokenCars()
{
    using enum Severity;
    static const std::vector<BrokenCar> all = {
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
             b.car.wires.push_back({b.car.parts.back().id + ".MINUS", "board.GND3", "black"});
         }},
        {"servos on the board's rail", "rail-over-current", Error, "board.5V",
         [](Bench &b) {
             for (int i = 0; i < 4; ++i) {
                 edit::addPart(b.car, b.catalogue, "continuous-servo");
                 b.car.wires.push_back({b.car.parts.back().id + ".VCC", "board.5V", "red"});
                 b.car.wires.push_back({b.car.parts.back().id + ".GND", "board.GND3", "black"});
             }
         }},
        {"ranger plugged in backwards", "plug-backwards", Error, "ranger.VCC",
         [](Bench &b) { b.turn("ranger.VCC", "ranger.GND"); }},
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
        {"four motors and eight cells behind a small fuse", "link-over-limit", Warning, "fuse",
         [](Bench &b) { b.instance("pack").cellsInSeries = 8; }, "Redshank"},
        {"fuse beside the way", "fuse-idle", Warning, "fuse",
         [](Bench &b) {
             b.wire("fuse.OUT") = {"pack.PLUS", "switch.IN", "red"};
         },
         "Curlew"},
        {"servo past the fuse", "fed-past-fuse", Warning, "fuse.IN and board.VIN",
         [](Bench &b) {
             for (auto &w : b.car.wires)
                 for (auto [end, other] : {std::pair(&w.from, &w.to), {&w.to, &w.from}})
                     if (*end == "board.VIN")
                         *other = "pack.PLUS";
         },
         "Curlew"},
        {"board past the switch", "live-past-switch", Warning, "switch.IN and board.VIN",
         [](Bench &b) {
             for (auto &w : b.car.wires)
                 for (auto [end, other] : {std::pair(&w.from, &w.to), {&w.to, &w.from}})
                     if (*end == "board.VIN")
                         *other = "pack.PLUS";
         }},
        {"motors on the bank", "source-over-limit", Error, "bank",
         [](Bench &b) {
             b.instance("bank").partId = "usb-bank";
             for (auto &w : b.car.wires)
                 for (auto *end : {&w.from, &w.to})
                     if (*end == "pack.PLUS")
                         *end = "bank.PLUS";
         },
         "Whimbrel"},
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
        {"sensor on another sensor", "output-against-output", Error, "left-eye.OUT",
         [](Bench &b) { b.wire("left-eye.OUT").to = "right-eye.OUT"; }, "Turnstone"},
        {"sensor without its wire", "sensor-unheard", Error, "left-eye.OUT",
         [](Bench &b) { b.unwire("left-eye.OUT"); }, "Turnstone"},
        {"trigger on the rail", "signal-held", Error, "ranger.TRIG at board.5V",
         [](Bench &b) {
             b.wire("ranger.TRIG") = {"ranger.TRIG", "board.5V", "white"};
         }},
        {"front motor turned", "motors-fight", Error, "left",
         [](Bench &b) { b.turn("left-front.A", "left-front.B"); }, "Redshank"},
        {"two motors on one PWM channel", "pwm-channel-shared", Error,
         "driver.BIN1 at computer.P18",
         [](Bench &b) {
             b.wire("driver.AIN2").to = "computer.P13";
             b.wire("driver.BIN1").to = "computer.P18";
             auto own = *b.catalogue.find("computer-3v3"); // whose programs do not pulse by the clock
             own.clockPulses = false;
             Pieces<parts::Part> parts;
             parts.push_back(own);
             b.catalogue = b.catalogue.with(parts);
         },
         "Whimbrel"},
        {"servo and tone on one timer", "libraries-clash", Error, "board",
         [](Bench &b) {
             for (auto &p : b.car.parts)
                 if (p.id == "board")
                     p.partId = "chip-14-pin";
             edit::addPart(b.car, b.catalogue, "pan-servo-21");
             edit::addPart(b.car, b.catalogue, "buzzer");
         }},
        {"motors on fewer volts than the chip", "motor-supply-low", Error, "driver.VS8",
         [](Bench &b) {
             b.addPack("small", 2);
             b.wire("driver.VS8") = {"small.PLUS", "driver.VS8", "red"};
             b.car.wires.push_back({"small.MINUS", "rail.MINUS", "black"});
         },
         "Turnstone"},
        {"six wires in a column of five", "hole-crowded", Warning, "U3",
         [](Bench &b) {
             const auto id = edit::addPart(b.car, b.catalogue, "breadboard-mini");
             for (int i = 0; i < 6; ++i) {
                 const auto r = edit::addPart(b.car, b.catalogue, "resistor-330");
                 b.car.wires.push_back({r + ".A", id + ".U3", "green"});
             }
         }},
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
        {"both sides on the same sensor", "cannot-steer", Warning, "both wheels",
         [](Bench &b) {
             b.car.wires.push_back({"driver.IN10", "driver.IN2", "yellow"});
         },
         "Turnstone"},
        {"each side's other input on one sensor", "only-spins", Error, "both wheels",
         [](Bench &b) {
             b.unwire("driver.IN15");
             b.car.wires.push_back({"driver.IN15", "driver.IN2", "yellow"});
             b.car.wires.push_back({"driver.IN10", "rail.MINUS", "black"});
         },
         "Turnstone"},
        {"four motors on thin wires", "wire-over-current", Warning, "pack.PLUS to fuse.IN",
         [](Bench &) {}, "Redshank"},
    };
    return all;
}

} // namespace badger::test
