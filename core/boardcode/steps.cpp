// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/boardcode/steps.h"

#include "core/base/medium.h"
#include "core/nets/drive_map.h"
#include "core/sentences/sentences.h"

#include <fmt/format.h>

namespace badger::boardcode
{

namespace
{

/// The words of a sentence, with a gap between all but before a full stop, a comma or a semicolon.
std::string said(const sentences::Sentence &sentence)
{
    std::string line;
    for (const auto &token : sentence.tokens) {
        const auto words = english(token.text);
        if (words.empty())
            continue;
        const bool glued = words.front() == '.' || words.front() == ',' || words.front() == ';';
        if (!line.empty() && !glued && line.back() != ' ')
            line += ' ';
        line += words;
    }
    return medium::line(line);
}

std::string wheel(const kit::Assembly &car, kit::Side side)
{
    const char *name = side == kit::Side::Left ? "left" : "right";
    const auto drive = nets::wheelDrive(car, side);
    if (!drive)
        return fmt::format("{} wheel: {}", name, english(drive.error().text()));
    if (drive->port.empty())
        return fmt::format("{} wheel: not at a port of the controller", name);
    const auto port = kit::splitTerminal(drive->port).terminal;
    const auto first = kit::splitTerminal(drive->forward).terminal;
    return fmt::format("{} wheel: port {}; it goes forward while {} is the higher end", name, port,
                       first);
}

std::string sensor(const kit::Assembly &car, const rules::Reading &r)
{
    const auto split = kit::splitTerminal(r.instance);
    const auto *fitted = car.find(split.instance.empty() ? r.instance : split.instance);
    std::string pins;
    if (fitted != nullptr)
        for (const auto &t : fitted->part->terminals) {
            if (!split.instance.empty() && t.name != split.terminal)
                continue;
            const auto pin = nets::wiredPin(car, fitted->instance->id + "." + t.name);
            const bool signal = t.role != parts::Role::SupplyIn && t.role != parts::Role::Ground;
            if (signal && !pin.empty())
                pins += fmt::format("{}{} at {}", pins.empty() ? "" : ", ", t.name, pin);
        }
    return fmt::format("{}: {}", r.name, pins.empty() ? "no wire leads it to a port" : pins);
}

} // namespace

std::string steps(const rules::Program &program, const machine::Machine &machine,
                  const kit::Assembly &car, const std::vector<std::string> &head)
{
    std::string text;
    const auto line = [&](const std::string &words) { text += medium::line(words) + "\n"; };
    for (const auto &words : head)
        line(words);
    line("This controller has a tool of its own: make these steps there, in this order.");
    text += "\nPorts\n";
    line("  " + wheel(car, kit::Side::Left));
    line("  " + wheel(car, kit::Side::Right));
    for (size_t i = 0; i < program.readings.size(); ++i)
        if (machine.sensors[i].of.count == 0)
            line("  " + sensor(car, program.readings[i]));
    text += "\nSteps\n";
    int number = 0;
    for (const auto &sentence : sentences::sentences(program)) {
        const bool heading = sentence.kind == sentences::Sentence::Kind::Heading;
        text += heading ? fmt::format("\n{}\n", said(sentence))
                        : fmt::format("{:3}. {}\n", ++number, said(sentence));
    }
    return text;
}

} // namespace badger::boardcode
