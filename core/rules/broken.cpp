// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/named.h"
#include "core/rules/program.h"

#include <algorithm>
#include <initializer_list>

namespace badger::rules
{

namespace
{

/// Collects sentences about references that lead nowhere.
class Broken
{
public:
    explicit Broken(const Program &program) : m_program(program) {}

    void valueIs(const std::string &name, std::initializer_list<ValueKind> kinds, const Say &where)
    {
        const auto *value = m_program.value(name);
        if (value == nullptr)
            add(say("{} uses the value '{}', which the program does not have", where, name));
        else if (std::find(kinds.begin(), kinds.end(), value->kind) == kinds.end())
            add(say("{} uses the value '{}', which is of another kind", where, name));
    }

    void stateIs(const std::string &name, const Say &where)
    {
        if (m_program.state(name) == nullptr)
            add(say("{} goes to the state '{}', which the program does not have", where, name));
    }

    /// The reading of that name. A sentence, and null, where there is none.
    const Reading *readingIs(const std::string &name, const Say &where)
    {
        const auto *reading = m_program.reading(name);
        if (reading == nullptr)
            add(say("{} compares the reading '{}', which the program does not have", where, name));
        return reading;
    }

    void sourceIs(const std::string &name, std::initializer_list<Source> sources, const Say &where)
    {
        const auto *reading = readingIs(name, where);
        if (reading && std::find(sources.begin(), sources.end(), reading->source) == sources.end())
            add(say("{} asks of '{}' what such a reading cannot say", where, name));
    }

    /// A value that a reading can be compared with: centimetres with centimetres, counts with
    /// counts.
    void comparable(const Reading &reading, const std::string &value, const Say &where)
    {
        if (const auto kind = kindOf(reading))
            valueIs(value, {*kind}, where);
        else
            add(say("{} compares '{}' with a value, but it is no number", where, reading.name));
    }

    std::optional<ValueKind> kindOf(const Reading &reading) const
    {
        switch (reading.source) {
        case Source::Ranger:
        case Source::Scan:
            return ValueKind::Distance;
        case Source::Analogue:
            return reading.scale == Scale::Raw          ? ValueKind::Count
                   : reading.scale == Scale::Normalised ? ValueKind::Share
                                                        : ValueKind::Distance;
        case Source::Pick:
        case Source::Difference: {
            const auto *first = reading.of.empty() ? nullptr : m_program.reading(reading.of[0]);
            return first && first != &reading && !isMade(*first) ? kindOf(*first) : std::nullopt;
        }
        case Source::Digital:
        case Source::Button:
        case Source::Key:
            break;
        }
        return std::nullopt;
    }

    static bool isMade(const Reading &reading)
    {
        return reading.source == Source::Pick || reading.source == Source::Difference;
    }

    void condition(const Condition &c, const Say &where)
    {
        if (!c.times.empty())
            valueIs(c.times, {ValueKind::Times}, where);
        switch (c.test) {
        case Test::Number:
            if (const auto *r = readingIs(c.reading, where))
                comparable(*r, c.value, where);
            break;
        case Test::Angle:
            sourceIs(c.reading, {Source::Scan}, where);
            valueIs(c.value, {ValueKind::Angle}, where);
            break;
        case Test::Which:
            sourceIs(c.reading, {Source::Pick}, where);
            readingIs(c.other, where);
            break;
        case Test::Than: {
            const auto *a = readingIs(c.reading, where);
            const auto *b = readingIs(c.other, where);
            if (a && b && (!kindOf(*a) || kindOf(*a) != kindOf(*b) || a->unit != b->unit))
                add(say("{} compares '{}' with '{}', which is of another kind or unit", where,
                        c.reading, c.other));
            else if (a && !c.value.empty())
                comparable(*a, c.value, where);
            break;
        }
        case Test::Seen:
        case Test::Unseen:
            sourceIs(c.reading, {Source::Digital, Source::Button}, where);
            break;
        case Test::Key:
            sourceIs(c.reading, {Source::Key}, where);
            if (c.other != "none" && c.other != "ahead" && c.other != "back" && c.other != "left" &&
                c.other != "right")
                add(say("{} waits for the key '{}', which there is not", where, c.other));
            break;
        case Test::Remembered:
            if (named(m_program.memos, c.reading) == nullptr)
                add(say("{} asks for '{}', which the program does not remember", where, c.reading));
            break;
        case Test::Lost:
            sourceIs(c.reading, {Source::Ranger, Source::Scan, Source::Pick, Source::Key}, where);
            valueIs(c.value, {ValueKind::Times}, where);
            break;
        case Test::Since:
            valueIs(c.value, {ValueKind::Duration}, where);
            break;
        }
    }

    void rules(const std::vector<Rule> &all, const Say &where)
    {
        for (const auto &rule : all) {
            const auto place = say("{}, rule '{}',", where, rule.name);
            stateIs(rule.go, place);
            for (const auto &c : rule.when)
                condition(c, place);
        }
    }

    void wait(const Wait &w, const Say &place)
    {
        if (w.length == Length::PerDegree) {
            valueIs(w.duration, {ValueKind::PerDegree}, place);
            const auto *reading = m_program.reading(w.angle);
            if (reading == nullptr || reading->source != Source::Scan)
                valueIs(w.angle, {ValueKind::Angle}, place);
        } else {
            valueIs(w.duration, {ValueKind::Duration}, place);
        }
        if (w.length == Length::Random)
            valueIs(w.most, {ValueKind::Duration}, place);
        stateIs(w.then, place);
    }

    void motion(const Motion &m, const Say &place)
    {
        if (m.wheels != Wheels::Drive)
            return;
        for (const auto &wheel : {m.left, m.right})
            if (wheel.sense != 0)
                valueIs(wheel.speed, {ValueKind::Speed}, place);
        if (!m.proportion || m.proportion->follows == Follows::Nothing)
            return;
        const auto &p = *m.proportion;
        const auto *reading = readingIs(p.reading, place);
        if (p.follows == Follows::Scan) {
            sourceIs(p.reading, {Source::Scan}, place);
            return;
        }
        if (reading) {
            comparable(*reading, p.low, place);
            comparable(*reading, p.high, place);
        }
        if (p.follows == Follows::Steer)
            valueIs(p.gain, {ValueKind::Share}, place);
    }

    void actions(const std::vector<Action> &all, const Say &place)
    {
        for (const auto &a : all)
            switch (a.does) {
            case Does::Look:
                readingIs(a.what, place);
                break;
            case Does::Servo: {
                const auto *reading = m_program.reading(a.value);
                if (reading == nullptr || reading->source != Source::Scan)
                    valueIs(a.value, {ValueKind::Angle}, place);
                break;
            }
            case Does::Beep:
            case Does::Pause:
                valueIs(a.value, {ValueKind::Duration}, place);
                break;
            case Does::Remember:
                if (named(m_program.memos, a.what) == nullptr)
                    add(say("{} remembers '{}', which the program does not have", place, a.what));
                break;
            case Does::Await:
                sourceIs(a.what, {Source::Button}, place);
                if (&all != &m_program.start)
                    add(say("{} waits for a button, which only the start can", place));
                break;
            case Does::Print:
                break;
            }
    }

    void bounds(const Reading &r, const Say &place)
    {
        if (!r.nearest_m && !r.farthest_m)
            return;
        if (r.source != Source::Ranger && r.source != Source::Scan)
            add(say("{} has bounds, which only an echo has", place));
        if (r.nearest_m && r.farthest_m && *r.nearest_m >= *r.farthest_m)
            add(say("{} is too near for what is not yet too far", place));
        const auto farthest_m = r.farthest_m ? r.farthest_m : r.nearest_m;
        if (r.limit_m && *farthest_m >= *r.limit_m)
            add(say("{} has a bound that is not short of its limit", place));
    }

    void reading(const Reading &r)
    {
        const auto place = say("reading '{}'", r.name);
        if (r.swivel && !r.swivel->dwell.empty())
            valueIs(r.swivel->dwell, {ValueKind::Duration}, place);
        bounds(r, place);
        if (r.source == Source::Scan && !r.swivel)
            add(say("{} is a scan, but turns no servo", place));
        if (r.source == Source::Analogue && r.scale == Scale::Normalised)
            for (const auto &name : {r.light, r.dark})
                valueIs(name, {ValueKind::Count}, place);
        if (r.source == Source::Key && !r.timeOut.empty())
            valueIs(r.timeOut, {ValueKind::Duration}, place);
        if (!isMade(r))
            return;
        if (r.source == Source::Difference ? r.of.size() != 2 : r.of.empty())
            add(say("{} is made of too few or too many others", place));
        for (const auto &name : r.of) {
            const auto *other = m_program.reading(name);
            const auto *first = m_program.reading(r.of.front());
            if (other == nullptr || isMade(*other) || !kindOf(*other) ||
                (first && (kindOf(*other) != kindOf(*first) || other->unit != first->unit)))
                add(say("{} is made of '{}', which is no such number", place, name));
        }
    }

    void state(const State &s)
    {
        const auto place = say("state '{}'", s.name);
        motion(s.motion, place);
        actions(s.actions, place);
        if (s.wait)
            wait(*s.wait, place);
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
    for (const auto &r : program.readings)
        out.reading(r);
    out.actions(program.start, say("the start"));
    out.rules(program.everywhere, say("everywhere"));
    for (const auto &s : program.states)
        out.state(s);
    if (!program.stopState.empty())
        out.stateIs(program.stopState, say("the stop policy"));
    for (const auto &r : program.readings)
        if (program.stopState.empty() && mayStop(r))
            out.add(say("'{}' stops when there is no echo, but the program names no stop state",
                        r.name));
    if (!program.passWait.empty())
        out.valueIs(program.passWait, {ValueKind::Duration}, say("the pause after each pass"));
    return out.take();
}

Result<void> complete(const Program &program)
{
    const auto where = say("program '") + program.name + "'";
    if (const auto sentences = broken(program); !sentences.empty())
        return fail(Error::Kind::Malformed, where, sentences.front(), say("mend the program"));
    if (const auto missing = unset(program); !missing.empty())
        return fail(Error::Kind::Missing, where, say("not chosen yet: {}", joined(missing, "; ")),
                    say("choose it at the Rule station"));
    return {};
}

} // namespace badger::rules
