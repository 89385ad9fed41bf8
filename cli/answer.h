// SPDX-License-Identifier: GPL-3.0-or-later
// What does a command give back, and how is it printed?
#pragma once

#include "core/base/derivation.h"
#include "core/base/finding.h"
#include "core/base/result.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <string>
#include <vector>

namespace badger::cli
{

using Json = nlohmann::ordered_json;

/// The units in which texts for people are written: what --units says, for the whole process. JSON
/// and CSV are not touched by it.
units::Display &display();

/// A text of core in these units.
std::string words(const Say &text);

/// A command's answer, both for people and for scripts.
struct Answer {
    std::string text; ///< for people, whole lines
    std::string why;  ///< the arithmetic, shown with --why
    Json json = Json::object();
    bool hasError = false; ///< a finding is an error: exit status 1
};

/// Findings as the contract lists them.
Json findingsJson(const std::vector<Finding> &findings);
/// Findings for people, one paragraph each.
std::string findingsText(const std::vector<Finding> &findings);

/// null where there is no value.
template <class T> Json orNull(const std::optional<T> &value)
{
    return value ? Json(*value) : Json(nullptr);
}
template <class T> Json orNull(const std::optional<T> &value, double factor)
{
    return value ? Json(*value * factor) : Json(nullptr);
}

/// A sum for people: what it is, and each step; nothing where it has none.
std::string derivationText(const Derivation &derivation);

/// Columns padded to the widest entry, two spaces between them.
std::string aligned(const std::vector<std::vector<Say>> &rows);

} // namespace badger::cli

/// In formatted text a Say and a quantity stand in the units of display().
template <> struct fmt::formatter<badger::Say> : fmt::formatter<std::string> {
    template <class Context> auto format(const badger::Say &text, Context &context) const
    {
        return fmt::formatter<std::string>::format(badger::cli::words(text), context);
    }
};
template <> struct fmt::formatter<badger::units::Quantity> : fmt::formatter<badger::Say> {
};

namespace badger
{

/// In JSON a text is English in usual units, whatever --units says: for scripts.
inline void to_json(cli::Json &json, const Say &text)
{
    json = english(text);
}

} // namespace badger
