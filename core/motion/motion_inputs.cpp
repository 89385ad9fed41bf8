// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/motion/reckoner.h"
#include "core/nets/drive_map.h"

#include <algorithm>
#include <fmt/format.h>
#include <fmt/ranges.h>

namespace badger::motion
{

using kit::Side;
using parts::Kind;
using parts::Role;

void Reckoner::findInputs()
{
    for (const auto &m : m_nets.all()) {
        if (m.terminal->role == Role::Direction)
            take(m, driverOf(m));
        if (m.part->kind == Kind::DriveServo && m.terminal->role == Role::Signal)
            take(m, driverOf(m));
        if (m.part->kind == Kind::Board && m.terminal->role == Role::MotorOut &&
            m_nets.has(m.net, Role::Lead))
            takePort(m);
    }
    for (const auto &m : m_nets.all())
        if (m.terminal->role == Role::Direction && floats(m) && hasMotor(m))
            takeFloating(m);
}

void Reckoner::takePort(const nets::Member &out)
{
    const auto name = out.fitted->id + "." + out.terminal->channel;
    for (const auto &known : m_table.inputs)
        if (known.terminal == name)
            return;
    MotionInput in;
    in.name = out.terminal->channel;
    in.terminal = name;
    in.drives = {name};
    in.port = true;
    m_table.inputs.push_back(std::move(in));
}

bool Reckoner::hasMotor(const nets::Member &input) const
{
    return m_nets.has(m_nets.of(input.fitted->id + "." + input.terminal->output), Role::Lead);
}

bool Reckoner::floats(const nets::Member &input) const
{
    return driverOf(input).empty() && at(input).rest == circuit::Seen::Open;
}

void Reckoner::takeFloating(const nets::Member &input)
{
    MotionInput in;
    in.name = input.terminal->name;
    in.terminal = input.name;
    in.drives = {input.name};
    in.low = "as if 0";
    in.high = "as if 1";
    in.floating = true;
    m_table.inputs.push_back(std::move(in));
    m_table.notes.push_back(say("{} floats: either may happen, by itself", input.name));
}

const circuit::InputLevel &Reckoner::at(const nets::Member &input) const
{
    const auto member = static_cast<size_t>(&input - m_nets.all().data());
    return *std::find_if(m_levels.begin(), m_levels.end(),
                         [&](const circuit::InputLevel &level) { return level.member == member; });
}

std::string Reckoner::driverOf(const nets::Member &input) const
{
    const auto &level = at(input);
    if (!level.follows.empty())
        return m_nets.all()[m_network.outputs()[level.follows.front()].member].name;
    if (level.rest == circuit::Seen::High)
        return {};
    for (const auto role : {Role::Pin, Role::DigitalOut, Role::AnalogueOut})
        if (const auto found = m_nets.onLine(input.name, role); !found.empty())
            return found.front();
    return {};
}

void Reckoner::take(const nets::Member &input, const std::string &driver)
{
    if (driver.empty())
        return;
    for (auto &known : m_table.inputs)
        if (known.terminal == driver) {
            known.drives.push_back(input.name);
            return;
        }
    const auto &d = *m_nets.member(driver);
    MotionInput in;
    in.terminal = driver;
    in.drives = {input.name};
    in.pulses = input.part->kind == Kind::DriveServo;
    in.name = d.part->kind == Kind::Board ? d.terminal->name : kit::labelOf(*d.fitted);
    if (d.part->sense == "light-high") {
        in.low = "dark";
        in.high = "light";
    } else if (d.part->sense == "light-low") {
        in.low = "light";
        in.high = "dark";
    }
    m_table.inputs.push_back(std::move(in));
}

bool Reckoner::enabled(const nets::Member &enable) const
{
    return at(enable).rest == circuit::Seen::High || !driverOf(enable).empty();
}

const nets::Member *Reckoner::enableOf(const kit::Instance &driver,
                                       const std::string &channel) const
{
    for (const auto &m : m_nets.all())
        if (m.fitted == &driver && m.terminal->role == Role::Enable &&
            m.terminal->channel == channel)
            return &m;
    return nullptr;
}

void Reckoner::noteDead()
{
    for (const auto &m : m_nets.all()) {
        if (m.terminal->role != Role::Enable || enabled(m))
            continue;
        const auto motors = nets::motorsOf(m_nets, m.fitted->id, m.terminal->channel);
        m_table.notes.push_back(say(
            "{} {}: {}", m.name, at(m).rest == circuit::Seen::Open ? "floats" : say("is held low"),
            motors.empty() ? say("channel {} is dead", m.terminal->channel)
                           : say("the {} motor is dead", joined(motors, " and the "))));
    }
}

} // namespace badger::motion
