// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/words.h"

namespace badger::machine
{

namespace
{

using rules::Test;
using rules::ValueKind;
using units::number;
using units::quantity;
using units::Unit;

/// A value as it is said: in the unit of what it is compared with, where that is a length.
Say valueWords(const rules::Program &program, const std::string &name, Unit length)
{
    const auto *v = program.value(name);
    if (v == nullptr || !v->si)
        return say("'{}' (unset)", name);
    switch (v->kind) {
    case ValueKind::Distance:
        return Say(units::formatShort(*v->si, length, 2)); // what the board compares keeps its unit
    case ValueKind::Duration:
        return quantity(*v->si, Unit::Millisecond, 1);
    case ValueKind::Angle:
        return Say(number(*v->si, 1)) + Say("°");
    case ValueKind::PerDegree:
        return Say(quantity(*v->si, Unit::Millisecond, 2)) + say(" a degree");
    case ValueKind::Speed:
    case ValueKind::Count:
    case ValueKind::Share:
    case ValueKind::Times:
        break;
    }
    return Say(number(*v->si, 3));
}

Unit unitOf(const rules::Program &program, const std::string &reading)
{
    const auto *r = program.reading(reading);
    return r ? r->unit : Unit::Centimetre;
}

Say test(const rules::Program &program, const rules::Condition &c)
{
    const auto value = [&] { return valueWords(program, c.value, unitOf(program, c.reading)); };
    switch (c.test) {
    case Test::Number:
        return say("{} {} {}", c.reading, sign(c.compare), value());
    case Test::Angle:
        return say("the angle of '{}' {} {}", c.reading, sign(c.compare), value());
    case Test::Which:
        return say("'{}' is {}", c.reading, c.other);
    case Test::Than: {
        const bool above =
            c.compare == rules::Compare::Greater || c.compare == rules::Compare::GreaterOrEqual;
        return say("{} {} {} {} {}", c.reading, sign(c.compare), c.other, above ? "+" : "−",
                   c.value.empty() ? Say("0") : value());
    }
    case Test::Seen:
        return say("'{}' sees it", c.reading);
    case Test::Unseen:
        return say("'{}' does not see it", c.reading);
    case Test::Key:
        return say("the key is '{}'", c.other);
    case Test::Remembered:
        return say("'{}' was {}", c.reading, c.other);
    case Test::Lost:
        return say("'{}' had no echo {} times", c.reading, value());
    case Test::Since:
        return say("{} have gone by", value());
    }
    return {};
}

} // namespace

Say words(const rules::Program &program, const rules::Condition &c)
{
    auto text = test(program, c);
    if (!c.times.empty())
        text = say("{} in {} passes", text, valueWords(program, c.times, Unit::Centimetre));
    return text;
}

Say words(const rules::Program &program, const rules::Rule &rule)
{
    std::vector<Say> parts;
    for (const auto &c : rule.when)
        parts.push_back(words(program, c));
    return joined(parts, rule.any ? " or " : " and ");
}

Say heldWords(const rules::Program &program, const Machine &, const Mind &mind, int sensor)
{
    const auto i = static_cast<size_t>(sensor);
    const auto &r = program.readings[i];
    const auto &h = mind.held[i];
    if (r.source == rules::Source::Key)
        return say("{} {}", r.name, h.number == 0.0 ? "none" : units::plain(h.number, 0));
    if (!h.has)
        return say("{} none", r.name);
    if (r.source == rules::Source::Scan)
        return say("{} {} at {}°", r.name, number(h.number, 2), number(h.angle_deg, 1));
    if (!h.heard && (r.source == rules::Source::Ranger || r.source == rules::Source::Pick))
        return say("{} without echo, counted as {}", r.name, number(h.number, 2));
    return say("{} {}", r.name, number(h.number, 2));
}

RuleAt ruleAt(const rules::Program &program, const Machine &machine, int branch)
{
    if (branch >= machine.everywhere.first && branch < machine.everywhere.end())
        return {&program.everywhere[static_cast<size_t>(branch - machine.everywhere.first)], -1};
    for (size_t i = 0; i < machine.modes.size(); ++i) {
        const auto &range = machine.modes[i].branches;
        if (branch >= range.first && branch < range.end())
            return {&program.states[i].rules[static_cast<size_t>(branch - range.first)],
                    static_cast<int>(i)};
    }
    return {};
}

Say why(const rules::Program &program, const Machine &machine, const Mind &mind, const Cause &cause)
{
    switch (cause.kind) {
    case Cause::Kind::Start:
        return say("it begins so");
    case Cause::Kind::WaitOver:
        return say("the wait is over");
    case Cause::Kind::Stopped:
        if (cause.sensor < 0)
            return say("a look without a number stops it");
        if (const auto &s = machine.sensors[static_cast<size_t>(cause.sensor)];
            s.farthest && !mind.held[static_cast<size_t>(cause.sensor)].heard)
            return say("no number of '{}' that can be meant stops it",
                       program.readings[static_cast<size_t>(cause.sensor)].name);
        return mind.held[static_cast<size_t>(cause.sensor)].heard
                   ? say("what is too near for '{}' stops it",
                         program.readings[static_cast<size_t>(cause.sensor)].name)
                   : say("no echo of '{}' stops it",
                         program.readings[static_cast<size_t>(cause.sensor)].name);
    case Cause::Kind::Branch:
        break;
    }
    const auto *rule = ruleAt(program, machine, cause.branch).rule;
    if (rule == nullptr)
        return {};
    std::vector<Say> parts;
    for (const auto &c : rule->when) {
        parts.push_back(words(program, c));
        for (const auto *name : {&c.reading, &c.other})
            if (const auto *r = program.reading(*name);
                r && r->source != rules::Source::Digital && r->source != rules::Source::Key &&
                (name == &c.reading || c.test == Test::Than))
                parts.push_back(heldWords(program, machine, mind,
                                          static_cast<int>(r - program.readings.data())));
    }
    return say("{}{}rule '{}'", joined(parts, ", "), parts.empty() ? "" : ": ", rule->name);
}

} // namespace badger::machine
