// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/sentences.h"

#include "core/base/named.h"
#include "core/rules/key_words.h"
#include "core/units/quantity.h"

#include <charconv>
#include <cmath>
#include <fmt/format.h>

namespace badger::machine
{

namespace
{

using rules::Source;
using rules::Test;
using rules::ValueKind;
using units::number;
using units::quantity;
using units::Unit;

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

/// Writes one program down.
class Page
{
public:
    explicit Page(const rules::Program &program) : m_program(program) {}

    std::vector<Sentence> take()
    {
        for (const auto &r : m_program.readings)
            reading(r);
        pause();
        if (!m_program.everywhere.empty()) {
            begin(Sentence::Kind::Heading, {});
            text(say("Always"));
            rules(m_program.everywhere, {});
        }
        for (size_t i = 0; i < m_program.states.size(); ++i)
            state(m_program.states[i], static_cast<int>(i));
        return std::move(m_all);
    }

private:
    void begin(Sentence::Kind kind, std::string about)
    {
        m_all.push_back({kind, {}, std::move(about), 0, -1});
    }
    void text(Say words)
    {
        m_all.back().tokens.push_back({Token::Kind::Text, std::move(words), {}, false});
    }
    void name(const std::string &what, std::string target)
    {
        m_all.back().tokens.push_back({Token::Kind::Name, Say(what), std::move(target), false});
    }
    void value(const std::string &valueName)
    {
        const auto *v = m_program.value(valueName);
        m_all.back().tokens.push_back(
            {Token::Kind::Value, v ? valueText(*v) : say("…"), "value:" + valueName, !v || !v->si});
    }
    void word(Say words, std::string target, bool unset = false)
    {
        m_all.back().tokens.push_back(
            {Token::Kind::Word, std::move(words), std::move(target), unset});
    }
    void chosen(std::string target)
    {
        const auto all = options(m_program, target);
        const auto at = standing(target);
        word(at < all.size() ? all[at] : say("…"), std::move(target), at >= all.size());
    }
    std::size_t standing(const std::string &target) const;

    void reading(const rules::Reading &r)
    {
        begin(Sentence::Kind::Line, "reading:" + r.name);
        const bool echo = r.source == Source::Ranger || r.source == Source::Scan;
        switch (r.source) {
        case Source::Ranger:
            text(r.everyPass ? say("In every pass it reads") : say("When it looks it reads"));
            name(r.name, "reading:" + r.name);
            swivel(r);
            break;
        case Source::Scan:
            text(say("When it looks round it reads"));
            name(r.name, "reading:" + r.name);
            swivel(r);
            text(r.choice && r.choice->nearest ? say("and takes the nearest; of equal ones the")
                                               : say("and takes the farthest; of equal ones the"));
            chosen("ties:" + r.name);
            text(Say(";"));
            text(say("what is past the limit counts as"));
            chosen("beyond:" + r.name);
            break;
        case Source::Digital:
            name(r.name, "reading:" + r.name);
            text(say("looks for"));
            chosen("seeks:" + r.name);
            text(Say(";"));
            text(say("on light it puts out"));
            chosen("level:" + r.name);
            break;
        case Source::Analogue:
            text(say("In every pass it reads"));
            name(r.name, "reading:" + r.name);
            text(r.scale == rules::Scale::Raw          ? say("as a count from 0 to 1023")
                 : r.scale == rules::Scale::Normalised ? say("from 0 on dark,")
                                                       : say("as a distance by its calibration"));
            if (r.scale == rules::Scale::Normalised) {
                value(r.dark);
                text(say(", to 1 on light,"));
                value(r.light);
            }
            break;
        case Source::Pick:
            name(r.name, "reading:" + r.name);
            text(r.choice && r.choice->nearest ? say("is the nearest of {}", joined(r.of, ", "))
                                               : say("is the farthest of {}", joined(r.of, ", ")));
            break;
        case Source::Difference:
            name(r.name, "reading:" + r.name);
            text(say("is {}", joined(r.of, " − ")));
            break;
        case Source::Button:
            name(r.name, "reading:" + r.name);
            text(say("is a button"));
            break;
        case Source::Key:
            name(r.name, "reading:" + r.name);
            text(say("is a person's key"));
            if (!r.timeOut.empty()) {
                text(Say(";"));
                text(say("after"));
                value(r.timeOut);
                text(say("without one it counts as none"));
            }
            break;
        }
        if (echo) {
            text(Say(";"));
            text(say("no echo counts as"));
            chosen("policy:" + r.name);
        }
        text(Say("."));
    }

    void swivel(const rules::Reading &r)
    {
        if (!r.swivel)
            return;
        std::vector<Say> angles;
        for (const double a : r.swivel->angles_deg)
            angles.push_back(Say(number(a, 1)));
        text(r.swivel->angles_deg.size() == 1
                 ? say("with the servo at {}°,", joined(angles, ", "))
                 : say("with the servo at {}° in turn,", joined(angles, ", ")));
        value(r.swivel->dwell);
        text(say("after it was sent there"));
    }

    void pause()
    {
        if (m_program.passWait.empty())
            return;
        begin(Sentence::Kind::Line, "value:" + m_program.passWait);
        text(say("After each pass it waits"));
        value(m_program.passWait);
        text(Say("."));
    }

    void condition(const rules::Condition &c, const std::string &place)
    {
        switch (c.test) {
        case Test::Number:
            name(c.reading, "reading:" + c.reading);
            chosen("compare:" + place);
            value(c.value);
            break;
        case Test::Angle:
            text(say("the angle of"));
            name(c.reading, "reading:" + c.reading);
            chosen("compare:" + place);
            value(c.value);
            break;
        case Test::Which:
            name(c.reading, "reading:" + c.reading);
            text(say("is {}", c.other));
            break;
        case Test::Than:
            name(c.reading, "reading:" + c.reading);
            text(say("is more than"));
            value(c.value);
            text(c.compare == rules::Compare::Less || c.compare == rules::Compare::LessOrEqual
                     ? say("below")
                     : say("beyond"));
            name(c.other, "reading:" + c.other);
            break;
        case Test::Seen:
            name(c.reading, "reading:" + c.reading);
            text(say("sees it"));
            break;
        case Test::Unseen:
            name(c.reading, "reading:" + c.reading);
            text(say("does not see it"));
            break;
        case Test::Key:
            text(say("the key is {}", c.other));
            break;
        case Test::Remembered:
            text(say("the last {} was {}", c.reading, c.other));
            break;
        case Test::Lost:
            name(c.reading, "reading:" + c.reading);
            text(say("had no echo"));
            value(c.value);
            text(say("times"));
            break;
        case Test::Since:
            value(c.value);
            text(say("have gone by"));
            break;
        }
        if (!c.times.empty()) {
            text(say("in"));
            value(c.times);
            text(say("passes"));
        }
    }

    void rules(const std::vector<rules::Rule> &all, const std::string &state)
    {
        for (size_t i = 0; i < all.size(); ++i) {
            const auto &rule = all[i];
            begin(Sentence::Kind::Rule, fmt::format("rule:{}/{}", state, rule.name));
            m_all.back().number = static_cast<int>(i) + 1;
            const auto *to = m_program.state(rule.go);
            m_all.back().go = to ? static_cast<int>(to - m_program.states.data()) : -1;
            if (rule.when.empty())
                text(i == 0 ? say("At once") : say("otherwise"));
            else
                text(i == 0 ? say("When") : say("else when"));
            for (size_t k = 0; k < rule.when.size(); ++k) {
                if (k > 0)
                    text(rule.any ? say("or") : say("and"));
                condition(rule.when[k], fmt::format("{}:{}:{}", i, k, state));
            }
            text(Say("→"));
            name(rule.go, "state:" + rule.go);
            if (!rule.endsPass)
                text(say(", then the next rule is tested on the same readings"));
        }
    }

    void motion(const rules::Motion &m)
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

    void state(const rules::State &s, int index)
    {
        begin(Sentence::Kind::Heading, "state:" + s.name);
        m_all.back().go = index;
        name(s.name, "state:" + s.name);
        text(Say("·"));
        if (s.motion.wheels == rules::Wheels::Drive && english(rules::words(s.motion)) == s.name)
            text(s.motion.left.sense > 0 ? say("ahead") : say("backward"));
        else if (s.motion.wheels == rules::Wheels::Drive)
            text(rules::words(s.motion));
        else
            chosen("stand:" + s.name);
        motion(s.motion);
        for (const auto &a : s.actions)
            action(a);
        if (s.wait)
            wait(*s.wait);
        rules(s.rules, s.name);
    }

    void action(const rules::Action &a)
    {
        switch (a.does) {
        case rules::Does::Look:
            text(say(", looks"));
            name(a.what, "reading:" + a.what);
            break;
        case rules::Does::Servo:
            text(say(", sends the servo to"));
            if (m_program.value(a.value))
                value(a.value);
            else
                name(a.value, "reading:" + a.value);
            break;
        case rules::Does::Beep:
            text(say(", beeps for"));
            value(a.value);
            break;
        case rules::Does::Print:
            text(say(", prints '{}'", a.value));
            break;
        case rules::Does::Pause:
            text(say(", pauses for"));
            value(a.value);
            break;
        case rules::Does::Remember:
            text(say(", keeps in mind {}: {}", a.what, a.value));
            break;
        }
    }

    void wait(const rules::Wait &w)
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
        text(w.kind == rules::WaitKind::Blocking ? say("blindly →") : say("→"));
        name(w.then, "state:" + w.then);
    }

    const rules::Program &m_program;
    std::vector<Sentence> m_all;
};

/// A target taken apart: "compare:0:1:drives".
struct Place {
    std::string what;
    std::string name;
    size_t rule = 0;
    size_t condition = 0;
};

std::optional<Place> placeOf(const std::string &target)
{
    const auto colon = target.find(':');
    if (colon == std::string::npos)
        return std::nullopt;
    Place p{target.substr(0, colon), target.substr(colon + 1), 0, 0};
    if (p.what != "compare")
        return p;
    const auto read = [&](size_t &to) {
        const auto end = p.name.find(':');
        if (end == std::string::npos)
            return false;
        const auto *last = p.name.data() + end;
        const auto r = std::from_chars(p.name.data(), last, to);
        p.name.erase(0, end + 1);
        return r.ec == std::errc();
    };
    if (!read(p.rule) || !read(p.condition))
        return std::nullopt;
    return p;
}

template <class Program> auto *rulesAt(Program &program, const std::string &state)
{
    if (state.empty())
        return &program.everywhere;
    for (auto &s : program.states)
        if (s.name == state)
            return &s.rules;
    return static_cast<decltype(&program.everywhere)>(nullptr);
}

template <class Program> auto *conditionAt(Program &program, const Place &p)
{
    auto *all = rulesAt(program, p.name);
    using Result = decltype(&all->front().when.front());
    return all && p.rule < all->size() && p.condition < (*all)[p.rule].when.size()
               ? &(*all)[p.rule].when[p.condition]
               : Result(nullptr);
}

template <class List> auto *find(List &list, const std::string &name)
{
    for (auto &one : list)
        if (one.name == name)
            return &one;
    return static_cast<decltype(&list.front())>(nullptr);
}

constexpr std::array policies = {rules::NoEcho::Clear, rules::NoEcho::Blocked,
                                 rules::NoEcho::HoldLast, rules::NoEcho::Stop,
                                 rules::NoEcho::Ignore};

bool opposite(rules::Compare a, rules::Compare b)
{
    using rules::Compare;
    return (a == Compare::Less && b == Compare::GreaterOrEqual) ||
           (a == Compare::GreaterOrEqual && b == Compare::Less) ||
           (a == Compare::LessOrEqual && b == Compare::Greater) ||
           (a == Compare::Greater && b == Compare::LessOrEqual);
}

rules::Compare oppositeOf(rules::Compare c)
{
    using rules::Compare;
    for (const auto other :
         {Compare::Less, Compare::LessOrEqual, Compare::Greater, Compare::GreaterOrEqual})
        if (opposite(c, other))
            return other;
    return c;
}

std::size_t Page::standing(const std::string &target) const
{
    constexpr auto none = static_cast<std::size_t>(-1);
    const auto p = placeOf(target);
    if (!p)
        return none;
    if (const auto *r = m_program.reading(p->name)) {
        if (p->what == "policy")
            for (size_t i = 0; i < policies.size(); ++i)
                if (r->noEcho == policies[i])
                    return i;
        if (p->what == "ties")
            return r->choice && r->choice->lastOfTies ? 1 : 0;
        if (p->what == "beyond")
            return static_cast<std::size_t>(r->choice.value_or(rules::Choice{}).beyond);
        if (p->what == "seeks")
            return r->seeks == rules::Shade::Dark ? 0 : 1;
        if (p->what == "level")
            return r->lightLevel ? static_cast<std::size_t>(*r->lightLevel) : none;
    }
    if (const auto *s = m_program.state(p->name); s && p->what == "stand")
        return s->motion.wheels == rules::Wheels::Brake ? 0 : 1;
    if (const auto *c = p->what == "compare" ? conditionAt(m_program, *p) : nullptr)
        return c->compare == rules::Compare::LessOrEqual ||
                       c->compare == rules::Compare::GreaterOrEqual
                   ? 0
                   : 1;
    return none;
}

} // namespace

std::vector<Sentence> sentences(const rules::Program &program)
{
    return Page(program).take();
}

std::vector<Say> options(const rules::Program &program, const std::string &target)
{
    const auto p = placeOf(target);
    if (!p)
        return {};
    if (p->what == "policy")
        return {say("clear"), say("blocked"), say("the last reading"), say("stop"),
                say("nothing: the pass is skipped")};
    if (p->what == "ties")
        return {say("first"), say("last")};
    if (p->what == "beyond")
        return {say("no echo"), say("the limit"), say("0")};
    if (p->what == "seeks")
        return {say("dark"), say("light")};
    if (p->what == "level")
        return {Say("0"), Say("1")};
    if (p->what == "stand")
        return {say("stands, braked"), say("stands, coasting")};
    if (p->what == "compare")
        if (const auto *c = conditionAt(program, *p)) {
            const bool below =
                c->compare == rules::Compare::Less || c->compare == rules::Compare::LessOrEqual;
            return below ? std::vector<Say>{Say("≤"), Say("<")}
                         : std::vector<Say>{Say("≥"), Say(">")};
        }
    return {};
}

bool choose(rules::Program &program, const std::string &target, std::size_t option)
{
    const auto p = placeOf(target);
    if (!p || option >= options(program, target).size())
        return false;
    if (auto *r = find(program.readings, p->name)) {
        if (p->what == "policy")
            r->noEcho = policies[option];
        else if (p->what == "ties")
            (r->choice ? *r->choice : r->choice.emplace()).lastOfTies = option == 1;
        else if (p->what == "beyond")
            (r->choice ? *r->choice : r->choice.emplace()).beyond =
                static_cast<rules::Beyond>(option);
        else if (p->what == "seeks")
            r->seeks = option == 0 ? rules::Shade::Dark : rules::Shade::Light;
        else if (p->what == "level")
            r->lightLevel = static_cast<int>(option);
        if (p->what != "compare" && p->what != "stand")
            return true;
    }
    if (auto *s = find(program.states, p->name); s && p->what == "stand") {
        s->motion.wheels = option == 0 ? rules::Wheels::Brake : rules::Wheels::Coast;
        return true;
    }
    auto *c = p->what == "compare" ? conditionAt(program, *p) : nullptr;
    if (c == nullptr)
        return false;
    using rules::Compare;
    const bool below = c->compare == Compare::Less || c->compare == Compare::LessOrEqual;
    const auto wanted = below ? (option == 0 ? Compare::LessOrEqual : Compare::Less)
                              : (option == 0 ? Compare::GreaterOrEqual : Compare::Greater);
    const auto was = c->compare;
    for (auto &rule : *rulesAt(program, p->name))
        for (auto &other : rule.when)
            if (&other != c && other.test == c->test && other.reading == c->reading &&
                other.value == c->value && opposite(other.compare, was))
                other.compare = oppositeOf(wanted);
    c->compare = wanted;
    return true;
}

Result<void> typeOver(rules::Program &program, const std::string &name, const std::string &typed)
{
    auto *v = find(program.values, name);
    if (v == nullptr)
        return fail(Error::Kind::Missing, say("value '{}'", name), say("there is no such value"));
    using units::Dimension;
    const auto kind = v->kind;
    const auto dimension = kind == ValueKind::Distance ? Dimension::Length
                           : kind == ValueKind::Duration || kind == ValueKind::PerDegree
                               ? Dimension::Time
                           : kind == ValueKind::Angle ? Dimension::Angle
                                                      : Dimension::PwmCounts;
    if (kind != ValueKind::Distance && kind != ValueKind::Duration &&
        kind != ValueKind::PerDegree) {
        double bare = 0.0;
        auto text = typed;
        for (auto &ch : text)
            ch = ch == ',' ? '.' : ch;
        if (kind == ValueKind::Angle)
            while (!text.empty() &&
                   (static_cast<unsigned char>(text.back()) > 126 ||
                    std::isalpha(static_cast<unsigned char>(text.back())) || text.back() == ' '))
                text.pop_back();
        const auto *end = text.data() + text.size();
        const auto read = std::from_chars(text.data(), end, bare);
        if (read.ec != std::errc() || read.ptr != end || !std::isfinite(bare))
            return fail(Error::Kind::Malformed, say("value '{}'", name),
                        say("'{}' is no number", typed), say("write a bare number"));
        v->si = bare;
    } else {
        const auto si =
            units::parse(typed.substr(0, typed.find("/deg")), dimension, "value '" + name + "'");
        if (!si)
            return tl::unexpected(si.error());
        v->si = *si;
    }
    v->suggested = false;
    return {};
}

} // namespace badger::machine
