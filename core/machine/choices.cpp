// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/sentences.h"

#include "core/units/quantity.h"

#include <array>
#include <charconv>
#include <cmath>

namespace badger::machine
{

namespace
{

using rules::ValueKind;

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

} // namespace

std::size_t standing(const rules::Program &program, const std::string &target)
{
    constexpr auto none = static_cast<std::size_t>(-1);
    const auto p = placeOf(target);
    if (!p)
        return none;
    if (const auto *r = program.reading(p->name)) {
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
    if (const auto *s = program.state(p->name); s && p->what == "stand")
        return s->motion.wheels == rules::Wheels::Brake ? 0 : 1;
    if (const auto *s = program.state(p->name); s && p->what == "wait" && s->wait)
        return s->wait->kind == rules::WaitKind::Blocking ? 0 : 1;
    if (p->what == "actions")
        return program.actionsKind == rules::WaitKind::Blocking ? 0 : 1;
    if (const auto *c = p->what == "compare" ? conditionAt(program, *p) : nullptr)
        return c->compare == rules::Compare::LessOrEqual ||
                       c->compare == rules::Compare::GreaterOrEqual
                   ? 0
                   : 1;
    return none;
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
    if (const auto *s = program.state(p->name); s && p->what == "wait" && s->wait)
        return {say("blindly"), say("while passes go on")};
    if (p->what == "actions")
        return {say("waits"), say("goes on with its passes")};
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
        if (p->what != "compare" && p->what != "stand" && p->what != "wait" && p->what != "actions")
            return true;
    }
    if (auto *s = find(program.states, p->name); s && p->what == "stand") {
        s->motion.wheels = option == 0 ? rules::Wheels::Brake : rules::Wheels::Coast;
        return true;
    }
    const auto kind = option == 0 ? rules::WaitKind::Blocking : rules::WaitKind::Timed;
    if (auto *s = find(program.states, p->name); s && p->what == "wait" && s->wait) {
        s->wait->kind = kind;
        return true;
    }
    if (p->what == "actions") {
        program.actionsKind = kind;
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
