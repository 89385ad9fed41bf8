// SPDX-License-Identifier: GPL-3.0-or-later
// From which number of a reading on does a mode that drives ahead give way to another?
//
// Read from the exact cells of the mode: a number gives way only where it does so whatever the
// other readings say, so that a rule which needs a second condition, or which an earlier rule
// hides, is not taken for a stop.
#pragma once

#include "core/regions/regions.h"

namespace badger::regions
{

/// A stretch of a sensor's numbers, without a gap, in which the mode is left.
struct GivesWay {
    double from = 0.0; ///< in the sensor's unit, as compared
    double to = 0.0;   ///< its far end
    bool openTo = false;
    /// Modes that it can lead to there, each once: first that at the far end where the other
    /// readings are as far as they reach.
    std::vector<int> into;
    std::string value;     ///< of the program: the limit at its far end; empty: it ends by none
    bool inclusive = true; ///< the limit itself gives way, too
    int times = 1;         ///< passes in succession in which it has to be so
    /// Sensors whose silence makes the pass void, so that then nothing gives way here. Each once.
    std::vector<int> unlessSilent;
};

/// Of one sensor (of Regions' axes): the stretches that lie nearer than some number at which the
/// mode stays, the farthest first. What lies beyond the last number at which it stays is no stop on
/// the way: the target was lost there. Empty where the sensor decides nothing alone.
std::vector<GivesWay> givesWay(const rules::Program &program, const Machine &machine,
                               const Regions &regions, int sensor);

/// Of a sensor that looks at a surface: the modes that it can lead to where it sees what it seeks
/// (yes or no), or at the greatest or least of its numbers (a count); in the order of GivesWay.
/// Empty where the mode may stay there.
std::vector<int> givesWayAtAnEnd(const Machine &machine, const Regions &regions, int sensor);

} // namespace badger::regions
