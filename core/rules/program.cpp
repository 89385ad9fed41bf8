// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/program.h"

#include "core/base/named.h"

#include <algorithm>
#include <fmt/format.h>

namespace badger::rules
{

const Value *Program::value(std::string_view wanted) const
{
    return named(values, wanted);
}
const Reading *Program::reading(std::string_view wanted) const
{
    return named(readings, wanted);
}
const State *Program::state(std::string_view wanted) const
{
    return named(states, wanted);
}

std::vector<Say> unset(const Program &program)
{
    std::vector<Say> missing;
    for (const auto &v : program.values)
        if (!v.si)
            missing.push_back(say("the value '{}', {}", v.name, v.meaning));
    for (const auto &r : program.readings) {
        if (r.noEcho == NoEcho::Unset)
            missing.push_back(say("what no echo means for '{}'", r.name));
        if (!r.air_degC)
            missing.push_back(say("the air temperature that '{}' assumes", r.name));
        if (!r.limit_m)
            missing.push_back(say("the farthest reading of '{}'", r.name));
    }
    return missing;
}

namespace
{

/// Collects sentences about references that lead nowhere.
class Broken
{
public:
    explicit Broken(const Program &program) : m_program(program) {}

    void valueIs(const std::string &name, ValueKind kind, const Say &where)
    {
        const auto *value = m_program.value(name);
        if (value == nullptr)
            add(say("{} uses the value '{}', which the program does not have", where, name));
        else if (value->kind != kind)
            add(say("{} uses the value '{}', which is of another kind", where, name));
    }

    void stateIs(const std::string &name, const Say &where)
    {
        if (m_program.state(name) == nullptr)
            add(say("{} goes to the state '{}', which the program does not have", where, name));
    }

    void rules(const std::vector<Rule> &all, const Say &where)
    {
        for (const auto &rule : all) {
            const auto place = say("{}, rule '{}',", where, rule.name);
            stateIs(rule.go, place);
            for (const auto &c : rule.when) {
                valueIs(c.value, ValueKind::Distance, place);
                if (m_program.reading(c.reading) == nullptr)
                    add(say("{} compares the reading '{}', which the program does not have", place,
                            c.reading));
            }
        }
    }

    void state(const State &s)
    {
        const auto place = say("state '{}'", s.name);
        if (s.motion.wheels == Wheels::Drive)
            for (const auto &wheel : {s.motion.left, s.motion.right})
                if (wheel.sense != 0)
                    valueIs(wheel.speed, ValueKind::Speed, place);
        if (s.wait) {
            valueIs(s.wait->duration, ValueKind::Duration, place);
            stateIs(s.wait->then, place);
        }
        rules(s.rules, place);
    }

    void add(Say sentence) { m_sentences.push_back(std::move(sentence)); }
    std::vector<Say> take() { return std::move(m_sentences); }

private:
    const Program &m_program;
    std::vector<Say> m_sentences;
};

template <class T> void checkNames(Broken &out, const std::vector<T> &all, const Say &kind)
{
    for (size_t i = 0; i < all.size(); ++i)
        for (size_t k = 0; k < i; ++k)
            if (all[i].name == all[k].name)
                out.add(say("two {} are named '{}'", kind, all[i].name));
}

} // namespace

std::vector<Say> broken(const Program &program)
{
    Broken out(program);
    if (program.states.empty())
        out.add(say("the program has no state"));
    checkNames(out, program.states, say("states"));
    checkNames(out, program.values, say("values"));
    checkNames(out, program.readings, say("readings"));
    out.rules(program.everywhere, say("everywhere"));
    for (const auto &s : program.states)
        out.state(s);
    if (!program.stopState.empty())
        out.stateIs(program.stopState, say("the stop policy"));
    for (const auto &r : program.readings)
        if (r.noEcho == NoEcho::Stop && program.stopState.empty())
            out.add(say("'{}' stops when there is no echo, but the program names no stop state",
                        r.name));
    if (!program.passWait.empty())
        out.valueIs(program.passWait, ValueKind::Duration, say("the pause after each pass"));
    return out.take();
}

Program haltProgram(const Id<Program> &id, const std::string &name)
{
    Program p;
    p.id = id;
    p.name = name;
    p.values = {
        {"halt", "stop at this distance", ValueKind::Distance, std::nullopt, {}},
        {"speed", "PWM count while driving", ValueKind::Speed, std::nullopt, {}},
        {"pause", "pause after each pass", ValueKind::Duration, std::nullopt, {}},
    };
    Reading ahead;
    ahead.name = "ahead";
    ahead.instance = "ranger";
    p.readings = {ahead};
    p.everywhere = {
        {"near", {{"ahead", Compare::LessOrEqual, "halt"}}, "stands", true, {}},
        {"clear", {{"ahead", Compare::Greater, "halt"}}, "drives", true, {}},
    };
    p.states = {
        {"stands", {Wheels::Brake, {}, {}}, std::nullopt, {}, {}},
        {"drives", {Wheels::Drive, {1, "speed"}, {1, "speed"}}, std::nullopt, {}, {}},
    };
    p.stopState = "stands";
    p.passWait = "pause";
    return p;
}

Say words(const Motion &motion)
{
    switch (motion.wheels) {
    case Wheels::Brake:
        return say("stands, braked");
    case Wheels::Coast:
        return say("stands, coasting");
    case Wheels::Drive:
        break;
    }
    const int l = motion.left.sense;
    const int r = motion.right.sense;
    if (l == r)
        return l > 0 ? say("drives") : l < 0 ? say("backs") : say("stands");
    if (l == -r)
        return l < r ? say("spins left") : say("spins right");
    if (l == 0 || r == 0) {
        const bool forward = l + r > 0;
        const bool left = forward == (l == 0);
        return left ? say("pivots left") : say("pivots right");
    }
    return say("turns");
}

const char *symbol(Compare compare)
{
    switch (compare) {
    case Compare::Less:
        return "<";
    case Compare::LessOrEqual:
        return "<=";
    case Compare::Greater:
        return ">";
    case Compare::GreaterOrEqual:
        break;
    }
    return ">=";
}

const char *sign(Compare compare)
{
    switch (compare) {
    case Compare::LessOrEqual:
        return "≤";
    case Compare::GreaterOrEqual:
        return "≥";
    case Compare::Less:
    case Compare::Greater:
        break;
    }
    return symbol(compare);
}

const char *word(NoEcho policy)
{
    switch (policy) {
    case NoEcho::Unset:
        return "unset";
    case NoEcho::Clear:
        return "clear";
    case NoEcho::Blocked:
        return "blocked";
    case NoEcho::HoldLast:
        return "hold-last";
    case NoEcho::Stop:
        return "stop";
    case NoEcho::Ignore:
        break;
    }
    return "ignore";
}

Act actOf(const Motion &motion)
{
    const int l = motion.left.sense;
    const int r = motion.right.sense;
    if (motion.wheels != Wheels::Drive || (l == 0 && r == 0))
        return Act::Stand;
    if (l == r)
        return l > 0 ? Act::Go : Act::Back;
    return Act::Turn;
}

const char *word(Act act)
{
    switch (act) {
    case Act::Go:
        return "go";
    case Act::Stand:
        return "stop";
    case Act::Back:
        return "back";
    case Act::Turn:
        break;
    }
    return "turn";
}

} // namespace badger::rules
