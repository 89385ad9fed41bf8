// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/board_code.h"

#include "core/rules/board_names.h"
#include "core/rules/board_writer.h"
#include "core/rules/table.h"

#include <algorithm>
#include <fmt/format.h>

namespace badger::rules
{

namespace
{

Result<WheelText> wheelText(const kit::Assembly &car, kit::Side side)
{
    const auto drive = nets::wheelDrive(car, side);
    if (!drive)
        return tl::unexpected(drive.error());
    const auto pins = nets::wheelPins(car, *drive);
    if (!pins)
        return tl::unexpected(pins.error());
    return WheelText{*drive, *pins};
}

Result<std::pair<std::string, std::string>> pingPins(const kit::Assembly &car,
                                                     const Reading &reading)
{
    const auto *fitted = car->instance(reading.instance);
    const auto *part = fitted ? car.part(*fitted) : nullptr;
    if (part == nullptr || part->kind != parts::Kind::Ranger)
        return fail(Error::Kind::Missing, "car '" + car->name + "'",
                    fmt::format("it has no ranger '{}' for the reading '{}'", reading.instance,
                                reading.name),
                    "fit a ranger of that name, or let the program read another");
    std::pair<std::string, std::string> pins;
    for (const auto &t : part->terminals) {
        if (t.role != parts::Role::Trigger && t.role != parts::Role::Echo)
            continue;
        const auto it = car->programPins.find(fitted->id + "." + t.name);
        if (it == car->programPins.end())
            return fail(Error::Kind::Missing,
                        fmt::format("car '{}', {}.{}", car->name, fitted->id, t.name),
                        "the program has no pin for it", "take the pins from the wires");
        (t.role == parts::Role::Trigger ? pins.first : pins.second) = it->second;
    }
    return pins;
}

/// Continuous servos have no driver to follow the wires through.
Result<void> hasMotors(const kit::Assembly &car)
{
    if (car.first(parts::Kind::Motor) == nullptr && car.first(parts::Kind::DriveServo) != nullptr)
        return fail(Error::Kind::Missing, say("car '{}'", car->name),
                    say("its wheels are continuous servos, which this program text does not drive "
                        "yet"),
                    say("the part tests can be written; they drive them by pulses"));
    return {};
}

bool uses(const Program &program, Wheels wheels)
{
    return std::any_of(program.states.begin(), program.states.end(),
                       [&](const State &s) { return s.motion.wheels == wheels; });
}

} // namespace

namespace
{

Result<BoardSource> sourceOf(const Program &program, const kit::Assembly &car,
                             const std::string &workshop)
{
    if (auto ok = complete(program); !ok)
        return tl::unexpected(ok.error());
    for (const auto &ok : {forRangersAlone(program), boardIsKnown(car), hasMotors(car)})
        if (!ok)
            return tl::unexpected(ok.error());
    const auto left = wheelText(car, kit::Side::Left);
    const auto right = wheelText(car, kit::Side::Right);
    if (!left || !right)
        return tl::unexpected(left ? right.error() : left.error());
    if (left->drive.enable.empty() != right->drive.enable.empty())
        return fail(Error::Kind::Conflict, say("car '{}'", car->name),
                    say("one wheel takes its speed on an enable, the other on its two inputs"),
                    say("drive both wheels by one kind of driver"));
    const auto *driver = car.catalogue().find(
        car->instance(kit::splitTerminal(left->drive.forward).instance)->partId);
    const auto brake = nets::levelsFor(*driver, "brake");
    const auto coast = nets::levelsFor(*driver, "coast");
    if (!brake || !coast)
        return tl::unexpected(brake ? coast.error() : brake.error());
    if (uses(program, Wheels::Coast) && !coast->enable && (left->drive.held || right->drive.held))
        return fail(Error::Kind::Conflict, say("car '{}'", car->name),
                    say("the program lets the wheels coast, but an enable is held high"),
                    say("lead the enable to a pin, or let the program brake"));
    BoardSource source{program, car, workshop, *left, *right, *brake, *coast, {}};
    for (const auto &r : program.readings) {
        const auto pins = pingPins(car, r);
        if (!pins)
            return tl::unexpected(pins.error());
        source.pingPins[r.name] = *pins;
    }
    return source;
}

} // namespace

Result<void> boardCodePossible(const Program &program, const kit::Assembly &car)
{
    return sourceOf(program, car, {}).map([](const BoardSource &) {});
}

Result<BoardCode> boardCode(const Program &program, const kit::Assembly &car,
                            const std::string &workshop)
{
    return sourceOf(program, car, workshop).map(writeBoardCode);
}

} // namespace badger::rules
