// SPDX-License-Identifier: GPL-3.0-or-later
// How do people's names become names in program text, and pins numbers?
#pragma once

#include "core/base/result.h"
#include "core/kit/assembly.h"

#include <initializer_list>
#include <map>
#include <optional>
#include <set>
#include <string>

namespace badger::boardcode
{

/// A name as a C++ identifier in capitals or small letters: "Stands still" to "STANDS_STILL".
/// Characters that an identifier cannot have become '_'; an empty name becomes "N_" or "n_".
std::string identifier(const std::string &name, bool capitals);

/// Names of one program text. Two things never share one, and none is a word of the language, of
/// the support header or of the chip's own headers.
class Names
{
public:
    /// The identifier of a thing, the same each time; a number is added where it is taken.
    std::string of(const std::string &kind, const std::string &name, bool capitals = true);
    /// More words that no thing may be named by.
    void reserve(std::initializer_list<const char *> words);

private:
    std::map<std::string, std::string> m_given;
    std::set<std::string> m_taken;
};

/// The support header's number of a pin: "D7" is 7, "A0" 14. Empty for a pin that the 5 V 8-bit
/// board does not have.
std::optional<int> pinNumber(const std::string &pin);

} // namespace badger::boardcode
