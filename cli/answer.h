// SPDX-License-Identifier: GPL-3.0-or-later
// What does a command give back, and how is it printed?
#pragma once

#include "core/base/finding.h"
#include "core/base/result.h"

#include <nlohmann/json.hpp>
#include <string>
#include <vector>

namespace badger::cli
{

using Json = nlohmann::ordered_json;

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
template <class T> Json orNull(const std::optional<T> &value, double factor)
{
    return value ? Json(*value * factor) : Json(nullptr);
}

/// Columns padded to the widest entry, two spaces between them.
std::string aligned(const std::vector<std::vector<std::string>> &rows);

} // namespace badger::cli
