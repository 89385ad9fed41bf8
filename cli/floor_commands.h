// SPDX-License-Identifier: GPL-3.0-or-later
// Calls on floors and runs.
#pragma once

#include "cli/workshop_commands.h"

namespace badger::cli
{

/// How one run is driven, as it was typed.
struct Driving {
    std::string floor;
    std::uint64_t seed = 1;
    std::string lasts; ///< "20s"; empty: as long as a judged run
    bool noNoise = false;
    std::string onContact = "go-on"; ///< or "end"
    std::string keys;                ///< CSV: time_ms, key
    bool reverse = false;
    std::string task;                ///< a word of task::Kind; empty: by the program
    std::vector<std::string> faults; ///< codes
    Output trace;
};
/// The faults that a run can be given.
Result<Answer> faultList();
Result<Answer> trial(const std::string &file, const std::string &car, const Driving &how);

/// Floors and mats of a workshop.
Result<Answer> floors(const std::string &file);
/// Exactly one of: from, read, svg, write.
struct MakingFloor {
    std::string from; ///< a kind
    std::string read; ///< an SVG drawing or the JSON of a floor
    std::vector<std::string> set;
    std::string name;
    Output out;   ///< of a new one: a copy of the workshop with it
    Output svg;   ///< of one that is there: the drawing
    Output write; ///< of one that is there: JSON
};
Result<Answer> floor(const std::string &file, const MakingFloor &making);

} // namespace badger::cli
