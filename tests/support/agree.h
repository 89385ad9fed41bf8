// SPDX-License-Identifier: GPL-3.0-or-later
// Runs drawn at random, driven by events and by small steps: do both come to the same end?
#pragma once

#include "core/judge/drive.h"

#include <optional>
#include <random>
#include <string>

namespace badger::test
{

/// One of the nineteen families on a floor that is drawn: a kind with its keys anywhere in their
/// usual range, mostly one that suits the family.
struct Drawn {
    std::string what; ///< "halt on straight: angle=12deg distance=140cm, noise, seed 5"
    std::shared_ptr<const judge::Drive> drive; ///< null: the car would stand in something
    std::uint64_t seed = 1;
};
Drawn drawRun(std::mt19937 &random);

struct Agreement {
    bool same = false;
    /// One of the two passes within a millimetre of what the other touches.
    bool graze = false;
    std::string difference; ///< what the two say, where they are not the same
    std::string parting;    ///< the first ping and the first step that are not the same
    double apart_m = 0.0;   ///< at the end, where nothing was touched
    bool touched = false;   ///< one of the two touches something
    bool free = false;      ///< neither did
};
/// The same: how the run ends, what is touched first and in which phase, where it rests and with
/// which gap to a millimetre, what falls, whether the task was met.
/// `stepsSeed`: the steps take another.
Agreement compare(const Drawn &drawn, std::optional<std::uint64_t> stepsSeed = {});

} // namespace badger::test
