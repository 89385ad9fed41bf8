// SPDX-License-Identifier: GPL-3.0-or-later
// Rules about signals: what drives an input, what arrives at a pin.
#include "core/nets/drive_map.h"
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

/// A light or a buzzer that runs without a pin: from a supply, or down into a pin.
bool isLit(const Look &look, const std::string &terminal)
{
    const auto *m = look.nets.member(terminal);
    // Down into a pin: the pin is its switch.
    const bool lampPart = m && (m->part->kind == Kind::Led || m->part->kind == Kind::Buzzer);
    for (const auto &t : lampPart ? m->part->terminals : std::vector<parts::Terminal>{})
        if (t.role == Role::Ground && m->wires > 0 &&
            look.nets.has(look.nets.of(m->fitted->id + "." + t.name), Role::Pin))
            return true;
    constexpr double lit_A = 1e-4;
    for (size_t i = 0; i < look.network.elements().size(); ++i) {
        const auto &e = look.network.elements()[i];
        const bool lamp = e.what == circuit::What::Light ||
                          (e.what == circuit::What::Own && e.part->kind == Kind::Buzzer);
        if (lamp && look.nets.all()[e.from].name == terminal &&
            (look.looked.rest.solution.amps_A[i] > lit_A ||
             look.looked.running.solution.amps_A[i] > lit_A))
            return true;
    }
    return false;
}

std::vector<Finding> signalUnwired(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &name : look.served) {
        const auto role = look.nets.member(name)->terminal->role;
        if (role == Role::Enable || !pinsAt(look, name).empty() || isLit(look, name))
            continue;
        found.push_back({code, Severity::Error, name, say("{} reaches no board pin.", name),
                         say("The program can neither drive nor read it."),
                         say("{} belongs on a free pin of the board.", name), at::terminal(name)});
    }
    return found;
}

/// What a terminal hangs on that never changes: "board.5V", "pack.MINUS"; empty where it is free.
std::string holderOf(const Look &look, int net)
{
    if (!look.nets.isSupply(net) && !look.nets.isGround(net))
        return {};
    for (const auto role : {parts::Role::Plus, parts::Role::SupplyOut, parts::Role::Minus,
                            parts::Role::Ground, parts::Role::SupplyIn})
        if (const auto found = look.nets.membersWith(net, role); !found.empty())
            return found.front();
    return {};
}

/// A signal that the program switches or reads hangs on a supply or on ground.
std::vector<Finding> signalHeld(const Look &look, const char *code)
{
    std::vector<Finding> found;
    if (look.car.first(Kind::Board) == nullptr)
        return found;
    for (const auto &name : nets::signalTerminals(look.car)) {
        const auto &m = *look.nets.member(name);
        const auto role = m.terminal->role;
        const auto holder = holderOf(look, m.net);
        const auto pin = look.car->programPins.find(name);
        const bool programmed = pin != look.car->programPins.end();
        // An enable that is tied high and a direction that is tied are right where no program asks;
        // a light or a buzzer may hang on a supply.
        const bool mayBeTied = role == Role::Enable || role == Role::Direction ||
                               m.part->kind == Kind::Led || m.part->kind == Kind::Buzzer;
        if (holder.empty() || m.wires == 0 || (mayBeTied && !programmed))
            continue;
        const bool output =
            role == Role::Echo || role == Role::DigitalOut || role == Role::AnalogueOut;
        found.push_back(
            {code, Severity::Error, name + " at " + holder,
             programmed ? say("The program {} {} while {} hangs on {}.",
                              output ? say("reads") : say("switches"), pin->second, name, holder)
                        : say("{} hangs on {}.", name, holder),
             output ? say("Its level never changes there, and its output works against {}.", holder)
                    : say("Nothing the program does reaches it."),
             say("{} belongs on a pin of the board.", name), at::terminal(name)});
    }
    return found;
}

kit::Side sideOf(const kit::Instance &fitted)
{
    if (fitted.side != kit::Side::None || !fitted.mount || fitted.mount->offset_m == 0.0)
        return fitted.side;
    return fitted.mount->offset_m > 0.0 ? kit::Side::Left : kit::Side::Right;
}

/// A direction input of a channel that drives this side hangs in the air.
bool floatsFor(const Look &look, kit::Side side)
{
    for (const auto &level : look.levels) {
        const auto &m = look.nets.all()[level.member];
        if (level.rest != circuit::Seen::Open || !level.follows.empty() ||
            m.terminal->role != Role::Direction)
            continue;
        const int output = look.nets.of(m.fitted->id + "." + m.terminal->output);
        for (const auto &lead : look.nets.membersWith(output, Role::Lead))
            if (side == kit::Side::None || look.nets.member(lead)->fitted->side == side)
                return true;
    }
    return false;
}

/// Without a board a sensor drives wheels: one that reaches no input does nothing. An input that
/// floats is said at its place, with the sensor that belongs there.
std::vector<Finding> sensorIdle(const Look &look, const char *code)
{
    if (look.car.first(Kind::Board) != nullptr)
        return {};
    std::vector<const nets::Member *> unheard;
    for (const auto &m : look.nets.all()) {
        const auto role = m.terminal->role;
        if ((role != Role::DigitalOut && role != Role::AnalogueOut && role != Role::Echo) ||
            m.part->kind == Kind::Divider)
            continue;
        const auto isMine = [&](size_t o) {
            return look.nets.all()[look.network.outputs()[o].member].name == m.name;
        };
        if (std::none_of(look.levels.begin(), look.levels.end(),
                         [&](const circuit::InputLevel &level) {
                             return std::any_of(level.follows.begin(), level.follows.end(), isMine);
                         }))
            unheard.push_back(&m);
    }
    std::vector<Finding> found;
    for (const auto *m : unheard)
        if (!floatsFor(look, sideOf(*m->fitted)))
            found.push_back({code, Severity::Error, m->name,
                             say("No input of the driver follows {}.", m->name),
                             say("Whatever the sensor sees, no wheel answers."),
                             say("It belongs on a direction input of its wheel's channel."),
                             at::terminal(m->name)});
    return found;
}

/// "the right motor is dead", or what is known of it.
Say deadSide(const Look &look, const nets::Member &input)
{
    const auto motors = nets::motorsOf(look.nets, input.fitted->id, input.terminal->channel);
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
    for (const auto &level : look.levels) {
        const auto &m = look.nets.all()[level.member];
        if (m.terminal->role != Role::Enable || level.rest == circuit::Seen::High ||
            !level.follows.empty())
            continue;
        const bool open = level.rest == circuit::Seen::Open;
        // Where a pin that the program knows hangs there, its supply or its map is at fault.
        if (open && isDriven(look, m))
            continue;
        // One that the program switches and that is held is said by that name.
        if (!open && look.car->programPins.count(m.name) != 0)
            continue;
        found.push_back({code, Severity::Error, m.name,
                         open ? say("The enable {} floats: {}.", m.name, deadSide(look, m))
                              : say("The enable {} is held low: {}.", m.name, deadSide(look, m)),
                         open ? say("Nothing tells this side to run; a hand near the wire may "
                                    "start it.")
                              : say("This side never runs, whatever its inputs say."),
                         m.terminal->jumper
                             ? say("Its jumper, the logic supply or a PWM pin has to hold it.")
                             : say("The logic supply or a PWM pin has to hold it."),
                         at::terminal(m.name)});
    }
    return found;
}

/// The direction inputs of drivers that no board is asked to serve.
std::vector<const nets::Member *> looseInputs(const Look &look)
{
    const auto &asked = look.served;
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
        const auto motors = nets::motorsOf(look.nets, m->fitted->id, m->terminal->channel);
        found.push_back(
            {code, Severity::Warning, m->name,
             say("{} floats: nothing drives it and nothing holds it low.", m->name),
             say("{} starts and stops by itself, at a hand's touch.",
                 motors.empty() ? say("That side") : say("The {} motor", motors.front())),
             say("Its sensor belongs on it, and 10 kohm from {} to ground: on this very input, for "
                 "a pull-down elsewhere does not help.",
                 m->name),
             at::terminal(m->name)});
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
                         say("10 kohm from {} to ground hold it low.", m->name),
                         at::terminal(m->name)});
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
                             say("A motor belongs on a driver's outputs."), at::terminal(name)});
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
        found.push_back(
            {code, Severity::Error, f.instance->id, say("The wheel has no driver: ") + e.what + ".",
             say("It cannot turn both ways under the program."),
             say("Its two leads belong on the two outputs of one channel."),
             Spots{at::terminal(f.instance->id + ".A"), at::terminal(f.instance->id + ".B")}});
    }
    return found;
}

} // namespace

const std::vector<CheckRule> &signalRules()
{
    static const std::vector<CheckRule> rules = {
        {"signal-unwired", source("every signal reaches a pin"), signalUnwired, "error",
         "a trigger, echo, direction, servo, light or sensor output reaches no pin"},
        {"signal-held", source("no signal hangs on a supply or on ground"), signalHeld, "error",
         "a trigger, servo, sensor output, or an input that the program switches, is held by a "
         "supply or by ground"},
        {"sensor-unheard", source("every sensor drives a wheel"), sensorIdle, "error",
         "without a board, a sensor's output that no input of the driver follows"},
        {"enable-floats", source("no enable floats"), enableFloats, "error",
         "an enable is neither wired nor jumpered; the motor that is dead by it"},
        {"input-floats", source("no direction input floats"), inputFloats, "warning",
         "nothing drives a direction input of a car without a board, and nothing holds it low"},
        {"pull-down-missing", source("inputs of plugged sensors have pull-downs"), pullDownMissing,
         "advice", "an input floats as soon as the plug of its sensor is loose"},
        {"motor-on-logic-pin", source("no motor on a logic pin"), motorOnPin, "error",
         "a motor hangs on a pin"},
        {"motor-undriven", source("each motor has one channel"), motorUndriven, "error",
         "a motor's leads are not the two outputs of one channel"},
    };
    return rules;
}

} // namespace badger::wiring
