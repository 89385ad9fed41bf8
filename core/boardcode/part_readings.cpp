// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/boardcode/part_writer.h"
#include "core/link/lines.h"

#include <algorithm>
#include <fmt/format.h>

namespace badger::boardcode
{

namespace
{

using parts::Kind;
using parts::Role;

constexpr int every_ms = 100;
constexpr std::int64_t longestEcho_us = 250'000;
constexpr std::int64_t header_ms = 3000;

/// A name that a channel may have, and no other one has yet.
std::string channelName(const std::string &wish, const std::vector<link::Channel> &taken)
{
    std::string name;
    for (const char c : wish) {
        const bool big = c >= 'A' && c <= 'Z';
        const bool small = c >= 'a' && c <= 'z';
        if (small || big || (!name.empty() && ((c >= '0' && c <= '9') || c == '-')))
            name += big ? static_cast<char>(c - 'A' + 'a') : c;
    }
    name = (name.empty() ? "sensor" : name).substr(0, link::longestName - 3);
    auto free = name;
    for (int n = 2; std::any_of(taken.begin(), taken.end(),
                                [&](const link::Channel &t) { return t.name == free; });
         ++n)
        free = fmt::format("{}-{}", name, n);
    return free;
}

class Readings
{
public:
    explicit Readings(PartWriter &writer) : m(writer)
    {
        m_header.build = identifier(m.car->name, false).substr(0, 24) + "-w" +
                         std::to_string(m.car->wiringRevision);
        m_header.every_ms = every_ms;
    }

    void write()
    {
        for (const auto &f : m.car.fitted())
            if (f.part->kind != Kind::Divider)
                sensor(*f.instance, *f.part);
        const auto line =
            m_header.channels.empty() ? Result<std::string>("") : link::written(m_header);
        if (!line || line->empty()) // no sensor, or more of them than a line names
            return;
        m_start.insert(m_start.begin(), run(call("begin_serial", {whole(115200)})));
        m_start.push_back(header(*line));
        m.file("readings", "every sensor, for the Tune station", "Wheels off the ground.", items(),
               m_start, pass(*line), true);
    }

private:
    static Stmt header(const std::string &line)
    {
        // medium::source would bend nothing here: a header holds none of its signs.
        return run(call("print_line", {text(line.substr(0, line.size() - 1))}));
    }

    static Item variable(const char *name, Type type, const char *comment)
    {
        Item v;
        v.kind = Item::Kind::Variable;
        v.type = type;
        v.name = name;
        v.of = {whole(0)};
        v.comment = comment;
        return v;
    }

    static std::vector<Item> items()
    {
        return {variable("samples", Type::Time, "since the start"),
                variable("time_ms", Type::Time, ""), variable("counted_us", Type::Time, ""),
                variable("header_ms", Type::Time, "when the header was sent last"), Item{}};
    }

    void sensor(const kit::Instance &fitted, const parts::Part &part)
    {
        std::string trigger;
        for (const auto &t : part.terminals)
            if (t.role == Role::Trigger)
                trigger = m.pinOf(fitted.id + "." + t.name);
        for (const auto &t : part.terminals) {
            const auto pin = m.pinOf(fitted.id + "." + t.name);
            if (pin.empty())
                continue;
            const auto wish = part.kind == Kind::Strip ? fitted.id + "-" + t.name : fitted.id;
            const auto number = whole(m.number(pin));
            if (t.role == Role::Echo) {
                const auto from = trigger.empty() ? number : whole(m.number(trigger));
                m_start.push_back(run(call("make_output", {from})));
                m_start.push_back(run(call("make_input", {number})));
                add(fitted.id, link::ChannelUnit::Microseconds, pin,
                    call("say_echo", {call("echo_us", {from, number, whole(longestEcho_us)})}));
            } else if (t.role == Role::DigitalOut) {
                m_start.push_back(run(call("make_input", {number})));
                add(wish, link::ChannelUnit::Level, pin,
                    call("say_number", {call("level", {number})}));
            } else if (t.role == Role::AnalogueOut && isAnalogue(m.target, pin)) {
                m_start.push_back(run(call("make_input", {number})));
                add(wish, link::ChannelUnit::Counts, pin,
                    call("say_number", {call("analogue", {number})}));
            }
        }
    }

    void add(const std::string &wish, link::ChannelUnit unit, const std::string &pin, Expr value)
    {
        if (m_header.channels.size() >= link::mostChannels)
            return;
        m_header.channels.push_back({channelName(wish, m_header.channels), unit});
        m_values.push_back(run(call("say", {text(" ")})));
        m_values.push_back(run(std::move(value), pin));
    }

    Body pass(const std::string &line) const
    {
        const auto now = name("now_us");
        const auto passed = op(op(now, "-", name("counted_us")), "/", whole(1000));
        Body body{
            let(Type::Time, "now_us", call("clock_us")),
            let(Type::Time, "passed_ms", passed),
            set("time_ms", op(name("time_ms"), "+", name("passed_ms"))),
            set("counted_us", op(name("counted_us"), "+", op(name("passed_ms"), "*", whole(1000)))),
            when(any({call("asked", {sign('?')}),
                      op(op(name("time_ms"), "-", name("header_ms")), ">=", whole(header_ms))}),
                 {header(line), set("header_ms", name("time_ms"))}),
            run(call("begin_line", {text(fmt::format("={:02X} ", link::tagOf(m_header))),
                                    name("samples"), name("time_ms")})),
            set("samples", op(name("samples"), "+", whole(1)))};
        body.insert(body.end(), m_values.begin(), m_values.end());
        body.push_back(run(call("finish_line")));
        const auto took = op(call("clock_us"), "-", now);
        body.push_back(let(Type::Time, "took_us", took));
        body.push_back(
            when(op(name("took_us"), "<", whole(every_ms * 1000)),
                 {run(call("wait_us", {op(whole(every_ms * 1000), "-", name("took_us"))}))}));
        return body;
    }

    PartWriter &m;
    link::Header m_header;
    Body m_start;
    Body m_values;
};

} // namespace

void writeReadings(PartWriter &writer)
{
    Readings(writer).write();
}

} // namespace badger::boardcode
