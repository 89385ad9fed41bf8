// SPDX-License-Identifier: GPL-3.0-or-later
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

void Page::echoNumber(const rules::Reading &r, const std::string &of)
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

void Page::echo(const rules::Reading &r)
{
    const bool scans = r.source == Source::Scan;
    text(scans         ? say("When it looks round it reads")
         : r.everyPass ? say("In every pass it reads")
                       : say("When it looks it reads"));
    name(r.name, "reading:" + r.name);
    if (!m_shared)
        echoNumber(r, r.name);
    swivel(r);
    if (!scans)
        return;
    text(r.choice && r.choice->nearest ? say("and takes the nearest; of equal ones the")
                                       : say("and takes the farthest; of equal ones the"));
    chosen("ties:" + r.name);
    text(Say(";"));
    text(say("what is past the limit counts as"));
    chosen("beyond:" + r.name);
}

/// Of what no echo is asked.
void Page::other(const rules::Reading &r)
{
    switch (r.source) {
    case Source::Ranger:
    case Source::Scan:
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
        text(say("is a button; while it is pressed it puts out"));
        chosen("level:" + r.name);
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
}

void Page::reading(const rules::Reading &r)
{
    begin(Sentence::Kind::Line, "reading:" + r.name);
    if (isEcho(r))
        echo(r);
    else
        other(r);
    if (isEcho(r)) {
        text(Say(";"));
        text(say("no echo counts as"));
        chosen("policy:" + r.name);
        bounds(r);
    }
    text(Say("."));
}

void Page::bounds(const rules::Reading &r)
{
    const auto bound = [&](const std::optional<double> &at_m, rules::NoEcho policy, const Say &than,
                           const char *at, const char *as) {
        if (!at_m && policy == rules::NoEcho::Unset)
            return;
        text(Say(";"));
        text(than);
        typed(at_m ? Say(quantity(*at_m, Unit::Centimetre, 2)) : Say(), at + r.name, !at_m);
        text(say("counts as"));
        chosen(as + r.name);
    };
    bound(r.nearest_m, r.tooNear, say("nearer than"), "nearest:", "near:");
    bound(r.farthest_m, r.wild, say("farther than"), "farthest:", "wild:");
}

void Page::swivel(const rules::Reading &r)
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

void Page::start()
{
    if (m_program.start.empty() && !readsButton(m_program))
        return;
    begin(Sentence::Kind::Line, "start:");
    text(say("At the start it stands"));
    for (const auto &a : m_program.start)
        action(a);
    text(Say("."));
}

void Page::doings()
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

void Page::pause()
{
    if (m_program.passWait.empty())
        return;
    begin(Sentence::Kind::Line, "value:" + m_program.passWait);
    chosen("pause:");
    value(m_program.passWait);
    text(Say("."));
}

void Page::prints()
{
    begin(Sentence::Kind::Line, "prints");
    text(say("It prints"));
    chosen("prints:");
    text(Say("."));
}

void Page::action(const rules::Action &a)
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
    case rules::Does::Await:
        text(say(", waits until"));
        name(a.what, "reading:" + a.what);
        text(say("is pressed"));
        break;
    }
}

} // namespace badger::sentences
