// SPDX-License-Identifier: GPL-3.0-or-later
// Rules about signals: what drives an input, what arrives at a pin.
#include "core/nets/drive_map.h"
#include "core/units/quantity.h"
#include "core/wiring/check.h"

#include <algorithm>
#include <fmt/format.h>
#include <fmt/ranges.h>

namespace badger::wiring
{

namespace
{

using parts::Kind;
using parts::Role;

units::Quantity volts(double v)
{
    return units::quantity(v, units::Unit::Volt, 2);
}

std::vector<Finding> signalUnwired(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &name : nets::boardSignals(look.nets)) {
        const auto role = look.nets.member(name)->terminal->role;
        if (role == Role::Enable || !pinsAt(look, name).empty())
            continue;
        found.push_back({code, Severity::Error, name, say("{} reaches no board pin.", name),
                         say("The program can neither drive nor read it."),
                         say("Wire it to a free pin of the board."), "terminal:" + name});
    }
    return found;
}

/// "the right motor is dead", or what is known of it.
Say deadSide(const Look &look, const nets::Member &input)
{
    const auto motors = motorsOf(look, input.fitted->id, input.terminal->channel);
    return motors.empty() ? say("channel {} is dead", input.terminal->channel)
                          : say("the {0} {1|motor is|motors are} dead", joined(motors, " and the "),
                                motors.size());
}

/// Something holds or drives the input: a pin, a sensor, a supply or ground.
bool isDriven(const Look &look, const nets::Member &m)
{
    if (nets::isJumpered(*m.fitted, m.terminal->name) || look.nets.isSupply(m.net) ||
        look.nets.isGround(m.net))
        return true;
    for (const auto role : {Role::Pin, Role::DigitalOut, Role::AnalogueOut})
        if (!look.nets.onLine(m.name, role).empty())
            return true;
    return false;
}

std::vector<Finding> enableFloats(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &m : look.nets.all()) {
        if (m.terminal->role != Role::Enable || isDriven(look, m))
            continue;
        found.push_back({code, Severity::Error, m.name,
                         say("The enable {} floats: {}.", m.name, deadSide(look, m)),
                         say("Nothing tells this side to run; a hand near the wire may start it."),
                         m.terminal->jumper ? say("Put its jumper on, or wire it to a PWM pin.")
                                            : say("Wire it to a PWM pin or to the logic supply."),
                         "terminal:" + m.name});
    }
    return found;
}

/// The direction inputs of drivers that no board is asked to serve.
std::vector<const nets::Member *> looseInputs(const Look &look)
{
    const auto asked = nets::boardSignals(look.nets);
    std::vector<const nets::Member *> inputs;
    for (const auto &m : look.nets.all())
        if (m.terminal->role == Role::Direction &&
            std::find(asked.begin(), asked.end(), m.name) == asked.end())
            inputs.push_back(&m);
    return inputs;
}

std::vector<Finding> inputFloats(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto *m : looseInputs(look)) {
        if (isDriven(look, *m) || look.nets.pulledDown(m->name))
            continue;
        const auto motors = motorsOf(look, m->fitted->id, m->terminal->channel);
        found.push_back(
            {code, Severity::Warning, m->name,
             say("{} floats: nothing drives it and nothing holds it low.", m->name),
             say("{} starts and stops by itself, at a hand's touch.",
                 motors.empty() ? say("That side") : say("The {} motor", motors.front())),
             say("Plug its sensor in, and join {} to ground by 10 kohm: on this very input, for a "
                 "pull-down elsewhere does not help.",
                 m->name),
             "terminal:" + m->name});
    }
    return found;
}

std::vector<Finding> pullDownMissing(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto *m : looseInputs(look)) {
        const auto sensors = look.nets.onLine(m->name, Role::DigitalOut);
        if (sensors.empty() || look.nets.pulledDown(m->name))
            continue;
        found.push_back({code, Severity::Advice, m->name,
                         say("{} has no pull-down: it floats as soon as the plug of {} is loose.",
                             m->name, kit::splitTerminal(sensors.front()).instance),
                         say("A plug that shakes loose leaves a motor running by itself."),
                         say("Join {} to ground by 10 kohm.", m->name), "terminal:" + m->name});
    }
    return found;
}

std::vector<Finding> motorOnPin(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &f : look.car.fitted()) {
        if (f.part->kind != Kind::Motor)
            continue;
        for (const auto &t : f.part->terminals) {
            const auto name = f.instance->id + "." + t.name;
            const auto pins = pinsAt(look, name);
            if (pins.empty())
                continue;
            found.push_back({code, Severity::Error, name + " at " + pins.front(),
                             say("A motor hangs on the logic pin {}.", pins.front()),
                             say("A motor draws many times what a pin can give: the pin burns."),
                             say("Wire the motor to a driver's output."), "terminal:" + name});
        }
    }
    return found;
}

std::vector<Finding> motorUndriven(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &f : look.car.fitted()) {
        if (f.part->kind != Kind::Motor)
            continue;
        const auto drive = nets::motorDrive(look.nets, *f.instance);
        if (drive)
            continue;
        const auto &e = drive.error();
        found.push_back({code, Severity::Error, f.instance->id,
                         say("The wheel has no driver: ") + e.what + ".",
                         say("It cannot turn both ways under the program."), e.mend + ".",
                         "terminal:" + f.instance->id + ".A"});
    }
    return found;
}

/// What arrives at a pin that a sensor's output leads to, and by way of what.
struct Arrival {
    std::string pin;
    double volts_V = 0.0;
    std::string divider; ///< empty where it goes straight in
};

std::optional<double> dividedBy(const Look &look, const kit::Fitted &divider, double in_V)
{
    const auto *top = divider.part->figure("top_ohm");
    const auto *bottom = divider.part->figure("bottom_ohm");
    const auto ground = look.nets.of(divider.instance->id + ".GND");
    if (!top || !bottom || ground < 0 || look.nets.members(ground).size() < 2)
        return std::nullopt; // without its ground it divides nothing
    return in_V * bottom->typical / (top->typical + bottom->typical);
}

std::vector<Arrival> arrivals(const Look &look, const nets::Member &output, double out_V)
{
    std::vector<Arrival> all;
    for (const auto &pin : look.nets.membersWith(output.net, Role::Pin))
        all.push_back({pin, out_V, {}});
    for (const auto &pin : pinsAt(look, output.name)) {
        if (look.nets.of(pin) == output.net)
            continue;
        Arrival a{pin, out_V, {}};
        for (const auto &f : look.car.fitted())
            if (f.part->kind == Kind::Divider &&
                look.nets.of(f.instance->id + ".OUT") == look.nets.of(pin)) {
                a.divider = f.instance->id;
                a.volts_V = dividedBy(look, f, out_V).value_or(out_V);
            }
        all.push_back(std::move(a));
    }
    return all;
}

/// The volts a sensor is fed with are the most that come out of it.
std::optional<double> fedWith_V(const Look &look, const nets::Member &output)
{
    for (const auto &t : output.part->terminals)
        if (t.role == Role::SupplyIn)
            for (const auto &s : look.nets.sources(look.nets.of(output.fitted->id + "." + t.name),
                                                   kit::Charge::Fresh))
                return s.volts_V;
    return std::nullopt;
}

std::vector<Finding> overVolts(const Look &look, const char *code)
{
    std::vector<Finding> found;
    const auto *board = look.car.first(Kind::Board);
    const auto *high = board ? look.car.part(*board)->figure("pin_high_V") : nullptr;
    if (high == nullptr)
        return found;
    for (const auto &m : look.nets.all()) {
        const auto role = m.terminal->role;
        if ((role != Role::Echo && role != Role::DigitalOut && role != Role::AnalogueOut) ||
            m.part->kind == Kind::Divider)
            continue;
        const auto out_V = fedWith_V(look, m);
        if (!out_V || *out_V <= high->high)
            continue;
        for (const auto &a : arrivals(look, m, *out_V)) {
            if (a.volts_V <= high->high)
                continue;
            const bool loose = !a.divider.empty() && a.volts_V == *out_V;
            found.push_back(
                {code, Severity::Error, m.name + " at " + a.pin,
                 say("{} of {} reach {}, which takes {}.", volts(a.volts_V), m.name, a.pin,
                     volts(high->high)),
                 loose ? say("The ground of the divider is not joined, so it divides nothing.")
                       : say("The pin is damaged, at once or slowly."),
                 loose ? say("Join {}.GND to the common ground.", a.divider)
                       : say("Put 1 kohm over 2 kohm between: V × R2 / (R1 + R2) = {}.",
                             volts(*out_V * 2.0 / 3.0)),
                 "terminal:" + m.name});
        }
    }
    return found;
}

} // namespace

const std::vector<CheckRule> &signalRules()
{
    static const std::vector<CheckRule> rules = {
        {"signal-unwired", source("every signal reaches a pin"), signalUnwired, "error",
         "a trigger, echo, direction, servo, light or sensor output reaches no pin"},
        {"enable-floats", source("no enable floats"), enableFloats, "error",
         "an enable is neither wired nor jumpered; the motor that is dead by it"},
        {"input-floats", source("no direction input floats"), inputFloats, "warning",
         "nothing drives a direction input of a car without a board, and nothing holds it low"},
        {"pull-down-missing", source("inputs of plugged sensors have pull-downs"), pullDownMissing,
         "advice", "an input floats as soon as the plug of its sensor is loose"},
        {"signal-over-volts", source("every signal suits its pin"), overVolts, "error",
         "more volts reach a pin than it takes; a divider without its ground divides nothing"},
        {"motor-on-logic-pin", source("no motor on a logic pin"), motorOnPin, "error",
         "a motor hangs on a pin"},
        {"motor-undriven", source("each motor has one channel"), motorUndriven, "error",
         "a motor's leads are not the two outputs of one channel"},
    };
    return rules;
}

} // namespace badger::wiring
