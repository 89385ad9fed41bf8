// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/rewrite.h"

#include "core/machine/machine.h"
#include "core/machine/places.h"
#include "core/machine/sentence_kinds.h"

#include <algorithm>
#include <fmt/format.h>
#include <functional>
#include <set>

namespace badger::machine
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

Result<std::string> addAction(rules::Program &program, rules::State &state, Does does)
{
    rules::Action a;
    a.does = does;
    const auto where = say("state '{}'", state.name);
    if (does == Does::Look || does == Does::Servo)
        for (const auto &r : program.readings) {
            const bool fits = does == Does::Servo ? r.swivel.has_value()
                                                  : r.source == rules::Source::Ranger ||
                                                        r.source == rules::Source::Scan;
            if (a.what.empty() && fits)
                a.what = does == Does::Servo ? r.swivel->servo : r.name;
        }
    if (a.what.empty() && does == Does::Look)
        return fail(Error::Kind::Missing, where, say("no reading is taken by a look"),
                    say("add a ranger's reading first"));
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
    state.actions.push_back(std::move(a));
    return target;
}

/// Who leads to a state, "rule 2 of 'drives'". Empty: nobody but itself.
Say leaderTo(const rules::Program &program, const std::string &state)
{
    const auto in = [&](const std::vector<rules::Rule> &all) {
        for (std::size_t i = 0; i < all.size(); ++i)
            if (all[i].go == state)
                return static_cast<int>(i) + 1;
        return 0;
    };
    if (const int n = in(program.everywhere); n > 0)
        return say("rule {} of those that hold always", n);
    for (const auto &s : program.states) {
        if (s.name == state)
            continue;
        if (const int n = in(s.rules); n > 0)
            return say("rule {} of '{}'", n, s.name);
        if (s.wait && s.wait->then == state)
            return say("the wait of '{}'", s.name);
    }
    const bool stops =
        std::any_of(program.readings.begin(), program.readings.end(),
                    [](const rules::Reading &r) { return r.noEcho == rules::NoEcho::Stop; });
    return program.stopState == state && stops ? say("the policy 'stop' of a reading") : Say();
}

Result<std::string> removeState(rules::Program &program, std::size_t index)
{
    const auto name = program.states[index].name;
    const auto where = say("state '{}'", name);
    if (program.states.size() == 1)
        return fail(Error::Kind::Conflict, where, say("it is the only state"),
                    say("add another one first"));
    if (const auto who = leaderTo(program, name); !who.empty())
        return fail(Error::Kind::Conflict, where, say("{} leads to it", who),
                    say("let that lead elsewhere first"));
    program.states.erase(program.states.begin() + static_cast<std::ptrdiff_t>(index));
    if (program.stopState == name)
        program.stopState.clear();
    return "motion:" + program.states[std::min(index, program.states.size() - 1)].name;
}

/// Who uses a reading. Empty: nobody.
Say userOf(const rules::Program &program, const std::string &reading)
{
    const auto uses = [&](const std::vector<rules::Rule> &all) {
        for (std::size_t i = 0; i < all.size(); ++i)
            for (const auto &c : all[i].when)
                if (c.test != rules::Test::Remembered &&
                    (c.reading == reading || (c.other == reading && program.reading(c.other))))
                    return static_cast<int>(i) + 1;
        return 0;
    };
    if (const int n = uses(program.everywhere); n > 0)
        return say("rule {} of those that hold always", n);
    for (const auto &s : program.states) {
        if (const int n = uses(s.rules); n > 0)
            return say("rule {} of '{}'", n, s.name);
        const bool looks = std::any_of(s.actions.begin(), s.actions.end(), [&](const auto &a) {
            return (a.does == Does::Look && a.what == reading) ||
                   (a.does == Does::Servo && a.value == reading);
        });
        const auto &p = s.motion.proportion;
        if (looks || (p && p->reading == reading) || (s.wait && s.wait->angle == reading))
            return say("the state '{}'", s.name);
    }
    for (const auto &a : program.start)
        if (a.does == Does::Look && a.what == reading)
            return say("the start routine");
    for (const auto &r : program.readings)
        if (std::find(r.of.begin(), r.of.end(), reading) != r.of.end())
            return say("the reading '{}'", r.name);
    return {};
}

Result<std::string> removeReading(rules::Program &program, const std::string &name)
{
    if (const auto who = userOf(program, name); !who.empty())
        return fail(Error::Kind::Conflict, say("reading '{}'", name), say("{} uses it", who),
                    say("let that ask another reading first"));
    std::erase_if(program.readings, [&](const rules::Reading &r) { return r.name == name; });
    return program.readings.empty() ? std::string() : "reading:" + program.readings.front().name;
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
    switch (what) {
    case Rewrite::AddLook:
        return addAction(program, state, Does::Look);
    case Rewrite::AddServo:
        return addAction(program, state, Does::Servo);
    case Rewrite::AddBeep:
        return addAction(program, state, Does::Beep);
    case Rewrite::AddPause:
        return addAction(program, state, Does::Pause);
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
    case Rewrite::MoveUp:
        return moveBy(program, at, -1);
    case Rewrite::MoveDown:
        return moveBy(program, at, 1);
    case Rewrite::Remove:
        return remove(program, at);
    default:
        return isRule(at) ? changeRule(program, at, what) : changeState(program, at, what);
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
            {ahead_deg},
            newValue(program, ValueKind::Duration, "dwell", "until the servo stands still")};
    const auto target = "reading:" + r.name;
    program.readings.push_back(std::move(r));
    return target;
}

} // namespace badger::machine
