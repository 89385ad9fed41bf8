// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/sentences/rewrite.h"

#include "core/machine/machine.h"
#include "core/sentences/places.h"
#include "core/sentences/rewrite_remove.h"
#include "core/sentences/sentence_kinds.h"

#include <algorithm>
#include <fmt/format.h>
#include <functional>
#include <set>

namespace badger::sentences
{

namespace
{

using rules::Does;
using rules::ValueKind;

/// Calls with every name of a value that the program uses.
void eachValue(const rules::Program &p, const std::function<void(const std::string &)> &visit)
{
    const auto rules = [&](const std::vector<rules::Rule> &all) {
        for (const auto &rule : all)
            for (const auto &c : rule.when)
                for (const auto *name : {&c.value, &c.times})
                    visit(*name);
    };
    const auto actions = [&](const std::vector<rules::Action> &all) {
        for (const auto &a : all)
            visit(a.value);
    };
    visit(p.passWait);
    actions(p.start);
    rules(p.everywhere);
    for (const auto &r : p.readings) {
        for (const auto *name : {&r.light, &r.dark, &r.timeOut})
            visit(*name);
        if (r.swivel)
            visit(r.swivel->dwell);
    }
    for (const auto &s : p.states) {
        rules(s.rules);
        actions(s.actions);
        for (const auto *name : {&s.motion.left.speed, &s.motion.right.speed})
            visit(*name);
        if (s.motion.proportion)
            for (const auto *name : {&s.motion.proportion->low, &s.motion.proportion->high,
                                     &s.motion.proportion->gain})
                visit(*name);
        if (s.wait)
            for (const auto *name : {&s.wait->duration, &s.wait->most, &s.wait->angle})
                visit(*name);
    }
}

std::set<std::string> valuesUsed(const rules::Program &program)
{
    std::set<std::string> names;
    eachValue(program, [&](const std::string &name) { names.insert(name); });
    return names;
}

/// Values that were used and are no more.
void dropUnused(rules::Program &program, const std::set<std::string> &before)
{
    const auto now = valuesUsed(program);
    std::erase_if(program.values, [&](const rules::Value &v) {
        return before.contains(v.name) && !now.contains(v.name);
    });
}

std::string newValue(rules::Program &program, ValueKind kind, const std::string &wish,
                     const std::string &meaning)
{
    const auto name = freeName(program.values, wish);
    program.values.push_back({name, meaning, kind, std::nullopt});
    return name;
}

/// Where a new rule or wait leads at first: to another state, standing where there is one.
std::string elsewhere(const rules::Program &program, const std::string &state)
{
    for (const bool stands : {true, false})
        for (const auto &s : program.states)
            if (s.name != state && (!stands || rules::actOf(s.motion) == rules::Act::Stand))
                return s.name;
    return program.states.front().name;
}

std::string ruleTarget(std::size_t index, const std::string &state)
{
    return fmt::format("go:{}:{}", index, state);
}

Error nothingToRead(const rules::Program &program)
{
    return {Error::Kind::Missing, say("program '{}'", program.name), say("it reads nothing yet"),
            say("add a reading first")};
}

Result<std::string> addRule(rules::Program &program, const Sentence &at)
{
    if (program.readings.empty())
        return tl::unexpected(nothingToRead(program));
    const auto state = isRule(at)    ? at.state
                       : isState(at) ? program.states[static_cast<std::size_t>(at.go)].name
                                     : std::string();
    const auto index = isRule(at) ? indexOf(at) + 1 : rulesAt(program, state)->size();
    rules::Rule rule;
    rule.when = {conditionOn(program, program.readings.front().name)};
    rule.go = elsewhere(program, state);
    auto &all = *rulesAt(program, state);
    rule.name = freeName(all, "rule");
    all.insert(all.begin() + static_cast<std::ptrdiff_t>(index), std::move(rule));
    return ruleTarget(index, state);
}

Result<std::string> addState(rules::Program &program, const Sentence &at)
{
    rules::State state;
    state.name = freeName(program.states, "state");
    state.motion.wheels = rules::Wheels::Brake; // until somebody says more
    const auto index = isState(at) ? static_cast<std::size_t>(at.go) + 1 : program.states.size();
    const auto target = "motion:" + state.name;
    program.states.insert(program.states.begin() + static_cast<std::ptrdiff_t>(index),
                          std::move(state));
    return target;
}

Result<std::string> addAction(rules::Program &program, std::vector<rules::Action> &to,
                              const Say &where, Does does)
{
    rules::Action a;
    a.does = does;
    if (does == Does::Look || does == Does::Servo || does == Does::Await)
        for (const auto &r : program.readings) {
            const bool fits = does == Does::Servo   ? r.swivel.has_value()
                              : does == Does::Await ? r.source == rules::Source::Button
                                                    : isEcho(r);
            if (a.what.empty() && fits)
                a.what = does == Does::Servo ? r.swivel->servo : r.name;
        }
    if (a.what.empty() && does == Does::Look)
        return fail(Error::Kind::Missing, where, say("no reading is taken by a look"),
                    say("add a ranger's reading first"));
    if (a.what.empty() && does == Does::Await)
        return fail(Error::Kind::Missing, where, say("the program reads no button"),
                    say("add a button's reading first"));
    if (a.what.empty() && does == Does::Servo)
        return fail(Error::Kind::Missing, where, say("no reading is turned by a servo"),
                    say("read a ranger that rides on one"));
    if (does == Does::Servo)
        a.value = newValue(program, ValueKind::Angle, "angle", "where the servo is sent");
    if (does == Does::Beep)
        a.value = newValue(program, ValueKind::Duration, "beep", "how long it beeps");
    if (does == Does::Pause)
        a.value = newValue(program, ValueKind::Duration, "pause", "how long it pauses");
    const auto target = a.value.empty() ? "reading:" + a.what : "value:" + a.value;
    to.push_back(std::move(a));
    return target;
}

template <class List> std::size_t shift(List &list, std::size_t index, int by)
{
    const auto to = static_cast<std::size_t>(static_cast<std::ptrdiff_t>(index) + by);
    std::swap(list[index], list[to]);
    return to;
}

Result<std::string> moveBy(rules::Program &program, const Sentence &at, int by)
{
    if (isRule(at))
        return ruleTarget(shift(*rulesAt(program, at.state), indexOf(at), by), at.state);
    if (isReading(at)) {
        const auto name = at.about.substr(8);
        const auto *r = program.reading(name);
        shift(program.readings, static_cast<std::size_t>(r - program.readings.data()), by);
        return "reading:" + name;
    }
    const auto to = shift(program.states, static_cast<std::size_t>(at.go), by);
    return "motion:" + program.states[to].name;
}

Result<std::string> remove(rules::Program &program, const Sentence &at)
{
    if (isReading(at))
        return removeReading(program, at.about.substr(8));
    if (isState(at))
        return removeState(program, static_cast<std::size_t>(at.go));
    auto &all = *rulesAt(program, at.state);
    all.erase(all.begin() + static_cast<std::ptrdiff_t>(indexOf(at)));
    if (all.empty())
        return at.state.empty() ? std::string() : "motion:" + at.state;
    return ruleTarget(std::min(indexOf(at), all.size() - 1), at.state);
}

Result<std::string> changeRule(rules::Program &program, const Sentence &at, Rewrite what)
{
    auto &rule = (*rulesAt(program, at.state))[indexOf(at)];
    const auto target = ruleTarget(indexOf(at), at.state);
    if (what == Rewrite::AddCondition) {
        if (program.readings.empty())
            return tl::unexpected(nothingToRead(program));
        auto c = conditionOn(program, program.readings.front().name);
        rule.when.push_back(std::move(c));
        return fmt::format("of:{}:{}:{}", indexOf(at), rule.when.size() - 1, at.state);
    }
    if (what == Rewrite::DropCondition)
        rule.when.pop_back();
    else if (what == Rewrite::OnlyOneNeeded)
        rule.any = !rule.any;
    else if (what == Rewrite::EndOrGoOn)
        rule.endsPass = !rule.endsPass;
    else if (what == Rewrite::Sure)
        rule.when.back().times =
            rule.when.back().times.empty()
                ? newValue(program, ValueKind::Times, "times", "so many passes in succession")
                : std::string();
    return target;
}

Result<std::string> changeState(rules::Program &program, const Sentence &at, Rewrite what)
{
    auto &state = program.states[static_cast<std::size_t>(at.go)];
    const auto where = say("state '{}'", state.name);
    switch (what) {
    case Rewrite::AddLook:
        return addAction(program, state.actions, where, Does::Look);
    case Rewrite::AddServo:
        return addAction(program, state.actions, where, Does::Servo);
    case Rewrite::AddBeep:
        return addAction(program, state.actions, where, Does::Beep);
    case Rewrite::AddPause:
        return addAction(program, state.actions, where, Does::Pause);
    case Rewrite::DropAction:
        state.actions.pop_back();
        break;
    case Rewrite::AddWait: {
        rules::Wait wait;
        wait.kind = rules::WaitKind::Blocking;
        wait.duration = newValue(program, ValueKind::Duration, "time", "how long it stays there");
        wait.then = elsewhere(program, state.name);
        const auto target = "value:" + wait.duration;
        state.wait = std::move(wait);
        return target;
    }
    case Rewrite::DropWait:
        state.wait.reset();
        break;
    default:
        break;
    }
    return "motion:" + state.name;
}

Result<std::string> changeStart(rules::Program &program, Rewrite what)
{
    const auto where = say("the start");
    if (what == Rewrite::AddBeep)
        return addAction(program, program.start, where, Does::Beep);
    if (what == Rewrite::AddPause)
        return addAction(program, program.start, where, Does::Pause);
    if (what == Rewrite::AddAwait)
        return addAction(program, program.start, where, Does::Await);
    program.start.pop_back();
    return std::string("start:");
}

/// What lies beyond one end of a reading's numbers counts apart, blocked until somebody says more.
std::string setApart(rules::Reading &r, bool isNear)
{
    auto &bound_m = isNear ? r.nearest_m : r.farthest_m;
    auto &policy = isNear ? r.tooNear : r.wild;
    if (isSetApart(bound_m, policy)) {
        bound_m.reset();
        policy = rules::NoEcho::Unset;
        return "reading:" + r.name;
    }
    policy = rules::NoEcho::Blocked;
    return (isNear ? "nearest:" : "farthest:") + r.name;
}

Result<std::string> done(rules::Program &program, const Sentence &at, Rewrite what)
{
    switch (what) {
    case Rewrite::AddRule:
        return addRule(program, at);
    case Rewrite::AddState:
        return addState(program, at);
    case Rewrite::OwnWay: {
        const auto name = at.about.substr(8);
        find(program.readings, name)->limit_m.reset();
        return "limit:" + name;
    }
    case Rewrite::TooNear:
    case Rewrite::Wild:
        return setApart(*find(program.readings, at.about.substr(8)), what == Rewrite::TooNear);
    case Rewrite::MoveUp:
        return moveBy(program, at, -1);
    case Rewrite::MoveDown:
        return moveBy(program, at, 1);
    case Rewrite::Remove:
        return remove(program, at);
    default:
        return isRule(at)    ? changeRule(program, at, what)
               : isStart(at) ? changeStart(program, what)
                             : changeState(program, at, what);
    }
}

} // namespace

Result<std::string> rewrite(rules::Program &program, const Sentence &sentence, Rewrite what)
{
    const auto possible = rewrites(program, sentence);
    if (std::find(possible.begin(), possible.end(), what) == possible.end())
        return fail(Error::Kind::Conflict, say("program '{}'", program.name),
                    say("that cannot be done at this sentence"), say("pick another sentence"));
    auto copy = program;
    const auto before = valuesUsed(copy);
    auto target = done(copy, sentence, what);
    if (!target)
        return target;
    dropUnused(copy, before);
    program = std::move(copy);
    return target;
}

std::string addReading(rules::Program &program, const Readable &sensor)
{
    rules::Reading r;
    auto wish = sensor.instance;
    std::replace(wish.begin(), wish.end(), '.', '-');
    r.name = freeName(program.readings, wish);
    r.instance = sensor.instance;
    r.source = sensor.source;
    for (const auto &other : program.readings) // one program keeps one unit
        if (isEcho(other)) {
            r.unit = other.unit;
            break;
        }
    if (!sensor.servo.empty())
        r.swivel = rules::Swivel{
            sensor.servo,
            {machine::ahead_deg},
            newValue(program, ValueKind::Duration, "dwell", "until the servo stands still")};
    const auto target = "reading:" + r.name;
    program.readings.push_back(std::move(r));
    return target;
}

} // namespace badger::sentences
