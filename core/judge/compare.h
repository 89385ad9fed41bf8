// SPDX-License-Identifier: GPL-3.0-or-later
// The same car built two ways: which numbers differ?
#pragma once

#include "core/judge/kit_judgement.h"
#include "core/kit/assembly.h"

#include <string>
#include <vector>

namespace badger::judge
{

/// One number of two cars, side by side.
struct CompareRow {
    Say name; ///< "stalled, a channel"
    Say a;
    Say b;
    std::optional<double> valueA; ///< none where that build has no such number
    std::optional<double> valueB;
    bool differs = false;
    int better = 0; ///< −1 the first, 1 the second, 0 neither or not a matter of better
};

/// The numbers of two builds of a car, and the findings that only one of them has.
struct Comparison {
    std::vector<CompareRow> rows;
    std::vector<Finding> onlyA;
    std::vector<Finding> onlyB;
};
Comparison compare(const kit::Car &a, const kit::Assembly &b, std::optional<double> threshold_m);

} // namespace badger::judge
