// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/motion/motion.h"

#include "core/circuit/levels.h"
#include "core/nets/drive_map.h"

#include <algorithm>
#include <fmt/format.h>
#include <fmt/ranges.h>

namespace badger::motion
{

using kit::Side;
using parts::Kind;
using parts::Role;

namespace
{

/// The level of an input: what drives it, or what holds it.
enum class Level { Low, High, Floating };

class Reckoner
{
public:
    Reckoner(const nets::Nets &nets, const circuit::CarNetwork &network,
             const std::vector<circuit::InputLevel> &levels)
        : m_nets(nets), m_network(network), m_levels(levels)
    {
    }

    MotionTable make()
    {
        findInputs();
        noteDead();
        if (m_table.inputs.empty())
            return std::move(m_table);
        constexpr size_t mostInputs = 6;
        constexpr size_t mostReckoned =
            20000; // terminals over all patterns: a fraction of a second
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

private:
    void findInputs()
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

    void takePort(const nets::Member &out)
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

    /// A motor is wired to the output that the input drives.
    bool hasMotor(const nets::Member &input) const
    {
        return m_nets.has(m_nets.of(input.fitted->id + "." + input.terminal->output), Role::Lead);
    }

    bool floats(const nets::Member &input) const
    {
        return driverOf(input).empty() && at(input).rest == circuit::Seen::Open;
    }

    /// Nobody drives it: it may happen to be either, and both are shown.
    void takeFloating(const nets::Member &input)
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

    const circuit::InputLevel &at(const nets::Member &input) const
    {
        const auto member = static_cast<size_t>(&input - m_nets.all().data());
        return *std::find_if(
            m_levels.begin(), m_levels.end(),
            [&](const circuit::InputLevel &level) { return level.member == member; });
    }

    /// What drives an input: the output that it follows; where no output is known for one, a pin on
    /// its line, else a sensor's output. Empty where nothing does, or where it is held.
    std::string driverOf(const nets::Member &input) const
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

    void take(const nets::Member &input, const std::string &driver)
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

    bool enabled(const nets::Member &enable) const
    {
        return at(enable).rest == circuit::Seen::High || !driverOf(enable).empty();
    }

    /// The enable of a channel; null where the driver has none.
    const nets::Member *enableOf(const kit::Instance &driver, const std::string &channel) const
    {
        for (const auto &m : m_nets.all())
            if (m.fitted == &driver && m.terminal->role == Role::Enable &&
                m.terminal->channel == channel)
                return &m;
        return nullptr;
    }

    void noteDead()
    {
        for (const auto &m : m_nets.all()) {
            if (m.terminal->role != Role::Enable || enabled(m))
                continue;
            const auto motors = nets::motorsOf(m_nets, m.fitted->id, m.terminal->channel);
            m_table.notes.push_back(
                say("{} {}: {}", m.name,
                    at(m).rest == circuit::Seen::Open ? "floats" : say("is held low"),
                    motors.empty() ? say("channel {} is dead", m.terminal->channel)
                                   : say("the {} motor is dead", joined(motors, " and the "))));
        }
    }

    Level level(const nets::Member &input, const std::vector<int> &levels) const
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

    std::vector<int> levelsOf(size_t pattern) const
    {
        std::vector<int> levels(m_table.inputs.size());
        for (size_t i = levels.size(); i-- > 0;) { // the last one changes fastest
            const size_t base = m_table.inputs[i].threeWay() ? 3 : 2;
            levels[i] = static_cast<int>(pattern % base) - (base == 3 ? 1 : 0);
            pattern /= base;
        }
        return levels;
    }

    MotionRow row(size_t pattern) const
    {
        MotionRow r;
        r.levels = levelsOf(pattern);
        r.outputs = outputs(r.levels);
        r.left = side(Side::Left, r.levels);
        r.right = side(Side::Right, r.levels);
        r.path = pathOf(r.left, r.right);
        return r;
    }

    /// What a channel does: "drive" with the output that is high, "brake", "coast"; empty where an
    /// input floats.
    struct Does {
        std::string does;
        std::string high;
        std::vector<std::string> outputs;
    };
    Does channelDoes(const kit::Instance &driver, const parts::Part &part,
                     const std::string &channel, const std::vector<int> &levels) const
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

    /// The first end high, the second, or both low.
    Does portDoes(const std::string &port, const parts::Part &part, const std::string &channel,
                  const std::vector<int> &levels) const
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

    std::vector<std::string> outputs(const std::vector<int> &levels) const
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

    Turn motorTurn(const kit::Instance &motor, const std::vector<int> &levels) const
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

    /// A longer pulse turns a continuous servo counter-clockwise, seen from outside on its own
    /// side.
    Turn servoTurn(const kit::Instance &servo, const parts::Part &part,
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
                return (levels[i] > 0) == (servo.side == Side::Left) ? Turn::Forward
                                                                     : Turn::Backward;
            }
        }
        return Turn::Dead; // without pulses it does not turn
    }

    Turn side(Side which, const std::vector<int> &levels) const
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

    const nets::Nets &m_nets;
    const circuit::CarNetwork &m_network;
    const std::vector<circuit::InputLevel> &m_levels;
    MotionTable m_table;
};

} // namespace

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
