// SPDX-License-Identifier: GPL-3.0-or-later
// Which one is meant, whatever it is called today?
//
// A name is a label that people change. What refers to a car, a program, a floor or a trial holds
// its id, which never changes; renaming touches the thing alone.
#pragma once

#include <compare>
#include <cstdint>
#include <functional>
#include <string>
#include <string_view>

namespace badger
{

/// The id of a Thing: 1 to 80 characters in files, empty where none is meant. Two kinds of ids do
/// not mix.
template <class Thing> struct Id {
    std::string text;

    bool empty() const { return text.empty(); }
    bool operator==(const Id &) const = default;
    auto operator<=>(const Id &) const = default;
};

/// Sixty-four bits at each call. Tests give a counter; the program gives randomBits().
using IdSource = std::function<std::uint64_t()>;

/// From the system's own source of chance: among ten thousand things, two alike have a chance of
/// three in a million million.
std::uint64_t randomBits();

/// Sixteen hexadecimal digits.
std::string idText(std::uint64_t bits);

/// The id of a new thing.
template <class Thing> Id<Thing> newId(const IdSource &source)
{
    return {idText(source())};
}

/// The id of a thing that came from a file without ids: the same for the same kind and name,
/// wherever and whenever it is opened. The 64-bit FNV-1a hash of "kind", a line end, and the name
/// (Fowler, Noll and Vo; offset basis 14695981039346656037, prime 1099511628211).
std::string derivedIdText(std::string_view kind, std::string_view name);

/// The first element with that id, or null.
template <class List, class Thing> const Thing *withId(const List &all, const Id<Thing> &id)
{
    for (const auto &element : all)
        if (element.id == id)
            return &element;
    return nullptr;
}

} // namespace badger
