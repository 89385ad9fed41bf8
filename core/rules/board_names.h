// SPDX-License-Identifier: GPL-3.0-or-later
// How do people's names become names in program text?
#pragma once

#include <initializer_list>
#include <map>
#include <set>
#include <string>

namespace badger::rules
{

/// A name as a C++ identifier in capitals or small letters: "Stands still" to "STANDS_STILL".
/// Signs that an identifier cannot have become '_'; an empty name becomes "N_" or "n_".
std::string identifier(const std::string &name, bool capitals);

/// People's words inside a comment or a string: nothing that could end either.
std::string plainWords(const std::string &text);

/// Names that must not collide: states and values of one program can differ only in signs.
class Names
{
public:
    /// The identifier of a thing, the same each time; a number is added where it is taken.
    std::string of(const std::string &kind, const std::string &name, bool capitals = true);
    /// Words that no thing may be named by.
    void reserve(std::initializer_list<const char *> words);

private:
    std::map<std::string, std::string> m_given;
    std::set<std::string> m_taken;
};

} // namespace badger::rules
