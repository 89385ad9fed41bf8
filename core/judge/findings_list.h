// SPDX-License-Identifier: GPL-3.0-or-later
// Which findings are there at all?
#pragma once

#include "core/base/check.h"

#include <string>
#include <string_view>
#include <vector>

namespace badger::judge
{

/// The checks of one station.
struct CheckSection {
    std::string_view title;
    std::vector<CheckLine> lines;
    std::string_view after; ///< what is to be known besides; may be empty
};

/// Every code that a finding can have, by station. A code may stand at two stations.
std::vector<CheckSection> checkSections();

/// docs/findings.md.
std::string findingsDocument();

} // namespace badger::judge
