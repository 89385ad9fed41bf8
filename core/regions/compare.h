// SPDX-License-Identifier: GPL-3.0-or-later
// At which readings do two programs act differently, and what does each cost?
//
// By behaviour, never by text: the modes of both that drive ahead, and those of one name, are cut
// at the limits of both, and in each cell the two are asked what they do.
#pragma once

#include "core/regions/check.h"

namespace badger::regions
{

struct Difference {
    std::string where; ///< "drives: ahead 31..45"
    Say a;             ///< what the first does there, "stands, braked"
    Say b;
};

/// What a program costs on the board and on the floor. Times in seconds.
struct Costs {
    double longestPass_s = 0.0;    ///< every reading at its time-out, and the pause
    double lookRound_s = 0.0;      ///< dwells and time-outs of the longest state that looks
    double blind_s = 0.0;          ///< the longest stretch of waits in which nothing is decided
    std::optional<double> blind_m; ///< driven ahead or back meanwhile; empty: speed not known
    int states = 0;
    int rules = 0;
};

struct Comparison {
    std::vector<Difference> differences;
    Costs a, b;
    std::vector<std::string> onlyA; ///< readings that the other does not take
    std::vector<std::string> onlyB;
};

/// Both are complete. Fails as regions() does.
Result<Comparison> compare(const rules::Program &a, const rules::Program &b, const Around &around);

/// Of one program.
Costs costsOf(const rules::Program &program, const Machine &machine, const Around &around);

} // namespace badger::regions
