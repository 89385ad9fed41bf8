// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/sentences.h"

#include "core/base/named.h"
#include "core/machine/places.h"
#include "core/units/quantity.h"

#include <algorithm>
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

constexpr std::size_t motions = 8; ///< that a heading can say

/// Writes one program down.
class Page
{
public:
    explicit Page(const rules::Program &program) : m_program(program), m_shared(sharedEcho(program))
    {
    }

    std::vector<Sentence> take()
    {
        if (m_shared) {
            begin(Sentence::Kind::Line, "echoes");
            text(say("Each distance is read"));
            echoNumber(*m_shared, {});
            text(Say("."));
        }
        for (const auto &r : m_program.readings)
            reading(r);
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

private:
    void begin(Sentence::Kind kind, std::string about)
    {
        m_all.push_back({kind, {}, std::move(about), {}, 0, -1});
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
        const auto at = standing(m_program, target);
        word(at < all.size() ? all[at] : say("choose"), std::move(target), at >= all.size());
    }
    void typed(Say words, std::string target, bool unset)
    {
        m_all.back().tokens.push_back(
            {Token::Kind::Value, unset ? say("…") : std::move(words), std::move(target), unset});
    }
    /// How an echo becomes a number; of no name that of all of them.
    void echoNumber(const rules::Reading &r, const std::string &of)
    {
        chosen("median:" + of);
        text(say("in"));
        chosen("numbers:" + of);
        chosen("unit:" + of);
        text(say(", up to"));
        typed(r.limit_m ? Say(quantity(*r.limit_m, Unit::Centimetre, 2)) : Say(), "limit:" + of,
              !r.limit_m);
        text(say("in air of"));
        typed(r.air_degC ? Say(quantity(*r.air_degC, Unit::Celsius, 1)) : Say(), "air:" + of,
              !r.air_degC);
        if (r.timeBits != 32) {
            text(say(", its time kept in"));
            chosen("bits:" + of);
        }
    }
    void reading(const rules::Reading &r)
    {
        begin(Sentence::Kind::Line, "reading:" + r.name);
        switch (r.source) {
        case Source::Ranger:
            text(r.everyPass ? say("In every pass it reads") : say("When it looks it reads"));
            name(r.name, "reading:" + r.name);
            if (!m_shared)
                echoNumber(r, r.name);
            swivel(r);
            break;
        case Source::Scan:
            text(say("When it looks round it reads"));
            name(r.name, "reading:" + r.name);
            if (!m_shared)
                echoNumber(r, r.name);
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
        if (isEcho(r)) {
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
            angles.push_back(Say(number(a, 1)) + Say("°"));
        text(say(", with the servo at"));
        typed(joined(angles, ", "), "angles:" + r.name, angles.empty());
        text(angles.size() == 1 ? Say(",") : say("in turn,"));
        value(r.swivel->dwell);
        text(say("after it was sent there"));
    }

    /// Where a state does something on its way in that takes time.
    void doings()
    {
        bool turns = false;
        bool beeps = false;
        for (const auto &s : m_program.states)
            for (const auto &a : s.actions) {
                const auto *r = a.does == rules::Does::Look ? m_program.reading(a.what) : nullptr;
                turns |= r && r->swivel;
                beeps |= a.does == rules::Does::Beep || a.does == rules::Does::Pause;
            }
        if (!turns && !beeps)
            return;
        begin(Sentence::Kind::Line, "actions:");
        text(turns && beeps ? say("While a servo turns, and while it beeps or pauses, the board")
             : turns        ? say("While a servo turns the board")
                            : say("While it beeps or pauses the board"));
        chosen("actions:");
        text(Say("."));
    }

    void pause()
    {
        if (m_program.passWait.empty())
            return;
        begin(Sentence::Kind::Line, "value:" + m_program.passWait);
        chosen("pause:");
        value(m_program.passWait);
        text(Say("."));
    }

    void prints()
    {
        begin(Sentence::Kind::Line, "prints");
        text(say("It prints"));
        chosen("prints:");
        text(Say("."));
    }

    void condition(const rules::Condition &c, const std::string &place)
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

    void rules(const std::vector<rules::Rule> &all, const std::string &state)
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

    /// A state that does something on its way in, and that a rule can lead to from itself.
    static bool mayBeginAnew(const rules::State &to, const std::string &state)
    {
        return to.name == state && (!to.actions.empty() || to.wait);
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

    void wait(const rules::Wait &w, const std::string &state)
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

    const rules::Program &m_program;
    const rules::Reading *m_shared; ///< said once for all echoes
    std::vector<Sentence> m_all;
};

} // namespace

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

} // namespace badger::machine
