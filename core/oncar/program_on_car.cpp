// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/oncar/program_on_car.h"

#include "core/oncar/make_model.h"
#include "core/tune/fits_of.h"
#include "core/tune/looks.h"

#include <algorithm>

namespace badger::oncar
{

using parts::Kind;
using parts::Role;

const tune::Record *newest(const Pieces<tune::Record> &records, tune::What what,
                           const std::string &instance)
{
    const tune::Record *found = nullptr;
    for (const auto &r : records)
        if (r.what == what && r.instance == instance)
            found = &r;
    return found;
}

machine::CarFacts carFacts(const kit::Assembly &car, const rules::Program &program,
                           const Pieces<tune::Record> &records)
{
    machine::CarFacts facts;
    const auto target = boardcode::targetOf(car);
    facts.wide = target && !boardcode::isSmall(*target);
    for (const auto &f : car.fitted())
        if (f.part->kind == Kind::DriveServo)
            if (const auto *record = newest(records, tune::What::Neutral, f.instance->id))
                if (record->chosen)
                    facts.neutral_us[f.instance->id] = *record->chosen;
    for (const auto &r : program.readings) {
        if (r.source != rules::Source::Analogue || r.scale != rules::Scale::Distance)
            continue;
        const auto *record = newest(records, tune::What::Reflectance, r.instance);
        if (record == nullptr)
            continue;
        const auto fit = tune::reflectanceOf(*record);
        if (!fit)
            continue;
        auto &distances = facts.distances[r.name];
        for (int counts = 0; counts <= 1023; ++counts) {
            const auto d = tune::distanceOf(*fit, counts);
            distances.push_back(d.kind == tune::Distance::Kind::NoReading ? std::nullopt
                                                                          : std::optional(d.m));
        }
    }
    return facts;
}

namespace
{

/// A sensor that stands higher than its kind rides over a floor looks along it; so does the one by
/// which a program keeps its distance from a wall or a hand.
bool looksLevel(const kit::Assembly &car, const rules::Program &program,
                const std::string &instance)
{
    const auto *fitted = car.find(instance);
    if (fitted->part->kind != Kind::Reflectance)
        return false;
    const auto &name = program.from ? program.from->name : program.name;
    for (const auto &r : program.readings)
        if (r.instance == instance &&
            (r.scale == rules::Scale::Distance || name == "wall-hold" || name == "hand-follow"))
            return true;
    const auto *mount = kit::mountOf(car.car(), *fitted->instance);
    const auto *ride = fitted->part->figure("ride_high_m");
    return mount && ride && mount->height_m > ride->typical + 0.005;
}

/// What the ports of a controller lead to, its program says by its wires alone.
class Ports
{
public:
    Ports(const nets::Nets &nets, const CarModel &model) : m_nets(nets), m_model(model) {}

    Result<void> wheels(ProgramPins &to) const
    {
        for (const auto side : {kit::Side::Left, kit::Side::Right}) {
            const auto drive = nets::wheelDrive(m_nets, side);
            if (!drive)
                return tl::unexpected(drive.error());
            if (drive->port.empty())
                return fail(Error::Kind::Conflict, say("car '{}'", m_nets.car()->name),
                            say("a wheel hangs on no port of the controller"),
                            say("plug its motor into a motor port"));
            auto &w = to.wheels[side == kit::Side::Left ? 0 : 1];
            w.port = true;
            // The port's pin is its first end; forward is the end that is the higher one.
            const auto first = m_model.pin(kit::splitTerminal(drive->forward).terminal);
            const auto second = m_model.pin(kit::splitTerminal(drive->backward).terminal);
            w.forward = std::min(first, second);
            w.way = first < second ? 1 : -1;
        }
        return {};
    }
    int pinOf(const std::string &terminal) const
    {
        return m_model.pin(nets::wiredPin(m_nets, terminal));
    }

private:
    const nets::Nets &m_nets;
    const CarModel &m_model;
};

WheelPins wheelPins(const CarModel &model, const boardcode::Wires &wires,
                    const boardcode::WheelText &text, bool left)
{
    WheelPins w;
    w.forward = model.pin(text.pins.forward);
    w.backward = model.pin(text.pins.backward);
    w.speed = model.pin(text.pins.enable);
    w.held = text.held;
    w.brake = wires.brake;
    w.coast = wires.coast;
    w.servo = wires.servoWheels;
    // Counter-clockwise, seen from outside on its own side, is forward on the left alone.
    w.way = left ? 1 : -1;
    w.neutral_us = left ? wires.leftNeutral_us : wires.rightNeutral_us;
    return w;
}

Result<ProgramPins> pinsByText(const kit::Assembly &car, const rules::Program &program,
                               const machine::Machine &machine, const machine::CarFacts &facts,
                               const CarModel &model)
{
    const auto wires = boardcode::wiresFor(program, car, facts.neutral_us);
    if (!wires)
        return tl::unexpected(wires.error());
    ProgramPins to;
    to.wheels = {wheelPins(model, *wires, wires->left, true),
                 wheelPins(model, *wires, wires->right, false)};
    for (const auto &r : program.readings) {
        const auto ping = wires->pings.find(r.instance);
        const auto input = wires->inputs.find(r.name);
        const bool echo = rules::isEcho(r) && ping != wires->pings.end();
        to.pings.emplace_back(echo ? model.pin(ping->second.first) : none,
                              echo ? model.pin(ping->second.second) : none);
        to.inputs.push_back(input == wires->inputs.end() ? none : model.pin(input->second));
    }
    for (const auto &s : machine.servos) {
        const auto at = wires->servos.find(s);
        to.servos.push_back(at == wires->servos.end() ? none : model.pin(at->second));
    }
    return to;
}

Result<ProgramPins> pinsByPorts(const nets::Nets &nets, const rules::Program &program,
                                const machine::Machine &machine, const CarModel &model)
{
    ProgramPins to;
    const Ports ports(nets, model);
    if (auto ok = ports.wheels(to); !ok)
        return tl::unexpected(ok.error());
    for (const auto &r : program.readings) {
        std::pair<int, int> ping{none, none};
        int input = none;
        const auto split = kit::splitTerminal(r.instance);
        const auto *fitted = nets.car().find(split.instance.empty() ? r.instance : split.instance);
        for (const auto &t : fitted ? fitted->part->terminals : std::vector<parts::Terminal>{}) {
            const int pin = ports.pinOf(fitted->instance->id + "." + t.name);
            if (t.role == Role::Trigger)
                ping.first = pin;
            if (t.role == Role::Echo)
                ping.second = pin;
            if ((t.role == Role::DigitalOut || t.role == Role::AnalogueOut) &&
                (split.instance.empty() || split.terminal == t.name) && input == none)
                input = pin;
        }
        if (ping.first == none)
            ping.first = ping.second;
        to.pings.push_back(ping);
        to.inputs.push_back(input);
    }
    for (const auto &s : machine.servos) {
        int pin = none;
        if (const auto *fitted = nets.car().find(s))
            for (const auto &t : fitted->part->terminals)
                if (t.role == Role::Signal)
                    pin = ports.pinOf(s + "." + t.name);
        to.servos.push_back(pin);
    }
    return to;
}

} // namespace

Result<ProgramOnCar> ProgramOnCar::make(const kit::Assembly &car, const rules::Program &program,
                                        const Pieces<tune::Record> &records,
                                        const kit::Assembly *built)
{
    ProgramOnCar p(car, program);
    p.m_facts = carFacts(car, program, records);
    if (const auto ok = machine::canRun(program, p.m_facts); !ok)
        return tl::unexpected(ok.error());
    p.m_exact = std::make_shared<const regions::Exact>(program, p.m_facts);
    p.m_nets = std::make_shared<const nets::Nets>(built ? *built : car);
    p.m_network = std::make_shared<const circuit::CarNetwork>(*p.m_nets);
    p.m_motion = motion::motion(*p.m_nets, *p.m_network, circuit::inputLevels(*p.m_network));
    auto model =
        makeModel(*p.m_nets, *p.m_network, p.m_motion, records, p.m_facts,
                  [&](const std::string &instance) { return looksLevel(car, program, instance); });
    if (!model)
        return tl::unexpected(model.error());
    p.m_model = std::move(*model);
    if (!p.m_model.board)
        return p;
    const auto target = boardcode::targetOf(car);
    if (!target)
        return tl::unexpected(target.error());
    auto pins = *target == boardcode::Target::Ports
                    ? pinsByPorts(*p.m_nets, program, p.machine(), p.m_model)
                    : pinsByText(car, program, p.machine(), p.m_facts, p.m_model);
    if (!pins)
        return tl::unexpected(pins.error());
    p.m_pins = std::move(*pins);
    return p;
}

Result<ProgramOnCar> ProgramOnCar::withProgram(const rules::Program &program,
                                               const Pieces<tune::Record> &records) const
{
    auto p = *this;
    p.m_program = &program;
    p.m_facts = carFacts(m_car, program, records);
    if (const auto ok = machine::canRun(program, p.m_facts); !ok)
        return tl::unexpected(ok.error());
    p.m_exact = std::make_shared<const regions::Exact>(program, p.m_facts);
    return p;
}

} // namespace badger::oncar
