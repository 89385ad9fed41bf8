// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/nets/drive_map.h"

#include "core/nets/nets.h"

#include <algorithm>
#include <fmt/format.h>

namespace badger::nets
{

using parts::Role;

namespace
{

const char *word(kit::Side side)
{
    return side == kit::Side::Left ? "left" : "right";
}

Result<std::string> outputAt(const Nets &nets, const std::string &lead)
{
    const auto outputs = nets.membersWith(nets.of(lead), Role::MotorOut);
    if (outputs.size() == 1)
        return outputs.front();
    return failAt(Error::Kind::Missing, nets.car()->name, lead,
                  outputs.empty() ? say("the motor lead reaches no driver output")
                                  : say("the motor lead reaches two driver outputs"),
                  say("wire each lead to one output of one channel"));
}

} // namespace

Result<WheelDrive> wheelDrive(const kit::Assembly &car, kit::Side side)
{
    return wheelDrive(Nets(car), side);
}

Result<WheelDrive> wheelDrive(const Nets &nets, kit::Side side)
{
    const auto *motor = nets.car().motorOn(side);
    if (motor == nullptr)
        return fail(Error::Kind::Missing, say("car '") + nets.car()->name + "'",
                    say("there is no motor on the {} side", word(side)),
                    say("add a motor and say on which side it sits"));
    return motorDrive(nets, *motor);
}

Result<WheelDrive> motorDrive(const Nets &nets, const kit::Instance &motor)
{
    const auto &car = nets.car();
    const auto outA = outputAt(nets, motor.id + ".A");
    const auto outB = outputAt(nets, motor.id + ".B");
    if (!outA)
        return tl::unexpected(outA.error());
    if (!outB)
        return tl::unexpected(outB.error());
    const auto a = kit::splitTerminal(*outA);
    const auto b = kit::splitTerminal(*outB);
    const auto *ta = car.terminal(*outA);
    const auto *tb = car.terminal(*outB);
    if (*outA == *outB || a.instance != b.instance || ta->channel != tb->channel)
        return failAt(
            Error::Kind::Missing, car->name, motor.id,
            say("its leads are on {} and {}, which are not the two outputs of one channel", *outA,
                *outB),
            say("wire both leads to the outputs of one channel"));

    const auto *driver = car.part(*car->instance(a.instance));
    WheelDrive drive;
    drive.side = motor.side;
    const auto &forwardOut = motor.side == kit::Side::Left ? a.terminal : b.terminal;
    if (driver->kind == parts::Kind::Board) {
        drive.port = a.instance + "." + ta->channel;
        drive.forward = a.instance + "." + forwardOut;
        drive.backward = drive.forward == *outA ? *outB : *outA;
        return drive;
    }
    for (const auto &t : driver->terminals) {
        const auto full = a.instance + "." + t.name;
        if (t.role == Role::Direction && t.channel == ta->channel)
            (t.output == forwardOut ? drive.forward : drive.backward) = full;
        if (t.role == Role::Enable && t.channel == ta->channel) {
            drive.enable = full;
            drive.held = isJumpered(*car->instance(a.instance), t.name) ||
                         (nets.pulledUp(full) && nets.onLine(full, Role::Pin).empty());
        }
    }
    return drive;
}

Result<WheelPins> wheelPins(const kit::Car &car, const WheelDrive &drive)
{
    WheelPins pins;
    if (!drive.port.empty()) {
        pins.forward = kit::splitTerminal(drive.forward).terminal;
        pins.backward = kit::splitTerminal(drive.backward).terminal;
        return pins;
    }
    const auto take = [&](const std::string &terminal, std::string &pin) -> Result<void> {
        const auto it = car.programPins.find(terminal);
        if (it == car.programPins.end())
            return failAt(Error::Kind::Missing, car.name, terminal,
                          say("the program has no pin for it"),
                          say("take the pins from the wires"));
        pin = it->second;
        return {};
    };
    for (auto r : {take(drive.forward, pins.forward), take(drive.backward, pins.backward)})
        if (!r)
            return tl::unexpected(r.error());
    if (!drive.held && !drive.enable.empty())
        if (auto r = take(drive.enable, pins.enable); !r)
            return tl::unexpected(r.error());
    return pins;
}

Result<Levels> levelsFor(const parts::Part &driver, const std::string &does)
{
    for (const auto &row : driver.truth) {
        if (row.does != does || row.inputs.size() != 2)
            continue;
        if (does == "drive" && row.inputs != "10")
            continue;
        return Levels{row.inputs[0] == '1', row.inputs[1] == '1', row.enabled};
    }
    return fail(Error::Kind::Missing, say("driver '") + driver.id + "'",
                say("its truth table has no row for '{}'", does), say("add the row to the part"));
}

std::string wiredPin(const kit::Assembly &car, const std::string &terminal)
{
    return wiredPin(Nets(car), terminal);
}

std::string wiredPin(const Nets &nets, const std::string &terminal)
{
    const auto pins = programPins(nets, terminal);
    return pins.size() == 1 ? pins.front() : std::string{};
}

std::vector<std::string> programPins(const Nets &nets, const std::string &terminal)
{
    std::vector<std::string> own;
    const auto *board = nets.car().first(parts::Kind::Board);
    for (const auto &pin : nets.onLine(terminal, Role::Pin))
        if (const auto name = kit::splitTerminal(pin); board && name.instance == board->id)
            own.push_back(name.terminal);
    return own;
}

namespace
{

bool isSignal(const parts::Part &part, const parts::Terminal &t)
{
    if (part.kind == parts::Kind::Divider)
        return false; // it passes a signal on
    switch (t.role) {
    case Role::Trigger:
    case Role::Echo:
    case Role::Direction:
    case Role::Enable:
    case Role::Signal:
    case Role::DigitalOut:
    case Role::AnalogueOut:
        return true;
    default:
        return false;
    }
}

} // namespace

std::vector<std::string> signalTerminals(const kit::Assembly &car)
{
    std::vector<std::string> all;
    for (const auto &fitted : car->parts) {
        const auto *part = car.part(fitted);
        if (part == nullptr)
            continue;
        for (const auto &t : part->terminals) {
            const bool jumpered = isJumpered(fitted, t.name);
            if (isSignal(*part, t) && !(t.role == Role::Enable && jumpered))
                all.push_back(fitted.id + "." + t.name);
        }
    }
    return all;
}

std::vector<std::string> boardSignals(const Nets &nets)
{
    auto all = signalTerminals(nets.car());
    if (nets.car().first(parts::Kind::Board) == nullptr)
        return {};
    std::erase_if(all, [&](const std::string &name) {
        const auto &m = *nets.member(name);
        if (nets.isSupply(m.net) || nets.isGround(m.net))
            return true;
        if (!nets.onLine(name, Role::Pin).empty() && programPins(nets, name).empty())
            return true; // another board serves it
        const bool input = m.terminal->role == Role::Direction || m.terminal->role == Role::Enable;
        return input && (!nets.onLine(name, Role::DigitalOut).empty() ||
                         !nets.onLine(name, Role::AnalogueOut).empty());
    });
    return all;
}

kit::Car withPinsFromWires(kit::Car car, const parts::Catalogue &catalogue)
{
    std::map<std::string, std::string> pins;
    {
        const Nets nets({car, catalogue}); // looks at the car: it is changed afterwards
        for (const auto &terminal : boardSignals(nets))
            if (auto pin = wiredPin(nets, terminal); !pin.empty())
                pins[terminal] = std::move(pin);
    }
    for (auto &[terminal, pin] : pins)
        car.programPins[terminal] = pin;
    return car;
}

std::vector<std::string> motorsOf(const Nets &nets, const std::string &driver,
                                  const std::string &channel)
{
    std::vector<std::string> motors;
    for (const auto &m : nets.all()) {
        if (m.terminal->role != Role::Lead)
            continue;
        for (const auto &out : nets.membersWith(m.net, Role::MotorOut)) {
            const auto *o = nets.member(out);
            const auto &label = kit::labelOf(*m.fitted);
            if (o->fitted->id == driver && o->terminal->channel == channel &&
                std::find(motors.begin(), motors.end(), label) == motors.end())
                motors.push_back(label);
        }
    }
    return motors;
}

} // namespace badger::nets
