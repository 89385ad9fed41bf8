// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/boardcode/scope.h"

#include "core/base/named.h"

#include <algorithm>
#include <cmath>

namespace badger::boardcode
{

namespace
{

using rules::NoEcho;
using rules::Test;
using rules::ValueKind;
using RuleSource = rules::Source;

/// What a look without a number of its own can count as.
std::vector<NoEcho> policies(const machine::Sensor &s)
{
    std::vector<NoEcho> all{s.policy};
    if (s.nearest)
        all.push_back(s.tooNear);
    if (s.farthest)
        all.push_back(s.wild);
    return all;
}

/// Always a number after a look?
bool always(const machine::Sensor &s)
{
    const auto all = policies(s);
    switch (s.source) {
    case RuleSource::Ranger:
        return std::all_of(all.begin(), all.end(),
                           [](NoEcho p) { return p == NoEcho::Clear || p == NoEcho::Blocked; });
    case RuleSource::Analogue:
        return s.scale != rules::Scale::Distance || s.policy == NoEcho::Clear ||
               s.policy == NoEcho::Blocked;
    case RuleSource::Digital:
    case RuleSource::Button:
    case RuleSource::Key:
        return true;
    case RuleSource::Scan:
    case RuleSource::Pick:
    case RuleSource::Difference:
        break;
    }
    return false;
}

bool looksAt(const std::vector<rules::Action> &all, const std::string &reading)
{
    return std::any_of(all.begin(), all.end(), [&](const rules::Action &a) {
        return a.does == rules::Does::Look && a.what == reading;
    });
}

} // namespace

Scope::Scope(const Source &from)
    : program(from.program), machine(from.machine), wires(from.wires), banner(from.banner)
{
    names.reserve({"acting",     "act",        "step",    "step_end",  "fresh",     "NO_ECHO",
                   "NO_READING", "NOT_HEARD",  "NO_SIGN", "sign",      "LEFT",      "RIGHT",
                   "State",      "Wheel",      "state",   "state_end", "next_pass", "decide",
                   "enter",      "become",     "turn",    "brake",     "coast",     "set_wheel",
                   "forward",    "backward",   "counts",  "speed",     "next",      "began",
                   "echo",       "newest",     "count",   "i",         "k",         "share",
                   "entered",    "stop_asked", "steer",   "end_waits", "one_pass",  "STATE_NAMES",
                   "angle",      "dwell",      "pins",    "NEUTRAL",   "time"});
    names.reserve({"and",      "as",      "assert", "async",  "await", "def",   "del",    "elif",
                   "except",   "finally", "from",   "global", "in",    "is",    "lambda", "None",
                   "nonlocal", "pass",    "raise",  "with",   "yield", "print", "range",  "True",
                   "False",    "abs",     "min",    "max",    "len",   "round", "exec",   "input",
                   "list",     "map",     "set",    "str",    "type",  "id",    "sum",    "object",
                   "open",     "not",     "or",     "match",  "case",  "float", "main",   "sys"});
    names.reserve({"Pin",     "WHEEL",     "set_servo",   "begin_servo", "servo_pulse",
                   "turn_us", "random_us", "seed_random", "reached",     "held",
                   "scaled",  "received",  "table_at",    "clock_us",    "wait_us",
                   "clock",   "stand_in",  "car_pins",    "NO_PIN",      "AHEAD_DEG"});
    for (const auto &s : program.states)
        names.of("state", s.name);
    count(program.everywhere);
    for (const auto &s : program.states)
        count(s.rules);
    findUnknown();
}

int Scope::sensorOf(const std::string &reading) const
{
    const auto *found = named(program.readings, reading);
    return found ? static_cast<int>(found - program.readings.data()) : -1;
}

void Scope::countLost(int sensor, int most)
{
    if (sensor < 0)
        return;
    const auto &r = reading(sensor);
    if (r.source != RuleSource::Pick) {
        auto &now = lostMost[sensor];
        now = std::max(now, most);
        return;
    }
    for (const auto &of : r.of)
        countLost(sensorOf(of), most);
}

void Scope::count(const std::vector<rules::Rule> &all)
{
    for (const auto &rule : all)
        for (const auto &c : rule.when) {
            asksSince |= c.test == Test::Since;
            const auto *v = program.value(c.value);
            if (c.test == Test::Lost && v && v->si && *v->si >= 1.0)
                countLost(sensorOf(c.reading), static_cast<int>(*v->si));
        }
}

bool Scope::steersFirst(int sensor) const
{
    // The first state, and those that waits lead to from it before anything is looked at.
    size_t mode = 0;
    for (size_t steps = 0; steps <= machine.modes.size(); ++steps) {
        const auto &p = program.states[mode].motion.proportion;
        if (p && restsOn(sensorOf(p->reading), sensor))
            return true;
        if (!machine.modes[mode].hold.is)
            return false;
        mode = static_cast<size_t>(machine.modes[mode].hold.then);
    }
    return false;
}

bool Scope::restsOn(int made, int sensor) const
{
    if (made < 0 || made == sensor)
        return made == sensor;
    const auto &of = reading(made).of;
    return std::any_of(of.begin(), of.end(),
                       [&](const std::string &one) { return restsOn(sensorOf(one), sensor); });
}

bool Scope::alwaysLooked(int sensor) const
{
    const auto &r = reading(sensor);
    if (looksAt(program.start, r.name))
        return true;
    if (r.everyPass)
        return !steersFirst(sensor);
    // Asked for only by rules of states that look on the way in.
    const auto asks = [&](const std::vector<rules::Rule> &all, auto self, int of) -> bool {
        const auto &name = reading(of).name;
        for (const auto &rule : all)
            for (const auto &c : rule.when)
                if (c.reading == name || (c.test == Test::Than && c.other == name))
                    return true;
        for (size_t i = 0; i < program.readings.size(); ++i) {
            const auto &made = program.readings[i];
            if (std::find(made.of.begin(), made.of.end(), name) != made.of.end() &&
                static_cast<int>(i) != of && self(all, self, static_cast<int>(i)))
                return true;
        }
        return false;
    };
    if (asks(program.everywhere, asks, sensor))
        return false;
    for (const auto &s : program.states) {
        const bool follows = s.motion.proportion && s.motion.proportion->reading == r.name;
        if ((follows || asks(s.rules, asks, sensor)) && !looksAt(s.actions, r.name))
            return false;
    }
    return true;
}

void Scope::findUnknown()
{
    for (size_t i = 0; i < program.readings.size(); ++i)
        if (!alwaysLooked(static_cast<int>(i)))
            m_unlooked.insert(static_cast<int>(i));
}

std::string Scope::small(const std::string &kind, const std::string &from,
                         const std::string &before, const std::string &after)
{
    return names.of(kind + ":" + from, before + identifier(from, false) + after, false);
}

std::string Scope::capital(const std::string &kind, const std::string &from,
                           const std::string &after)
{
    return names.of(kind + ":" + from, from + after, true);
}

std::string Scope::state(int mode)
{
    return names.of("state", program.states[static_cast<size_t>(mode)].name);
}

std::string Scope::word(int word)
{
    const auto &text = machine.words[static_cast<size_t>(word)];
    return constant(Type::Small, "word:" + (text.empty() ? std::string("no word") : "word " + text),
                    word, text.empty() ? "nothing yet" : "")
        .text;
}

std::string Scope::variable(int sensor)
{
    return small("reading", reading(sensor).name);
}

Expr Scope::value(int sensor)
{
    const auto &r = reading(sensor);
    if (r.source == RuleSource::Difference && r.of.size() == 2)
        return op(value(sensorOf(r.of[0])), "-", value(sensorOf(r.of[1])));
    return name(variable(sensor));
}

Type Scope::type(int sensor) const
{
    const auto &r = reading(sensor);
    const auto &s = this->sensor(sensor);
    switch (r.source) {
    case RuleSource::Ranger:
    case RuleSource::Scan:
        if (!s.whole)
            return Type::Real;
        return s.limit > mostWhole || double(s.timeOut_us) * double(s.unitsPer_us) > mostWhole
                   ? Type::Long
                   : Type::Whole;
    case RuleSource::Digital:
    case RuleSource::Button:
        return Type::Truth;
    case RuleSource::Key:
        return Type::Small;
    case RuleSource::Analogue:
        return r.scale == rules::Scale::Raw || (r.scale == rules::Scale::Distance && s.whole)
                   ? Type::Whole
                   : Type::Real;
    case RuleSource::Pick:
    case RuleSource::Difference:
        break;
    }
    auto widest = Type::Whole;
    for (const auto &of : r.of) {
        const auto one = type(sensorOf(of));
        if (one == Type::Real || (one == Type::Long && widest == Type::Whole))
            widest = one;
    }
    return widest;
}

bool Scope::needsFound(int sensor) const
{
    const auto &s = this->sensor(sensor);
    if (s.source == RuleSource::Scan)
        return true;
    if (s.source == RuleSource::Pick)
        return !hasAlways(sensor);
    return s.source != RuleSource::Difference && always(s) && m_unlooked.count(sensor) != 0;
}

bool Scope::hasAlways(int sensor) const
{
    const auto &r = reading(sensor);
    const auto has = [&](const std::string &of) { return hasAlways(sensorOf(of)); };
    if (r.source == RuleSource::Pick)
        return !r.of.empty() && has(r.of.front()); // the others are compared with the first
    if (r.source == RuleSource::Difference)
        return std::all_of(r.of.begin(), r.of.end(), has);
    return always(this->sensor(sensor)) && m_unlooked.count(sensor) == 0;
}

Expr Scope::has(int sensor)
{
    const auto &s = this->sensor(sensor);
    if (s.source == RuleSource::Difference) {
        std::vector<Expr> both;
        for (const auto &of : reading(sensor).of)
            both.push_back(has(sensorOf(of)));
        return all(std::move(both));
    }
    if (needsFound(sensor))
        return name(found(sensor));
    return always(s) || s.source == RuleSource::Pick
               ? truth(true)
               : op(name(variable(sensor)), "!=", none(sensor));
}

Expr Scope::none(int sensor) const
{
    return name(reading(sensor).source == RuleSource::Analogue ? "NO_READING"
                : isBounded(sensor)                            ? "NOT_HEARD"
                                                               : "NO_ECHO");
}

bool Scope::isBounded(int sensor) const
{
    const auto &s = this->sensor(sensor);
    return s.nearest || s.farthest;
}

Expr Scope::stops(int sensor)
{
    const auto &s = this->sensor(sensor);
    // A scan that has nothing left counts as its looks without an echo do.
    const auto all = s.source == RuleSource::Scan ? std::vector{s.policy} : policies(s);
    const auto stopping = std::count(all.begin(), all.end(), NoEcho::Stop);
    const auto counting = std::count_if(all.begin(), all.end(), [](NoEcho p) {
        return p == NoEcho::Clear || p == NoEcho::Blocked;
    });
    if (stopping == 0)
        return truth(false);
    if (stopping + counting == static_cast<std::ptrdiff_t>(all.size()))
        return truth(true);
    return name(stopsName(sensor));
}

bool Scope::anglesAreWhole(int sensor) const
{
    const auto &angles = this->sensor(sensor).angles;
    for (int i = angles.first; i < angles.end(); ++i)
        if (!isWhole(machine.angles_deg[static_cast<size_t>(i)]))
            return false;
    return true;
}

} // namespace badger::boardcode
