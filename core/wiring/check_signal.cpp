// SPDX-License-Identifier: GPL-3.0-or-later
// Rules about signals: pins, directions, speed lines, motor leads, colours.
#include "core/wiring/check.h"
#include "core/wiring/drive_map.h"

#include <algorithm>
#include <fmt/format.h>
#include <set>

namespace badger::wiring
{

namespace
{

using parts::Kind;
using parts::Role;

/// Board pins on the net of a terminal, "board.D5".
std::vector<std::string> pinsAt(const Look &look, const std::string &terminal)
{
    return look.nets.membersWith(look.nets.of(terminal), Role::Pin);
}

bool isSignal(Role role)
{
    return role == Role::Trigger || role == Role::Echo || role == Role::Direction ||
           role == Role::Enable;
}

/// Calls `visit(name, terminal)` for every board pin of the car.
template <class Visit> void eachPin(const Look &look, Visit visit)
{
    for (const auto &f : fittedParts(look))
        for (const auto &t : f.part->terminals)
            if (t.role == Role::Pin)
                visit(f.instance->id + "." + t.name, t);
}

std::vector<std::string> signalsOn(const Look &look, const std::string &pin)
{
    std::vector<std::string> signals;
    for (const auto &name : look.nets.members(look.nets.of(pin)))
        if (const auto *t = kit::terminal(look.car, look.catalogue, name); isSignal(t->role))
            signals.push_back(name);
    return signals;
}

/// Trigger and echo of the same ranger may share a pin: one line, used in turn.
bool isJoinedRanger(const Look &look, const std::vector<std::string> &signals)
{
    if (signals.size() != 2)
        return false;
    const auto a = kit::splitTerminal(signals[0]);
    const auto b = kit::splitTerminal(signals[1]);
    const auto *ta = kit::terminal(look.car, look.catalogue, signals[0]);
    const auto *tb = kit::terminal(look.car, look.catalogue, signals[1]);
    const std::set<Role> both = {ta->role, tb->role};
    return a.instance == b.instance && both == std::set<Role>{Role::Trigger, Role::Echo};
}

std::vector<Finding> signalUnwired(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &name : signalTerminals(look.car, look.catalogue)) {
        const auto *t = kit::terminal(look.car, look.catalogue, name);
        if (t->role == Role::Enable || !pinsAt(look, name).empty())
            continue;
        found.push_back({code, Severity::Error, name, fmt::format("{} reaches no board pin.", name),
                         "The program can neither drive nor read it.",
                         "Wire it to a free pin of the board.", "terminal:" + name});
    }
    return found;
}

std::vector<Finding> twoFunctions(const Look &look, const char *code)
{
    std::vector<Finding> found;
    eachPin(look, [&](const std::string &pin, const parts::Terminal &) {
        const auto signals = signalsOn(look, pin);
        if (signals.size() < 2 || isJoinedRanger(look, signals))
            return;
        found.push_back({code, Severity::Error, pin,
                         fmt::format("{} serves {} and {}.", pin, signals[0], signals[1]),
                         "A pin has one function; the two fight or follow each other.",
                         fmt::format("Move {} to a free pin.", signals[1]), "terminal:" + pin});
    });
    std::set<int> seen;
    eachPin(look, [&](const std::string &pin, const parts::Terminal &) {
        const int net = look.nets.of(pin);
        const auto pins = look.nets.membersWith(net, Role::Pin);
        if (pins.size() < 2 || !seen.insert(net).second)
            return;
        found.push_back({code, Severity::Error, pins[0] + " and " + pins[1],
                         fmt::format("{} and {} are joined.", pins[0], pins[1]),
                         "Two outputs against each other can burn both pins.",
                         "Take one of the two off.", "terminal:" + pins[1]});
    });
    return found;
}

std::vector<Finding> serialUsed(const Look &look, const char *code)
{
    std::vector<Finding> found;
    eachPin(look, [&](const std::string &pin, const parts::Terminal &t) {
        if (!t.serial || !look.nets.wired(pin))
            return;
        found.push_back({code, Severity::Error, pin,
                         fmt::format("{} is a serial pin and has a wire on it.", pin),
                         "A program is loaded through this pin: loading and printing fail while "
                         "something else hangs on it.",
                         "Move the wire to a pin that is not serial.", "terminal:" + pin});
    });
    return found;
}

std::vector<Finding> speedWithoutPwm(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &name : signalTerminals(look.car, look.catalogue)) {
        if (kit::terminal(look.car, look.catalogue, name)->role != Role::Enable)
            continue;
        for (const auto &pin : pinsAt(look, name)) {
            if (kit::terminal(look.car, look.catalogue, pin)->pwm)
                continue;
            std::string free;
            eachPin(look, [&](const std::string &other, const parts::Terminal &t) {
                if (free.empty() && t.pwm && !t.serial && !look.nets.wired(other))
                    free = other;
            });
            found.push_back(
                {code, Severity::Error, name + " at " + pin,
                 fmt::format("The speed line {} is on {}, which has no PWM.", name, pin),
                 "The motor knows only stop and full speed, whatever the program asks for.",
                 free.empty() ? "Free a PWM pin for it: no PWM pin is left."
                              : fmt::format("Move it to {}, a free PWM pin.", free),
                 "terminal:" + name});
        }
    }
    return found;
}

std::vector<Finding> enableFloats(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &name : signalTerminals(look.car, look.catalogue)) {
        const auto *t = kit::terminal(look.car, look.catalogue, name);
        if (t->role != Role::Enable || !pinsAt(look, name).empty() ||
            !look.nets.sources(look.nets.of(name), kit::Charge::Nominal).empty())
            continue;
        found.push_back({code, Severity::Error, name, fmt::format("The enable {} floats.", name),
                         "That side is dead, or starts and stops by itself.",
                         t->jumper ? "Put its jumper on, or wire it to a PWM pin."
                                   : "Wire it to a PWM pin or to the logic supply.",
                         "terminal:" + name});
    }
    return found;
}

std::vector<Finding> trigEchoCrossed(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &f : fittedParts(look)) {
        if (f.part->kind != Kind::Ranger)
            continue;
        std::string trigger;
        std::string echo;
        for (const auto &t : f.part->terminals) {
            if (t.role == Role::Trigger)
                trigger = f.instance->id + "." + t.name;
            if (t.role == Role::Echo)
                echo = f.instance->id + "." + t.name;
        }
        const auto planned = [&](const std::string &terminal) {
            const auto it = look.car.programPins.find(terminal);
            return it == look.car.programPins.end() ? std::string{} : it->second;
        };
        const auto wiredTrigger = wiredPin(look.car, look.catalogue, trigger);
        const auto wiredEcho = wiredPin(look.car, look.catalogue, echo);
        if (wiredTrigger.empty() || wiredTrigger == wiredEcho || planned(trigger) != wiredEcho ||
            planned(echo) != wiredTrigger)
            continue;
        found.push_back(
            {code, Severity::Error, trigger + " and " + echo,
             fmt::format("Trigger and echo are crossed: the program pings on {}, where {} is.",
                         planned(trigger), echo),
             "The names are the sensor's: its trigger is an output of the board, its echo an "
             "input. Crossed, every reading is \"no echo\", and two outputs face each other.",
             "Change the two wires over, or take the pins from the wires.", "terminal:" + trigger});
    }
    return found;
}

std::vector<Finding> programPins(const Look &look, const char *code)
{
    const auto crossed = trigEchoCrossed(look, code);
    const auto isCrossed = [&](const std::string &terminal) {
        return std::any_of(crossed.begin(), crossed.end(), [&](const Finding &f) {
            return f.where.find(terminal) != std::string::npos;
        });
    };
    std::vector<Finding> found;
    for (const auto &name : signalTerminals(look.car, look.catalogue)) {
        const auto wired = wiredPin(look.car, look.catalogue, name);
        const auto it = look.car.programPins.find(name);
        const auto planned = it == look.car.programPins.end() ? std::string{} : it->second;
        if (wired.empty() || wired == planned || isCrossed(name))
            continue;
        found.push_back({code, Severity::Error, name,
                         planned.empty()
                             ? fmt::format("The program has no pin for {}.", name)
                             : fmt::format("The program uses {} for {}, but the wire is on {}.",
                                           planned, name, wired),
                         "The board drives or reads a pin with nothing on it.",
                         "Move the wire, or take the pins from the wires.", "terminal:" + name});
    }
    return found;
}

std::vector<Finding> motorOnPin(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &f : fittedParts(look)) {
        if (f.part->kind != Kind::Motor)
            continue;
        for (const auto &t : f.part->terminals) {
            const auto name = f.instance->id + "." + t.name;
            const auto pins = pinsAt(look, name);
            if (pins.empty())
                continue;
            found.push_back({code, Severity::Error, name + " at " + pins.front(),
                             fmt::format("A motor hangs on the logic pin {}.", pins.front()),
                             "A motor draws many times what a pin can give: the pin burns.",
                             "Wire the motor to a driver's output.", "terminal:" + name});
        }
    }
    return found;
}

std::vector<Finding> motorUndriven(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto side : {kit::Side::Left, kit::Side::Right}) {
        const auto *motor = kit::motorOn(look.car, look.catalogue, side);
        if (motor == nullptr)
            continue;
        const auto drive = wheelDrive(look.car, look.catalogue, side);
        if (drive)
            continue;
        const auto &e = drive.error();
        found.push_back({code, Severity::Error, motor->id,
                         "The wheel has no driver: " + e.what + ".",
                         "It cannot turn both ways under the program.", e.mend + ".",
                         "terminal:" + motor->id + ".A"});
    }
    return found;
}

std::vector<Finding> colours(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &wire : look.car.wires) {
        const int net = look.nets.of(wire.from);
        const bool ground = !look.nets.membersWith(net, Role::Ground).empty() ||
                            !look.nets.membersWith(net, Role::Minus).empty();
        const bool supply = !ground && !look.nets.sources(net, kit::Charge::Fresh).empty();
        const bool motor = !look.nets.membersWith(net, Role::MotorOut).empty();
        const bool wrong =
            (ground && wire.colour != "black") || (supply && wire.colour != "red") ||
            (!ground && !supply && !motor && (wire.colour == "black" || wire.colour == "red"));
        if (!wrong)
            continue;
        const auto should = ground   ? "Ground is black."
                            : supply ? "Plus is red."
                                     : "Red and black are kept for plus and ground.";
        found.push_back({code, Severity::Advice, wire.from + " to " + wire.to,
                         fmt::format("The wire from {} to {} is {}. {}", wire.from, wire.to,
                                     wire.colour, should),
                         "The next hand reads the colour before the diagram.",
                         "Change the wire, or its colour here if it was noted wrong.",
                         "terminal:" + wire.from});
    }
    return found;
}

} // namespace

const std::vector<CheckRule> &signalRules()
{
    static const std::vector<CheckRule> rules = {
        {"signal-unwired", "every signal reaches a pin", signalUnwired},
        {"pin-two-functions", "one function a pin", twoFunctions},
        {"serial-pin-used", "the serial pins are free", serialUsed},
        {"speed-line-no-pwm", "speed lines are on PWM pins", speedWithoutPwm},
        {"enable-floats", "no enable floats", enableFloats},
        {"trig-echo-crossed", "trigger and echo are not crossed", trigEchoCrossed},
        {"program-pin-not-wired", "program pins match the wires", programPins},
        {"motor-on-logic-pin", "no motor on a logic pin", motorOnPin},
        {"motor-undriven", "each motor has one channel", motorUndriven},
        {"wire-colour", "red is plus, black is ground", colours},
    };
    return rules;
}

} // namespace badger::wiring
