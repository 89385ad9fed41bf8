// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/sentences/rewrite_remove.h"

#include <algorithm>

namespace badger::sentences
{

namespace
{

using rules::Does;

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
        std::any_of(program.readings.begin(), program.readings.end(), rules::mayStop);
    return program.stopState == state && stops ? say("the policy 'stop' of a reading") : Say();
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
        if ((a.does == Does::Look || a.does == Does::Await) && a.what == reading)
            return say("the start routine");
    for (const auto &r : program.readings)
        if (std::find(r.of.begin(), r.of.end(), reading) != r.of.end())
            return say("the reading '{}'", r.name);
    return {};
}

} // namespace

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

Result<std::string> removeReading(rules::Program &program, const std::string &name)
{
    if (const auto who = userOf(program, name); !who.empty())
        return fail(Error::Kind::Conflict, say("reading '{}'", name), say("{} uses it", who),
                    say("let that ask another reading first"));
    std::erase_if(program.readings, [&](const rules::Reading &r) { return r.name == name; });
    return program.readings.empty() ? std::string() : "reading:" + program.readings.front().name;
}

} // namespace badger::sentences
