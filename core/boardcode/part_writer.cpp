// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/boardcode/part_writer.h"

#include "core/boardcode/print.h"
#include "core/nets/drive_map.h"

#include <algorithm>
#include <fmt/format.h>

namespace badger::boardcode
{

PartWriter::PartWriter(const kit::Assembly &from, std::string workshop, Target on)
    : car(from), target(on), nets(from), m_workshop(std::move(workshop))
{
    // What these texts themselves use.
    names.reserve({"SLOW",       "TRIG",         "ECHO",        "SIGNAL",     "pulses",
                   "now_us",     "passed_ms",    "took_us",     "samples",    "time_ms",
                   "counted_us", "header_ms",    "say",         "say_number", "say_echo",
                   "begin_line", "finish_line",  "print_line",  "line_sum",   "pins",
                   "forward",    "time",         "count",       "length_us",  "try_enabled",
                   "try_inputs", "rest_enabled", "rest_inputs", "one_pass"});
}

std::string PartWriter::pinOf(const std::string &terminal) const
{
    auto pin = terminal.empty() ? std::string{} : nets::wiredPin(nets, terminal);
    return pinNumber(target, pin) ? pin : std::string{};
}

int PartWriter::number(const std::string &pin) const
{
    return pinNumber(target, pin).value_or(0);
}

Item PartWriter::pin(const std::string &id, const std::string &pin) const
{
    return pinItem(id, number(pin), pin);
}

void PartWriter::say(Body &body, const std::string &words) const
{
    if (!prints())
        return;
    body.push_back(run(call("print_text", {text(words)})));
    body.push_back(run(call("end_line")));
}

void PartWriter::file(const std::string &name, const std::string &what, const std::string &caution,
                      const std::vector<Item> &items, const Body &start, const Body &pass,
                      bool link)
{
    Text text;
    text.head = {fmt::format("{}: part test, {}", car->name, what),
                 fmt::format("{}; wiring revision {}", m_workshop, car->wiringRevision)};
    for (const auto &line : howToLoad(target))
        text.head.push_back(line);
    text.head.push_back(caution);
    text.items = items;
    const auto add = [&](const char *id, const Body &body) {
        Item f;
        f.kind = Item::Kind::Function;
        f.name = id;
        f.body = body;
        text.items.push_back(f);
        text.items.emplace_back();
    };
    auto begin = start;
    if (prints() && !link)
        begin.insert(begin.begin(), run(call("begin_serial", {whole(9600)})));
    add("start", begin);
    const bool computer = target == Target::Computer;
    add(computer ? "one_pass" : "pass", pass);
    const auto printed = computer ? printPython(text, supportFile(target))
                                  : printCpp(text, supportFile(target),
                                             link ? std::vector<std::string>{"link_lines.h"}
                                                  : std::vector<std::string>());
    files.push_back({identifier(car->name, false) + "_test_" + identifier(name, false) +
                         (computer ? ".py" : ".cpp"),
                     printed.text});
}

} // namespace badger::boardcode
