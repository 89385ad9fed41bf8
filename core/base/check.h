// SPDX-License-Identifier: GPL-3.0-or-later
// What is one entry of a table of checks?
#pragma once

#include "core/base/finding.h"

#include <span>

namespace badger
{

/// One rule: it looks at what its station knows (`Look`) and finds what is wrong.
template <class Look> struct Check {
    const char *code;  ///< of its findings, listed in docs/findings.md
    SourceText<> fine; ///< said where it finds nothing; empty: then there is nothing to praise
    std::vector<Finding> (*find)(const Look &look, const char *code);
};

/// Every check of a table, in its order.
template <class Look>
void run(std::span<const Check<Look>> checks, const Look &look, Findings &into)
{
    for (const auto &check : checks) {
        auto found = check.find(look, check.code);
        if (Say fine = check.fine; found.empty() && !fine.empty())
            into.fine.push_back(std::move(fine));
        std::move(found.begin(), found.end(), std::back_inserter(into.findings));
    }
}

} // namespace badger
