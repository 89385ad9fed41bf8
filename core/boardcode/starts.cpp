// SPDX-License-Identifier: GPL-3.0-or-later
// What comes before the first pass: pins, states, the start.
#include "core/boardcode/pass_writer.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace badger::boardcode
{

using rules::NoEcho;
using rules::WaitKind;
using RuleSource = rules::Source;

std::vector<Item> Passes::pins()
{
    heading("pins, as the car is wired");
    for (const auto &[reading, p] : m.wires.pings) {
        pin(m.capital("trig", reading, " trig"), p.first);
        pin(m.capital("echo", reading, " echo"), p.second);
    }
    for (const auto &[reading, p] : m.wires.inputs)
        pin(m.capital("pin", reading, " pin"), p);
    for (const auto &[servo, p] : m.wires.servos)
        pin(m.capital("servopin", servo), p);
    for (const auto &[buzzer, p] : m.wires.buzzers)
        pin(m.capital("buzzer", buzzer.empty() ? "buzzer" : buzzer), p);
    wheel("LEFT", m.wires.left, m.wires.leftNeutral_us, 1);
    wheel("RIGHT", m.wires.right, m.wires.rightNeutral_us, -1);
    m_items.push_back(gap());
    return std::move(m_items);
}

std::vector<Item> Passes::states()
{
    Item item;
    item.kind = Item::Kind::States;
    for (size_t i = 0; i < m.program.states.size(); ++i)
        item.names.push_back(m.state(static_cast<int>(i)));
    m_items.push_back(item);
    if (prints())
        stateNames();
    m_items.push_back(variableItem(Type::State, "state", name(m.state(0))));
    if (m.asksSince)
        m_items.push_back(variableItem(Type::Time, "entered", whole(0)));
    if (hasWaits())
        m_items.push_back(variableItem(Type::Time, "state_end", whole(0)));
    if (isPaced())
        m_items.push_back(variableItem(Type::Time, "next_pass", whole(0)));
    m_items.push_back(gap());
    return std::move(m_items);
}

void Passes::heading(const char *text)
{
    Item item;
    item.kind = Item::Kind::Heading;
    item.comment = text;
    m_items.push_back(item);
}

void Passes::pin(const std::string &id, const std::string &pin)
{
    m_items.push_back(pinItem(id, number(pin), pin));
}

void Passes::wheel(const char *side, const WheelText &w, double neutral_us, int way)
{
    Item item;
    item.kind = Item::Kind::Constant;
    item.name = side;
    if (m.wires.servoWheels) {
        item.type = Type::ServoWheel;
        item.of = {call("ServoWheel", {whole(number(w.pins.forward)),
                                       whole(std::lround(neutral_us)), whole(way)})};
        item.comment = w.pins.forward + ", the pulse at which it stands, forward by a " +
                       (way > 0 ? "longer" : "shorter") + " one";
    } else {
        item.type = Type::Wheel;
        const bool none = w.pins.enable.empty();
        item.of = {call("Wheel", {whole(number(w.pins.forward)), whole(number(w.pins.backward)),
                                  none ? name("NO_PIN") : whole(number(w.pins.enable))})};
        item.comment = fmt::format("{} {} {}", w.pins.forward, w.pins.backward,
                                   !none    ? w.pins.enable
                                   : w.held ? "enable held high"
                                            : "speed on these two");
    }
    m_items.push_back(item);
}

void Passes::stateNames()
{
    Item item;
    item.kind = Item::Kind::List;
    item.type = Type::Nothing;
    item.name = "STATE_NAMES";
    for (const auto &s : m.program.states)
        item.of.push_back(text(s.name));
    m_items.push_back(item);
}

bool Passes::usesSerial() const
{
    const auto words = [](const std::vector<rules::Action> &all) {
        return std::any_of(all.begin(), all.end(),
                           [](const rules::Action &a) { return a.does == rules::Does::Print; });
    };
    return prints() || words(m.program.start) ||
           std::any_of(m.program.states.begin(), m.program.states.end(),
                       [&](const rules::State &s) { return words(s.actions); }) ||
           std::any_of(m.program.readings.begin(), m.program.readings.end(),
                       [](const rules::Reading &r) { return r.source == RuleSource::Key; });
}

bool Passes::isRandom() const
{
    return std::any_of(m.program.states.begin(), m.program.states.end(), [](const rules::State &s) {
        return s.wait && s.wait->length == rules::Length::Random;
    });
}

void Passes::makePins(Body &body)
{
    const auto makes = [&](const char *what, const std::string &pin) {
        body.push_back(run(call(what, {name(pin)})));
    };
    for (const auto *side : {"LEFT", "RIGHT"}) {
        const std::string wheel = side;
        if (m.wires.servoWheels) {
            body.push_back(
                run(call("begin_servo", {name(wheel + ".signal"), name(wheel + ".neutral")})));
            continue;
        }
        makes("make_output", wheel + ".forward");
        makes("make_output", wheel + ".backward");
        makes("make_output", wheel + ".speed");
    }
    for (const auto *side : {"LEFT", "RIGHT"})
        body.push_back(run(call("brake", {name(side)}),
                           side == std::string("LEFT") ? "first of all both wheels stand" : ""));
    for (const auto &[reading, p] : m.wires.pings) {
        makes("make_output", m.capital("trig", reading, " trig"));
        makes("make_input", m.capital("echo", reading, " echo"));
    }
    for (const auto &[reading, p] : m.wires.inputs)
        makes("make_input", m.capital("pin", reading, " pin"));
    for (const auto &[buzzer, p] : m.wires.buzzers)
        makes("make_output", m.capital("buzzer", buzzer.empty() ? "buzzer" : buzzer));
    for (const auto &[servo, p] : m.wires.servos)
        body.push_back(run(call("begin_servo", {name(m.capital("servopin", servo)),
                                                call("servo_pulse", {whole(90)})})));
}

void Passes::start()
{
    Body body;
    makePins(body);
    if (usesSerial())
        body.push_back(run(call("begin_serial", {whole(m.program.prints.baud)})));
    if (prints()) {
        body.push_back(run(call("print_text", {text(m.banner)})));
        body.push_back(run(call("end_line")));
    }
    if (isRandom())
        body.push_back(run(call("seed_random", {whole(m.machine.seed)})));
    for (auto &stmt : actions(m, m.program.start, m.machine.start)) {
        const bool looks = stmt.kind == Stmt::Kind::Do && isLook(stmt.of.front());
        // Before the first pass there is nothing else to do but wait for the servo.
        body.push_back(looks ? loop(no(stmt.of.front()), {run(call("wait_us", {whole(1000)}))})
                             : stmt);
    }
    body.push_back(run(call("enter", {name(m.state(0))})));
    if (hasWaits())
        body.push_back(run(call("end_waits")));
    if (isPaced())
        body.push_back(set("next_pass", call("clock_us")));
    m_items.push_back(function(Type::Nothing, "start", std::move(body)));
    m_items.push_back(gap());
}

} // namespace badger::boardcode
