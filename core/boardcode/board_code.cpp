// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/boardcode/board_code.h"

#include "core/boardcode/names.h"
#include "core/boardcode/print.h"
#include "core/boardcode/steps.h"
#include "core/boardcode/writer.h"

#include "embedded/standIn.h"

#include <algorithm>
#include <fmt/format.h>

namespace badger::boardcode
{

namespace
{

constexpr std::uint64_t longestWait_us = 2'000'000'000; ///< half the way round a 32-bit clock
/// A text of more states cannot fit into any of the chips.
constexpr size_t mostStates = 200;

Result<void> times(const machine::Machine &machine, const kit::Assembly &car)
{
    for (const auto &mode : machine.modes)
        if (mode.hold.is && std::max(mode.hold.time_us, mode.hold.most_us) > longestWait_us)
            return fail(Error::Kind::OutOfRange, say("car '{}'", car->name),
                        say("a wait is longer than the board's clock can count: 33 minutes"),
                        say("choose a shorter one"));
    return {};
}

/// Everything a text is made from.
struct Prepared {
    rules::Program program;
    machine::Machine machine;
    Target target = Target::Board;
};

/// Do wheels follow, from pass to pass, what takes several passes?
bool followsScan(const rules::Program &program)
{
    return std::any_of(program.states.begin(), program.states.end(), [&](const rules::State &s) {
        const auto &p = s.motion.proportion;
        const auto *r = p ? program.reading(p->reading) : nullptr;
        return r && r->source == rules::Source::Scan && r->everyPass &&
               (p->follows == rules::Follows::Steer || p->follows == rules::Follows::Slow);
    });
}

/// The board of a program that can be meant for it.
Result<Target> targetFor(const rules::Program &program, const kit::Assembly &car)
{
    if (auto ok = rules::complete(program); !ok)
        return tl::unexpected(ok.error());
    if (program.actionsKind == rules::WaitKind::Timed && followsScan(program))
        return fail(Error::Kind::Conflict, say("program '{}'", program.name),
                    say("its wheels follow a scan that is taken in every pass, and while it is "
                        "taken there is no number to follow"),
                    say("let a state scan on its way in, or write the waits blocking"));
    if (program.states.size() > mostStates)
        return fail(Error::Kind::Conflict, say("program '{}'", program.name),
                    say("{} states do not fit into the board", program.states.size()),
                    say("make do with {}", mostStates));
    return targetOf(car);
}

Result<Prepared> prepared(const rules::Program &from, const kit::Assembly &car,
                          std::optional<Style> style, machine::CarFacts facts)
{
    auto program = style ? inStyle(from, *style) : from;
    const auto target = targetFor(program, car);
    if (!target)
        return tl::unexpected(target.error());
    facts.wide = !isSmall(*target);
    auto machine = machine::lower(program, facts);
    if (!machine)
        return tl::unexpected(machine.error());
    if (auto ok = times(*machine, car); !ok)
        return tl::unexpected(ok.error());
    return Prepared{std::move(program), std::move(*machine), *target};
}

std::vector<std::string> head(const Prepared &p, const kit::Assembly &car, const Writing &writing)
{
    std::vector<std::string> lines{
        fmt::format("{}, program '{}', version {}", car->name, p.program.name, p.program.version),
        fmt::format("{}; wiring revision {}", writing.workshop, car->wiringRevision)};
    for (const auto &line : howToLoad(p.target))
        lines.push_back(line);
    lines.emplace_back("Wheels off the ground and the motor supply open while this is loaded.");
    for (const auto &warning : writing.warnings)
        lines.push_back("WARNING: " + warning);
    return lines;
}

BoardCode printed(const Prepared &p, const kit::Assembly &car, const Writing &writing,
                  const Wires &wires)
{
    const auto print = [&](const std::string &build) {
        Text text{head(p, car, writing),
                  items({p.program, p.machine, wires,
                         fmt::format("{} {} version {}{}", car->name, p.program.name,
                                     p.program.version, build)})};
        text.head.front() += build;
        return p.target == Target::Computer ? printPython(text, supportFile(p.target))
                                            : printCpp(text, supportFile(p.target));
    };
    // Of all that the text says but the id itself.
    auto done = print(", build " + buildId(print({}).text));
    BoardCode code;
    code.files.push_back({identifier(car->name, false) + "_" + identifier(p.program.name, false) +
                              (p.target == Target::Computer ? ".py" : ".cpp"),
                          std::move(done.text)});
    code.files.push_back({supportFile(p.target), supportText(p.target)});
    if (p.target == Target::Computer)
        code.files.push_back({"stand_in.py", std::string(embedded::standIn)});
    code.tags = std::move(done.tags);
    return code;
}

} // namespace

const char *word(Style style)
{
    return style == Style::Blocking ? "blocking" : "timed";
}

rules::Program inStyle(rules::Program program, Style style)
{
    const auto kind = style == Style::Blocking ? rules::WaitKind::Blocking : rules::WaitKind::Timed;
    for (auto &s : program.states)
        if (s.wait)
            s.wait->kind = kind;
    program.actionsKind = kind;
    return program;
}

std::string buildId(const std::string &text)
{
    std::uint32_t sum = 2166136261U;
    for (const char c : text)
        sum = (sum ^ static_cast<unsigned char>(c)) * 16777619U;
    return fmt::format("{:08x}", sum);
}

Result<void> boardCodePossible(const rules::Program &program, const kit::Assembly &car)
{
    const auto target = targetFor(program, car);
    if (!target)
        return tl::unexpected(target.error());
    if (*target == Target::Ports)
        return {};
    const auto wires = wiresFor(program, car, {});
    if (!wires)
        return tl::unexpected(wires.error());
    return {};
}

Result<BoardCode> boardCode(const rules::Program &program, const kit::Assembly &car,
                            const Writing &writing)
{
    const auto p = prepared(program, car, writing.style, writing.facts);
    if (!p)
        return tl::unexpected(p.error());
    if (p->target == Target::Ports) {
        const auto text = steps(p->program, p->machine, car, head(*p, car, writing));
        return BoardCode{{{identifier(car->name, false) + "_" + identifier(p->program.name, false) +
                               "_steps.txt",
                           text}},
                         {}};
    }
    const auto wires = wiresFor(p->program, car, writing.facts.neutral_us);
    if (!wires)
        return tl::unexpected(wires.error());
    return printed(*p, car, writing, *wires);
}

} // namespace badger::boardcode
