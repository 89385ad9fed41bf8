// SPDX-License-Identifier: GPL-3.0-or-later
// Which pin for which function, with no conflict and the fewest wires moved; or why there is no
// such map.
//
// The plan is exact: functions and pins are the two sides of an assignment, and the cheapest one is
// found, not a good one. Where no map exists, a set of functions is shown that has fewer pins than
// it needs (such a set always exists then: Hall's theorem).
//
// Pins of one PWM channel have one duty. Both inputs of one motor may be on them, since only one of
// the two is pulsed at a time; two motors may not. Every way to give the board's channels to the
// motors is tried, an assignment each.
#pragma once

#include "core/base/say.h"
#include "core/kit/assembly.h"
#include "core/nets/nets.h"

#include <set>
#include <string>
#include <vector>

namespace badger::pins
{

/// One function that wants a pin.
struct PinNeed {
    std::string terminal;             ///< "driver.ENA"
    std::vector<std::string> sharing; ///< terminals on the same pin: "ranger.ECHO" with its trigger
    parts::Role role = parts::Role::Signal;
    bool servo = false;
    bool light = false;    ///< an LED: it may blink
    bool pwm = false;      ///< a speed line
    std::string group;     ///< of a speed line: the driver's channel, "driver.A"
    bool analogue = false; ///< it is read as a voltage
    std::string on;        ///< its pin now, "D5"; empty: not wired yet
    bool fixed = false;    ///< it stays there, right or wrong
    bool operator==(const PinNeed &) const = default;
};

/// Something moves or sounds when the pin of this function blinks while the board starts.
bool acts(const PinNeed &need);

struct PinProblem {
    const parts::Part *board = nullptr; ///< of kind Board
    std::string boardId;                ///< its instance
    std::vector<PinNeed> needs;
    std::set<std::string> libraries; ///< in use: "servo", "tone"
    std::set<std::string> blocked;   ///< pins that serve something else
};

/// A board that shares more PWM channels than this many ways to give them out is refused in words.
inline constexpr size_t mostGivings = 4096;

/// What the car's parts need on its board, and where it is wired. Enables that a jumper or a supply
/// holds, and inputs that a sensor drives itself, need no pin. Without a board, `board` is null.
PinProblem pinProblem(const kit::Assembly &car);
PinProblem pinProblem(const nets::Nets &nets);

/// The libraries that the car's parts call for: "servo" for any servo, "tone" for a buzzer that a
/// pin has to sound. One that sounds by itself, or hangs on no pin although it is wired, needs
/// none.
std::set<std::string> librariesOf(const nets::Nets &nets);

/// Which library has taken a pin's PWM: "servo", "tone"; empty where it still has it or never had.
std::string pwmTakenBy(const parts::Part &board, const parts::Terminal &pin,
                       const std::set<std::string> &libraries);

/// Can a program on this board give a speed on this pin: by PWM that no library has taken, or by
/// the clock?
bool takesSpeed(const parts::Part &board, const parts::Terminal &pin,
                const std::set<std::string> &libraries);

/// Can this pin do what the function needs, whatever else is wired?
bool canServe(const PinProblem &problem, const PinNeed &need, const parts::Terminal &pin);

struct PinChoice {
    std::string terminal;
    std::vector<std::string> sharing;
    std::string from; ///< empty: it is new
    std::string to;
    bool moved() const { return !from.empty() && from != to; }
    bool added() const { return from.empty(); }
};

/// One change that would make a map exist.
struct WayOut {
    Say what; ///< "join trigger and echo of ranger on one pin"
    Say cost; ///< "the program turns the pin round between ping and echo"
};

struct PinPlan {
    std::vector<PinChoice> choices; ///< in the order of the needs; empty where there is no map
    int moves = 0;                  ///< wires that change their pin
    int additions = 0;

    // Where there is no map:
    std::vector<std::string> competing; ///< functions that want the same few pins
    std::vector<std::string> pins;      ///< those pins
    Say proof;                          ///< the same in words, with what takes the other pins
    std::vector<WayOut> waysOut;        ///< each tried, alone or two together

    bool possible() const { return !choices.empty() || competing.empty(); }
};

/// Fewest moves first; among those, pins that later additions would not need: no PWM, analogue,
/// two-wire or boot-light pin for a function that does not ask for it, and pins in use before new
/// ones. Serial pins are never given away.
PinPlan planPins(const PinProblem &problem);

/// "driver.BIN2 from D10 to D11, and ranger.ECHO from D11 to D2"; empty where nothing moves.
Say movesInWords(const PinPlan &plan);

/// The car with its wires and its program's pins as planned. Wires of new functions are added in a
/// colour that no other signal has, as far as there are colours.
kit::Car withPlan(kit::Car car, const parts::Catalogue &catalogue, const PinPlan &plan);

/// A colour for one more signal wire: one that no other wire of the car has, else the least used.
/// Red and black are kept for plus and ground.
std::string freeColour(const kit::Car &car);
/// A colour for a wire between two terminals: black at ground, red at a supply, a motor's leads red
/// at A and black at B, else a free one.
std::string colourFor(const kit::Assembly &car, const std::string &from, const std::string &to);

} // namespace badger::pins
