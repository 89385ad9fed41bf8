// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/motion/motion.h"

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

MotionTable Reckoner::make()
{
    findInputs();
    noteDead();
    if (m_table.inputs.empty())
        return std::move(m_table);
    constexpr size_t mostInputs = 6;
    constexpr size_t mostReckoned = 20000; // terminals over all patterns: a fraction of a second
    size_t patterns = 1;
    for (size_t i = 0; i < m_table.inputs.size() && i <= mostInputs; ++i)
        patterns *= m_table.inputs[i].threeWay() ? 3 : 2;
    const auto ends = static_cast<size_t>(
        std::count_if(m_nets.all().begin(), m_nets.all().end(), [](const nets::Member &m) {
            return m.terminal->role == Role::MotorOut || m.terminal->role == Role::Lead;
        }));
    if (m_table.inputs.size() > mostInputs || patterns * ends > mostReckoned) {
        m_table.notes.push_back(say("{} inputs and {} motor ends: a table of every pattern "
                                    "would be too long; {} inputs are the most",
                                    m_table.inputs.size(), ends, mostInputs));
        return std::move(m_table);
    }
    for (size_t n = 0; n < patterns; ++n)
        m_table.rows.push_back(row(n));
    return std::move(m_table);
}

Level Reckoner::level(const nets::Member &input, const std::vector<int> &levels) const
{
    const auto rest = at(input).rest;
    if (rest == circuit::Seen::High)
        return Level::High;
    for (size_t i = 0; i < levels.size(); ++i) {
        const auto &drives = m_table.inputs[i].drives;
        if (std::find(drives.begin(), drives.end(), input.name) != drives.end())
            return levels[i] > 0 ? Level::High : Level::Low;
    }
    return rest == circuit::Seen::Low ? Level::Low : Level::Floating;
}

std::vector<int> Reckoner::levelsOf(size_t pattern) const
{
    std::vector<int> levels(m_table.inputs.size());
    for (size_t i = levels.size(); i-- > 0;) { // the last one changes fastest
        const size_t base = m_table.inputs[i].threeWay() ? 3 : 2;
        levels[i] = static_cast<int>(pattern % base) - (base == 3 ? 1 : 0);
        pattern /= base;
    }
    return levels;
}

MotionRow Reckoner::row(size_t pattern) const
{
    MotionRow r;
    r.levels = levelsOf(pattern);
    r.outputs = outputs(r.levels);
    r.left = side(Side::Left, r.levels);
    r.right = side(Side::Right, r.levels);
    r.path = pathOf(r.left, r.right);
    return r;
}

Reckoner::Does Reckoner::channelDoes(const kit::Instance &driver, const parts::Part &part,
                                     const std::string &channel,
                                     const std::vector<int> &levels) const
{
    Does d;
    if (part.kind == Kind::Board)
        return portDoes(driver.id + "." + channel, part, channel, levels);
    std::string inputs;
    std::vector<const parts::Terminal *> directions;
    bool floats = false;
    for (const auto &t : part.terminals) {
        if (t.channel != channel)
            continue;
        if (t.role == Role::MotorOut)
            d.outputs.push_back(t.name);
        if (t.role != Role::Direction)
            continue;
        const auto l = level(*m_nets.member(driver.id + "." + t.name), levels);
        floats |= l == Level::Floating;
        inputs += l == Level::High ? '1' : '0';
        directions.push_back(&t);
    }
    const auto *enable = enableOf(driver, channel);
    const bool on = enable == nullptr || enabled(*enable);
    if (!on) {
        d.does = "dead";
        return d;
    }
    if (floats)
        return d;
    for (const auto &r : part.truth)
        if (r.enabled == on && r.inputs == inputs)
            d.does = r.does;
    for (size_t i = 0; i < inputs.size() && d.does == "drive"; ++i)
        if (inputs[i] == '1')
            d.high = directions[i]->output;
    return d;
}

Reckoner::Does Reckoner::portDoes(const std::string &port, const parts::Part &part,
                                  const std::string &channel, const std::vector<int> &levels) const
{
    Does d;
    for (const auto &t : part.terminals)
        if (t.role == Role::MotorOut && t.channel == channel)
            d.outputs.push_back(t.name);
    for (size_t i = 0; i < levels.size(); ++i)
        if (m_table.inputs[i].terminal == port && d.outputs.size() == 2) {
            d.does = levels[i] == 0 ? "brake" : "drive";
            d.high = d.outputs[levels[i] > 0 ? 0 : 1];
        }
    return d;
}

std::vector<std::string> Reckoner::outputs(const std::vector<int> &levels) const
{
    std::vector<std::string> all;
    for (const auto &fitted : m_nets.car()->parts) {
        const auto *part = m_nets.car().part(fitted);
        if (part == nullptr || (part->kind != Kind::Driver && part->kind != Kind::Board))
            continue;
        std::vector<std::string> channels;
        for (const auto &t : part->terminals)
            if (t.role == Role::MotorOut &&
                (part->kind == Kind::Driver || m_nets.wired(fitted.id + "." + t.name)) &&
                std::find(channels.begin(), channels.end(), t.channel) == channels.end())
                channels.push_back(t.channel);
        for (const auto &channel : channels) {
            const auto d = channelDoes(fitted, *part, channel, levels);
            std::vector<std::string> said;
            for (const auto &out : d.outputs)
                said.push_back(out + " " +
                               (d.does == "drive"   ? (out == d.high ? "high" : "low")
                                : d.does == "brake" ? "tied"
                                : d.does.empty()    ? "?"
                                                    : "open"));
            all.push_back(fmt::format("{}", fmt::join(said, ", ")));
        }
    }
    return all;
}

Turn Reckoner::motorTurn(const kit::Instance &motor, const std::vector<int> &levels) const
{
    const auto a = m_nets.membersWith(m_nets.of(motor.id + ".A"), Role::MotorOut);
    const auto b = m_nets.membersWith(m_nets.of(motor.id + ".B"), Role::MotorOut);
    if (a.size() != 1 || b.size() != 1)
        return Turn::Unsure;
    const auto &outA = *m_nets.member(a.front());
    const auto &outB = *m_nets.member(b.front());
    if (outA.fitted != outB.fitted || &outA == &outB ||
        outA.terminal->channel != outB.terminal->channel)
        return Turn::Unsure;
    const auto d = channelDoes(*outA.fitted, *outA.part, outA.terminal->channel, levels);
    if (d.does == "brake")
        return Turn::Brake;
    if (d.does == "coast")
        return Turn::Coast;
    if (d.does == "dead")
        return Turn::Dead;
    if (d.does != "drive")
        return Turn::Unsure;
    // Lead A the higher one turns counter-clockwise seen from its own side: forward on the
    // left, backward on the right, whose motor is mounted the other way round.
    const bool counterClockwise = d.high == outA.terminal->name;
    return counterClockwise == (motor.side == Side::Left) ? Turn::Forward : Turn::Backward;
}

Turn Reckoner::servoTurn(const kit::Instance &servo, const parts::Part &part,
                         const std::vector<int> &levels) const
{
    for (const auto &t : part.terminals) {
        if (t.role != Role::Signal)
            continue;
        const auto full = servo.id + "." + t.name;
        for (size_t i = 0; i < levels.size(); ++i) {
            const auto &drives = m_table.inputs[i].drives;
            if (std::find(drives.begin(), drives.end(), full) == drives.end())
                continue;
            if (levels[i] == 0)
                return Turn::Brake;
            return (levels[i] > 0) == (servo.side == Side::Left) ? Turn::Forward : Turn::Backward;
        }
    }
    return Turn::Dead; // without pulses it does not turn
}

Turn Reckoner::side(Side which, const std::vector<int> &levels) const
{
    Turn all = Turn::None;
    for (const auto &fitted : m_nets.car()->parts) {
        const auto *part = m_nets.car().part(fitted);
        if (part == nullptr || fitted.side != which)
            continue;
        Turn one = Turn::None;
        if (part->kind == Kind::Motor)
            one = motorTurn(fitted, levels);
        else if (part->kind == Kind::DriveServo)
            one = servoTurn(fitted, *part, levels);
        else
            continue;
        if (all == Turn::None || all == one)
            all = one;
        else if (all == Turn::Unsure || one == Turn::Unsure)
            all = Turn::Unsure;
        else
            all = Turn::Fights;
    }
    return all;
}

MotionTable motion(const kit::Assembly &car)
{
    return motion(nets::Nets(car));
}

MotionTable motion(const nets::Nets &nets)
{
    const circuit::CarNetwork network(nets);
    return motion(nets, network, circuit::inputLevels(network));
}

MotionTable motion(const nets::Nets &nets, const circuit::CarNetwork &network,
                   const std::vector<circuit::InputLevel> &levels)
{
    return Reckoner(nets, network, levels).make();
}

} // namespace badger::motion
