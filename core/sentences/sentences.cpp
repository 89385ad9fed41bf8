// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/sentences/sentences.h"

#include "core/base/named.h"
#include "core/sentences/places.h"
#include "core/sentences/sentence_kinds.h"
#include "core/sentences/sentence_page.h"
#include "core/units/quantity.h"

#include <algorithm>
#include <fmt/format.h>

namespace badger::sentences
{

using rules::Source;
using rules::Test;
using rules::ValueKind;
using units::number;
using units::quantity;
using units::Unit;

namespace
{

constexpr std::size_t motions = 8; ///< that a heading can say

} // namespace

Say valueText(const rules::Value &v)
{
    if (!v.si)
        return say("…");
    switch (v.kind) {
    case ValueKind::Distance:
        return quantity(*v.si, Unit::Centimetre, 2);
    case ValueKind::Duration:
        return *v.si < 1.0 ? Say(quantity(*v.si, Unit::Millisecond, 1))
                           : Say(quantity(*v.si, Unit::Second, 3));
    case ValueKind::Angle:
        return Say(number(*v.si, 1)) + Say("°");
    case ValueKind::PerDegree:
        return Say(quantity(*v.si, Unit::Millisecond, 2)) + say(" a degree");
    case ValueKind::Speed:
    case ValueKind::Count:
    case ValueKind::Share:
    case ValueKind::Times:
        break;
    }
    return Say(number(*v.si, 3));
}

std::vector<Sentence> Page::take()
{
    if (m_shared) {
        begin(Sentence::Kind::Line, "echoes");
        text(say("Each distance is read"));
        echoNumber(*m_shared, {});
        text(Say("."));
    }
    for (const auto &r : m_program.readings)
        reading(r);
    start();
    doings();
    pause();
    prints();
    if (!m_program.everywhere.empty()) {
        begin(Sentence::Kind::Heading, {});
        text(say("Always"));
        rules(m_program.everywhere, {});
    }
    for (size_t i = 0; i < m_program.states.size(); ++i)
        state(m_program.states[i], static_cast<int>(i));
    return std::move(m_all);
}

void Page::condition(const rules::Condition &c, const std::string &place)
{
    if (c.test == Test::Since)
        value(c.value);
    else
        chosen("of:" + place);
    switch (c.test) {
    case Test::Number:
    case Test::Angle:
        chosen("compare:" + place);
        value(c.value);
        break;
    case Test::Which:
        text(say("is"));
        chosen("which:" + place);
        break;
    case Test::Than:
        text(say(": the first is more than"));
        value(c.value);
        chosen("side:" + place);
        text(say("the other"));
        break;
    case Test::Seen:
    case Test::Unseen:
        chosen("seen:" + place);
        break;
    case Test::Key:
        text(say("is"));
        chosen("key:" + place);
        break;
    case Test::Remembered:
        text(say("was"));
        chosen("said:" + place);
        break;
    case Test::Lost:
        text(say("was missing"));
        value(c.value);
        text(say("times"));
        break;
    case Test::Since:
        text(say("of"));
        chosen("of:" + place);
        text(say("have gone by"));
        break;
    }
    if (!c.times.empty()) {
        text(say("in"));
        value(c.times);
        text(say("passes"));
    }
}

void Page::rules(const std::vector<rules::Rule> &all, const std::string &state)
{
    for (size_t i = 0; i < all.size(); ++i) {
        const auto &rule = all[i];
        begin(Sentence::Kind::Rule, fmt::format("rule:{}/{}", state, rule.name));
        m_all.back().state = state;
        m_all.back().number = static_cast<int>(i) + 1;
        const auto *to = m_program.state(rule.go);
        m_all.back().go = to ? static_cast<int>(to - m_program.states.data()) : -1;
        const auto at = fmt::format("{}:{}", i, state);
        if (rule.when.empty())
            text(i == 0 ? say("At once") : say("otherwise"));
        else
            text(i == 0 ? say("When") : say("else when"));
        for (size_t k = 0; k < rule.when.size(); ++k) {
            if (k > 0)
                chosen("any:" + at);
            condition(rule.when[k], fmt::format("{}:{}:{}", i, k, state));
        }
        text(Say("→"));
        chosen("go:" + at);
        if (rule.again || (to && mayBeginAnew(*to, state)))
            chosen("again:" + at);
        if (!rule.endsPass)
            chosen("ends:" + at);
    }
}

bool Page::mayBeginAnew(const rules::State &to, const std::string &state)
{
    return to.name == state && (!to.actions.empty() || to.wait);
}

void Page::motion(const rules::Motion &m)
{
    if (m.wheels != rules::Wheels::Drive)
        return;
    std::vector<std::string> speeds;
    for (const auto *wheel : {&m.left, &m.right})
        if (wheel->sense != 0 &&
            std::find(speeds.begin(), speeds.end(), wheel->speed) == speeds.end())
            speeds.push_back(wheel->speed);
    for (const auto &speed : speeds) {
        text(say("at"));
        value(speed);
    }
    if (!m.proportion || m.proportion->follows == rules::Follows::Nothing ||
        m.proportion->follows == rules::Follows::Scan)
        return;
    text(say("by"));
    name(m.proportion->reading, "reading:" + m.proportion->reading);
    text(say("between"));
    value(m.proportion->low);
    text(say("and"));
    value(m.proportion->high);
    if (m.proportion->follows == rules::Follows::Steer) {
        text(say("with a gain of"));
        value(m.proportion->gain);
    }
}

void Page::state(const rules::State &s, int index)
{
    begin(Sentence::Kind::Heading, "state:" + s.name);
    m_all.back().go = index;
    name(s.name, "state:" + s.name);
    text(Say("·"));
    if (s.motion.proportion || standing(m_program, "motion:" + s.name) >= motions)
        text(rules::words(s.motion));
    else
        chosen("motion:" + s.name);
    motion(s.motion);
    for (const auto &a : s.actions)
        action(a);
    if (s.wait)
        wait(*s.wait, s.name);
    rules(s.rules, s.name);
}

void Page::wait(const rules::Wait &w, const std::string &state)
{
    text(say(", for"));
    value(w.duration);
    if (w.length == rules::Length::Random) {
        text(say("to"));
        value(w.most);
        text(say("by chance"));
    } else if (w.length == rules::Length::PerDegree) {
        text(say("of"));
        if (m_program.value(w.angle))
            value(w.angle);
        else
            name(w.angle, "reading:" + w.angle);
    }
    chosen("wait:" + state);
    text(Say("→"));
    chosen("then:" + state);
}

const rules::Reading *sharedEcho(const rules::Program &program)
{
    const rules::Reading *first = nullptr;
    int count = 0;
    for (const auto &r : program.readings) {
        if (!isEcho(r))
            continue;
        ++count;
        first = first ? first : &r;
        if (r.medianOf != first->medianOf || r.number != first->number || r.unit != first->unit ||
            r.limit_m != first->limit_m || r.air_degC != first->air_degC ||
            r.timeBits != first->timeBits)
            return nullptr;
    }
    return count > 1 ? first : nullptr;
}

std::vector<Sentence> sentences(const rules::Program &program)
{
    return Page(program).take();
}

} // namespace badger::sentences
