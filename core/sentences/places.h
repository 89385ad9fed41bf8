// SPDX-License-Identifier: GPL-3.0-or-later
// Which piece of a program does a target of its sentences mean? Private to the sentences.
//
// "policy:ahead" and "motion:drives" name a reading or a state, "go:2:drives" the third rule of a
// state (of no state: of those that hold always), "compare:2:0:drives" its first condition.
#pragma once

#include "core/rules/program.h"

#include <charconv>

namespace badger::sentences
{

struct Place {
    std::string what;
    std::string name; ///< of the reading or state; empty: always
    std::size_t rule = 0;
    std::size_t condition = 0;
};

/// How many numbers stand between a target's word and its name.
inline int numbersIn(std::string_view what)
{
    for (const auto *w : {"compare", "of", "side", "seen", "key", "which", "said"})
        if (what == w)
            return 2;
    for (const auto *w : {"go", "ends", "any", "again"})
        if (what == w)
            return 1;
    return 0;
}

inline std::optional<Place> placeOf(const std::string &target)
{
    const auto colon = target.find(':');
    if (colon == std::string::npos)
        return std::nullopt;
    Place p{target.substr(0, colon), target.substr(colon + 1), 0, 0};
    const int numbers = numbersIn(p.what);
    for (int i = 0; i < numbers; ++i) {
        const auto end = p.name.find(':');
        if (end == std::string::npos)
            return std::nullopt;
        const auto *last = p.name.data() + end;
        auto &to = i == 0 ? p.rule : p.condition;
        if (std::from_chars(p.name.data(), last, to).ec != std::errc())
            return std::nullopt;
        p.name.erase(0, end + 1);
    }
    return p;
}

/// The rules of a state; of no name those that hold always. Null: there is no such state.
template <class Program> auto *rulesAt(Program &program, const std::string &state)
{
    if (state.empty())
        return &program.everywhere;
    for (auto &s : program.states)
        if (s.name == state)
            return &s.rules;
    return static_cast<decltype(&program.everywhere)>(nullptr);
}

template <class Program> auto *ruleAt(Program &program, const Place &p)
{
    auto *all = rulesAt(program, p.name);
    using Result = decltype(&all->front());
    return all && p.rule < all->size() ? &(*all)[p.rule] : Result(nullptr);
}

template <class Program> auto *conditionAt(Program &program, const Place &p)
{
    auto *rule = ruleAt(program, p);
    using Result = decltype(&rule->when.front());
    return rule && p.condition < rule->when.size() ? &rule->when[p.condition] : Result(nullptr);
}

template <class List> auto *find(List &list, const std::string &name)
{
    for (auto &one : list)
        if (one.name == name)
            return &one;
    return static_cast<decltype(&list.front())>(nullptr);
}

/// Does a program tell numbers that cannot be meant from the others, at one end?
inline bool isSetApart(const std::optional<double> &bound_m, rules::NoEcho policy)
{
    return bound_m || policy != rules::NoEcho::Unset;
}

/// Another name, with a number behind it where it is taken: "limit", "limit 2".
template <class List> std::string freeName(const List &list, const std::string &wish)
{
    std::string name = wish;
    for (int n = 2; find(list, name) != nullptr; ++n)
        name = wish + " " + std::to_string(n);
    return name;
}

/// A value of that kind to be used: `wish` where it is one, else the first that is, else a new one
/// that is not chosen.
std::string valueFor(rules::Program &program, rules::ValueKind kind, const std::string &wish,
                     const std::string &meaning);

/// The kind of value that a reading's number is compared with. Empty: it is no number.
std::optional<rules::ValueKind> kindOf(const rules::Program &program,
                                       const rules::Reading &reading);

/// What a condition asks at first when it is about another reading: a number is compared, a sensor
/// sees, a key is pressed.
rules::Condition conditionOn(rules::Program &program, const std::string &reading);

} // namespace badger::sentences
