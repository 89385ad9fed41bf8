// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/boardcode/target.h"

#include "core/boardcode/names.h"
#include "embedded/boardSupport.h"
#include "embedded/chipSupport.h"
#include "embedded/commonFirst.h"
#include "embedded/commonSupport.h"
#include "embedded/computerPins.h"

#include <algorithm>
#include <charconv>

namespace badger::boardcode
{

namespace
{

constexpr int chipPins = 11;
constexpr int chipAnalogue = 8;
constexpr int firstComputerPin = 2;
constexpr int lastComputerPin = 27;

/// A board's own support with what is the same on every board around it: types before its first
/// name, functions behind its last.
std::string joinedSupport(std::string_view own)
{
    const auto at = own.find("namespace board");
    const auto withoutHead = [](std::string_view text) {
        return text.substr(text.find("\n\n") + 2);
    };
    return std::string(own.substr(0, at)) + std::string(withoutHead(embedded::commonFirst)) + "\n" +
           std::string(own.substr(at)) + "\n" + std::string(withoutHead(embedded::commonSupport));
}

/// "P7" is 7.
std::optional<int> counted(const std::string &pin)
{
    if (pin.size() < 2 || pin.front() != 'P')
        return std::nullopt;
    int n = -1;
    const auto *end = pin.data() + pin.size();
    const auto [rest, code] = std::from_chars(pin.data() + 1, end, n);
    if (code != std::errc() || rest != end || pin != "P" + std::to_string(n))
        return std::nullopt;
    return n;
}

bool hasPins(const parts::Part &part, Target target)
{
    bool some = false;
    for (const auto &t : part.terminals) {
        if (t.role != parts::Role::Pin)
            continue;
        some = true;
        if (!pinNumber(target, t.name))
            return false;
    }
    return some;
}

bool hasPorts(const parts::Part &part)
{
    return std::any_of(part.terminals.begin(), part.terminals.end(),
                       [](const parts::Terminal &t) { return t.role == parts::Role::MotorOut; });
}

} // namespace

Result<Target> targetOf(const kit::Assembly &car)
{
    const auto where = say("car '{}'", car->name);
    const auto *board = car.first(parts::Kind::Board);
    const auto *part = board ? car.part(*board) : nullptr;
    if (part == nullptr)
        return fail(Error::Kind::Missing, where,
                    say("it has no board to program: what the wires do is its program"),
                    say("the table of readings is all of it; fit a board to write a program for"));
    if (hasPorts(*part))
        return Target::Ports;
    if (part->terminal("D13") && hasPins(*part, Target::Board))
        return Target::Board;
    if (part->terminal("VCC") && hasPins(*part, Target::Chip))
        return Target::Chip;
    if (part->terminal("3V3") && hasPins(*part, Target::Computer))
        return Target::Computer;
    return fail(
        Error::Kind::Missing, where, say("board programs are not written for the {}", part->name),
        say("read the rules off this page into the board's own tool, or use a 5 V board with "
            "pins D0 to D13 and A0 to A5"));
}

std::optional<int> pinNumber(Target target, const std::string &pin)
{
    switch (target) {
    case Target::Board:
        return pinNumber(pin);
    case Target::Chip:
        if (const auto n = counted(pin); n && *n >= 0 && *n < chipPins)
            return n;
        break;
    case Target::Computer:
        if (const auto n = counted(pin); n && *n >= firstComputerPin && *n <= lastComputerPin)
            return n;
        break;
    case Target::Ports:
        break;
    }
    return std::nullopt;
}

bool isAnalogue(Target target, const std::string &pin)
{
    if (target == Target::Board)
        return pin.front() == 'A' && pinNumber(pin);
    const auto n = pinNumber(target, pin);
    return target == Target::Chip && n && *n < chipAnalogue;
}

const char *supportFile(Target target)
{
    switch (target) {
    case Target::Board:
        return "board_support.h";
    case Target::Chip:
        return "chip_support.h";
    case Target::Computer:
        return "car_pins.py";
    case Target::Ports:
        break;
    }
    return "";
}

std::string supportText(Target target)
{
    switch (target) {
    case Target::Board:
        return joinedSupport(embedded::boardSupport);
    case Target::Chip:
        return joinedSupport(embedded::chipSupport);
    case Target::Computer:
        return std::string(embedded::computerPins);
    case Target::Ports:
        break;
    }
    return {};
}

std::vector<std::string> howToLoad(Target target)
{
    switch (target) {
    case Target::Board:
        return {"Compile: an 8-bit board's C++17 compiler, board_support.h in the same folder.",
                "Load: through the board's serial port; tools/board-program does both."};
    case Target::Chip:
        return {"Compile: the chip's C++17 compiler, chip_support.h in the same folder; the chip "
                "runs at 8 MHz.",
                "Load: with a programmer at the chip's own pins, the chip out of the car."};
    case Target::Computer:
        return {"Run on the car's computer: python3 with this file and car_pins.py in one folder.",
                "Off the car: python3 stand_in.py THIS_FILE READINGS.csv"};
    case Target::Ports:
        break;
    }
    return {};
}

} // namespace badger::boardcode
