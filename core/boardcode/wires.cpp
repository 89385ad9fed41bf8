// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/boardcode/wires.h"

#include <algorithm>

namespace badger::boardcode
{

namespace
{

using parts::Kind;
using parts::Role;
using rules::Does;
using RuleSource = rules::Source;

constexpr double us = 1e-6;

class Tracing
{
public:
    Tracing(const rules::Program &program, const kit::Assembly &car,
            const std::map<std::string, double> &neutral_us, Target target)
        : m_program(program), m_car(car), m_neutral_us(neutral_us)
    {
        m_to.target = target;
    }

    Result<Wires> wires()
    {
        if (auto ok = canAll(); !ok)
            return tl::unexpected(ok.error());
        if (auto ok = wheels(); !ok)
            return tl::unexpected(ok.error());
        for (const auto &r : m_program.readings)
            if (auto ok = reading(r); !ok)
                return tl::unexpected(ok.error());
        if (auto ok = actions(m_program.start); !ok)
            return tl::unexpected(ok.error());
        for (const auto &s : m_program.states)
            if (auto ok = actions(s.actions); !ok)
                return tl::unexpected(ok.error());
        return std::move(m_to);
    }

private:
    Say where() const { return say("car '{}'", m_car->name); }

    Result<void> canAll() const
    {
        const bool chip = m_to.target == Target::Chip;
        const auto words = [](const std::vector<rules::Action> &all) {
            return std::any_of(all.begin(), all.end(),
                               [](const rules::Action &a) { return a.does == Does::Print; });
        };
        bool prints = m_program.prints.on || words(m_program.start);
        for (const auto &s : m_program.states)
            prints |= words(s.actions);
        if (chip && prints)
            return fail(Error::Kind::Conflict, where(),
                        say("the bare chip has no serial line to print through"),
                        say("let the program print nothing, or use a 5 V board"));
        for (const auto &r : m_program.readings) {
            if (r.source == RuleSource::Key && chip)
                return fail(Error::Kind::Conflict, where(),
                            say("'{}' takes a person's keys, and the bare chip has no link that "
                                "brings them",
                                r.name),
                            say("use a board that a person can be linked to"));
            if (r.source == RuleSource::Analogue && m_to.target == Target::Computer)
                return fail(
                    Error::Kind::Conflict, where(),
                    say("'{}' reads a voltage, and the computer has no analogue pins", r.name),
                    say("use a 5 V board, or a sensor that says yes or no"));
        }
        return {};
    }

    Result<std::string> pinOf(const std::string &terminal, bool analogue = false) const
    {
        const auto it = m_car->programPins.find(terminal);
        if (it == m_car->programPins.end())
            return failAt(Error::Kind::Missing, m_car->name, terminal,
                          say("the program has no pin for it"),
                          say("take the pins from the wires"));
        if (!pinNumber(m_to.target, it->second))
            return failAt(Error::Kind::Missing, m_car->name, terminal,
                          say("the program's pin {} is none of this board's", it->second),
                          say("take the pins from the wires"));
        if (analogue && !isAnalogue(m_to.target, it->second))
            return failAt(Error::Kind::Conflict, m_car->name, terminal,
                          say("no voltage can be read at pin {}", it->second),
                          say("lead it to an analogue pin"));
        return it->second;
    }

    Result<std::string> signalPin(const kit::Instance &fitted) const
    {
        const auto *part = m_car.part(fitted);
        for (const auto &t : part->terminals)
            if (t.role == Role::Signal)
                return pinOf(fitted.id + "." + t.name);
        return failAt(Error::Kind::Missing, m_car->name, fitted.id, say("it has no signal line"),
                      say("fit a part that has one"));
    }

    /// A text tells one set of pins a side: motors that take others would stand still.
    Result<void> others(kit::Side side, const nets::WheelPins &first) const
    {
        const nets::Nets nets(m_car);
        for (const auto &f : m_car.fitted()) {
            if (f.part->kind != Kind::Motor || f.instance->side != side)
                continue;
            const auto drive = nets::motorDrive(nets, *f.instance);
            if (!drive)
                return tl::unexpected(drive.error());
            const auto pins = nets::wheelPins(m_car, *drive);
            if (!pins)
                return tl::unexpected(pins.error());
            if (pins->forward != first.forward || pins->backward != first.backward ||
                pins->enable != first.enable)
                return failAt(
                    Error::Kind::Conflict, m_car->name, f.instance->id,
                    say("it takes other pins than the motor before it on its side"),
                    say("lead both motors of a side to one channel, or both channels to the "
                        "same pins"));
        }
        return {};
    }

    Result<WheelText> motorWheel(kit::Side side)
    {
        const auto drive = nets::wheelDrive(m_car, side);
        if (!drive)
            return tl::unexpected(drive.error());
        const auto pins = nets::wheelPins(m_car, *drive);
        if (!pins)
            return tl::unexpected(pins.error());
        for (const auto &terminal : {drive->forward, drive->backward})
            if (auto ok = pinOf(terminal); !ok)
                return tl::unexpected(ok.error());
        if (!drive->enable.empty() && !drive->held)
            if (auto ok = pinOf(drive->enable); !ok)
                return tl::unexpected(ok.error());
        if (auto ok = others(side, *pins); !ok)
            return tl::unexpected(ok.error());
        (side == kit::Side::Left ? m_left : m_right) = *drive;
        return WheelText{*pins, drive->held};
    }

    Result<WheelText> servoWheel(kit::Side side)
    {
        for (const auto &fitted : m_car->parts) {
            const auto *part = m_car.part(fitted);
            if (part == nullptr || part->kind != Kind::DriveServo || fitted.side != side)
                continue;
            const auto pin = signalPin(fitted);
            if (!pin)
                return tl::unexpected(pin.error());
            auto &neutral = side == kit::Side::Left ? m_to.leftNeutral_us : m_to.rightNeutral_us;
            const auto measured = m_neutral_us.find(fitted.id);
            const auto figure = part->figures.find("neutral_s");
            if (measured != m_neutral_us.end())
                neutral = measured->second;
            else if (figure != part->figures.end())
                neutral = figure->second.typical / us;
            return WheelText{{*pin, {}, {}}, false};
        }
        return fail(Error::Kind::Missing, where(),
                    say("there is no wheel servo on the {} side",
                        side == kit::Side::Left ? "left" : "right"),
                    say("add one and say on which side it sits"));
    }

    bool coasts() const
    {
        return std::any_of(
            m_program.states.begin(), m_program.states.end(),
            [](const rules::State &s) { return s.motion.wheels == rules::Wheels::Coast; });
    }

    Result<void> wheels()
    {
        m_to.servoWheels =
            m_car.first(Kind::Motor) == nullptr && m_car.first(Kind::DriveServo) != nullptr;
        const auto wheel = [&](kit::Side side) {
            return m_to.servoWheels ? servoWheel(side) : motorWheel(side);
        };
        const auto left = wheel(kit::Side::Left);
        if (!left)
            return tl::unexpected(left.error());
        const auto right = wheel(kit::Side::Right);
        if (!right)
            return tl::unexpected(right.error());
        m_to.left = *left;
        m_to.right = *right;
        return m_to.servoWheels ? Result<void>() : driver();
    }

    Result<void> driver()
    {
        if (m_left.enable.empty() != m_right.enable.empty())
            return fail(Error::Kind::Conflict, where(),
                        say("one wheel takes its speed on an enable, the other on its two inputs"),
                        say("drive both wheels by one kind of driver"));
        const auto *part = m_car.catalogue().find(
            m_car->instance(kit::splitTerminal(m_left.forward).instance)->partId);
        const auto brake = nets::levelsFor(*part, "brake");
        if (!brake)
            return tl::unexpected(brake.error());
        const auto coast = nets::levelsFor(*part, "coast");
        if (!coast)
            return tl::unexpected(coast.error());
        if (coasts() && !coast->enable && (m_left.held || m_right.held))
            return fail(Error::Kind::Conflict, where(),
                        say("the program lets the wheels coast, but an enable is held high"),
                        say("lead the enable to a pin, or let the program brake"));
        m_to.brake = *brake;
        m_to.coast = *coast;
        return {};
    }

    Result<void> reading(const rules::Reading &r)
    {
        switch (r.source) {
        case RuleSource::Ranger:
        case RuleSource::Scan:
            return ping(r);
        case RuleSource::Digital:
        case RuleSource::Analogue:
        case RuleSource::Button:
            return input(r);
        case RuleSource::Pick:
        case RuleSource::Difference:
        case RuleSource::Key:
            break;
        }
        return {};
    }

    Result<void> ping(const rules::Reading &r)
    {
        const auto *fitted = m_car.find(r.instance);
        if (fitted == nullptr || fitted->part->kind != Kind::Ranger)
            return fail(Error::Kind::Missing, where(),
                        say("it has no ranger '{}' for the reading '{}'", r.instance, r.name),
                        say("fit a ranger of that name, or let the program read another"));
        std::pair<std::string, std::string> pins;
        for (const auto &t : fitted->part->terminals) {
            if (t.role != Role::Trigger && t.role != Role::Echo)
                continue;
            const auto pin = pinOf(r.instance + "." + t.name);
            if (!pin)
                return tl::unexpected(pin.error());
            (t.role == Role::Trigger ? pins.first : pins.second) = *pin;
        }
        if (pins.first.empty()) // one line for both
            pins.first = pins.second;
        m_to.pings[r.instance] = pins;
        return r.swivel ? servo(r.swivel->servo) : Result<void>();
    }

    /// "left-eye", or one line of several: "strip.OUT2".
    Result<void> input(const rules::Reading &r)
    {
        const auto split = kit::splitTerminal(r.instance);
        const auto *fitted = m_car.find(split.instance.empty() ? r.instance : split.instance);
        const auto missing =
            fail(Error::Kind::Missing, where(),
                 say("it has no sensor '{}' for the reading '{}'", r.instance, r.name),
                 say("fit one of that name, or let the program read another"));
        if (fitted == nullptr)
            return missing;
        for (const auto &t : fitted->part->terminals) {
            const bool named = split.terminal == t.name;
            if (split.instance.empty() ? t.role != Role::DigitalOut && t.role != Role::AnalogueOut
                                       : !named)
                continue;
            const auto pin =
                pinOf(fitted->instance->id + "." + t.name, r.source == RuleSource::Analogue);
            if (!pin)
                return tl::unexpected(pin.error());
            m_to.inputs[r.name] = *pin;
            return {};
        }
        return missing;
    }

    Result<void> servo(const std::string &instance)
    {
        const auto *fitted = m_car.find(instance);
        if (fitted == nullptr || fitted->part->kind != Kind::Servo)
            return fail(Error::Kind::Missing, where(), say("it has no servo '{}'", instance),
                        say("fit a servo of that name, or let the program look straight ahead"));
        const auto pin = signalPin(*fitted->instance);
        if (!pin)
            return tl::unexpected(pin.error());
        m_to.servos[instance] = *pin;
        return {};
    }

    Result<void> actions(const std::vector<rules::Action> &all)
    {
        for (const auto &a : all) {
            if (a.does == Does::Servo)
                if (auto ok = servo(a.what); !ok)
                    return ok;
            if (a.does != Does::Beep)
                continue;
            const auto *fitted =
                a.what.empty() ? m_car.first(Kind::Buzzer) : m_car->instance(a.what);
            if (fitted == nullptr)
                return fail(Error::Kind::Missing, where(),
                            say("the program beeps, and the car has no buzzer"),
                            say("fit one, or let the program not beep"));
            const auto pin = signalPin(*fitted);
            if (!pin)
                return tl::unexpected(pin.error());
            m_to.buzzers[a.what] = *pin;
        }
        return {};
    }

    const rules::Program &m_program;
    const kit::Assembly &m_car;
    const std::map<std::string, double> &m_neutral_us;
    Wires m_to;
    nets::WheelDrive m_left, m_right;
};

} // namespace

Result<Wires> wiresFor(const rules::Program &program, const kit::Assembly &car,
                       const std::map<std::string, double> &neutral_us)
{
    const auto target = targetOf(car);
    if (!target)
        return tl::unexpected(target.error());
    return Tracing(program, car, neutral_us, *target).wires();
}

} // namespace badger::boardcode
