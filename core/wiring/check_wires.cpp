// SPDX-License-Identifier: GPL-3.0-or-later
// Rules about the wires themselves: colours, holes, what flows through them.
#include "core/base/limit.h"
#include "core/circuit/probe.h"
#include "core/pins/planner.h"
#include "core/units/quantity.h"
#include "core/wiring/check.h"

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

std::vector<Finding> colours(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &wire : look.car->wires) {
        const int net = look.nets.of(wire.from);
        const bool ground = !look.nets.membersWith(net, Role::Ground).empty() ||
                            !look.nets.membersWith(net, Role::Minus).empty();
        // A lead that carries a supply is red, whether or not the supply reaches it yet.
        const bool supply =
            !ground && (!look.nets.sources(net, kit::Charge::Fresh).empty() ||
                        look.nets.has(net, Role::SupplyIn) || look.nets.has(net, Role::Plus));
        const bool motor = !look.nets.membersWith(net, Role::MotorOut).empty();
        const bool wrong =
            (ground && wire.colour != "black") || (supply && wire.colour != "red") ||
            (!ground && !supply && !motor && (wire.colour == "black" || wire.colour == "red"));
        if (!wrong)
            continue;
        const auto should = ground   ? say("Ground is black.")
                            : supply ? say("Plus is red.")
                                     : say("Red and black are kept for plus and ground.");
        found.push_back(
            {code, Severity::Advice, wire.from + " to " + wire.to,
             say("The wire from {} to {} is {}. {}", wire.from, wire.to, wire.colour, should),
             say("The next hand reads the colour before the diagram."),
             say("Either the wire or the colour that was noted is wrong."),
             Spots{at::terminal(wire.from), at::terminal(wire.to)}});
    }
    return found;
}

std::vector<Finding> sharedColours(const Look &look, const char *code)
{
    // Which signals each colour is used for, by the lowest net of a line.
    std::map<std::string, std::map<int, const kit::Wire *>> uses;
    std::set<int> signals;
    for (const auto &w : look.car->wires) {
        const int net = look.nets.of(w.from);
        if (net < 0 || look.nets.isGround(net) || look.nets.isSupply(net) ||
            look.nets.has(net, Role::MotorOut))
            continue;
        const int line = look.nets.line(net).front();
        signals.insert(line);
        uses[w.colour].emplace(line, &w);
    }
    constexpr size_t colours = 8; // without red and black
    std::vector<Finding> found;
    if (signals.size() > colours)
        return found; // some have to be used twice
    for (const auto &[colour, lines] : uses) {
        if (lines.size() < 2)
            continue;
        const auto &first = *lines.begin()->second;
        const auto &second = *std::next(lines.begin())->second;
        const auto second_where = second.from + " to " + second.to;
        found.push_back({code, Severity::Advice, second_where,
                         say("The wires {} and {} are both {}.", first.from + " to " + first.to,
                             second_where, colour),
                         say("One colour a signal lets a hand follow it without a diagram."),
                         say("{} is free for one of them.", pins::freeColour(look.car)),
                         Spots{at::terminal(second.from), at::terminal(second.to)}});
    }
    return found;
}

/// A board's header takes one wire a hole; a screw terminal takes two; a breadboard's column five.
std::vector<Finding> crowded(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &m : look.nets.all()) {
        if (m.terminal->holes > 0 && m.wires > m.terminal->holes) {
            found.push_back(
                {code, Severity::Warning, m.name,
                 say("{} wires end at {}, which has {} holes.", m.wires, m.name, m.terminal->holes),
                 say("The last one does not go in, or sits loose."),
                 say("A free column takes the rest, with one wire between the two."),
                 at::terminal(m.name)});
            continue;
        }
        const bool ranger = look.nets.has(m.net, Role::Trigger) && look.nets.has(m.net, Role::Echo);
        if (m.part->kind != Kind::Board || m.wires < 2 || ranger)
            continue;
        found.push_back(
            {code, Severity::Advice, m.name,
             say("{} wires end at {}, where there is one hole.", m.wires, m.name),
             say("Two pins squeezed into one hole come loose on the first bump."),
             say("A row of a breadboard or a rail takes them, with one wire from there."),
             at::terminal(m.name)});
    }
    return found;
}

/// The least current that a jumper of the catalogue takes; empty where none says.
std::optional<double> thinnestJumper_A(const parts::Catalogue &catalogue)
{
    std::optional<double> least;
    for (const auto &p : catalogue.parts())
        if (const auto *limit = p.kind == Kind::Jumper ? p.figure("limit_A") : nullptr)
            least = std::min(least.value_or(limit->typical), limit->typical);
    return least;
}

/// One finding for all wires that carry more than a limit in a state, at the one that carries most.
struct Overloaded {
    size_t wires = 0;
    size_t most = 0; ///< of the car's wires
    double amps_A = 0.0;

    void add(size_t wire, double carried_A)
    {
        ++wires;
        if (carried_A > amps_A) {
            most = wire;
            amps_A = carried_A;
        }
    }
};

std::vector<Finding> overCurrent(const Look &look, const char *code)
{
    const auto limit_A = thinnestJumper_A(look.car.catalogue());
    if (!limit_A)
        return {};
    constexpr double shortly = 2.0; // a stall lasts seconds: a choice of ours
    // Of wires in a ring nobody knows which of them carries how much.
    const auto running_A = circuit::wireAmps(look.network, look.looked.running);
    const auto stalled_A = circuit::wireAmps(look.network, look.looked.stalled);
    Overloaded running;
    Overloaded stalled;
    for (size_t i = 0; i < running_A.size(); ++i) {
        const double runs_A = std::abs(running_A[i].value_or(0.0));
        const double held_A = std::abs(stalled_A[i].value_or(0.0));
        if (isPast(runs_A, *limit_A))
            running.add(i, runs_A);
        else if (isPast(held_A, shortly * *limit_A))
            stalled.add(i, held_A);
    }
    std::vector<Finding> found;
    const auto amps = [](double a) { return units::quantity(a, units::Unit::Ampere, 1); };
    const auto add = [&](const Overloaded &over, Severity severity, const Say &when,
                         Evidence::In in) {
        if (over.wires == 0)
            return;
        const auto &w = look.car->wires[over.most];
        const auto more = over.wires == 1
                              ? Say()
                              : say(", and {0} more {0|carries|carry} too much,", over.wires - 1);
        found.push_back(
            {.code = code,
             .severity = severity,
             .where = w.from + " to " + w.to,
             .what = say("The wire from {} to {} carries {} {}{} where a thin jumper takes {}.",
                         w.from, w.to, amps(over.amps_A), when, more, amps(*limit_A)),
             .why = say("It gets warm, and volts are lost on it."),
             .mend = say("A thicker wire with screwed or soldered ends carries it."),
             .places = at::terminal(w.from),
             .evidence = Evidence{over.amps_A, *limit_A, in, Evidence::Of::Amps}});
    };
    add(running, Severity::Warning, say("while the car runs"), Evidence::In::Running);
    add(stalled, Severity::Advice, say("when the motors stall"), Evidence::In::Stalled);
    return found;
}

/// The lights and buzzers on a pin's line.
std::vector<std::string> lightsAt(const Look &look, const std::string &pin)
{
    std::vector<std::string> all;
    for (const auto &end : look.nets.onLine(pin, Role::Signal)) {
        const auto *m = look.nets.member(end);
        if (m->part->kind == Kind::Led || m->part->kind == Kind::Buzzer)
            all.push_back(kit::labelOf(*m->fitted));
    }
    return all;
}

std::vector<Finding> pinOverCurrent(const Look &look, const char *code)
{
    std::vector<Finding> found;
    const auto *board = look.car.first(Kind::Board);
    const auto *part = board ? look.car.part(*board) : nullptr;
    const auto *advised = part ? part->figure("pin_advised_A") : nullptr;
    const auto *absolute = part ? part->figure("pin_absolute_A") : nullptr;
    const auto *together = part ? part->figure("all_pins_A") : nullptr;
    if (advised == nullptr)
        return found;
    const auto milliamps = [](double a) { return units::quantity(a, units::Unit::Milliampere, 0); };
    double sum_A = 0.0;
    for (size_t i = 0; i < look.network.elements().size(); ++i) {
        const auto &e = look.network.elements()[i];
        if (e.what != circuit::What::PinHigh || e.fitted != board)
            continue;
        const auto &pin = look.nets.all()[e.to].name;
        const auto lights = lightsAt(look, pin);
        const double amps_A = look.looked.running.solution.amps_A[i];
        if (lights.empty())
            continue;
        sum_A += amps_A;
        if (!isPast(amps_A, advised->typical))
            continue;
        const bool error = absolute && isPast(amps_A, absolute->typical);
        found.push_back(
            {.code = code,
             .severity = error ? Severity::Error : Severity::Warning,
             .where = pin,
             .what = say("{} gives {} to {}; {} are advised.", pin, milliamps(amps_A),
                         joined(lights, " and "), milliamps(advised->typical)),
             .why = error ? say("The pin burns.") : say("The pin gets warm and its volts sag."),
             .mend =
                 say("A larger resistor in series takes less; a transistor takes it off the pin."),
             .places = at::terminal(pin),
             .evidence =
                 Evidence{amps_A, advised->typical, Evidence::In::Levels, Evidence::Of::Amps}});
    }
    if (together && isPast(sum_A, together->typical))
        found.push_back({code, Severity::Warning, board->id,
                         say("All pins together give {}; {} are allowed.", milliamps(sum_A),
                             milliamps(together->typical)),
                         say("The chip gets hot."),
                         say("A transistor takes lights and buzzers off the pins."),
                         at::terminal(board->id + "." + part->terminals.front().name)});
    return found;
}

} // namespace

const std::vector<CheckRule> &wireRules()
{
    static const std::vector<CheckRule> rules = {
        {"wire-colour", source("red is plus, black is ground"), colours, "advice",
         "red is plus, black is ground, signals are neither"},
        {"wire-colour-shared", source("one colour a signal"), sharedColours, "advice",
         "two signals have one colour while another is free"},
        {"hole-crowded", source("one wire a hole"), crowded,
         "advice; warning for a breadboard's column",
         "two wires end in one hole of a board's header"},
        {"pin-over-current", source("no pin gives more than it can"), pinOverCurrent,
         "error above what a pin survives, else warning",
         "a light or a buzzer asks too much of a pin"},
        {"wire-over-current", source("no wire carries more than it can"), overCurrent,
         "warning running, advice stalled", "a wire carries more than a thin jumper takes"},
    };
    return rules;
}

} // namespace badger::wiring
