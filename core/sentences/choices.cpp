// SPDX-License-Identifier: GPL-3.0-or-later
// The words of a program's sentences that others can stand for.
#include "core/sentences/choices.h"

#include <array>

namespace badger::sentences
{

namespace
{

using rules::Compare;
using rules::Source;
using rules::Test;
using rules::ValueKind;

constexpr std::array policies = {rules::NoEcho::Clear, rules::NoEcho::Blocked,
                                 rules::NoEcho::HoldLast, rules::NoEcho::Stop,
                                 rules::NoEcho::Ignore};
constexpr std::array lengths = {units::Unit::Centimetre, units::Unit::Millimetre,
                                units::Unit::Inch};
constexpr std::array medians = {1, 3, 5, 7};
constexpr std::array bauds = {1200, 9600, 38400, 115200};

/// How an echo becomes a number.
Open ofEchoNumber(const rules::Program &program, const std::string &what, std::size_t at)
{
    const auto &r = program.readings[at];
    const auto with = [at](auto change) {
        return [at, change](rules::Program &p, std::size_t o) { change(p.readings[at], o); };
    };
    if (what == "numbers")
        return {{say("whole"), say("fractions of")},
                r.number == rules::NumberType::Whole ? 0U : 1U,
                with([](rules::Reading &to, std::size_t o) {
                    to.number = o == 0 ? rules::NumberType::Whole : rules::NumberType::Fraction;
                })};
    if (what == "median")
        return {{say("once"), say("as the median of 3"), say("as the median of 5"),
                 say("as the median of 7")},
                indexIn(medians, r.medianOf),
                with([](rules::Reading &to, std::size_t o) { to.medianOf = medians[o]; })};
    if (what == "bits")
        return {{say("32 bits"), say("16 bits")},
                r.timeBits == 32 ? 0U : 1U,
                with([](rules::Reading &to, std::size_t o) { to.timeBits = o == 0 ? 32 : 16; })};
    if (what == "unit") // one program keeps one unit
        return {{Say("cm"), Say("mm"), Say("in")},
                indexIn(lengths, r.unit),
                [](rules::Program &p, std::size_t o) {
                    for (auto &to : p.readings)
                        if (isEcho(to) || indexIn(lengths, to.unit) != none)
                            to.unit = lengths[o];
                }};
    return {};
}

Open ofReading(const rules::Program &program, const std::string &what, std::size_t at)
{
    const auto &r = program.readings[at];
    const auto choice = r.choice.value_or(rules::Choice{});
    const auto with = [at](auto change) {
        return [at, change](rules::Program &p, std::size_t o) { change(p.readings[at], o); };
    };
    const auto chosen = [](rules::Reading &reading) -> rules::Choice & {
        return reading.choice ? *reading.choice : reading.choice.emplace();
    };
    const auto policy = [&](rules::NoEcho rules::Reading::*which) {
        return Open{{say("clear"), say("blocked"), say("the last reading"), say("stop"),
                     say("nothing: the pass is skipped")},
                    indexIn(policies, r.*which),
                    with([which](rules::Reading &to, std::size_t o) { to.*which = policies[o]; })};
    };
    if (what == "policy")
        return policy(&rules::Reading::noEcho);
    if (what == "near")
        return policy(&rules::Reading::tooNear);
    if (what == "wild")
        return policy(&rules::Reading::wild);
    if (what == "ties")
        return {{say("first"), say("last")},
                choice.lastOfTies ? 1U : 0U,
                with([=](rules::Reading &to, std::size_t o) { chosen(to).lastOfTies = o == 1; })};
    if (what == "beyond")
        return {{say("no echo"), say("the limit"), Say("0")},
                static_cast<std::size_t>(choice.beyond),
                with([=](rules::Reading &to, std::size_t o) {
                    chosen(to).beyond = static_cast<rules::Beyond>(o);
                })};
    if (what == "seeks")
        return {{say("dark"), say("light")},
                r.seeks == rules::Shade::Dark ? 0U : 1U,
                with([](rules::Reading &to, std::size_t o) {
                    to.seeks = o == 0 ? rules::Shade::Dark : rules::Shade::Light;
                })};
    if (what == "level")
        return {
            {Say("0"), Say("1")},
            r.lightLevel ? static_cast<std::size_t>(*r.lightLevel) : none,
            with([](rules::Reading &to, std::size_t o) { to.lightLevel = static_cast<int>(o); })};
    return ofEchoNumber(program, what, at);
}

/// What a pair of wheels can do, as it stands in a heading.
struct Moves {
    rules::Wheels wheels;
    int left;
    int right;
};
constexpr std::array moves = {
    Moves{rules::Wheels::Brake, 0, 0},  Moves{rules::Wheels::Coast, 0, 0},
    Moves{rules::Wheels::Drive, 1, 1},  Moves{rules::Wheels::Drive, -1, -1},
    Moves{rules::Wheels::Drive, 0, 1},  Moves{rules::Wheels::Drive, 1, 0},
    Moves{rules::Wheels::Drive, -1, 1}, Moves{rules::Wheels::Drive, 1, -1}};

void move(rules::Program &program, std::size_t state, const Moves &wanted)
{
    auto &motion = program.states[state].motion;
    const bool turns = wanted.left != wanted.right;
    std::string speed = !motion.left.speed.empty() ? motion.left.speed : motion.right.speed;
    if (speed.empty() && wanted.wheels == rules::Wheels::Drive)
        speed = turns && program.value("turn-speed")
                    ? "turn-speed"
                    : valueFor(program, ValueKind::Speed, "speed", "PWM count while driving");
    auto &to = program.states[state].motion;
    to.wheels = wanted.wheels;
    to.left.sense = wanted.left;
    to.right.sense = wanted.right;
    to.left.speed = wanted.left != 0 ? speed : std::string();
    to.right.speed = wanted.right != 0 ? speed : std::string();
    to.proportion.reset();
}

Open ofState(const rules::Program &program, const std::string &what, std::size_t at)
{
    const auto &s = program.states[at];
    if (what == "motion") {
        Open open;
        for (const auto &m : moves) {
            rules::Motion motion;
            motion.wheels = m.wheels;
            motion.left.sense = m.left;
            motion.right.sense = m.right;
            if (!s.motion.proportion && s.motion.wheels == m.wheels &&
                (m.wheels != rules::Wheels::Drive ||
                 (s.motion.left.sense == m.left && s.motion.right.sense == m.right)))
                open.standing = open.words.size();
            open.words.push_back(rules::words(motion));
        }
        open.take = [at](rules::Program &p, std::size_t o) { move(p, at, moves[o]); };
        return open;
    }
    if (what == "wait" && s.wait)
        return {{say("blindly"), say("while passes go on")},
                s.wait->kind == rules::WaitKind::Blocking ? 0U : 1U,
                [at](rules::Program &p, std::size_t o) {
                    p.states[at].wait->kind =
                        o == 0 ? rules::WaitKind::Blocking : rules::WaitKind::Timed;
                }};
    if (what == "then" && s.wait)
        return stateNamed(program, s.wait->then, [at](rules::Program &p, const std::string &state) {
            p.states[at].wait->then = state;
        });
    return {};
}

Open ofProgram(const rules::Program &program, const std::string &what)
{
    using rules::WaitKind;
    const auto kind = [](std::size_t o) { return o == 0 ? WaitKind::Blocking : WaitKind::Timed; };
    if (what == "actions")
        return {{say("waits"), say("goes on with its passes")},
                program.actionsKind == WaitKind::Blocking ? 0U : 1U,
                [kind](rules::Program &p, std::size_t o) { p.actionsKind = kind(o); }};
    if (what == "pause")
        return {{say("After each pass it waits"), say("From pass to pass it takes at least")},
                program.passWaitKind == WaitKind::Blocking ? 0U : 1U,
                [kind](rules::Program &p, std::size_t o) { p.passWaitKind = kind(o); }};
    if (what == "prints") {
        Open open{{say("nothing")}, 0, {}};
        for (const int baud : bauds) {
            if (program.prints.on && program.prints.baud == baud)
                open.standing = open.words.size();
            open.words.push_back(say("a line a pass at {} baud", baud));
        }
        if (program.prints.on && open.standing == 0)
            open.standing = none;
        open.take = [](rules::Program &p, std::size_t o) {
            p.prints.on = o > 0;
            if (o > 0)
                p.prints.baud = bauds[o - 1];
        };
        return open;
    }
    return {};
}

/// What is said of all echoes at once, taken by each of them.
Open ofEchoes(const rules::Program &program, const std::string &what)
{
    Open first;
    std::vector<std::function<void(rules::Program &, std::size_t)>> takes;
    for (std::size_t i = 0; i < program.readings.size(); ++i) {
        if (!isEcho(program.readings[i]))
            continue;
        auto open = ofReading(program, what, i);
        takes.push_back(open.take);
        if (takes.size() == 1)
            first = std::move(open);
    }
    first.take = [takes](rules::Program &p, std::size_t o) {
        for (const auto &take : takes)
            take(p, o);
    };
    return first;
}

Open openAt(const rules::Program &program, const std::string &target)
{
    const auto p = placeOf(target);
    if (!p)
        return {};
    if (numbersIn(p->what) == 2)
        return ofCondition(program, *p);
    if (numbersIn(p->what) == 1)
        return ofRule(program, *p);
    if (p->what == "motion" || p->what == "wait" || p->what == "then") {
        const auto *s = program.state(p->name);
        return s ? ofState(program, p->what, static_cast<std::size_t>(s - program.states.data()))
                 : Open();
    }
    if (p->name.empty()) {
        auto open = ofProgram(program, p->what);
        return open.words.empty() ? ofEchoes(program, p->what) : open;
    }
    const auto *r = program.reading(p->name);
    return r ? ofReading(program, p->what, static_cast<std::size_t>(r - program.readings.data()))
             : Open();
}

} // namespace

Open stateNamed(const rules::Program &program, const std::string &standing,
                std::function<void(rules::Program &, const std::string &)> take)
{
    Open open;
    for (const auto &s : program.states) {
        if (s.name == standing)
            open.standing = open.words.size();
        open.words.emplace_back(s.name);
    }
    open.take = [take = std::move(take)](rules::Program &p, std::size_t o) {
        take(p, p.states[o].name);
    };
    return open;
}

std::string valueFor(rules::Program &program, ValueKind kind, const std::string &wish,
                     const std::string &meaning)
{
    if (const auto *v = program.value(wish); v && v->kind == kind)
        return wish;
    for (const auto &v : program.values)
        if (v.kind == kind && (kind == ValueKind::Speed || v.meaning == meaning))
            return v.name;
    const auto name =
        freeName(program.values, wish.empty() || program.value(wish) ? "limit" : wish);
    program.values.push_back({name, meaning, kind, std::nullopt});
    return name;
}

std::optional<ValueKind> kindOf(const rules::Program &program, const rules::Reading &reading)
{
    switch (reading.source) {
    case Source::Ranger:
    case Source::Scan:
        return ValueKind::Distance;
    case Source::Analogue:
        return reading.scale == rules::Scale::Raw          ? ValueKind::Count
               : reading.scale == rules::Scale::Normalised ? ValueKind::Share
                                                           : ValueKind::Distance;
    case Source::Pick:
    case Source::Difference: {
        const auto *first = reading.of.empty() ? nullptr : program.reading(reading.of.front());
        return first && first->source != Source::Pick && first->source != Source::Difference
                   ? kindOf(program, *first)
                   : std::nullopt;
    }
    case Source::Digital:
    case Source::Button:
    case Source::Key:
        break;
    }
    return std::nullopt;
}

rules::Condition conditionOn(rules::Program &program, const std::string &reading)
{
    rules::Condition c;
    c.reading = reading;
    const auto *r = program.reading(reading);
    const auto kind = r ? kindOf(program, *r) : std::nullopt;
    if (kind) {
        const auto name = freeName(program.values, "limit");
        program.values.push_back({name, "compared with " + reading, *kind, std::nullopt});
        c.value = name;
    } else if (r && r->source == Source::Key) {
        c.test = Test::Key;
        c.other = "ahead";
    } else {
        c.test = Test::Seen;
    }
    return c;
}

std::size_t standing(const rules::Program &program, const std::string &target)
{
    return openAt(program, target).standing;
}

std::vector<Say> options(const rules::Program &program, const std::string &target)
{
    return openAt(program, target).words;
}

bool choose(rules::Program &program, const std::string &target, std::size_t option)
{
    const auto open = openAt(program, target);
    if (option >= open.words.size())
        return false;
    open.take(program, option);
    return true;
}

} // namespace badger::sentences
