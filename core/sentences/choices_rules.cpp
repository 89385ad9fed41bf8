// SPDX-License-Identifier: GPL-3.0-or-later
// The words of a rule: what it is about, what it asks, where it leads.
#include "core/rules/key_words.h"
#include "core/sentences/choices.h"

#include <array>
#include <set>

namespace badger::sentences
{

namespace
{

using rules::Compare;
using rules::Source;
using rules::Test;
using rules::ValueKind;

Compare oppositeOf(Compare c)
{
    switch (c) {
    case Compare::Less:
        return Compare::GreaterOrEqual;
    case Compare::LessOrEqual:
        return Compare::Greater;
    case Compare::Greater:
        return Compare::LessOrEqual;
    case Compare::GreaterOrEqual:
        break;
    }
    return Compare::Less;
}

/// Of two rules that are each other's opposite at one limit both follow.
void compareSo(rules::Program &program, const Place &p, Compare wanted)
{
    auto *c = conditionAt(program, p);
    const auto was = c->compare;
    for (auto &rule : *rulesAt(program, p.name))
        for (auto &other : rule.when)
            if (&other != c && other.test == c->test && other.reading == c->reading &&
                other.value == c->value && other.compare == oppositeOf(was))
                other.compare = oppositeOf(wanted);
    c->compare = wanted;
}

Open compare(const rules::Condition &c, const Place &p)
{
    static constexpr std::array all = {Compare::LessOrEqual, Compare::Less, Compare::GreaterOrEqual,
                                       Compare::Greater};
    return {{Say("≤"), Say("<"), Say("≥"), Say(">")},
            indexIn(all, c.compare),
            [p](rules::Program &to, std::size_t o) { compareSo(to, p, all[o]); }};
}

/// The value that a condition needs: the one it had where it fits.
std::string valueAsked(rules::Program &to, const rules::Condition &made, const std::string &was)
{
    const auto *r = to.reading(made.reading);
    switch (made.test) {
    case Test::Number:
        return valueFor(to, *kindOf(to, *r), was, "compared with " + made.reading);
    case Test::Angle:
        return valueFor(to, ValueKind::Angle, was, "compared with the angle");
    case Test::Lost:
        return valueFor(to, ValueKind::Times, was, "so many readings without an echo");
    case Test::Since:
        return valueFor(to, ValueKind::Duration, was, "so long in one state");
    default:
        return {};
    }
}

/// Which reading a condition is about, and what it asks of it.
Open subject(const rules::Program &program, const rules::Condition &c, const Place &p)
{
    Open open;
    std::vector<rules::Condition> asks;
    const auto add = [&](Say words, rules::Condition ask) {
        const bool same =
            ask.test == c.test && (ask.test == Test::Since || ask.reading == c.reading);
        if (same && (ask.test != Test::Than || ask.other == c.other))
            open.standing = open.words.size();
        open.words.push_back(std::move(words));
        asks.push_back(std::move(ask));
    };
    const auto ask = [](Test test, const std::string &reading, const std::string &other = {}) {
        rules::Condition made;
        made.test = test;
        made.reading = reading;
        made.other = other;
        return made;
    };
    for (const auto &r : program.readings) {
        if (kindOf(program, r))
            add(r.name, ask(Test::Number, r.name));
        else if (r.source == Source::Key)
            add(say("the key"), ask(Test::Key, r.name, "ahead"));
        else
            add(r.name,
                ask(c.test == Test::Unseen && c.reading == r.name ? Test::Unseen : Test::Seen,
                    r.name));
        if (r.source == Source::Scan)
            add(say("the angle of {}", r.name), ask(Test::Angle, r.name));
        if (r.source == Source::Pick && !r.of.empty())
            add(say("which one {} is", r.name), ask(Test::Which, r.name, r.of.front()));
        if (isEcho(r) || r.source == Source::Pick || r.source == Source::Key)
            add(say("the echo of {}", r.name), ask(Test::Lost, r.name));
    }
    for (const auto &a : program.readings)
        for (const auto &b : program.readings)
            if (&a != &b && kindOf(program, a) && kindOf(program, a) == kindOf(program, b) &&
                a.unit == b.unit && a.source != Source::Pick && b.source != Source::Pick)
                add(say("{} against {}", a.name, b.name), ask(Test::Than, a.name, b.name));
    for (const auto &memo : program.memos)
        add(say("the last {}", memo.name), ask(Test::Remembered, memo.name, memo.first));
    add(say("the time"), ask(Test::Since, {}));
    open.take = [p, asks](rules::Program &to, std::size_t o) {
        auto *at = conditionAt(to, p);
        auto made = asks[o];
        made.times = at->times;
        made.compare = made.test == Test::Than ? Compare::Greater : at->compare;
        made.value = valueAsked(to, made, at->value);
        *conditionAt(to, p) = std::move(made);
    };
    return open;
}

} // namespace

Open ofCondition(const rules::Program &program, const Place &p)
{
    const auto *c = conditionAt(program, p);
    if (c == nullptr)
        return {};
    const auto with = [p](auto change) {
        return [p, change](rules::Program &to, std::size_t o) { change(*conditionAt(to, p), o); };
    };
    const auto oneOf = [&](const std::vector<std::string> &names) {
        Open open{{}, indexIn(names, c->other), with([names](rules::Condition &to, std::size_t o) {
                      to.other = names[o];
                  })};
        for (const auto &name : names)
            open.words.emplace_back(name);
        return open;
    };
    if (p.what == "compare")
        return compare(*c, p);
    if (p.what == "of")
        return subject(program, *c, p);
    if (p.what == "seen")
        return {{say("sees it"), say("does not see it")},
                c->test == Test::Unseen ? 1U : 0U,
                with([](rules::Condition &to, std::size_t o) {
                    to.test = o == 0 ? Test::Seen : Test::Unseen;
                })};
    if (p.what == "side")
        return {{say("beyond"), say("below")},
                c->compare == Compare::Greater || c->compare == Compare::GreaterOrEqual ? 0U : 1U,
                with([](rules::Condition &to, std::size_t o) {
                    to.compare = o == 0 ? Compare::Greater : Compare::Less;
                })};
    if (p.what == "key")
        return oneOf({rules::commandWords.begin(), rules::commandWords.end()});
    if (const auto *r = program.reading(c->reading); r && p.what == "which")
        return oneOf(r->of);
    if (p.what == "said") {
        std::set<std::string> words = {c->other};
        if (const auto *memo = find(program.memos, c->reading))
            words.insert(memo->first);
        for (const auto &s : program.states)
            for (const auto &a : s.actions)
                if (a.does == rules::Does::Remember && a.what == c->reading)
                    words.insert(a.value);
        words.erase(std::string());
        return oneOf({words.begin(), words.end()});
    }
    return {};
}

Open ofRule(const rules::Program &program, const Place &p)
{
    const auto *rule = ruleAt(program, p);
    if (rule == nullptr)
        return {};
    const auto with = [p](auto change) {
        return [p, change](rules::Program &to, std::size_t o) { change(*ruleAt(to, p), o); };
    };
    if (p.what == "go")
        return stateNamed(program, rule->go, [p](rules::Program &to, const std::string &state) {
            ruleAt(to, p)->go = state;
        });
    if (p.what == "ends")
        return {{say("and the pass ends"), say("and the next rule is tested on the same readings")},
                rule->endsPass ? 0U : 1U,
                with([](rules::Rule &to, std::size_t o) { to.endsPass = o == 0; })};
    if (p.what == "any")
        return {{say("and"), say("or")},
                rule->any ? 1U : 0U,
                with([](rules::Rule &to, std::size_t o) { to.any = o == 1; })};
    if (p.what == "again")
        return {{say("where it goes on"), say("where it begins anew")},
                rule->again ? 1U : 0U,
                with([](rules::Rule &to, std::size_t o) { to.again = o == 1; })};
    return {};
}

} // namespace badger::sentences
