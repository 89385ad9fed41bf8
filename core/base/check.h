// SPDX-License-Identifier: GPL-3.0-or-later
// What is one entry of a table of checks?
#pragma once

#include "core/base/finding.h"

#include <span>
#include <string_view>
#include <vector>

namespace badger
{

/// Said by a check that has nothing to praise.
inline constexpr SourceText<> noPraise{""};

/// What docs/findings.md says of a code.
struct CheckLine {
    std::string_view code;
    std::string_view severity; ///< "error; advice near empty"
    std::string_view says;     ///< what is wrong then
};

/// One check: it looks at what its station knows (`Look`) and finds what is wrong.
template <class Look> struct Check {
    const char *code;  ///< of its findings
    SourceText<> fine; ///< said where it finds nothing; or noPraise
    std::vector<Finding> (*find)(const Look &look, const char *code);
    const char *severity; ///< as CheckLine
    const char *says;     ///< as CheckLine
    /// What it needs: where this says no, the check is neither made nor fine. Null: nothing.
    bool (*ready)(const Look &look) = nullptr;
    /// Whether finding nothing proves anything. Null: it does.
    bool (*proves)(const Look &look) = nullptr;
    /// Said in place of `fine` where that depends on what was looked at. Null or empty: `fine` is.
    Say (*praise)(const Look &look) = nullptr;
};

/// Every check of a table, in its order.
template <class Look>
void run(std::span<const Check<Look>> checks, const Look &look, Findings &into)
{
    for (const auto &check : checks) {
        if (check.ready && !check.ready(look))
            continue;
        auto found = check.find(look, check.code);
        const bool proved = !check.proves || check.proves(look);
        Say fine = check.praise ? check.praise(look) : Say();
        if (fine.empty())
            fine = check.fine;
        if (found.empty() && proved && !fine.empty())
            into.fine.push_back(std::move(fine));
        std::move(found.begin(), found.end(), std::back_inserter(into.findings));
    }
}

template <class Look>
void addLines(std::span<const Check<Look>> checks, std::vector<CheckLine> &into)
{
    for (const auto &check : checks)
        into.push_back({check.code, check.severity, check.says});
}

} // namespace badger
