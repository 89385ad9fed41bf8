// SPDX-License-Identifier: GPL-3.0-or-later
// What is done on the way into a state, and at the start.
#include "core/boardcode/scope.h"

#include <algorithm>

namespace badger::boardcode
{

using rules::Does;

Body actions(Scope &m, const std::vector<rules::Action> &doings, const machine::Range &range)
{
    Body body;
    for (size_t i = 0; i < doings.size(); ++i) {
        const auto &a = doings[i];
        const auto &d = m.machine.doings[static_cast<size_t>(range.first) + i];
        switch (a.does) {
        case Does::Look: {
            const auto looked = lookAt(m, d.what);
            body.insert(body.end(), looked.begin(), looked.end());
            const auto has = m.has(d.what);
            const auto asked = all({no(has), m.stops(d.what)});
            if (!isFalse(asked))
                body.push_back(when(asked, {set("stop_asked", truth(true))}));
            break;
        }
        case Does::Servo:
            body.push_back(
                run(call(m.small("point", a.what, "point_"),
                         {d.from >= 0 ? name(m.angle(d.from)) : m.number(a.value), whole(0)})));
            break;
        case Does::Beep: {
            const auto buzzer = name(m.capital("buzzer", a.what.empty() ? "buzzer" : a.what));
            body.push_back(run(call("set_level", {buzzer, truth(true)})));
            body.push_back(run(call("wait_us", {m.micro(a.value)})));
            body.push_back(run(call("set_level", {buzzer, truth(false)})));
            break;
        }
        case Does::Print:
            body.push_back(run(call("print_text", {text(a.value)})));
            body.push_back(run(call("end_line")));
            break;
        case Does::Pause:
            body.push_back(run(call("wait_us", {m.micro(a.value)})));
            break;
        case Does::Remember:
            body.push_back(set(m.memo(a.what), name(m.word(d.word))));
            break;
        case Does::Await: {
            const auto high = call("level", {name(m.capital("pin", a.what, " pin"))});
            const bool pressedHigh = m.sensor(d.what).seenLevel != 0;
            body.push_back(
                loop(pressedHigh ? no(high) : high, {run(call("wait_us", {whole(1000)}))}));
            break;
        }
        }
    }
    return body;
}

bool isSlow(const Scope &scope, size_t state)
{
    const auto &all = scope.program.states[state].actions;
    return scope.machine.timedDoings &&
           std::any_of(all.begin(), all.end(), [&](const rules::Action &a) {
               if (a.does == Does::Look)
                   return mayWait(scope, scope.sensorOf(a.what));
               return a.does == Does::Beep || a.does == Does::Pause;
           });
}

bool hasSlow(const Scope &scope)
{
    for (size_t i = 0; i < scope.program.states.size(); ++i)
        if (isSlow(scope, i))
            return true;
    return false;
}

bool asksStop(Scope &scope)
{
    const auto in = [&](const std::vector<rules::Action> &all) {
        return std::any_of(all.begin(), all.end(), [&](const rules::Action &a) {
            const int sensor = a.does == Does::Look ? scope.sensorOf(a.what) : -1;
            return sensor >= 0 && !isFalse(scope.stops(sensor));
        });
    };
    return in(scope.program.start) ||
           std::any_of(scope.program.states.begin(), scope.program.states.end(),
                       [&](const rules::State &s) { return in(s.actions); });
}

} // namespace badger::boardcode
