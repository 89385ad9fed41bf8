// SPDX-License-Identifier: GPL-3.0-or-later
// Rules about pins: what each can do, what a library takes from it, what the program thinks it is.
#include "core/nets/drive_map.h"
#include "core/pins/planner.h"
#include "core/wiring/check_pwm.h"

#include <algorithm>
#include <fmt/format.h>
#include <map>
#include <set>

namespace badger::wiring
{

namespace
{

using parts::Kind;
using parts::Role;

/// Calls `visit(member)` for every board pin of the car.
template <class Visit> void eachPin(const Look &look, Visit visit)
{
    for (const auto &m : look.nets.all())
        if (m.terminal->role == Role::Pin)
            visit(m);
}

std::vector<Finding> twoFunctions(const Look &look, const char *code)
{
    std::vector<Finding> found;
    std::map<std::string, std::vector<const pins::PinNeed *>> on;
    const auto &problem = look.problem;
    for (const auto &need : problem.needs)
        if (!need.on.empty())
            on[problem.boardId + "." + need.on].push_back(&need);
    for (const auto &[pin, needs] : on)
        if (needs.size() > 1)
            found.push_back(
                {code, Severity::Error, pin,
                 say("{} serves {} and {}.", pin, needs[0]->terminal, needs[1]->terminal),
                 say("A pin has one function; the two fight or follow each other."),
                 say("One of the two needs a pin of its own."), at::terminal(pin)});
    return found;
}

/// A pin that leads to a pin of the same use on another board, and to nothing else that gives or
/// takes a signal: the two talk.
bool isLink(const Look &look, const nets::Member &m)
{
    bool other = false;
    for (const auto &x : look.nets.all()) {
        if (x.net != m.net || x.name == m.name)
            continue;
        const bool pin = x.terminal->role == Role::Pin && x.fitted != m.fitted;
        const bool same = pin && (m.terminal->serial ? x.terminal->serial
                                                     : !x.terminal->bus.empty() &&
                                                           x.terminal->bus == m.terminal->bus);
        if (!same && x.terminal->role != Role::Through)
            return false;
        other |= same;
    }
    return other;
}

std::vector<Finding> serialUsed(const Look &look, const char *code)
{
    std::vector<Finding> found;
    eachPin(look, [&](const nets::Member &m) {
        const auto &pin = m.name;
        if (!m.terminal->serial || m.wires == 0)
            return;
        if (isLink(look, m)) {
            found.push_back({code, Severity::Advice, pin,
                             say("{} is a serial pin and leads to another board.", pin),
                             say("So the two can talk; while a program is loaded, the other board "
                                 "talks into it."),
                             say("Take this wire off while a program is loaded."),
                             at::terminal(pin)});
            return;
        }
        found.push_back({code, Severity::Error, pin,
                         say("{} is a serial pin and has a wire on it.", pin),
                         say("A program is loaded through this pin: loading and printing fail "
                             "while something else hangs on it."),
                         say("It belongs on a pin that is not serial."), at::terminal(pin)});
    });
    return found;
}

std::vector<Finding> notAnalogue(const Look &look, const char *code)
{
    std::vector<Finding> found;
    const auto &problem = look.problem;
    for (const auto &need : problem.needs) {
        if (!need.analogue || need.on.empty() || problem.board->terminal(need.on)->analogue)
            continue;
        found.push_back(
            {code, Severity::Error, need.terminal + " at " + need.on,
             say("{} gives a voltage, but {} can only read high or low.", need.terminal, need.on),
             say("The program sees 0 or 1, and no threshold can be put between."),
             mendByPlan(problem), at::terminal(need.terminal)});
    }
    return found;
}

std::vector<Finding> twoWirePins(const Look &look, const char *code)
{
    std::vector<Finding> found;
    eachPin(look, [&](const nets::Member &pin) {
        if (pin.terminal->bus.empty() || pin.wires == 0 || isLink(look, pin))
            return;
        found.push_back({code, Severity::Advice, pin.name,
                         say("{} is the {} line of the two-wire bus.", pin.name, pin.terminal->bus),
                         say("A display or an expander that is added later needs this very pin."),
                         say("Another pin leaves the bus free."), at::terminal(pin.name)});
    });
    return found;
}

std::vector<Finding> bootPin(const Look &look, const char *code)
{
    std::vector<Finding> found;
    const auto &problem = look.problem;
    for (const auto &need : problem.needs) {
        if (!pins::acts(need) || need.on.empty() || !problem.board->terminal(need.on)->bootLight)
            continue;
        found.push_back(
            {code, Severity::Warning, need.terminal + " at " + need.on,
             say("{} is on {}, which blinks while the board starts.", need.terminal, need.on),
             say("A buzzer chirps, a servo or a motor twitches at every start."),
             say("A pin without a light stays still; wheels off the ground at power on."),
             at::terminal(need.terminal)});
    }
    return found;
}

std::vector<Finding> trigEchoCrossed(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &f : look.car.fitted()) {
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
            const auto it = look.car->programPins.find(terminal);
            return it == look.car->programPins.end() ? std::string{} : it->second;
        };
        const auto wiredTrigger = nets::wiredPin(look.nets, trigger);
        const auto wiredEcho = nets::wiredPin(look.nets, echo);
        if (wiredTrigger.empty() || wiredTrigger == wiredEcho || planned(trigger) != wiredEcho ||
            planned(echo) != wiredTrigger)
            continue;
        found.push_back(
            {code, Severity::Error, trigger + " and " + echo,
             say("Trigger and echo are crossed: the program pings on {}, where {} is.",
                 planned(trigger), echo),
             say("The names are the sensor's: its trigger is an output of the board, its echo an "
                 "input. Crossed, every reading is 'no echo', and two outputs face each other."),
             say("Trigger and echo have to change places, in the wires or in the program."),
             Spots{at::terminal(trigger), at::terminal(echo)}});
    }
    return found;
}

std::vector<Finding> programPins(const Look &look, const char *code)
{
    const auto crossed = trigEchoCrossed(look, code);
    const auto isCrossed = [&](const std::string &terminal) {
        return std::any_of(crossed.begin(), crossed.end(), [&](const Finding &f) {
            return std::find(f.places.begin(), f.places.end(), at::terminal(terminal)) !=
                   f.places.end();
        });
    };
    // What a board has to serve, and what the program thinks it serves.
    std::set<std::string> names;
    for (const auto &name : look.served)
        names.insert(name);
    for (const auto &[name, pin] : look.car->programPins)
        if (const auto *m = look.nets.member(name);
            m && !look.nets.isSupply(m->net) && !look.nets.isGround(m->net))
            names.insert(name);
    const auto *board = look.car.first(Kind::Board); // the program runs on the first
    std::vector<Finding> found;
    for (const auto &name : names) {
        const auto pins = look.nets.onLine(name, Role::Pin);
        const auto it = look.car->programPins.find(name);
        const auto planned = it == look.car->programPins.end() ? std::string{} : it->second;
        const bool there = std::any_of(pins.begin(), pins.end(), [&](const std::string &pin) {
            return board != nullptr && pin == board->id + "." + planned;
        });
        if (pins.empty() || there || isCrossed(name))
            continue;
        found.push_back(
            {code, Severity::Error, name,
             planned.empty()
                 ? say("The program has no pin for {}.", name)
                 : say("The program {} {} while {} hangs on {}.",
                       look.nets.member(name)->terminal->role == Role::Echo ||
                               look.nets.member(name)->terminal->role == Role::DigitalOut ||
                               look.nets.member(name)->terminal->role == Role::AnalogueOut
                           ? say("reads")
                           : say("switches"),
                       planned, name, joined(pins, " and ")),
             say("The board drives or reads a pin with nothing on it."),
             say("Wires and program have to name one pin."), at::terminal(name)});
    }
    return found;
}

} // namespace

const std::vector<CheckRule> &pinRules()
{
    static const std::vector<CheckRule> rules = {
        {"pin-two-functions", source("one function a pin"), twoFunctions, "error",
         "a pin serves two signals, or two pins are joined; trigger and echo of one ranger may "
         "share"},
        {"serial-pin-used", source("the serial pins are free"), serialUsed, "error",
         "a wire hangs on a pin through which programs are loaded"},
        {"speed-line-no-pwm", source("speed lines are on PWM pins"), speedWithoutPwm, "error",
         "an enable, or an input that takes PWM, is on a pin without it; the least moves that mend "
         "it"},
        {"pwm-taken-by-servo", source("no speed line on the servo library's timer"),
         pwmTakenByServo, "error",
         "a speed line is on a pin whose timer the servo library takes, on whichever pin the servo "
         "is",
         nullptr, nullptr, withoutServosPwm},
        {"pwm-taken-by-tone", source("no speed line on the tone's timer"), pwmTakenByTone, "error",
         "the same for the timer of a tone", nullptr, nullptr, withoutTonesPwm},
        {"pwm-channel-shared", source("each motor has a PWM channel of its own"), pwmChannelShared,
         "error", "two motors' speed lines are on pins of one PWM channel"},
        {"libraries-clash", source("no two libraries want one timer"), librariesClash, "error",
         "servo and tone both run on one timer of this board"},
        {"pwm-pin-wasted", source("no PWM pin is wasted"), pwmWasted, "advice",
         "a PWM pin serves what needs none while a speed line lacks one"},
        {"analogue-pin-needed", source("voltages are read on analogue pins"), notAnalogue, "error",
         "a voltage is led to a pin that only reads high or low"},
        {"two-wire-pin-used", source("the two-wire bus is free"), twoWirePins, "advice",
         "something hangs on a line of the two-wire bus"},
        {"boot-pin-used", source("nothing twitches while the board starts"), bootPin, "warning",
         "what moves or sounds is on the pin that blinks at the start"},
        {"trig-echo-crossed", source("trigger and echo are not crossed"), trigEchoCrossed, "error",
         "the program pings where the echo is"},
        {"program-pin-not-wired", source("program pins match the wires"), programPins, "error",
         "the program's pin is not the wired one"},
    };
    return rules;
}

} // namespace badger::wiring
