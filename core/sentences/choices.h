// SPDX-License-Identifier: GPL-3.0-or-later
// A place of a sentence at which one of several words stands. Private to the choices.
#pragma once

#include "core/sentences/places.h"
#include "core/sentences/sentences.h"

#include <algorithm>
#include <functional>

namespace badger::sentences
{

inline constexpr auto none = static_cast<std::size_t>(-1);

/// A place at which one of several words stands.
struct Open {
    std::vector<Say> words;
    std::size_t standing = none;
    /// Takes one of them; the place is where it was.
    std::function<void(rules::Program &, std::size_t)> take;
};

template <class All, class One> std::size_t indexIn(const All &all, const One &one)
{
    const auto it = std::find(all.begin(), all.end(), one);
    return it == all.end() ? none : static_cast<std::size_t>(it - all.begin());
}

/// Any state may be taken.
Open stateNamed(const rules::Program &program, const std::string &standing,
                std::function<void(rules::Program &, const std::string &)> take);
Open ofCondition(const rules::Program &program, const Place &p);
Open ofRule(const rules::Program &program, const Place &p);

} // namespace badger::sentences
