// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/boardcode/part_tests.h"

#include "core/boardcode/part_writer.h"
#include "core/boardcode/print.h"
#include "core/nets/drive_map.h"
#include "embedded/linkLines.h"

#include <algorithm>
#include <fmt/format.h>

namespace badger::boardcode
{

using parts::Kind;
using parts::Role;

namespace
{

constexpr std::int64_t second_us = 1'000'000;

Item functionOf(const char *id, std::vector<std::pair<Type, std::string>> arguments, Body body,
                std::string comment = {})
{
    Item f;
    f.kind = Item::Kind::Function;
    f.name = id;
    f.arguments = std::move(arguments);
    f.body = std::move(body);
    f.comment = std::move(comment);
    return f;
}

Item number(const char *id, Type type, std::int64_t value, const char *comment)
{
    Item item;
    item.kind = Item::Kind::Constant;
    item.type = type;
    item.name = id;
    item.of = {whole(value)};
    item.comment = comment;
    return item;
}

Stmt waits(std::int64_t time_us)
{
    return run(call("wait_us", {whole(time_us)}));
}

class Motors
{
public:
    explicit Motors(PartWriter &writer) : m(writer) {}

    void write()
    {
        for (const auto &f : m.car.fitted())
            if (f.part->kind == Kind::Motor)
                motor(*f.instance);
        if (m_pass.empty())
            return;
        std::vector<Item> items = m_wheels;
        items.push_back(number("SLOW", Type::Small, 150, "of 255"));
        items.emplace_back();
        if (m_enabled)
            enabled(items);
        if (m_inputs)
            inputs(items);
        m_start.insert(m_start.end(), m_rest.begin(), m_rest.end());
        m_start.push_back(waits(3 * second_us)); // time to let go
        m.file("motors", "each motor alone, forward and backward",
               "Wheels off the ground. A wheel that is held draws its stall current: seconds only.",
               items, m_start, m_pass);
    }

private:
    void motor(const kit::Instance &fitted)
    {
        const auto drive = nets::motorDrive(m.nets, fitted);
        const auto forward = drive ? m.pinOf(drive->forward) : std::string{};
        const auto backward = drive ? m.pinOf(drive->backward) : std::string{};
        Item wheel;
        if (forward.empty() || backward.empty()) {
            wheel.kind = Item::Kind::Heading;
            wheel.comment = fitted.id + ": no pins to drive it";
            m_wheels.push_back(wheel);
            return;
        }
        const auto speed = drive->held ? std::string{} : m.pinOf(drive->enable);
        const bool pulsed = drive->enable.empty(); // its two inputs carry the speed
        (pulsed ? m_inputs : m_enabled) = true;
        const auto id = m.names.of("motor", fitted.id);
        wheel.kind = Item::Kind::Constant;
        wheel.type = Type::Wheel;
        wheel.name = id;
        wheel.of = {call("Wheel", {whole(m.number(forward)), whole(m.number(backward)),
                                   speed.empty() ? name("NO_PIN") : whole(m.number(speed))})};
        wheel.comment = fmt::format("{} {} {}", forward, backward,
                                    pulsed          ? "speed on these two"
                                    : speed.empty() ? "held high: full speed"
                                                    : speed);
        m_wheels.push_back(wheel);
        for (const auto *pin : {".forward", ".backward", ".speed"})
            m_start.push_back(run(call("make_output", {name(id + pin)})));
        const char *tries = pulsed ? "try_inputs" : "try_enabled";
        const char *rests = pulsed ? "rest_inputs" : "rest_enabled";
        m_rest.push_back(run(call(rests, {name(id)})));
        for (const bool ahead : {true, false}) {
            m.say(m_pass, fitted.id + (ahead ? " forward" : " backward"));
            m_pass.push_back(run(call(tries, {name(id), truth(ahead)})));
            m_pass.push_back(waits(second_us));
            m_pass.push_back(run(call(rests, {name(id)})));
            m_pass.push_back(waits(second_us));
        }
    }

    static Stmt told(const char *function, const char *pin, Expr value)
    {
        return run(call(function, {name(std::string("pins.") + pin), std::move(value)}));
    }

    static void enabled(std::vector<Item> &items)
    {
        const auto speed = [](Expr counts) {
            return when(op(name("pins.speed"), "!=", name("NO_PIN")),
                        {told("set_duty", "speed", std::move(counts))});
        };
        items.push_back(
            functionOf("try_enabled", {{Type::Wheel, "pins"}, {Type::Truth, "forward"}},
                       {told("set_level", "forward", name("forward")),
                        told("set_level", "backward", no(name("forward"))), speed(name("SLOW"))}));
        items.emplace_back();
        items.push_back(functionOf("rest_enabled", {{Type::Wheel, "pins"}},
                                   {told("set_level", "forward", truth(false)),
                                    told("set_level", "backward", truth(false)), speed(whole(0))}));
        items.emplace_back();
    }

    static void inputs(std::vector<Item> &items)
    {
        const auto both = [](Expr forward, Expr backward) {
            return Body{told("set_duty", "forward", std::move(forward)),
                        told("set_duty", "backward", std::move(backward))};
        };
        items.push_back(functionOf("try_inputs", {{Type::Wheel, "pins"}, {Type::Truth, "forward"}},
                                   {choose({{name("forward"), both(name("SLOW"), whole(0))},
                                            {std::nullopt, both(whole(0), name("SLOW"))}})}));
        items.emplace_back();
        items.push_back(
            functionOf("rest_inputs", {{Type::Wheel, "pins"}}, both(whole(0), whole(0))));
        items.emplace_back();
    }

    PartWriter &m;
    std::vector<Item> m_wheels;
    Body m_start, m_rest, m_pass;
    bool m_enabled = false, m_inputs = false;
};

void ranger(PartWriter &m, const kit::Instance &fitted, const parts::Part &part)
{
    std::string trigger;
    std::string echo;
    for (const auto &t : part.terminals) {
        if (t.role == Role::Trigger)
            trigger = m.pinOf(fitted.id + "." + t.name);
        if (t.role == Role::Echo)
            echo = m.pinOf(fitted.id + "." + t.name);
    }
    if (echo.empty())
        return;
    if (trigger.empty())
        trigger = echo; // one line for both
    const auto time = name("time");
    const auto print = [](const char *function, Expr what) {
        return run(call(function, {std::move(what)}));
    };
    const Body shown{print("print_number", cut(Type::Long, time)),
                     print("print_text", text(" us, ")),
                     print("print_number", op(cut(Type::Real, time), "/", real(58.3))),
                     print("print_text", text(" cm"))};
    m.file(fitted.id, fitted.id + " before a flat target",
           "Stand a book square before it, 30 cm away.",
           {m.pin("TRIG", trigger), m.pin("ECHO", echo), Item{}},
           {run(call("make_output", {name("TRIG")})), run(call("make_input", {name("ECHO")}))},
           {remark("Echo times are shown as they are; at 20 degrees C 58 us are a centimetre."),
            let(Type::Time, "time", call("echo_us", {name("TRIG"), name("ECHO"), whole(30000)})),
            choose({{op(time, "==", whole(0)), {print("print_text", text("no echo"))}},
                    {std::nullopt, shown}}),
            run(call("end_line")), waits(200'000)});
}

/// Pulses by the clock: no library, so no timer is taken while parts are tested.
void servo(PartWriter &m, const kit::Instance &fitted, const parts::Part &part)
{
    const auto signal =
        std::find_if(part.terminals.begin(), part.terminals.end(),
                     [](const parts::Terminal &t) { return t.role == Role::Signal; });
    const auto pin =
        signal == part.terminals.end() ? std::string{} : m.pinOf(fitted.id + "." + signal->name);
    if (pin.empty())
        return;
    const bool drives = part.kind == Kind::DriveServo;
    Body body;
    if (m.prints())
        body = {run(call("print_number", {cut(Type::Long, name("length_us"))})),
                run(call("print_text", {text(" us")})), run(call("end_line"))};
    const auto level = [](bool high) {
        return run(call("set_level", {name("SIGNAL"), truth(high)}));
    };
    body.push_back(countUp("i", whole(0), name("count"),
                           {level(true), run(call("wait_us", {name("length_us")})), level(false),
                            run(call("wait_us", {op(whole(20000), "-", name("length_us"))}))}));
    const auto pulses = [](std::int64_t length_us, std::int64_t count, std::string comment = {}) {
        return run(call("pulses", {whole(length_us), whole(count)}), std::move(comment));
    };
    const Body pass = drives ? Body{pulses(1300, 50),
                                    pulses(1500, 100, "it should stand still: turn its trimmer"),
                                    pulses(1700, 50), pulses(1500, 100)}
                             : Body{pulses(1472, 150, "straight ahead"), pulses(1250, 50),
                                    pulses(1472, 50), pulses(1700, 50)};
    m.file(
        fitted.id,
        fitted.id + (drives ? ", both ways and still" : ", straight ahead, then a little each way"),
        drives ? "Wheels off the ground." : "Fingers out of the horn's way.",
        {m.pin("SIGNAL", pin), Item{},
         functionOf("pulses", {{Type::Time, "length_us"}, {Type::Small, "count"}}, std::move(body)),
         Item{}},
        {run(call("make_output", {name("SIGNAL")}))}, pass);
}

void sensors(PartWriter &m)
{
    std::vector<Item> items;
    Body start;
    Body pass;
    for (const auto &f : m.car.fitted()) {
        if (f.part->kind == Kind::Divider)
            continue;
        for (const auto &t : f.part->terminals) {
            const bool analogue = t.role == Role::AnalogueOut;
            if (!analogue && t.role != Role::DigitalOut)
                continue;
            const auto pin = m.pinOf(f.instance->id + "." + t.name);
            if (pin.empty() || (analogue && !isAnalogue(m.target, pin)))
                continue;
            const auto id = m.names.of("sensor", f.instance->id + " " + t.name);
            items.push_back(m.pin(id, pin));
            start.push_back(run(call("make_input", {name(id)})));
            pass.push_back(run(call("print_text", {text(f.instance->id + " " + t.name + " ")})));
            if (analogue)
                pass.push_back(
                    run(call("print_number", {cut(Type::Long, call("analogue", {name(id)}))})));
            else
                pass.push_back(
                    choose({{call("level", {name(id)}), {run(call("print_text", {text("high")}))}},
                            {std::nullopt, {run(call("print_text", {text("low")}))}}}));
            pass.push_back(run(call("print_text", {text("  ")})));
        }
    }
    if (items.empty())
        return;
    items.emplace_back();
    pass.push_back(run(call("end_line")));
    pass.push_back(waits(300'000));
    m.file("sensors", "sensors over both surfaces", "Hold them over light, then over dark.", items,
           start, pass);
}

void outputs(PartWriter &m)
{
    std::vector<Item> items;
    Body start;
    Body pass;
    for (const auto &f : m.car.fitted()) {
        if ((f.part->kind != Kind::Led && f.part->kind != Kind::Buzzer) ||
            f.part->terminals.empty())
            continue;
        const auto pin = m.pinOf(f.instance->id + "." + f.part->terminals.front().name);
        if (pin.empty())
            continue;
        const auto id = m.names.of("output", f.instance->id);
        items.push_back(m.pin(id, pin));
        start.push_back(run(call("make_output", {name(id)})));
        m.say(pass, f.instance->id);
        for (const bool on : {true, false}) {
            pass.push_back(run(call("set_level", {name(id), truth(on)})));
            pass.push_back(waits(second_us / 2));
        }
    }
    if (items.empty())
        return;
    items.emplace_back();
    m.file("outputs", "lights and buzzers, one after the other",
           "A tester LED with 330 ohm shows what a pin gives.", items, start, pass);
}

} // namespace

Result<std::vector<BoardFile>> partTests(const kit::Assembly &car, const std::string &workshop)
{
    const auto where = say("car '{}'", car->name);
    const auto target = targetOf(car);
    if (!target)
        return tl::unexpected(target.error());
    if (*target == Target::Ports)
        return fail(Error::Kind::Missing, where,
                    say("its controller is put together in a tool of its own"),
                    say("try each port there: the wiring page says what is at it"));
    PartWriter m(car, workshop, *target);
    Motors(m).write();
    for (const auto &f : car.fitted()) {
        if (f.part->kind == Kind::Ranger && m.prints())
            ranger(m, *f.instance, *f.part);
        if (f.part->kind == Kind::Servo || f.part->kind == Kind::DriveServo)
            servo(m, *f.instance, *f.part);
    }
    if (m.prints())
        sensors(m);
    if (*target == Target::Board)
        writeReadings(m);
    outputs(m);
    if (m.files.empty())
        return fail(Error::Kind::Missing, where, say("no wire leads from a part to a pin"),
                    say("wire the car first"));
    m.files.push_back({supportFile(*target), supportText(*target)});
    if (*target == Target::Board)
        m.files.push_back({"link_lines.h", std::string(embedded::linkLines)});
    return m.files;
}

} // namespace badger::boardcode
