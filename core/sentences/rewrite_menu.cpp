// SPDX-License-Identifier: GPL-3.0-or-later
// What can be done at a sentence, and how a menu says it.
#include "core/sentences/places.h"
#include "core/sentences/rewrite.h"
#include "core/sentences/sentence_kinds.h"

#include <algorithm>

namespace badger::sentences
{

std::vector<Rewrite> rewrites(const rules::Program &program, const Sentence &at)
{
    std::vector<Rewrite> all;
    const auto add = [&](Rewrite what, bool possible = true) {
        if (possible)
            all.push_back(what);
    };
    const auto move = [&](std::size_t index, std::size_t count) {
        add(Rewrite::MoveUp, index > 0);
        add(Rewrite::MoveDown, index + 1 < count);
    };
    if (isRule(at)) {
        const auto &rules = *rulesAt(program, at.state);
        const auto &rule = rules[indexOf(at)];
        add(Rewrite::AddRule);
        add(Rewrite::AddCondition);
        add(Rewrite::DropCondition, !rule.when.empty());
        add(Rewrite::OnlyOneNeeded, rule.when.size() > 1);
        add(Rewrite::Sure, !rule.when.empty());
        add(Rewrite::EndOrGoOn);
        move(indexOf(at), rules.size());
        add(Rewrite::Remove);
    } else if (isState(at)) {
        const auto &state = program.states[static_cast<std::size_t>(at.go)];
        add(Rewrite::AddRule, !state.wait);
        for (const auto what :
             {Rewrite::AddLook, Rewrite::AddServo, Rewrite::AddBeep, Rewrite::AddPause})
            add(what);
        add(Rewrite::DropAction, !state.actions.empty());
        add(state.wait ? Rewrite::DropWait : Rewrite::AddWait);
        add(Rewrite::AddState);
        move(static_cast<std::size_t>(at.go), program.states.size());
        add(Rewrite::Remove);
    } else if (isStart(at)) {
        add(Rewrite::AddBeep);
        add(Rewrite::AddPause);
        add(Rewrite::AddAwait, readsButton(program));
        add(Rewrite::DropAction, !program.start.empty());
    } else if (isAlways(at)) {
        add(Rewrite::AddRule);
        add(Rewrite::AddState);
    } else if (isReading(at)) {
        const auto *r = program.reading(at.about.substr(8));
        add(Rewrite::OwnWay, r && r->limit_m && sharedEcho(program) && isEcho(*r));
        add(Rewrite::TooNear, r && isEcho(*r));
        add(Rewrite::Wild, r && isEcho(*r));
        if (r)
            move(static_cast<std::size_t>(r - program.readings.data()), program.readings.size());
        add(Rewrite::Remove);
    }
    return all;
}

Say words(Rewrite rewrite, const rules::Program &program, const Sentence &at)
{
    const auto *all = isRule(at) ? rulesAt(program, at.state) : nullptr;
    const auto *rule = all && indexOf(at) < all->size() ? &(*all)[indexOf(at)] : nullptr;
    const auto *reading = isReading(at) ? program.reading(at.about.substr(8)) : nullptr;
    switch (rewrite) {
    case Rewrite::AddRule:
        return rule ? say("Add a rule below") : say("Add a rule");
    case Rewrite::AddCondition:
        return say("Add a condition");
    case Rewrite::DropCondition:
        return say("Take the last condition out");
    case Rewrite::OnlyOneNeeded:
        return rule && rule->any ? say("Need every condition") : say("Need only one condition");
    case Rewrite::Sure:
        return rule && !rule->when.empty() && !rule->when.back().times.empty()
                   ? say("Let one pass be enough")
                   : say("Need it in several passes in succession");
    case Rewrite::EndOrGoOn:
        return rule && !rule->endsPass ? say("End the pass with it")
                                       : say("Test the next rule after it, too");
    case Rewrite::AddLook:
        return say("Let it look on the way in");
    case Rewrite::AddServo:
        return say("Let it send the servo on the way in");
    case Rewrite::AddBeep:
        return isStart(at) ? say("Let it beep first") : say("Let it beep on the way in");
    case Rewrite::AddPause:
        return isStart(at) ? say("Let it pause first") : say("Let it pause on the way in");
    case Rewrite::AddAwait:
        return say("Let it wait for the button");
    case Rewrite::DropAction:
        return isStart(at) ? say("Take the last thing out of the start")
                           : say("Take the last thing out of its way in");
    case Rewrite::AddWait:
        return say("End it after a time");
    case Rewrite::DropWait:
        return say("End it by rules alone");
    case Rewrite::OwnWay:
        return say("Read it in a way of its own");
    case Rewrite::TooNear:
        return reading && isSetApart(reading->nearest_m, reading->tooNear)
                   ? say("Take what is too near for a reading")
                   : say("Set apart what is too near");
    case Rewrite::Wild:
        return reading && isSetApart(reading->farthest_m, reading->wild)
                   ? say("Take what is too far for a reading")
                   : say("Set apart what is too far to be meant");
    case Rewrite::AddState:
        return say("Add a state");
    case Rewrite::MoveUp:
        return say("Move it up");
    case Rewrite::MoveDown:
        return say("Move it down");
    case Rewrite::Remove:
        break;
    }
    return say("Take it out");
}

} // namespace badger::sentences
