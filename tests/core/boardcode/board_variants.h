// SPDX-License-Identifier: GPL-3.0-or-later
// Programs, and cars for them, that the written text is compared with the interpreter on.
#pragma once

#include "core/nets/drive_map.h"
#include "core/rules/program.h"
#include "support/fixture.h"

#include <functional>
#include <set>
#include <vector>

namespace badger::test
{

using rules::NoEcho;

struct Variant {
    const char *name;
    std::function<void(Bench &)> bend;
};

inline void addFar(Bench &b, double far_m)
{
    b.program.values.push_back({"far", "go again beyond", rules::ValueKind::Distance, far_m});
    b.program.everywhere.clear();
    b.program.states[0].rules = {
        {"clear", {{"ahead", rules::Compare::Greater, "far"}}, "drives", true}};
    b.program.states[1].rules = {
        {"near", {{"ahead", rules::Compare::LessOrEqual, "halt"}}, "stands", true}};
}

inline void addRetreat(Bench &b, rules::WaitKind kind)
{
    b.program.values.push_back({"away", "back for", rules::ValueKind::Duration, 0.15});
    b.program.states.push_back({"backs",
                                {rules::Wheels::Drive, {-1, "speed"}, {-1, "speed"}},
                                rules::Wait{"away", kind, "stands"},
                                {}});
    b.program.everywhere[0].go = "backs";
}

/// The driver is a MOSFET bridge, whose two inputs a motor carry the speed.
inline void takeTwoInputs(Bench &b)
{
    b.instance("driver").partId = "mosfet-dual-bridge";
    std::erase_if(b.car.wires, [](const kit::Wire &w) {
        return w.from.starts_with("driver.") || w.to.starts_with("driver.");
    });
    for (const auto &[from, to] : {std::pair("switch.OUT", "driver.VM"),
                                   {"pack.MINUS", "driver.GND"},
                                   {"driver.GND", "board.GND1"},
                                   {"driver.AIN1", "board.D5"},
                                   {"driver.AIN2", "board.D6"},
                                   {"driver.BIN1", "board.D9"},
                                   {"driver.BIN2", "board.D10"},
                                   {"driver.AO1", "left.A"},
                                   {"driver.AO2", "left.B"},
                                   {"driver.BO1", "right.B"},
                                   {"driver.BO2", "right.A"}})
        b.car.wires.push_back({from, to, "green", {}});
    b.car = nets::withPinsFromWires(b.car, b.catalogue);
}

/// What is too near and too far counts apart.
inline void setApart(Bench &b, NoEcho none, NoEcho tooNear, NoEcho wild)
{
    auto &r = b.reading();
    r.noEcho = none;
    r.nearest_m = 0.05;
    r.tooNear = tooNear;
    r.farthest_m = 0.9;
    r.wild = wild;
    r.limit_m = 1.2;
}

/// It stands until a button is pressed, whose output is `level` then.
inline void addButton(Bench &b, int level)
{
    b.car.parts.push_back({});
    b.car.parts.back().id = "button";
    b.car.parts.back().partId = level != 0 ? "push-button-high" : "push-button-low";
    std::set<std::string> taken;
    for (const auto &[terminal, pin] : b.car.programPins)
        taken.insert(pin);
    for (int n = 2; n <= 13 && b.car.programPins.count("button.OUT") == 0; ++n)
        if (const auto pin = "D" + std::to_string(n); taken.count(pin) == 0)
            b.car.programPins["button.OUT"] = pin;
    rules::Reading r;
    r.name = "button";
    r.instance = "button";
    r.source = rules::Source::Button;
    r.everyPass = false;
    r.lightLevel = level;
    b.program.readings.push_back(r);
    b.program.start.push_back({rules::Does::Await, "button", {}, {}});
}

inline const std::vector<Variant> &variants()
{
    static const std::vector<Variant> all = {
        {"too near is blocked",
         [](Bench &b) { setApart(b, NoEcho::Clear, NoEcho::Blocked, NoEcho::Clear); }},
        {"too near stops, wild is skipped",
         [](Bench &b) { setApart(b, NoEcho::Clear, NoEcho::Stop, NoEcho::Ignore); }},
        {"no echo stops, too near is held, wild is clear, median of 3",
         [](Bench &b) {
             setApart(b, NoEcho::Stop, NoEcho::HoldLast, NoEcho::Clear);
             b.reading().medianOf = 3;
         }},
        {"blocked, too near is clear, fractions, prints",
         [](Bench &b) {
             setApart(b, NoEcho::Blocked, NoEcho::Clear, NoEcho::HoldLast);
             b.reading().number = rules::NumberType::Fraction;
             b.program.prints = {true, 9600};
         }},
        {"inches of 16 bits, too near",
         [](Bench &b) {
             setApart(b, NoEcho::Clear, NoEcho::Blocked, NoEcho::Stop);
             b.reading().unit = units::Unit::Inch;
             b.reading().timeBits = 16;
             b.reading().nearest_m = 0.03;
         }},
        {"a bound between two whole numbers",
         [](Bench &b) {
             setApart(b, NoEcho::HoldLast, NoEcho::Stop, NoEcho::Blocked);
             b.reading().nearest_m = 0.045;
         }},
        {"a button that reads 1", [](Bench &b) { addButton(b, 1); }},
        {"a button that reads 0", [](Bench &b) { addButton(b, 0); }},
        {"two inputs a motor", takeTwoInputs},
        {"two inputs a motor, coasting",
         [](Bench &b) {
             takeTwoInputs(b);
             for (auto &st : b.program.states)
                 if (st.motion.wheels == rules::Wheels::Brake)
                     st.motion.wheels = rules::Wheels::Coast;
         }},
        {"the demo", [](Bench &) {}},
        {"blocked", [](Bench &b) { b.reading().noEcho = NoEcho::Blocked; }},
        {"hold last", [](Bench &b) { b.reading().noEcho = NoEcho::HoldLast; }},
        {"stop", [](Bench &b) { b.reading().noEcho = NoEcho::Stop; }},
        {"ignore", [](Bench &b) { b.reading().noEcho = NoEcho::Ignore; }},
        {"fractions", [](Bench &b) { b.reading().number = rules::NumberType::Fraction; }},
        {"fraction of a centimetre", [](Bench &b) { b.value("halt").si = 0.2921; }},
        {"inches", [](Bench &b) { b.reading().unit = units::Unit::Inch; }},
        {"millimetres, fractions, median of 5",
         [](Bench &b) {
             b.reading().unit = units::Unit::Millimetre;
             b.reading().number = rules::NumberType::Fraction;
             b.reading().medianOf = 5;
         }},
        {"median of 3, hold last",
         [](Bench &b) {
             b.reading().medianOf = 3;
             b.reading().noEcho = NoEcho::HoldLast;
         }},
        {"less than",
         [](Bench &b) {
             b.program.everywhere[0].when[0].compare = rules::Compare::Less;
             b.program.everywhere[1].when[0].compare = rules::Compare::GreaterOrEqual;
         }},
        {"coast", [](Bench &b) { b.program.states[0].motion.wheels = rules::Wheels::Coast; }},
        {"two limits, rules in states", [](Bench &b) { addFar(b, 0.5); }},
        {"retreat, timed", [](Bench &b) { addRetreat(b, rules::WaitKind::Timed); }},
        {"retreat, blocking, stop policy",
         [](Bench &b) {
             addRetreat(b, rules::WaitKind::Blocking);
             b.reading().noEcho = NoEcho::Stop;
         }},
        {"timed pause, prints",
         [](Bench &b) {
             b.program.passWaitKind = rules::WaitKind::Timed;
             b.program.prints = {true, 9600};
         }},
        {"a rule that goes on",
         [](Bench &b) {
             b.program.everywhere[1].endsPass = false;
             b.program.everywhere.push_back(
                 {"very near", {{"ahead", rules::Compare::Less, "halt"}}, "stands", true});
         }},
        {"spin",
         [](Bench &b) {
             b.program.states[0].motion = {rules::Wheels::Drive, {-1, "speed"}, {1, "speed"}};
         }},
        {"names that clash and want escaping",
         [](Bench &b) {
             b.workshop.name = "Sheds \\\n*/ \"quoted\"";
             b.car.name = "A\"v\\o\ncet";
             b.value("halt").meaning = "stop \\";
             for (auto &s : b.program.states)
                 if (s.name == "drives")
                     s.name = "go";
             for (auto &r : b.program.everywhere)
                 if (r.go == "drives")
                     r.go = "go";
             b.reading().name = "state";
             for (auto &r : b.program.everywhere)
                 r.when[0].reading = "state";
             b.program.values.push_back({"go", "unused", rules::ValueKind::Speed, 3.0});
         }},
    };
    return all;
}

} // namespace badger::test
