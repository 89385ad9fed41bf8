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
struct MakingFloor {
    std::string from; ///< a kind
    std::vector<std::string> set;
    std::string name;
    Output out;
};
/// A copy of the workshop with one more floor.
Result<Answer> floor(const std::string &file, const MakingFloor &making);

} // namespace badger::cli
