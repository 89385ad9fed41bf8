// SPDX-License-Identifier: GPL-3.0-or-later
// The safe window of a car on a floor.
#pragma once

#include "cli/workshop_commands.h"

namespace badger::cli
{

/// A search as it was typed.
struct Searching {
    std::string floor;
    std::string value;        ///< empty: the first distance that stops the car
    std::string limit = "1%"; ///< of runs that touch
    std::string confidence = "95";
    std::string share = "90%"; ///< of runs that do the job
    std::string want;          ///< "5cm": nearer counts as touching
    std::vector<std::string> rows;
    std::uint64_t seed = 1;
    int threads = 0;  ///< 0: as many as the machine has
    std::string step; ///< "1mm", or a count
    bool noNoise = false;
    bool schools = false; ///< compared on the same runs
    std::string grid{};   ///< a second value
    Output csv;
};
Result<Answer> window(const std::string &file, const std::string &car, const Searching &how);

} // namespace badger::cli
